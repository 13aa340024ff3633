#pragma once

#include <string>
#include <string_view>

#include <hushed/handle.hpp>
#include <hushed/time.hpp>

namespace hushed {

/// Something that happened in a scene. `Scene::in_words` says it in a sentence.
struct Event {
  Time time;              ///< of the scene
  std::string_view name;  ///< "lost": what a behaviour looks at was hidden or has ended;
                          ///< "failed": a behaviour of your own threw, or gave a pose that is not finite;
                          ///< "reached": a route has come to the point of that number
  Object subject;         ///< whose event it is
  AnyBehaviour behaviour;
  Object other = {};     ///< what was lost
  std::string why = {};  ///< what was thrown
  int number = 0;        ///< of the point, from 0
};

}  // namespace hushed
