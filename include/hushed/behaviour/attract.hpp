// SPDX-License-Identifier: MIT
#pragma once

#include <optional>

#include <hushed/detail/export.hpp>
#include <hushed/detail/field_type.hpp>
#include <hushed/detail/kind_of.hpp>
#include <hushed/tagged.hpp>

namespace hushed HUSHED_API {

/// What happens to a gathered object.
enum class Gathered { hide, stop, end };

constexpr auto choices(Gathered) {
  return Choices<Gathered, 3>{{{Gathered::hide, "hide"}, {Gathered::stop, "stop"}, {Gathered::end, "end"}}};
}

/// Draws an object to another within range, until it is gathered. With memory: a displacement, added to the incoming
/// pose, so a drifting object keeps drifting. Raises the event "gathered" once; its number counts the objects that the
/// other has gathered.
///
/// From tick to tick: if the other was within range at the tick, it goes straight towards it by speed * step, or by
/// v * step + acceleration * step^2 / 2, and never past it. It is gathered where the way between the two, each moving
/// in a straight line over the step, comes within reach.
struct Attract {
  ObjectOrTag to = {};  ///< an object, or the nearest with a tag at the tick; the first by name of equally near ones
  double within = 0.0;  ///< m: the range
  std::optional<double> speed = {};         ///< m/s
  std::optional<double> acceleration = {};  ///< m/s^2, from rest; again from rest after it was out of range
  double reach = 0.1;                       ///< m: the distance at which it is gathered
  Gathered then = Gathered::hide;

  static constexpr auto kind = "attract";
};

template <>
const detail::Kind& detail::kind_of<Attract>();

}  // namespace hushed
