// SPDX-License-Identifier: MIT
// Draws a picture: its heading and its two halves; and writes the file.

#include <fmt/format.h>

#include <hushed/detail/new_file.hpp>
#include <hushed/error.hpp>
#include <hushed/picture.hpp>

#include "parts.hpp"
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

constexpr double margin = 18.0, heading_height = 44.0;

std::string what_is_seen(std::span<const Watched> plays) {
  const Recording& recording = plays.front().recording;
  if (recording.frames() == 0) return "no frames";
  return fmt::format("{:.4g} s to {:.4g} s, {} frames", in_seconds(recording.times.front()),
                     in_seconds(recording.times.back()), recording.frames());
}

/// Draws the title, the time span and, for several plays, their names.
void draw_heading(Canvas& canvas, std::span<const Watched> plays, const PictureOptions& options) {
  const double middle = margin + 0.35 * heading_height;
  const Point at{margin, middle};
  canvas.text(at, options.title, Paint::of(style::ink), style::large, Align::left, true);
  double x = canvas.area_of(at, options.title, style::large, Align::left, true).right() + 14.0;
  canvas.text({x, middle + 1.0}, what_is_seen(plays), Paint::of(style::quiet), style::normal);
  if (plays.size() < 2) return;
  x = canvas.whole().right() - margin;
  for (std::size_t i = plays.size(); i-- > 0;) {
    const Point end{x, middle};
    canvas.text(end, plays[i].label, Paint::of(style::ink), style::normal, Align::right);
    x = canvas.area_of(end, plays[i].label, style::normal, Align::right).x;
    canvas.line({{x - 34.0, middle}, {x - 8.0, middle}}, style::line_paint(i), 2.2, i);
    x -= 52.0;
  }
}

Canvas::Form form_of(const std::filesystem::path& file) {
  if (file.extension() == ".png") return Canvas::Form::png;
  if (file.extension() == ".svg") return Canvas::Form::svg;
  throw BadValue{file.string() + ": a picture is a .png or .svg file; give one of these endings."};
}

}  // namespace

void draw(std::span<const Watched> plays, const std::filesystem::path& file, const PictureOptions& options) {
  for (const int side : {options.width, options.height})
    if (side < 320 || side > 10'000)
      throw BadValue{"a picture cannot be " + std::to_string(side) + " pixels wide or high; give 320 to 10000."};
  if (plays.empty() || plays.front().recording.frames() == 0) throw BadValue{"there is no frame to draw."};

  Canvas canvas{form_of(file), options.width, options.height};
  canvas.fill(canvas.whole(), Paint::of(style::paper));
  draw_heading(canvas, plays, options);
  const Area area{margin, margin + heading_height, options.width - 2.0 * margin,
                  options.height - 2.0 * margin - heading_height};
  const double left = options.showing == Showing::both ? 0.5 * area.width : 0.0;
  if (options.showing != Showing::curves)
    draw_paths(canvas, {area.x, area.y, options.showing == Showing::both ? left - margin : area.width, area.height},
               plays, options);
  if (options.showing != Showing::paths)
    draw_curves(canvas, {area.x + left, area.y, area.width - left, area.height}, plays);

  NewFile to{file};
  to.write(canvas.finish());
  to.commit();
}

std::span<const std::string_view> line_colours() { return style::lines; }

}  // namespace hushed
