// SPDX-License-Identifier: MIT
#pragma once

// The style of all pictures: dark colours on white, which print well. The six line colours can be distinguished with
// normal and with red-green colour-blind sight, and contrast with white (tests/picture measures both).

#include <array>
#include <cmath>
#include <string>
#include <vector>

#include "canvas.hpp"

namespace hushed::detail::style {

inline constexpr std::array<std::string_view, 6> lines{"#187adc", "#ad5700", "#381f6b",
                                                       "#2f8fa2", "#6b1f38", "#0000ad"};
inline constexpr std::string_view paper = "#ffffff", ink = "#1b2430", quiet = "#5b6673", grid = "#dfe4ea",
                                  faint = "#eef1f4", edge = "#b4bec9";
inline constexpr double margin = 18.0, small = 11.0, normal = 12.5, large = 17.0;

inline Paint line_paint(std::size_t number, double alpha = 1.0) {
  return Paint::of(lines[number % lines.size()], alpha);
}

/// The least round step that is not less than `step`: 1, 2 or 5 times a power of ten; for angles, also fractions of a
/// turn.
inline double round_step(double least, bool is_angle = false) {
  if (is_angle && least > 10.0)
    for (const double part : {15.0, 30.0, 45.0, 90.0, 180.0, 360.0})
      if (part >= least) return part;
  const double power = std::pow(10.0, std::floor(std::log10(least))), share = least / power;
  return power * (share <= 1.0 ? 1.0 : share <= 2.0 ? 2.0 : share <= 5.0 ? 5.0 : 10.0);
}

/// The multiples of a step from `low` to `high`.
inline std::vector<double> ticks(double low, double high, double step) {
  std::vector<double> all;
  for (double at = std::ceil(low / step - 1e-9); at * step <= high + 1e-9 * step; at += 1.0) all.push_back(at * step);
  return all;
}

std::string as_label(double value, double step);

}  // namespace hushed::detail::style
