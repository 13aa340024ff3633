// SPDX-License-Identifier: MIT
#pragma once

// A number of a play over a stretch of time, and its extremes and crossings between the samples.

#include <cstddef>
#include <functional>
#include <optional>
#include <vector>

#include <hushed/time.hpp>

#include "measure/play.hpp"

namespace hushed::detail {

class Curve {
 public:
  struct Extreme {
    Time at;
    double value;
  };

  /// The first number of a signal from one time to another. Angles do not jump where they are wrapped.
  Curve(MeasuredPlay& play, std::size_t signal, Time from, Time to);

  std::size_t size() const { return times_.size(); }
  Time time(std::size_t sample) const { return times_[sample]; }
  double value(std::size_t sample) const { return values_[sample]; }
  double first() const { return values_.front(); }
  double last() const { return values_.back(); }
  /// True where all numbers are known.
  bool is_known() const;

  /// The greatest value of `map(value)`; the earliest where there are several.
  Extreme greatest(const std::function<double(double)>& map);
  /// The time at which `map(value)` passes 0 between two samples, where it has different signs.
  Time crossing(std::size_t sample, const std::function<double(double)>& map);
  /// The first time after a sample at which `map(value)` is 0, as it is at the next sample.
  Time arrival(std::size_t sample, const std::function<double(double)>& map);
  /// The greatest value of `map(value)` around a sample.
  Extreme greatest_around(std::size_t sample, const std::function<double(double)>& map);
  /// The time at which `map(value)` passes 0 between two times, where it has different signs.
  Time crossing_between(Time a, Time b, std::size_t near, const std::function<double(double)>& map);

 private:
  double number(Time time, std::size_t near);
  double continued(double value, double before) const;

  MeasuredPlay& play_;
  std::size_t signal_;
  bool is_angle_;
  std::vector<Time> times_;
  std::vector<double> values_;
};

}  // namespace hushed::detail
