// SPDX-License-Identifier: MIT
#pragma once

#include <optional>

#include <hushed/detail/export.hpp>
#include <hushed/detail/kind_of.hpp>
#include <hushed/detail/reading.hpp>
#include <hushed/tagged.hpp>

namespace hushed HUSHED_API {

/// What becomes of what was gathered.
enum class Gathered { hide, stop, end };

constexpr auto choices(Gathered) {
  return Choices<Gathered, 3>{{{Gathered::hide, "hide"}, {Gathered::stop, "stop"}, {Gathered::end, "end"}}};
}

/// Draws an object to another when that is near, until it is gathered: a displacement, added to the pose that comes in,
/// so that what drifts goes on drifting. With memory; raises the event "gathered" once, whose number says how many that
/// other has gathered so far.
///
/// From tick to tick: if the other was within range at the tick, it goes straight towards it by speed * step, or by
/// v * step + acceleration * step^2 / 2, and never past it. It is gathered where the way between the two, each moving
/// in a straight line over the step, comes within reach.
struct Attract {
  ObjectOrTag to = {};               ///< of those with a tag the nearest at the tick; of equally near ones by name
  double within = 0.0;               ///< m: how near is near
  std::optional<double> speed = {};  ///< m/s
  std::optional<double> acceleration = {};  ///< m/s^2, from rest, and from rest again after it was out of range
  double reach = 0.1;                       ///< m
  Gathered then = Gathered::hide;

  static constexpr auto kind = "attract";
};

template <>
const detail::Kind& detail::kind_of<Attract>();

}  // namespace hushed
