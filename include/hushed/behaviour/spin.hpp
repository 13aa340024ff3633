// SPDX-License-Identifier: MIT
#pragma once

#include <optional>

#include <hushed/angle.hpp>
#include <hushed/detail/export.hpp>
#include <hushed/detail/field_type.hpp>
#include <hushed/detail/kind_of.hpp>
#include <hushed/space.hpp>
#include <hushed/vector.hpp>

namespace hushed HUSHED_API {

/// Turns an object at a constant rate. A function of time alone.
///
/// The rotation after t seconds is R(axis, speed * t), by the right-hand rule. It is multiplied to the right of the
/// incoming rotation (own axes) or to its left (the parent's axes, or the world's axes converted to the parent's
/// space).
struct Spin {
  Vec3 axis = axis::up;               ///< any non-zero length
  Angle speed = degrees(90);          ///< per second; negative turns the other way
  std::optional<Vec3> velocity = {};  ///< deg/s: direction and rate in one, instead of axis and speed
  Space space = Space::own;           ///< whose axes these are

  static constexpr auto kind = "spin";
};

template <>
const detail::Kind& detail::kind_of<Spin>();

}  // namespace hushed
