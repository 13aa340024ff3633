// SPDX-License-Identifier: MIT
#pragma once

#include <string>
#include <string_view>

#include <hushed/detail/export.hpp>
#include <hushed/handle.hpp>
#include <hushed/time.hpp>

namespace hushed HUSHED_API {

/// Something that happened in a scene. `Scene::in_words` says it in a sentence.
struct Event {
  Time time;              ///< of the scene
  std::string_view name;  ///< "lost": what a behaviour looks at was hidden or has ended;
                          ///< "failed": a behaviour of your own threw, or gave a pose that is not finite;
                          ///< "reached": a route has come to the point of that number;
                          ///< "gathered": something has come within reach of what it is drawn to;
                          ///< "fired": a rule does what it says; any other has been raised by a rule or the program
  Object subject = {};    ///< whose event it is; nobody's where a rule fired or raised it
  AnyBehaviour behaviour = {};
  Object other = {};           ///< what was lost; who has gathered
  std::string why = {};        ///< what was thrown
  int number = 0;              ///< of the point, from 0; how many that other has gathered so far
  std::string_view rule = {};  ///< that fired, or raised it
};

}  // namespace hushed
