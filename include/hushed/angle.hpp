// SPDX-License-Identifier: MIT
#pragma once

#include <compare>

#include <hushed/detail/export.hpp>

namespace hushed HUSHED_API {

/// An angle; in fields such as `Spin::speed`, an angle per second. Made by `degrees` or `radians`, so that the two are
/// never confused. It is stored in degrees, so that a value of a file is written back unchanged and a quarter turn is
/// exact.
class Angle {
 public:
  constexpr Angle() = default;

  constexpr double in_degrees() const { return degrees_; }
  constexpr double in_radians() const { return degrees_ * (pi / 180.0); }

  constexpr Angle operator-() const { return Angle{-degrees_}; }
  constexpr Angle operator+(Angle other) const { return Angle{degrees_ + other.degrees_}; }
  constexpr Angle operator-(Angle other) const { return Angle{degrees_ - other.degrees_}; }
  constexpr Angle operator*(double factor) const { return Angle{degrees_ * factor}; }
  constexpr Angle operator/(double divisor) const { return Angle{degrees_ / divisor}; }
  constexpr auto operator<=>(const Angle&) const = default;

  friend constexpr Angle operator*(double factor, Angle angle) { return angle * factor; }
  friend constexpr Angle degrees(double value);
  friend constexpr Angle radians(double value);

 private:
  static constexpr double pi = 3.14159265358979323846;

  explicit constexpr Angle(double degrees) : degrees_{degrees} {}

  double degrees_ = 0.0;
};

constexpr Angle degrees(double value) { return Angle{value}; }
constexpr Angle radians(double value) { return Angle{value * (180.0 / Angle::pi)}; }

/// The angle in (-180, 180] degrees that points in the direction of this one.
Angle wrapped(Angle angle);

}  // namespace hushed
