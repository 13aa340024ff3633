// SPDX-License-Identifier: MIT
#pragma once

#include <vector>

#include <hushed/detail/export.hpp>
#include <hushed/detail/field_type.hpp>
#include <hushed/detail/kind_of.hpp>
#include <hushed/urge.hpp>

namespace hushed HUSHED_API {

/// The direction that an agent faces.
enum class SteerFacing { none, travel };

constexpr auto choices(SteerFacing) {
  return Choices<SteerFacing, 2>{{{SteerFacing::none, "none"}, {SteerFacing::travel, "travel"}}};
}

/// Makes an object an agent that is moved by its urges. With memory; it begins at rest at the incoming position and
/// replaces it from then on.
///
/// At each tick it decides, from the positions of its targets, neighbours and obstacles at that tick. The wanted
/// velocity is the mean of what its urges want, weighted by weight times strength. Where no urge is at full strength,
/// the remaining weight (1 minus the greatest strength, times the greatest weight) pulls the velocity towards zero.
/// Until the next tick, and for any moment between,
///
///     v' = v + (wanted - v), no further than max_acceleration * step, and no faster than max_speed
///     x' = x + v' * step
///
/// Facing its travel, its +Z is along v' and its +Y as close to the parent's +Y as that leaves it. Slower than a
/// quarter of its speed it could turn round within a tick; its facing turns no faster than its way can at that quarter,
/// 4 max_acceleration / max_speed radians a second, and is held while it stands or goes straight up or down.
///
/// An urge with a lost target wants nothing. `retarget` changes the first urge that has a target, and
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
