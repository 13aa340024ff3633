// SPDX-License-Identifier: MIT
#pragma once

// Comparing two recordings. In the library HushedOrbit::analysis.

#include <string>
#include <vector>

#include <hushed/channel.hpp>
#include <hushed/detail/export.hpp>
#include <hushed/recording.hpp>

namespace hushed HUSHED_API {

/// The difference of one channel of one object between two recordings.
struct Difference {
  std::string object;
  Channel channel;
  double largest;  ///< position in m, rotation in degrees, scale as the largest of three differences
  Time at;         ///< the time of the first such difference
  double typical;  ///< the median over all times
};

/// The greatest differences between two recordings that count as equal.
struct Tolerance {
  double position = 1e-9;  ///< m
  double rotation = 1e-9;  ///< degrees
  double scale = 1e-9;

  double of(Channel channel) const;
};

struct Comparison {
  std::vector<Difference> differences;  ///< for every object in both and every channel, in the order of the first
  std::vector<std::string> only_in_first, only_in_second;
  std::size_t times = 0;  ///< the number of times that both have
  Time from = {}, to = {};

  /// True where both have the same objects and no difference is above the tolerance.
  bool is_within(const Tolerance& tolerance) const;
};

/// Compares at the times that both have, whatever frames are between. Throws `BadValue` where there is none.
///
///     Comparison found = compare(read_recording("ferry.csv"), record(harbour, FrameTimes{60.0}, 600));
///     if (!found.is_within({.position = 1e-3})) ...
Comparison compare(const Recording& first, const Recording& second);

}  // namespace hushed
