// SPDX-License-Identifier: MIT
#pragma once

#include <array>
#include <optional>
#include <tuple>

#include <hushed/detail/export.hpp>
#include <hushed/detail/kind.hpp>
#include <hushed/easing.hpp>
#include <hushed/field.hpp>
#include <hushed/pose_parts.hpp>

namespace hushed HUSHED_API {

/// What a `Glide` does when it has arrived.
enum class GlideEnds { stop, repeat, come_back };

constexpr auto choices(GlideEnds) {
  return Choices<GlideEnds, 3>{
      {{GlideEnds::stop, "stop"}, {GlideEnds::repeat, "repeat"}, {GlideEnds::come_back, "return"}}};
}

/// Goes from one pose to another: a door, a lift, a bridge. A function of time alone.
///
/// Only the parts in `to` or `by` are changed; they replace what comes in, and all arrive together. Position and scale
/// go linearly, rotation along the shortest arc, at the share e(x) of the way, e being the easing and x the share of
/// the time. Each way of a return is eased afresh in its own direction. `Scene::toggle` turns it back from where it is,
/// in a time that is the shorter the less of the way there is.
struct Glide {
  std::optional<PoseParts> to = {};    ///< where to, in the parent's space
  std::optional<PoseParts> by = {};    ///< instead: position added, rotation multiplied on the right, scale multiplied
  std::optional<PoseParts> from = {};  ///< where it is when it starts unless given
  std::optional<Time> duration = {};
  std::optional<double> speed = {};      ///< m/s: the duration is that of the position
  std::optional<Angle> turn_speed = {};  ///< per second: the duration is that of the rotation
  Easing easing = {};
  GlideEnds ends = GlideEnds::stop;
  Time pause = {};  ///< after each arrival

  static constexpr auto kind = "glide";
  static constexpr auto summary = "goes from one pose to another, and stops, repeats or returns";
  static constexpr auto example = R"(
[[object.trolley.behaviour]]
kind     = "glide"
by       = { position = [6, 0, 0] }     # or to = "..." (a pose's name), or to = { ... }
duration = 4                            # seconds
easing   = "in-out-sine"
ends     = "return"
pause    = 1
)";
  static constexpr std::array exactly_one{OneOf{{"to", "by"}}, OneOf{{"duration", "speed", "turn_speed"}}};
  static constexpr auto fields = std::tuple{
      field("to", &Glide::to, unit::none, "where to: its parts replace what comes in"),
      field("by", &Glide::by, unit::none, "how far, instead: position added, rotation and scale multiplied"),
      field("from", &Glide::from, unit::none, "where from; where it is when it starts unless given"),
      field("duration", &Glide::duration, unit::seconds, "how long one way takes", slider(0, 10)),
      field("speed", &Glide::speed, unit::pace, "how fast its position goes, instead", slider(0, 10)),
      field("turn_speed", &Glide::turn_speed, unit::turning_pace, "how fast it turns, instead", slider(0, 360)),
      field("easing", &Glide::easing, unit::none, "how the way is spread over the time"),
      field("ends", &Glide::ends, unit::none, "what happens at the end"),
      field("pause", &Glide::pause, unit::seconds, "how long it stands after each arrival", slider(0, 5))};
};

template <>
const detail::Kind& detail::kind_of<Glide>();

}  // namespace HUSHED_API
