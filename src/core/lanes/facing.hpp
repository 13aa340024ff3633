// SPDX-License-Identifier: MIT
#pragma once

// Rotations that face a direction.

#include "lanes/geometry.hpp"

namespace hushed::detail {

/// The unit vector of a vector. `length` is its length, which must not be 0.
template <class R>
VecOf<R> over(const VecOf<R>& v, R length) {
  return v * (1.0 / length);
}

/// The unit vector of a vector of any length but 0, without overflow or underflow.
inline VecOf<double> unit_of(const VecOf<double>& v) {
  const double largest = larger(larger(absolute(v.x), absolute(v.y)), absolute(v.z));
  const VecOf<double> scaled{v.x / largest, v.y / largest, v.z / largest};
  return over(scaled, square_root(squared_length(scaled)));
}

/// The rotation whose axes are x, y and z: unit vectors, perpendicular, right-handed. Uses the largest of the four
/// sums, so that no divisor is small (Shepperd 1978).
template <class R>
QuatOf<R> rotation_of_axes(const VecOf<R>& x, const VecOf<R>& y, const VecOf<R>& z) {
  const R sums[4] = {(1.0 + x.x) - (y.y + z.z), (1.0 + y.y) - (x.x + z.z), (1.0 + z.z) - (x.x + y.y),
                     (1.0 + x.x) + (y.y + z.z)};
  const R yz = y.z + z.y, zx = z.x + x.z, xy = x.y + y.x;
  const R i = y.z - z.y, j = z.x - x.z, k = x.y - y.x;
  const auto choose = [&](R a, R b, R c, R d) {
    const R largest = larger(larger(sums[0], sums[1]), larger(sums[2], sums[3]));
    return select(sums[3] == largest, d, select(sums[0] == largest, a, select(sums[1] == largest, b, c)));
  };
  const R sum = larger(larger(sums[0], sums[1]), larger(sums[2], sums[3]));
  const R root = square_root(sum);
  const R half = 0.5 / root;
  return near_unit(QuatOf<R>{choose(sums[0], xy, zx, i) * half, choose(xy, sums[1], yz, j) * half,
                             choose(zx, yz, sums[2], k) * half, choose(i, j, k, sums[3]) * half});
}

template <class R>
struct FacingOf {
  QuatOf<R> rotation;
  R is_good;  ///< 1, or 0 where there is no direction, or `up` is along it within 1e-6
};

/// The rotation that turns +Z to `direction` (of any length) and +Y as close as possible to `up` (of unit length).
template <class R>
FacingOf<R> facing(const VecOf<R>& direction, const VecOf<R>& up) {
  const R largest = larger(larger(absolute(direction.x), absolute(direction.y)), absolute(direction.z));
  const R has_length = select(largest > 1e-150, R{1.0}, R{0.0});
  const VecOf<R> scaled = direction * (1.0 / select(largest > 1e-150, largest, R{1.0}));
  const R length = square_root(squared_length(scaled));
  const VecOf<R> z = over(scaled, select(length > 0.0, length, R{1.0}));
  const VecOf<R> side = cross(up, z);
  const R across = square_root(squared_length(side));
  const R is_good = has_length * select(across >= 1e-6, R{1.0}, R{0.0});
  const VecOf<R> x = over(side, select(across > 0.0, across, R{1.0}));
  const VecOf<R> y = cross(z, x);
  return {rotation_of_axes(x, y, z), is_good};
}

/// `facing` of a direction (x, 0, z) with +Y up: a turn about +Y. The same operations without those whose result is
/// known.
template <class R>
FacingOf<R> facing_level(R x, R z) {
  const R largest = larger(absolute(x), absolute(z));
  const R has_length = select(largest > 1e-150, R{1.0}, R{0.0});
  const R scale = 1.0 / select(largest > 1e-150, largest, R{1.0});
  const R scaled_x = x * scale, scaled_z = z * scale;
  const R length = square_root(scaled_x * scaled_x + scaled_z * scaled_z);
  const R factor = 1.0 / select(length > 0.0, length, R{1.0});
  const R ahead_x = scaled_x * factor, ahead_z = scaled_z * factor;  // the object's +Z; its +X is (z, 0, -x)
  const R across = square_root(ahead_z * ahead_z + ahead_x * ahead_x);
  const R side = 1.0 / select(across > 0.0, across, R{1.0});
  const R side_x = ahead_z * side, side_z = -ahead_x * side;
  const R above = ahead_z * side_x - ahead_x * side_z;
  const R turned = (1.0 + above) - (side_x + ahead_z), straight = (1.0 + side_x) + (above + ahead_z);
  const R sine = ahead_x - side_z;
  const auto is_straight = straight >= turned;
  const R root = square_root(larger(turned, straight));
  const R half = 0.5 / root;
  const QuatOf<R> rotation{R{0.0}, select(is_straight, sine, turned) * half, R{0.0},
                           select(is_straight, straight, sine) * half};
  return {near_unit(rotation), has_length};
}

template <class R>
QuatOf<R> choose(R condition, const QuatOf<R>& yes, const QuatOf<R>& no) {
  return {select(condition != 0.0, yes.x, no.x), select(condition != 0.0, yes.y, no.y),
          select(condition != 0.0, yes.z, no.z), select(condition != 0.0, yes.w, no.w)};
}

}  // namespace hushed::detail
