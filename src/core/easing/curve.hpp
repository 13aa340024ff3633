#pragma once

// The curves of easings, ready to be evaluated.

#include <array>
#include <memory>
#include <string_view>
#include <variant>
#include <vector>

#include <hushed/inside/block.hpp>

namespace hushed::inside {

/// Which formula: linear, the two smooth steps, then in, out and in-out of each family, then the three of CSS.
namespace formula {
inline constexpr unsigned linear = 0, smoothstep = 1, smootherstep = 2, first_family = 3, families = 10,
                          bezier = first_family + 3 * families, steps = bezier + 1, stops = bezier + 2,
                          count = bezier + 3;
}

/// A stop of `linear(...)`.
struct Stop {
  double in, out;
};

struct Curve {
  unsigned formula = formula::linear;
  std::array<double, 4> numbers = {};  ///< bezier: x1, y1, x2, y2; steps: how many, the first, how many outputs
  std::vector<Stop> stops = {};        ///< two or more, `in` never falling
};

/// Where the curve is at x, which is held within 0 to 1.
double on_curve(const Curve& curve, double x);

/// The same for eight at once, all of the same formula.
void ease(unsigned formula, const Curve* const (&curves)[lanes], Row& x);

}  // namespace hushed::inside
