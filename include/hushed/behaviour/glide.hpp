// SPDX-License-Identifier: MIT
#pragma once

#include <optional>

#include <hushed/angle.hpp>
#include <hushed/detail/export.hpp>
#include <hushed/detail/field_type.hpp>
#include <hushed/detail/kind_of.hpp>
#include <hushed/easing.hpp>
#include <hushed/pose_parts.hpp>
#include <hushed/time.hpp>

namespace hushed HUSHED_API {

/// What a `Glide` does after its arrival.
enum class GlideEnds { stop, repeat, come_back };

constexpr auto choices(GlideEnds) {
  return Choices<GlideEnds, 3>{
      {{GlideEnds::stop, "stop"}, {GlideEnds::repeat, "repeat"}, {GlideEnds::come_back, "return"}}};
}

/// Moves from one pose to another: a door, a lift, a bridge. A function of time alone.
///
/// Only the parts in `to` or `by` are changed; they replace the incoming pose, and all arrive together. Position and
/// scale go linearly, rotation along the shortest arc, at the share e(x) of the way, e being the easing and x the share
/// of the time. Each way of a return is eased afresh in its own direction. `Scene::toggle` turns it back from where it
/// is, in proportionally less time.
struct Glide {
  std::optional<PoseParts> to = {};    ///< the end, in the parent's space
  std::optional<PoseParts> by = {};    ///< instead: position added, rotation multiplied on the right, scale multiplied
  std::optional<PoseParts> from = {};  ///< the beginning; its pose at the start unless given
  std::optional<Time> duration = {};
  std::optional<double> speed = {};      ///< m/s: the duration is that of the position
  std::optional<Angle> turn_speed = {};  ///< per second: the duration is that of the rotation
  Easing easing = {};
  GlideEnds ends = GlideEnds::stop;
  Time pause = {};  ///< after each arrival

  static constexpr auto kind = "glide";
};

template <>
const detail::Kind& detail::kind_of<Glide>();

}  // namespace hushed
