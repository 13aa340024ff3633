// SPDX-License-Identifier: MIT
#include "crowds.hpp"

#include <map>

#include "style.hpp"

namespace hushed::detail {

namespace {

constexpr std::size_t a_dozen = 12;

/// The name without its number: "gull" for "gull-12"; empty where it has no number.
std::string family_of(const std::string& name) {
  const std::size_t dash = name.rfind('-');
  const bool has_number = dash != std::string::npos && dash > 0 && dash + 1 < name.size() &&
                          name.find_first_not_of("0123456789", dash + 1) == std::string::npos;
  return has_number ? name.substr(0, dash) : "";
}

}  // namespace

bool Crowd::has(const Traveller& each) const { return each.moves && family_of(each.name()) == name; }

std::vector<Crowd> crowds_among(const std::vector<Traveller>& travellers) {
  std::map<std::string, Crowd> by_name;
  for (const Traveller& each : travellers) {
    const std::string stem = each.moves ? family_of(each.name()) : "";
    if (stem.empty()) continue;
    Crowd& crowd = by_name[stem];
    crowd.name = stem;
    crowd.members.push_back(each);
  }
  std::vector<Crowd> crowds;
  for (auto& [name, crowd] : by_name)
    if (crowd.members.size() > a_dozen) crowds.push_back(std::move(crowd));
  for (std::size_t i = 0; i < crowds.size(); ++i)
    for (Traveller& each : crowds[i].members) each.colour = i;
  return crowds;
}

void draw_density(Canvas& canvas, const Crowd& crowd, const View& view, const Area& plot) {
  constexpr double cell = 4.0;
  const auto columns = static_cast<std::size_t>(plot.width / cell) + 1,
             rows = static_cast<std::size_t>(plot.height / cell) + 1;
  std::vector<int> counts(columns * rows, 0);
  int most = 0;
  for (const Traveller& each : crowd.members) {
    for (std::size_t frame = 0; frame < each.play->recording.frames(); ++frame) {
      if (each.is_hidden(frame)) continue;
      const Point at = view(each.at(frame).position);
      const double column = (at.x - plot.x) / cell, row = (at.y - plot.y) / cell;
      if (!(column >= 0.0 && row >= 0.0 && column < static_cast<double>(columns) && row < static_cast<double>(rows)))
        continue;
      most = std::max(most, ++counts[static_cast<std::size_t>(row) * columns + static_cast<std::size_t>(column)]);
    }
  }
  for (std::size_t row = 0; row < rows; ++row) {
    for (std::size_t column = 0; column < columns; ++column) {
      const int count = counts[row * columns + column];
      if (count == 0) continue;
      const double strength = 0.04 + 0.56 * std::log1p(count) / std::log1p(most);
      canvas.fill(
          Area{plot.x + cell * static_cast<double>(column), plot.y + cell * static_cast<double>(row), cell, cell},
          style::line_paint(crowd.members[0].colour, strength));
    }
  }
}

void draw_headings(Canvas& canvas, const Crowd& crowd, const View& view) {
  constexpr std::size_t back = 6;  // frames: long enough for a direction
  const double size = crowd.members.size() > 200 ? 3.0 : 5.0;
  const Paint paint = style::line_paint(crowd.members[0].colour);
  for (const Traveller& each : crowd.members) {
    const std::size_t last = each.last();
    const Point tip = view(each.at(last).position), from = view(each.at(last - std::min(last, back)).position);
    const Point way{tip.x - from.x, tip.y - from.y};
    const double length = std::hypot(way.x, way.y);
    if (length < 0.3) {
      canvas.dot(tip, 0.5 * size, paint);
      continue;
    }
    const Point u{way.x / length * size, way.y / length * size};
    canvas.fill({{tip.x + u.x, tip.y + u.y},
                 {tip.x - u.x - 0.7 * u.y, tip.y - u.y + 0.7 * u.x},
                 {tip.x - u.x + 0.7 * u.y, tip.y - u.y - 0.7 * u.x}},
                paint);
  }
}

Point middle_of(const Crowd& crowd, const View& view) {
  Vec3 middle = Vec3::Zero();
  for (const Traveller& each : crowd.members)
    middle += each.at(each.last()).position / static_cast<double>(crowd.members.size());
  const auto nearer = [&](const Traveller& a, const Traveller& b) {
    return (a.at(a.last()).position - middle).squaredNorm() < (b.at(b.last()).position - middle).squaredNorm();
  };
  const Traveller& nearest = *std::min_element(crowd.members.begin(), crowd.members.end(), nearer);
  return view(nearest.at(nearest.last()).position);
}

}  // namespace hushed::detail
