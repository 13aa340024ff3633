// SPDX-License-Identifier: MIT
#pragma once

// A play with what was watched in it: what pictures are drawn of. In the library HushedOrbit::analysis.

#include <string>
#include <vector>

#include <hushed/detail/export.hpp>
#include <hushed/recording.hpp>
#include <hushed/watch.hpp>

namespace hushed HUSHED_API {

struct Watched {
  /// The numbers of one column, frame by frame.
  struct Column {
    std::string name, unit;
    std::size_t watch;  ///< the number of the watch that it belongs to
    std::vector<double> values;
  };

  std::string label;  ///< what a picture of several calls it
  Recording recording;
  std::vector<Column> columns;
};

/// Plays a scene from where it is and keeps the frames from `first` on, until `goes_on` (if there is one) returns
/// false.
Watched watch(Scene& scene, std::span<const Watch> watches, const FrameTimes& times, std::int64_t first,
              std::int64_t last, const std::function<bool(std::int64_t)>& goes_on = nullptr);

/// A scene that moves as a recording did, between its frames in a straight line and at an even rate. All of it is in
/// the world's space.
Scene replay(const Recording& recording);

}  // namespace hushed
