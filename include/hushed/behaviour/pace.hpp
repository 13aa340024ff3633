// SPDX-License-Identifier: MIT
#pragma once

#include <hushed/detail/export.hpp>
#include <hushed/detail/field_type.hpp>
#include <hushed/detail/kind_of.hpp>

namespace hushed HUSHED_API {

/// Sets the rate at which time passes for the object and its descendants: slow motion, fast motion, or a halt. All
/// their behaviours are slowed exactly, functions of time and those with state. The rate may change while the scene
/// plays; nothing jumps. The rates of an object and its ancestors are multiplied.
///
/// Delays, fades and bridges count the time of the scene, and so do the poses that the program feeds. Stopped, it has
/// no effect. `delay`, `fade` and `weight` of this behaviour have no effect.
struct Pace {
  double rate = 1.0;  ///< seconds of the object's time in a second of the scene; 0 to 100, 0 halts

  static constexpr auto kind = "pace";
};

template <>
const detail::Kind& detail::kind_of<Pace>();

}  // namespace hushed
