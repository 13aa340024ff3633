// SPDX-License-Identifier: MIT
#pragma once

// A recording together with watched numbers, for pictures. In the library HushedOrbit::analysis.

#include <optional>
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
    std::size_t watch;  ///< the index of its watch
    std::vector<double> values;
  };

  /// Something to be said about a column, such as a measure.
  struct Note {
    std::string column, text;
    std::optional<Time> at = {};  ///< where on the curve; nothing for the whole of it
  };

  std::string label;  ///< its name in a picture of several
  Recording recording;
  std::vector<Column> columns;
  std::vector<Note> notes = {};
};

/// Plays a scene from its present time and records the frames from `first` to `last`, or until `goes_on` (if given)
/// returns false.
Watched watch(Scene& scene, std::span<const Watch> watches, const FrameTimes& times, std::int64_t first,
              std::int64_t last, const std::function<bool(std::int64_t)>& goes_on = nullptr);

/// A scene that moves like a recording, linearly between its frames. All objects are in the world's space.
Scene replay(const Recording& recording);

}  // namespace hushed
