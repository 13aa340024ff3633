// SPDX-License-Identifier: MIT
#pragma once

#include <array>
#include <optional>
#include <tuple>

#include <hushed/detail/export.hpp>
#include <hushed/detail/kind.hpp>
#include <hushed/field.hpp>
#include <hushed/place.hpp>

namespace hushed HUSHED_API {

/// The two half-axes of an ellipse, or the radius of a circle: `.radius = 6.0` or `.radius = Radii{8, 3}`.
struct Radii {
  Radii() = default;
  Radii(double circle) : a{circle}, b{circle} {}
  Radii(double first, double second) : a{first}, b{second} {}

  double a = 0.0, b = 0.0;  ///< m

  friend std::optional<Diagnostic> read(const Value& from, const Unit& unit, Radii& to);
  friend std::optional<Value> write(const Radii& from, const Unit& unit);
  friend Form form_of(const Radii*, const Unit& unit);
};

/// Where an `Orbit` looks.
enum class OrbitFacing { none, centre, travel };

constexpr auto choices(OrbitFacing) {
  return Choices<OrbitFacing, 3>{
      {{OrbitFacing::none, "none"}, {OrbitFacing::centre, "centre"}, {OrbitFacing::travel, "travel"}}};
}

/// Goes round a centre, which may move, on a circle or an ellipse. A function of time alone.
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
  static constexpr auto summary = "goes round a centre, on a circle or an ellipse";
  static constexpr auto example = R"(
[object.mast]
position = [0, 6, 0]

[[object.gull.behaviour]]
kind   = "orbit"
centre = { object = "mast", offset = [0, 3, 0] }   # goes along where the mast goes
radius = 4
period = 8           # seconds for once round
face   = "travel"
)";
  static constexpr std::array exactly_one{OneOf{{"speed", "period"}}};
  static constexpr auto fields = std::tuple{
      field("centre", &Orbit::centre, unit::metres,
            "what it goes round; the origin of the parent's space unless given"),
      field("axis", &Orbit::axis, unit::direction, "what the plane of the orbit is across"),
      field("radius", &Orbit::radius, unit::length,
            "how far out, or the two half-axes of an ellipse; as it is unless given", slider(0, 20)),
      field("speed", &Orbit::speed, unit::degrees_per_second, "how fast, and which way", slider(-180, 180)),
      field("period", &Orbit::period, unit::signed_seconds, "how long once round takes", slider(1, 60)),
      field("start", &Orbit::start, unit::degrees, "where on the orbit it begins; 0 unless given", slider(-180, 180)),
      field("height", &Orbit::height, unit::metres, "how far along the axis from the centre; 0 unless given",
            slider(-10, 10)),
      field("face", &Orbit::face, unit::none, "where it looks")};
};

template <>
const detail::Kind& detail::kind_of<Orbit>();

}  // namespace HUSHED_API
