// SPDX-License-Identifier: MIT
#pragma once

// What the pictures of sweeps have in common, and their three sorts.

#include <optional>
#include <string_view>
#include <vector>

#include <hushed/picture.hpp>

#include "axis.hpp"
#include "canvas.hpp"
#include "style.hpp"

namespace hushed::detail {

struct SweepParts {
  static constexpr double left_width = 66.0, below_height = 44.0, name_height = 22.0;
  static constexpr std::string_view now_colour = style::lines[1];

  SweepParts(Canvas& canvas, const SweepTable& sweep, const SweepPictureOptions& options);

  /// The share of the axis of a value at which it is at present; nothing where that is not on the axis.
  std::optional<double> now(std::size_t value) const;
  /// The share of an axis at which the value of a play is.
  double place(const SweepTable::Row& row, std::size_t value) const {
    return values[value].share(row.values[value]).value();
  }

  Canvas& canvas;
  const SweepTable& sweep;
  const SweepPictureOptions& options;
  std::vector<Axis> values, measures;
};

/// From light to dark, so that it reads in print and without colours too.
Paint shade(double share);

/// Curves over one value: one for each measure, below each other.
void draw_sweep_curves(const SweepParts& parts, const Area& area);
/// Maps over two values: one for each measure, with contours.
void draw_sweep_maps(const SweepParts& parts, const Area& area);
/// A line for each play across an axis for each value and measure.
void draw_sweep_lines(const SweepParts& parts, const Area& area);

}  // namespace hushed::detail
