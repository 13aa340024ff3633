// SPDX-License-Identifier: MIT
#pragma once

#include <optional>
#include <tuple>
#include <vector>

#include <hushed/channel.hpp>
#include <hushed/detail/export.hpp>
#include <hushed/detail/kind.hpp>
#include <hushed/field.hpp>
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
  static constexpr auto summary = "goes where another object goes, softly or at a distance";
  static constexpr auto example = R"(
[[object.tug.behaviour]]
kind      = "follow"
target    = "ferry"
min_distance = 6             # metres: keeps between these two from it
max_distance = 10
half_life = 0.8              # seconds until half of the way is left
)";
  static constexpr auto fields = std::tuple{
      field("target", &Follow::target, unit::none, "whom it follows", required),
      field("offset", &Follow::offset, unit::metres, "where it stays from the target; as it starts unless given"),
      field("offset_space", &Follow::offset_space, unit::none, "along whose axes the offset is",
            allowed(Space::world, Space::target)),
      field("channels", &Follow::channels, unit::none, "which parts of the pose follow"),
      field("half_life", &Follow::half_life, unit::seconds, "how long until half of the way is left", slider(0, 2)),
      field("max_speed", &Follow::max_speed, unit::pace, "no faster than this", slider(0, 20)),
      field("min_distance", &Follow::min_distance, unit::length, "backs away from what comes nearer", slider(0, 20)),
      field("max_distance", &Follow::max_distance, unit::length, "comes after what goes further", slider(0, 40)),
      field("trail", &Follow::trail, unit::seconds, "how long ago the target was where it goes", slider(0, 5)),
      field("deadzone", &Follow::deadzone, unit::length, "how far the target can move without being followed",
            slider(0, 5))};
};

template <>
const detail::Kind& detail::kind_of<Follow>();

}  // namespace HUSHED_API
