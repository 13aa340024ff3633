// SPDX-License-Identifier: MIT
#pragma once

// Pictures of plays: curves over time, and paths in space. In the library HushedOrbit::picture.

#include <filesystem>
#include <span>
#include <string>
#include <vector>

#include <hushed/detail/export.hpp>
#include <hushed/watched.hpp>

namespace hushed HUSHED_API {

/// Where a picture of paths is seen from: straight down with +X to the right and +Z down; from +Z with +X to the right
/// and +Y up; or from above at an angle. Always without perspective, so that lengths can be compared.
enum class ViewFrom { above, side, angle };

constexpr auto choices(ViewFrom) {
  return Choices<ViewFrom, 3>{{{ViewFrom::above, "above"}, {ViewFrom::side, "side"}, {ViewFrom::angle, "angle"}}};
}

/// What a picture shows.
enum class Showing { both, curves, paths };

constexpr auto choices(Showing) {
  return Choices<Showing, 3>{{{Showing::both, "both"}, {Showing::curves, "curves"}, {Showing::paths, "paths"}}};
}

struct PictureOptions {
  std::string title = {};
  int width = 1280, height = 800;      ///< pixels, 320 to 10 000
  Showing showing = Showing::both;     ///< paths on the left and curves on the right, or one of them alone
  ViewFrom from = ViewFrom::above;     ///< paths
  std::int64_t ghosts_every = 0;       ///< paths: frames between ghosted poses; 0 finds a number
  std::vector<std::string> only = {};  ///< paths: these objects; all that there are unless told
};

/// Draws one play, or several in one picture, as PNG or SVG. The file's ending says which; it takes its name when it is
/// complete. Throws `BadValue` for another ending or a size out of range, `Error` where it cannot be written.
///
///     Watched before = watch(harbour, watches, FrameTimes{60.0}, 0, 600);
///     draw(std::array{before}, "harbour.png");
void draw(std::span<const Watched> plays, const std::filesystem::path& file, const PictureOptions& options = {});

/// Colours of lines, "#rrggbb", in the order in which they are taken; on white, in print, and for the colour-blind.
std::span<const std::string_view> line_colours();

}  // namespace hushed
