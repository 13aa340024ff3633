// SPDX-License-Identifier: MIT
#pragma once

// Powers of two: without branches, and the same bits from every compiler.

#include <hushed/detail/constants.hpp>

#include "lanes/real.hpp"

namespace hushed::detail {

/// 2^x to 2 ulp, clamped to 2^-1022 and 2^1023. The whole part becomes the exponent; the rest, at most ln(2)/2 as a
/// natural exponent, enters the exponential series, whose remainder after 13 terms is less than 1e-17.
inline double power_of_two(double x) {
  x = larger(smaller(x, 1023.0), -1022.0);
  const double shifted = x + rounder;  // whose low bits are the nearest whole number
  const double n = shifted - rounder;
  const double r = (x - n) * ln_2;
  double sum = 1.0 / 6227020800.0;
  for (const double factorial :
       {479001600.0, 39916800.0, 3628800.0, 362880.0, 40320.0, 5040.0, 720.0, 120.0, 24.0, 6.0})
    sum = sum * r + 1.0 / factorial;
  const double power = 1.0 + (r + r * r * (0.5 + r * sum));
  const std::uint64_t bits = (std::bit_cast<std::uint64_t>(shifted) + 1023) << 52;
  return power * std::bit_cast<double>(bits);
}

/// (1 - e^-a) / a, given e^-a. Uses the series where the difference would lose digits.
template <class R>
R mean_of_decay(R a, R decayed) {
  const R small = smaller(a, R{0.35});
  R series = R{1.0 / 6227020800.0};
  for (const double factorial :
       {479001600.0, 39916800.0, 3628800.0, 362880.0, 40320.0, 5040.0, 720.0, 120.0, 24.0, 6.0, 2.0, 1.0})
    series = 1.0 / factorial - small * series;
  return select(a < 0.35, series, (1.0 - decayed) / larger(a, R{0.35}));
}

}  // namespace hushed::detail
