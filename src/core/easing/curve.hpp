// SPDX-License-Identifier: MIT
#pragma once

// The curves of easings in the form in which they are evaluated.

#include <array>
#include <memory>
#include <string_view>
#include <variant>
#include <vector>

#include <hushed/detail/block.hpp>

namespace hushed::detail {

/// The formula: linear, the two smooth steps, then in, out and in-out of each family, then the three of CSS.
namespace formula {
inline constexpr unsigned linear = 0, smoothstep = 1, smootherstep = 2, first_family = 3, families = 10,
                          bezier = first_family + 3 * families, steps = bezier + 1, stops = bezier + 2,
                          count = bezier + 3;
}

/// The formulas that are cheap enough to be inlined in a kernel, for x from 0 to 1.
template <unsigned which, class R>
R cheap_ease(R x) {
  static_assert(which < formula::first_family);
  if constexpr (which == formula::linear) return x;
  if constexpr (which == formula::smoothstep) return x * x * (3.0 - 2.0 * x);
  return x * x * x * (x * (6.0 * x - 15.0) + 10.0);
}

/// A stop of `linear(...)`.
struct Stop {
  double in, out;
};

struct Curve {
  unsigned formula = formula::linear;
  std::array<double, 4> numbers =
      {};  ///< bezier: x1, y1, x2, y2; steps: the number of steps, the first output, the number of outputs
  std::vector<Stop> stops = {};  ///< two or more; `in` never decreases
};

/// The value of the curve at x, which is clamped to 0 to 1.
double on_curve(const Curve& curve, double x);

/// Replaces eight x, each clamped to 0 to 1, by the values of their curves. All curves must have one formula.
void ease(unsigned formula, const Curve* const (&curves)[lanes], Row& x);

}  // namespace hushed::detail
