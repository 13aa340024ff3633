// SPDX-License-Identifier: MIT
#pragma once

// Sine, cosine and arc tangent: without branches, and the same bits from every compiler.
//
// Reduction after Cody and Waite (Software Manual for the Elementary Functions, 1980): x - n * pi/2 with pi/2
// in parts short enough that their products with n are exact. The two polynomials, and how the tail of the
// reduced argument enters them, follow the series of sine and cosine; their coefficients are printed by
// scripts/trigonometry_coefficients.py.

#include <hushed/detail/constants.hpp>

#include "lanes/real.hpp"

namespace hushed::detail {

template <class R>
struct SineCosine {
  R sine, cosine;
};

/// Sine and cosine of r + tail for |r| <= pi/4, rotated by quarter turns: their number is in the low bits of `shifted`
/// (see `rounder`).
inline SineCosine<double> in_quadrant(double r, double tail, double shifted) {
  const double z = r * r;
  const double sine_rest =
      0.008333333333330948 +
      z * (-0.00019841269836758574 +
           z * (2.755731610255244e-06 + z * (-2.5051131845003624e-08 + z * 1.5918129294866608e-10)));
  const double cosine_rest =
      0.041666666666666664 +
      z * (-0.0013888888888887398 +
           z * (2.480158729876569e-05 +
                z * (-2.7557317271729793e-07 + z * (2.08761462684032e-09 + z * -1.1382632425521717e-11))));

  // sin(r + tail) = r + (tail * cos r + (r^3 * rest)), smallest first.
  const double cube = z * r;
  const double half = 0.5 * z;
  const double sine = r - ((half * tail - tail) - cube * (z * sine_rest) + cube * 0.16666666666666666);
  // cos(r + tail) = 1 - (z/2 - (z^2 * rest - r * tail)), with the rounding error of 1 - z/2 added back.
  const double head = 1.0 - half;
  const double cosine = head + (((1.0 - head) - half) + (z * (z * cosine_rest) - r * tail));

  const auto quadrant = std::bit_cast<std::uint64_t>(shifted);
  const std::uint64_t swap = 0 - (quadrant & 1);
  const auto s = std::bit_cast<std::uint64_t>(sine);
  const auto c = std::bit_cast<std::uint64_t>(cosine);
  const std::uint64_t first = (s & ~swap) | (c & swap);
  const std::uint64_t second = (c & ~swap) | (s & swap);
  return {std::bit_cast<double>(first ^ ((quadrant & 2) << 62)),
          std::bit_cast<double>(second ^ (((quadrant + 1) & 2) << 62))};
}

/// Sine and cosine of an angle in radians, for |x| <= pi/4: to 1 ulp. Without the reduction of larger ones.
inline SineCosine<double> sine_cosine_near_zero(double x) { return in_quadrant(x, 0.0, rounder); }

/// Sine and cosine of an angle in radians, to 1 ulp for |x| < 1e6. Beyond, they are those of a less and less accurate
/// angle; beyond 1e15, of 0.
inline SineCosine<double> sine_cosine(double x) {
  x = select(absolute(x) < 1e15, x, 0.0);
  const double shifted = x * 0x1.45f306dc9c883p-1 + rounder;  // 2/pi
  const double n = shifted - rounder;

  const double a = x - n * 0x1.921fb54400000p+0;  // exact
  const double b = n * 0x1.0b4611a600000p-34;     // exact for n < 2^20
  const double ab = a - b;
  const double ab_b = ab - a;
  const double ab_tail = (a - (ab - ab_b)) - (b + ab_b);  // Knuth's two-sum
  const double c = n * 0x1.3198a2e000000p-69;
  const double abc = ab - c;
  const double abc_c = abc - ab;
  const double abc_tail = (ab - (abc - abc_c)) - (c + abc_c);
  const double tail = (ab_tail + abc_tail) - n * 0x1.b839a252049c1p-104;
  const double r = abc + tail;
  return in_quadrant(r, (abc - r) + tail, shifted);
}

/// Sine and cosine of an angle in degrees. The reduction is exact, so that quarter turns are exact. For |x| < 1e15; of
/// 0 beyond.
inline SineCosine<double> sine_cosine_of_degrees(double x) {
  x = select(absolute(x) < 1e15, x, 0.0);
  const double shifted = x * (1.0 / 90.0) + rounder;
  const double n = shifted - rounder;
  return in_quadrant((x - n * 90.0) * 0x1.1df46a2529d39p-6, 0.0, shifted);  // pi/180
}

/// The angle of the point (x, y) from +X, in radians, for x >= 0 and y >= 0, not both 0: in [0, pi/2].
/// A polynomial to 1e-6, then one step of Newton's method on the sine of the remaining angle, with its cube.
inline double arc_tangent(double y, double x) {
  const double large = larger(x, y);
  const double small = smaller(x, y);
  const double slope = small / large;
  const double z = slope * slope;
  const double guess =
      slope * (0.9999992255890978 +
               z * (-0.333256780397244 +
                    z * (0.19872040268218474 +
                         z * (-0.13447864058102987 +
                              z * (0.08312645300638827 + z * (-0.03636043085746011 + z * 0.007648353926803392))))));
  const auto [sine, cosine] = sine_cosine(guess);
  const double length = square_root(small * small + large * large);
  const double left = (small * cosine - large * sine) / length;
  const double angle = guess + (left + left * left * left * (1.0 / 6.0));
  return select(y > x, 1.5707963267948966 - angle, angle);
}

/// The angle of the point (x, y) from +X, in radians, in [-pi, pi]; 0 for the origin.
inline double angle_of(double y, double x) {
  if (x == 0.0 && y == 0.0) return 0.0;
  const double steep = arc_tangent(absolute(y), absolute(x));
  const double angle = select(x < 0.0, pi - steep, steep);
  return select(y < 0.0, -angle, angle);
}

}  // namespace hushed::detail
