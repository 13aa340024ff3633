// SPDX-License-Identifier: MIT
#pragma once

// Two plays side by side. In the library HushedOrbit::analysis.

#include <string>
#include <vector>

#include <hushed/channel.hpp>
#include <hushed/detail/export.hpp>
#include <hushed/recording.hpp>

namespace hushed HUSHED_API {

/// How far one channel of one object lies from that in another recording.
struct Difference {
  std::string object;
  Channel channel;
  double largest;  ///< position in m, rotation in degrees the shortest way round, scale as the largest of three factors
  Time at;         ///< when that was first
  double typical;  ///< the median over the times
};

/// The most that may lie between two recordings that are as good as the same.
struct Tolerance {
  double position = 1e-9;  ///< m
  double rotation = 1e-9;  ///< degrees
  double scale = 1e-9;

  double of(Channel channel) const;
};

struct Comparison {
  std::vector<Difference> differences;  ///< of every object in both, and every channel, in the first one's order
  std::vector<std::string> only_in_first, only_in_second;
  std::size_t times = 0;  ///< that both have
  Time from = {}, to = {};

  /// Both have the same objects, and nothing lies further apart.
  bool is_within(const Tolerance& tolerance) const;
};

/// At the times that both have, whatever frames are between. Throws `BadValue` where there is none.
///
///     Comparison found = compare(read_recording("ferry.csv"), record(harbour, FrameTimes{60.0}, 600));
///     if (!found.is_within({.position = 1e-3})) ...
Comparison compare(const Recording& first, const Recording& second);

}  // namespace hushed
