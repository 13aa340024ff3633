// SPDX-License-Identifier: MIT
#pragma once

#include <string>
#include <string_view>

#include <hushed/detail/export.hpp>
#include <hushed/handle.hpp>
#include <hushed/time.hpp>

namespace hushed HUSHED_API {

/// An event of a scene. `Scene::describe` describes it in a sentence.
struct Event {
  Time time;              ///< of the scene
  std::string_view name;  ///< "lost": a dependency of a behaviour was hidden or has ended;
                          ///< "failed": your behaviour or callback threw, or gave a pose that is not finite;
                          ///< "reached": a route has come to its point `number`;
                          ///< "gathered": an attracted object has come within reach;
                          ///< "fired": a rule executes its actions; all others are raised by rules or the program
  Object subject = {};    ///< the object it is about; of generation 0 where a rule fired or raised it
  AnyBehaviour behaviour = {};
  Object other = {};           ///< the lost dependency, or the object that gathered
  std::string why = {};        ///< the text of a failure; or a description of what a hot reload has forgotten since
  int number = 0;              ///< of the point, from 0; or the number of objects that `other` has gathered
  std::string_view rule = {};  ///< the name of the rule that fired, or raised it
};

}  // namespace hushed
