#pragma once

#include <string>
#include <string_view>

#include <hushed/handle.hpp>
#include <hushed/time.hpp>

namespace hushed {

/// Something that happened in a scene.
struct Event {
  Time time;              ///< of the scene
  std::string_view name;  ///< "lost": what `subject` looks at, `other`, was hidden or ended;
                          ///< "failed": a behaviour of your own threw, or gave a pose that is not finite
  Object subject;         ///< whose event it is
  Object other = {};      ///< the other one concerned, if there is one
  std::string text = {};  ///< why, where there is more to say
};

}  // namespace hushed
