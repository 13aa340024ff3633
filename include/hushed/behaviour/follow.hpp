// SPDX-License-Identifier: MIT
#pragma once

#include <optional>
#include <vector>

#include <hushed/channel.hpp>
#include <hushed/detail/export.hpp>
#include <hushed/detail/kind_of.hpp>
#include <hushed/detail/reading.hpp>
#include <hushed/place.hpp>

namespace hushed HUSHED_API {

/// Goes where another object goes: at once, softly, at no more than some speed, at some distance, or some time later.
/// With memory; it comes after what it follows, so that it reads it at the same instant.
///
/// The goal is found in this order: the target's pose, or its pose `trail` ago; the offset; the dead zone, within which
/// the goal stays; the band, which keeps the distance to it between `min_distance` and `max_distance`. Then x' = ln 2 /
/// half_life * (goal - x) is solved exactly from tick to tick for a goal that moves in a straight line in between, and
/// the step is shortened to what `max_speed` allows. All in the parent's space. It begins at its goal, in the band if
/// it has one; or where it is, if it has a half-life or a speed.
struct Follow {
  Target target = {};
  std::optional<Vec3> offset = {};  ///< m from the target; the one that it has when it starts; with a band, none
  Space offset_space = Space::world;
  std::vector<Channel> channels = {Channel::position};  ///< a rotation or scale goes to the target's own
  Time half_life = {};                                  ///< until half of the way is left; 0: at once
  std::optional<double> max_speed = {};                 ///< m/s
  std::optional<double> min_distance = {};              ///< m: it backs away from what comes nearer
  std::optional<double> max_distance = {};              ///< m: it comes after what goes further
  Time trail = {};                                      ///< how long ago the target was where it goes; up to a minute
  double deadzone = 0.0;                                ///< m that the target can move without being followed

  static constexpr auto kind = "follow";
};

template <>
const detail::Kind& detail::kind_of<Follow>();

}  // namespace hushed
