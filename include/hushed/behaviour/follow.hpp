// SPDX-License-Identifier: MIT
#pragma once

#include <optional>
#include <vector>

#include <hushed/channel.hpp>
#include <hushed/detail/export.hpp>
#include <hushed/detail/field_type.hpp>
#include <hushed/detail/kind_of.hpp>
#include <hushed/place.hpp>
#include <hushed/time.hpp>
#include <hushed/vector.hpp>

namespace hushed HUSHED_API {

/// Follows another object: at once, smoothly, with a limited speed, at a distance, or with a delay. With memory; it is
/// evaluated after its target and reads it at the same instant.
///
/// The goal is found in this order: the target's pose, or its pose `trail` ago; the offset; the dead zone, within which
/// the goal stays; the band, which keeps the distance to it between `min_distance` and `max_distance`. Then x' = ln 2 /
/// half_life * (goal - x) is solved exactly from tick to tick for a goal that moves in a straight line in between, and
/// the step is shortened to what `max_speed` allows. All in the parent's space. It begins at its goal, in the band if
/// it has one; or where it is, if it has a half-life or a speed.
struct Follow {
  Target target = {};
  std::optional<Vec3> offset = {};  ///< m from the target; unless given, its offset at the start, or none with a band
  Space offset_space = Space::world;
  std::vector<Channel> channels = {
      Channel::position};                   ///< parts of the pose; rotation and scale approach the target's own
  Time half_life = {};                      ///< until half of the way is left; 0: at once
  std::optional<double> max_speed = {};     ///< m/s
  std::optional<double> min_distance = {};  ///< m: it backs away from a closer target
  std::optional<double> max_distance = {};  ///< m: it comes closer to a farther target
  Time trail = {};                          ///< it follows where the target was this long ago; at most a minute
  double deadzone = 0.0;                    ///< m: the target can move this far without being followed

  static constexpr auto kind = "follow";
};

template <>
const detail::Kind& detail::kind_of<Follow>();

}  // namespace hushed
