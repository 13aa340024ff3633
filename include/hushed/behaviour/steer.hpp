// SPDX-License-Identifier: MIT
#pragma once

#include <vector>

#include <hushed/detail/export.hpp>
#include <hushed/detail/kind_of.hpp>
#include <hushed/detail/reading.hpp>
#include <hushed/urge.hpp>

namespace hushed HUSHED_API {

/// Where a `Steer` looks.
enum class SteerFacing { none, travel };

constexpr auto choices(SteerFacing) {
  return Choices<SteerFacing, 2>{{{SteerFacing::none, "none"}, {SteerFacing::travel, "travel"}}};
}

/// Makes an agent of an object: something that finds its own way, as its urges would have it. With memory; the position
/// that comes in is where it begins, at rest, and is replaced from then on.
///
/// At each tick it looks about: where its targets are, and where its neighbours and what is in its way were shown. What
/// it wants is the mean of what its urges want, each by its weight times its strength; where none is at full strength,
/// rest has what is missing: 1 less the greatest strength, by the greatest weight.
/// From there to the next tick, and to any moment between,
///
///     v' = v + (wanted - v), no further than max_acceleration * step, and no faster than max_speed
///     x' = x + v' * step
///
/// Facing its travel, its +Z is along v' and its +Y as near to the parent's +Y as that leaves it. Slower than a quarter
/// of its speed it could turn round within a tick; its facing turns no faster than its way can at that quarter, 4
/// max_acceleration / max_speed radians a second, and is held while it stands or goes straight up or down.
///
/// An urge whose target is hidden or has ended wants nothing. `retarget` changes the first urge that has a target, and
/// is refused where none has.
struct Steer {
  std::vector<Urge> urges = {};
  double max_speed = 5.0;          ///< m/s
  double max_acceleration = 10.0;  ///< m/s^2, in any direction
  SteerFacing face = SteerFacing::travel;
  bool planar = false;  ///< it keeps its height: what its urges want is made level, in its parent's space

  static constexpr auto kind = "steer";
};

template <>
const detail::Kind& detail::kind_of<Steer>();

}  // namespace hushed
