// SPDX-License-Identifier: MIT
#pragma once

// An independent solver for equations of motion: Gragg's midpoint rule, extrapolated to step 0 by Neville's scheme
// (Bulirsch and Stoer 1966), in long double.

#include <array>
#include <cstddef>

namespace hushed::tests {

/// Position and velocity.
using Motion = std::array<long double, 2>;

/// From time 0 to `length` in steps; `slope(t, motion)` gives velocity and acceleration.
template <class Slope>
Motion integrated(Motion motion, long double length, int steps, Slope&& slope) {
  constexpr int columns = 9;
  const long double step = length / steps;
  for (int i = 0; i < steps; ++i) {
    const long double begin = step * i;
    std::array<Motion, columns> best;
    for (int column = 0; column < columns; ++column) {
      const int parts = 2 * (column + 1);
      const long double h = step / parts;
      Motion before = motion, now;
      const Motion first = slope(begin, motion);
      for (std::size_t k = 0; k < 2; ++k) now[k] = motion[k] + h * first[k];
      for (int part = 1; part < parts; ++part) {
        const Motion at = slope(begin + h * part, now);
        for (std::size_t k = 0; k < 2; ++k) {
          const long double next = before[k] + 2 * h * at[k];
          before[k] = now[k];
          now[k] = next;
        }
      }
      const Motion last = slope(begin + step, now);
      for (std::size_t k = 0; k < 2; ++k) now[k] = (now[k] + before[k] + h * last[k]) / 2;
      for (int other = column - 1; other >= 0; --other) {
        const long double ratio = static_cast<long double>(column + 1) / (other + 1);
        for (std::size_t k = 0; k < 2; ++k) {
          const long double finer = other == column - 1 ? now[k] : best[static_cast<std::size_t>(other + 1)][k];
          best[static_cast<std::size_t>(other)][k] =
              finer + (finer - best[static_cast<std::size_t>(other)][k]) / (ratio * ratio - 1);
        }
      }
      best[static_cast<std::size_t>(column)] = now;
    }
    motion = best[0];
  }
  return motion;
}

}  // namespace hushed::tests
