// SPDX-License-Identifier: MIT
#pragma once

#include <optional>

#include <hushed/angle.hpp>
#include <hushed/detail/export.hpp>
#include <hushed/detail/field_type.hpp>
#include <hushed/detail/kind_of.hpp>
#include <hushed/place.hpp>
#include <hushed/vector.hpp>

namespace hushed HUSHED_API {

/// The two half-axes of an ellipse, or the radius of a circle: `.radius = 6.0` or `.radius = Radii{8, 3}`.
struct Radii {
  Radii() = default;
  Radii(double circle) : a{circle}, b{circle} {}
  Radii(double first, double second) : a{first}, b{second} {}

  double a = 0.0, b = 0.0;  ///< m

  friend HUSHED_API std::optional<Diagnostic> read(const Value& from, const Unit& unit, Radii& to);
  friend HUSHED_API std::optional<Value> write(const Radii& from, const Unit& unit);
  friend HUSHED_API Form form_of(const Radii*, const Unit& unit);
};

/// The direction that an `Orbit` faces.
enum class OrbitFacing { none, centre, travel };

constexpr auto choices(OrbitFacing) {
  return Choices<OrbitFacing, 3>{
      {{OrbitFacing::none, "none"}, {OrbitFacing::centre, "centre"}, {OrbitFacing::travel, "travel"}}};
}

/// Moves round a centre, which may move, on a circle or an ellipse. A function of time alone.
///
/// With e1 the direction of +X projected on the plane of the orbit (of +Z where the axis is along X) and e2 = axis x
/// e1: position = centre + a cos(angle) e1 + b sin(angle) e2 + height axis, angle = start + speed * t. On an ellipse
/// this is its parameter, not its polar angle. Without a radius, radius, start and height are taken from where the
/// object is when it starts.
struct Orbit {
  Place centre = {};                     ///< the origin of the parent's space unless given
  Vec3 axis = axis::up;                  ///< any non-zero length, in the parent's space
  std::optional<Radii> radius = {};      ///< m
  std::optional<Angle> speed = {};       ///< per second; negative goes the other way
  std::optional<double> period = {};     ///< s for once round; negative goes the other way
  std::optional<Angle> start = {};       ///< 0 unless given
  std::optional<double> height = {};     ///< m along the axis; 0 unless given
  OrbitFacing face = OrbitFacing::none;  ///< +Z to the centre itself or along the motion, +Y near the axis

  static constexpr auto kind = "orbit";
};

template <>
const detail::Kind& detail::kind_of<Orbit>();

}  // namespace hushed
