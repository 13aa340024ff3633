// SPDX-License-Identifier: MIT
#pragma once

// Newton's form of the polynomial through ten values at fixed places between 0 and 1.

#include <array>
#include <cstddef>

namespace hushed::detail {

/// Chebyshev's points of the second kind, (1 - cos(j pi/9)) / 2.
inline constexpr std::array<double, 10> nodes{
    0.0,  0.030153689607045786, 0.1169777784405110, 0.25, 0.41317591116653474, 0.5868240888334652,
    0.75, 0.8830222215594890,   0.9698463103929541, 1.0};

/// Evaluates the polynomial with these divided differences. `difference(j)` returns the one of order j.
template <class R, class Difference>
R newton_polynomial(Difference&& difference, R x) {
  R value = difference(9);
  for (int j = 8; j >= 0; --j) value = difference(j) + (x - nodes[static_cast<std::size_t>(j)]) * value;
  return value;
}

}  // namespace hushed::detail
