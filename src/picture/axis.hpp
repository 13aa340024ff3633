// SPDX-License-Identifier: MIT
#pragma once

// Axes of pictures: of numbers, or of words at equal distances.

#include <limits>
#include <optional>
#include <string>
#include <vector>

#include "canvas.hpp"

namespace hushed::detail {

struct Tick {
  double at;  ///< share of the axis
  std::string label;
};

/// An axis of numbers, or of words at equal distances.
class Axis {
 public:
  /// Of numbers where all texts are numbers.
  Axis(std::string name, const std::vector<std::string>& texts);
  Axis(std::string name, const std::vector<std::optional<double>>& numbers);

  const std::string& name() const { return name_; }
  bool is_number() const { return is_number_; }
  double low() const { return low_; }
  double high() const { return high_; }
  /// More space at both ends.
  void pad();
  double share(double number) const { return (number - low_) / (high_ - low_); }
  /// Nothing where the text is neither on the axis nor near it.
  std::optional<double> share(const std::string& text) const;
  /// `pixels`: its length; `apart`: the distance of its labels.
  std::vector<Tick> ticks(double pixels, double apart) const;

 private:
  void include(double number);
  void widen();

  std::string name_;
  bool is_number_ = true;
  std::vector<std::string> words_;
  double low_ = std::numeric_limits<double>::infinity(), high_ = -std::numeric_limits<double>::infinity();
};

/// Below and to the left of a plot. `has_lines`: across it, at the ticks.
void draw_x_axis(Canvas& canvas, const Axis& axis, const Area& plot, bool has_lines);
void draw_y_axis(Canvas& canvas, const Axis& axis, const Area& plot, bool has_lines);

}  // namespace hushed::detail
