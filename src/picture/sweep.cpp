// SPDX-License-Identifier: MIT
// Pictures of sweeps: their heading, and which sort of picture they are.

#include <algorithm>
#include <array>
#include <cmath>

#include <fmt/format.h>

#include <hushed/error.hpp>
#include <hushed/picture.hpp>

#include "picture_file.hpp"
#include "sweep_parts.hpp"

namespace hushed {

namespace detail {

SweepParts::SweepParts(Canvas& canvas_to, const SweepTable& table, const SweepPictureOptions& given)
    : canvas{canvas_to}, sweep{table}, options{given} {
  for (std::size_t i = 0; i < sweep.paths.size(); ++i) {
    std::vector<std::string> texts;
    for (const SweepTable::Row& row : sweep.rows) texts.push_back(row.values[i]);
    values.emplace_back(sweep.paths[i], texts);
  }
  for (std::size_t i = 0; i < sweep.measures.size(); ++i) {
    std::vector<std::optional<double>> numbers;
    for (const SweepTable::Row& row : sweep.rows) numbers.push_back(row.measured[i]);
    const bool has_unit = i < sweep.units.size() && !sweep.units[i].empty();
    measures.emplace_back(sweep.measures[i] + (has_unit ? "  " + sweep.units[i] : ""), numbers);
  }
}

std::optional<double> SweepParts::now(std::size_t value) const {
  if (value >= options.present.size()) return std::nullopt;
  const std::optional<double> share = values[value].share(options.present[value]);
  return share && *share >= 0.0 && *share <= 1.0 ? share : std::nullopt;
}

/// From light to dark, so that it reads in print and without colours too.
Paint shade(double share) {
  constexpr std::array<std::string_view, 3> stops{"#e6edf4", "#5d8fbf", "#12294d"};
  const double place = std::clamp(share, 0.0, 1.0) * 2.0;
  const std::size_t first = place < 1.0 ? 0 : 1;
  const Paint a = Paint::of(stops[first]), b = Paint::of(stops[first + 1]);
  const double part = place - static_cast<double>(first);
  const auto mix = [part](double from, double to) { return from + part * (to - from); };
  return {mix(a.red, b.red), mix(a.green, b.green), mix(a.blue, b.blue)};
}

}  // namespace detail

namespace {

using namespace detail;

constexpr double title_height = 40.0;

void draw_heading(const SweepParts& parts) {
  const Point at{style::margin, style::margin + 0.3 * title_height};
  parts.canvas.text(at, parts.options.title, Paint::of(style::ink), style::large, Align::left, true);
  const double right =
      parts.options.title.empty()
          ? style::margin
          : parts.canvas.area_of(at, parts.options.title, style::large, Align::left, true).right() + 14.0;
  const auto lacks = [](const SweepTable::Row& row) {
    return std::any_of(row.measured.begin(), row.measured.end(), [](const auto& number) { return !number; });
  };
  const auto lacking = std::count_if(parts.sweep.rows.begin(), parts.sweep.rows.end(), lacks);
  std::string words = fmt::format("{} of {} plays", parts.sweep.rows.size(), parts.sweep.plays);
  if (lacking > 0) words += fmt::format("; {} of them without a value, left blank", lacking);
  parts.canvas.text({right, at.y + 1.0}, words, Paint::of(style::quiet), style::normal);
}

}  // namespace

void draw_sweep(const SweepTable& sweep, const std::filesystem::path& file, const SweepPictureOptions& options) {
  if (sweep.rows.empty() || sweep.paths.empty() || sweep.measures.empty())
    throw BadValue{"there is no play to draw; play at least one."};
  SweepTable in_order = sweep;  // rows come in any order from several threads
  std::sort(in_order.rows.begin(), in_order.rows.end(),
            [](const auto& a, const auto& b) { return a.number < b.number; });
  PictureFile picture{file, options.width, options.height};
  const SweepParts parts{picture.canvas(), in_order, options};
  draw_heading(parts);
  const Area whole = parts.canvas.whole();
  const Area area{style::margin, style::margin + title_height, whole.width - 2.0 * style::margin,
                  whole.height - 2.0 * style::margin - title_height};
  if (sweep.paths.size() == 1)
    draw_sweep_curves(parts, area);
  else if (sweep.paths.size() == 2)
    draw_sweep_maps(parts, area);
  else
    draw_sweep_lines(parts, area);
  picture.write();
}

}  // namespace hushed
