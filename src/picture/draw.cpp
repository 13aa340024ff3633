// SPDX-License-Identifier: MIT
// Draws a picture of plays: its heading and its two halves.

#include <fmt/format.h>

#include <hushed/error.hpp>
#include <hushed/picture.hpp>

#include "parts.hpp"
#include "picture_file.hpp"
#include "style.hpp"

namespace hushed {

using namespace detail;

namespace detail::style {

std::string as_label(double value, double step) {
  const int places = step >= 1.0 ? 0 : static_cast<int>(std::ceil(-std::log10(step) - 1e-9));
  if (std::fabs(value) >= 1e6) return fmt::format("{:.3g}", value);
  const std::string text = fmt::format("{:.{}f}", value, std::min(places, 12));
  return text.find_first_not_of("-0.") == std::string::npos ? "0" : text;
}

}  // namespace detail::style

namespace {

constexpr double heading_height = 44.0, legend_height = 20.0;

std::string what_is_seen(std::span<const Watched> plays) {
  const Recording& recording = plays.front().recording;
  if (recording.frames() == 0) return "no frames";
  return fmt::format("{:.4g} s to {:.4g} s, {} frames", in_seconds(recording.times.front()),
                     in_seconds(recording.times.back()), recording.frames());
}

/// A place in the legend: the name of a play beside a piece of its line.
struct LegendEntry {
  std::size_t play;
  double x, width;
  int row;
};

constexpr double legend_line = 26.0, legend_gap = 8.0, between_entries = 20.0;

/// Places the names of the plays in rows, from `left` in the first row and from the margin in all others.
std::vector<LegendEntry> legend_of(Canvas& canvas, std::span<const Watched> plays, double left) {
  const double right = canvas.whole().right() - style::margin;
  std::vector<LegendEntry> entries;
  double x = left;
  int row = 0;
  for (std::size_t i = 0; i < plays.size(); ++i) {
    const double width = legend_line + legend_gap + canvas.area_of({0, 0}, plays[i].label, style::normal).width;
    if (x + width > right && x > style::margin) {
      x = style::margin;
      ++row;
    }
    entries.push_back({i, x, width, row});
    x += width + between_entries;
  }
  return entries;
}

/// Draws the title, the time span and, for several plays, their names: beside the title if all fit there, otherwise
/// below. Returns the height of all.
double draw_heading(Canvas& canvas, std::span<const Watched> plays, const PictureOptions& options) {
  const double middle = style::margin + 0.35 * heading_height;
  const Point at{style::margin, middle};
  canvas.text(at, options.title, Paint::of(style::ink), style::large, Align::left, true);
  const Point after{canvas.area_of(at, options.title, style::large, Align::left, true).right() + 14.0, middle + 1.0};
  const std::string seen = what_is_seen(plays);
  canvas.text(after, seen, Paint::of(style::quiet), style::normal);
  if (plays.size() < 2) return heading_height;

  auto entries = legend_of(canvas, plays, canvas.area_of(after, seen, style::normal).right() + 30.0);
  const bool is_beside = entries.back().row == 0;
  if (!is_beside) entries = legend_of(canvas, plays, style::margin);
  // Beside the title, the legend ends at the right style::margin.
  const double shift =
      is_beside ? canvas.whole().right() - style::margin - entries.back().x - entries.back().width : 0.0;
  for (const LegendEntry& entry : entries) {
    const double x = entry.x + shift, y = is_beside ? middle : middle + legend_height * (entry.row + 1) + 4.0;
    canvas.line({{x, y}, {x + legend_line, y}}, style::line_paint(entry.play), 2.2, entry.play);
    canvas.text({x + legend_line + legend_gap, y}, plays[entry.play].label, Paint::of(style::ink), style::normal);
  }
  return heading_height + (is_beside ? 0.0 : legend_height * (entries.back().row + 1));
}

}  // namespace

void draw(std::span<const Watched> plays, const std::filesystem::path& file, const PictureOptions& options) {
  if (plays.empty() || plays.front().recording.frames() == 0)
    throw BadValue{"there is no frame to draw; play at least one."};

  PictureFile picture{file, options.width, options.height};
  Canvas& canvas = picture.canvas();
  const double heading = draw_heading(canvas, plays, options);
  const Area area{style::margin, style::margin + heading, options.width - 2.0 * style::margin,
                  options.height - 2.0 * style::margin - heading};
  const double left = options.showing == Showing::both ? 0.5 * area.width : 0.0;
  if (options.showing != Showing::curves)
    draw_paths(canvas,
               {area.x, area.y, options.showing == Showing::both ? left - style::margin : area.width, area.height},
               plays, options);
  if (options.showing != Showing::paths)
    draw_curves(canvas, {area.x + left, area.y, area.width - left, area.height}, plays);

  picture.write();
}

std::span<const std::string_view> line_colours() { return style::lines; }

}  // namespace hushed
