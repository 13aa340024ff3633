// SPDX-License-Identifier: MIT
#pragma once

// The kinds of measures: how each is written, and how it is found.

#include <optional>
#include <span>
#include <string>
#include <vector>

#include <hushed/measure.hpp>

#include "measure/play.hpp"

namespace hushed::detail {

struct MeasureArguments {
  std::vector<Signal> signals;    ///< none for events, otherwise one
  std::string event, object;      ///< of an event; the object may be empty
  double value = 0.0;             ///< to be reached; which of several events
  std::optional<double> of = {};  ///< the final value, where it is given
  double within = 0.0;            ///< half of the width of a band
  bool is_share = true;           ///< of the way from the first to the final value
  Time from = {};
  std::optional<Time> to = {};
};

struct MeasureWord {
  MeasureInfo info;
  /// What stands in brackets without a name: 'w' a watch, 'o' an object, 'v' a number, 'e' an event, 'b' a box, '?' an
  /// object that may be left out.
  std::string_view arguments;
  bool has_of, has_within;
  double within;  ///< unless it is given
  Measured (*find)(const MeasureArguments& given, MeasuredPlay& play, std::size_t signal, Time from, Time to);
};

std::span<const MeasureWord> measure_words();

struct MeasureAccess {
  static const MeasureArguments& arguments(const Measure& measure) { return *measure.arguments_; }
};

}  // namespace hushed::detail
