// SPDX-License-Identifier: MIT
#pragma once

// Pictures: curves over time, paths in space, and sweeps. In the library HushedOrbit::picture.

#include <filesystem>
#include <span>
#include <string>
#include <vector>

#include <hushed/detail/export.hpp>
#include <hushed/sweep.hpp>
#include <hushed/watched.hpp>

namespace hushed HUSHED_API {

/// The direction of view of a picture of paths: straight down with +X to the right and +Z down; from +Z with +X to the
/// right and +Y up; or from above at an angle. Always without perspective, so that lengths can be compared.
enum class ViewFrom { above, side, angle };

constexpr auto choices(ViewFrom) {
  return Choices<ViewFrom, 3>{{{ViewFrom::above, "above"}, {ViewFrom::side, "side"}, {ViewFrom::angle, "angle"}}};
}

/// The parts of a picture.
enum class Showing { both, curves, paths };

constexpr auto choices(Showing) {
  return Choices<Showing, 3>{{{Showing::both, "both"}, {Showing::curves, "curves"}, {Showing::paths, "paths"}}};
}

struct PictureOptions {
  std::string title = {};
  int width = 1280, height = 800;      ///< pixels, 320 to 10 000
  Showing showing = Showing::both;     ///< paths on the left and curves on the right, or one of them alone
  ViewFrom from = ViewFrom::above;     ///< paths
  std::int64_t ghosts_every = 0;       ///< paths: frames between ghosted poses; 0 chooses a number
  std::vector<std::string> only = {};  ///< paths: names of the objects; all objects where empty
};

/// Draws one or several recordings in one picture. The file's extension chooses PNG or SVG; the file appears when it is
/// complete. Throws `BadValue` for another extension or a size out of range, `Error` where it cannot be written.
///
///     Watched before = watch(harbour, watches, FrameTimes{60.0}, 0, 600);
///     draw(std::array{before}, "harbour.png");
void draw(std::span<const Watched> plays, const std::filesystem::path& file, const PictureOptions& options = {});

struct SweepPictureOptions {
  std::string title = {};
  int width = 1280, height = 800;  ///< pixels, 320 to 10 000
  /// The present values, one for each path of the sweep, which are marked; may be empty.
  std::vector<std::string> present = {};
};

/// Draws a sweep: a curve for each measure where one value varies, a map with contours for each measure where two do,
/// and otherwise a line for each play across one axis for each value and each measure. The file is written, and errors
/// are thrown, as for plays.
void draw_sweep(const SweepTable& sweep, const std::filesystem::path& file, const SweepPictureOptions& options = {});

/// Colours of lines, "#rrggbb", in the order of their use; distinct on white, in print and for colour-blind readers.
std::span<const std::string_view> line_colours();

}  // namespace hushed
