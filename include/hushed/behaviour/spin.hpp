// SPDX-License-Identifier: MIT
#pragma once

#include <array>
#include <optional>
#include <tuple>

#include <hushed/detail/export.hpp>
#include <hushed/detail/kind.hpp>
#include <hushed/field.hpp>
#include <hushed/space.hpp>

namespace hushed HUSHED_API {

/// Turns an object at a constant rate. A function of time alone.
///
/// The turn after t seconds is R(axis, speed * t), by the right-hand rule, put on the right of the rotation
/// coming in (own axes) or on its left (the parent's axes, or the world's brought into the parent).
struct Spin {
  Vec3 axis = axis::up;               ///< any non-zero length
  Angle speed = degrees(90);          ///< per second; negative turns the other way
  std::optional<Vec3> velocity = {};  ///< deg/s: direction and rate in one, instead of axis and speed
  Space space = Space::own;           ///< whose axes these are

  static constexpr auto kind = "spin";
  static constexpr auto summary = "turns an object about an axis at a constant rate";
  static constexpr auto example = R"(
[[object.lamp.behaviour]]
kind  = "spin"
axis  = "y"
speed = 40        # degrees per second
)";
  static constexpr std::array alternatives{Either{"velocity", {"axis", "speed"}}};
  static constexpr auto fields =
      std::tuple{field("axis", &Spin::axis, unit::direction, "what it turns about"),
                 field("speed", &Spin::speed, unit::degrees_per_second, "how fast, and which way", slider(-360, 360)),
                 field("velocity", &Spin::velocity, unit::degrees_per_second,
                       "axis and speed in one: its direction and its length"),
                 field("space", &Spin::space, unit::none, "whose axes these are",
                       allowed(Space::own, Space::parent, Space::world))};
};

template <>
const detail::Kind& detail::kind_of<Spin>();

}  // namespace HUSHED_API
