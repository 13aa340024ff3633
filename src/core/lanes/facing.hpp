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

/// The rotation that turns +Z to `ahead` and +Y as close as possible to `up`, both of unit length.
template <class R>
FacingOf<R> facing_along(const VecOf<R>& ahead, const VecOf<R>& up) {
  const VecOf<R> side = cross(up, ahead);
  const R across = square_root(squared_length(side));
  const VecOf<R> x = over(side, select(across > 0.0, across, R{1.0}));
  return {rotation_of_axes(x, cross(ahead, x), ahead), select(across >= 1e-6, R{1.0}, R{0.0})};
}

/// As `facing_along`, with a direction of any length.
template <class R>
FacingOf<R> facing(const VecOf<R>& direction, const VecOf<R>& up) {
  const R largest = larger(larger(absolute(direction.x), absolute(direction.y)), absolute(direction.z));
  const R has_length = select(largest > 1e-150, R{1.0}, R{0.0});
  const VecOf<R> scaled = direction * (1.0 / select(largest > 1e-150, largest, R{1.0}));
  const R length = square_root(squared_length(scaled));
  const auto found = facing_along(over(scaled, select(length > 0.0, length, R{1.0})), up);
  return {found.rotation, has_length * found.is_good};
}

/// The rotation about +Y that turns +Z to (x, 0, z) of this length, which is not 0. The tangent of half its angle is
/// x / (length + z), or (length - z) / x: of the two, the one whose sum does not cancel.
template <class R>
QuatOf<R> facing_level(R x, R z, R length) {
  const R sum = length + absolute(z);
  const R factor = 1.0 / square_root(x * x + sum * sum);
  const auto is_ahead = z >= 0.0;
  return near_unit(QuatOf<R>{R{0.0}, select(is_ahead, x, sum) * factor, R{0.0}, select(is_ahead, sum, x) * factor});
}

template <class R>
QuatOf<R> choose(R condition, const QuatOf<R>& yes, const QuatOf<R>& no) {
  return {select(condition != 0.0, yes.x, no.x), select(condition != 0.0, yes.y, no.y),
          select(condition != 0.0, yes.z, no.z), select(condition != 0.0, yes.w, no.w)};
}

}  // namespace hushed::detail
