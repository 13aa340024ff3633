// SPDX-License-Identifier: MIT
// Paths in space: the path of each object, its poses at some frames, its direction and its name.

#include <algorithm>
#include <limits>

#include <fmt/format.h>

#include "crowds.hpp"
#include "outline.hpp"
#include "parts.hpp"
#include "style.hpp"
#include "travellers.hpp"

namespace hushed::detail {

namespace {

constexpr double between_arrows = 95.0, footing = 34.0;
constexpr std::int64_t most_ghosts = 16;

/// The objects of one play. The objects that move furthest get the first colours, and solid lines.
std::vector<Traveller> travellers_in(const Watched& play, const std::vector<std::string>& only) {
  std::vector<std::pair<double, Traveller>> found;
  for (std::size_t object = 0; object < play.recording.objects.size(); ++object) {
    if (!only.empty() && std::find(only.begin(), only.end(), play.recording.objects[object]) == only.end()) continue;
    const double reach = play.recording.reach(object);
    found.push_back({reach, {&play, object, 0, 0, reach > 1e-6}});
  }
  std::stable_sort(found.begin(), found.end(), [](const auto& a, const auto& b) { return a.first > b.first; });
  std::vector<Traveller> all;
  for (auto& [reach, traveller] : found) {
    traveller.colour = all.size();
    traveller.dash = all.size() / style::lines.size();
    all.push_back(traveller);
  }
  return all;
}

/// With several plays, each has its own colour. Objects that do not move have the same colour in all.
std::vector<Traveller> travellers_of(std::span<const Watched> plays, const std::vector<std::string>& only) {
  std::vector<Traveller> all;
  for (std::size_t play = 0; play < plays.size(); ++play) {
    for (Traveller& each : travellers_in(plays[play], only)) {
      if (!each.moves && play > 0) continue;
      if (plays.size() > 1) each.colour = each.dash = play;
      all.push_back(each);
    }
  }
  return all;
}

Area bounds_of(const std::vector<Traveller>& travellers, const View& view) {
  double left = std::numeric_limits<double>::infinity(), top = left, right = -left, bottom = -left;
  const auto take = [&](const Vec3& place) {
    const Point point = view.flat(place);
    left = std::min(left, point.x), right = std::max(right, point.x);
    top = std::min(top, point.y), bottom = std::max(bottom, point.y);
  };
  for (const Traveller& each : travellers) {
    for (std::size_t frame = 0; frame < each.play->recording.frames(); ++frame) take(each.at(frame).position);
    for (const std::size_t frame : {std::size_t{0}, each.play->recording.frames() - 1})
      for (const Vec3& corner : corners_of(each.shape(), each.at(frame))) take(corner);
  }
  const double area = 0.04 * std::max({right - left, bottom - top, 1.0});
  return {left - area, top - area, right - left + 2 * area, bottom - top + 2 * area};
}

std::vector<Point> outline_of(const Traveller& each, std::size_t frame, const View& view) {
  std::vector<Point> points;
  for (const Vec3& corner : corners_of(each.shape(), each.at(frame))) points.push_back(view(corner));
  return convex_outline(std::move(points));
}

/// The round number of frames between two drawn poses, so that the poses can be distinguished.
std::int64_t ghosts_every(std::int64_t frames, std::int64_t asked) {
  if (asked > 0) return asked;
  for (std::int64_t power = 1;; power *= 10)
    for (const std::int64_t step : {1, 2, 5})
      if (frames <= most_ghosts * step * power) return step * power;
}

void draw_body(Canvas& canvas, const Traveller& each, std::size_t frame, const View& view, double strength) {
  const auto outline = outline_of(each, frame, view);
  if (outline.size() < 3) {
    canvas.dot(view(each.at(frame).position), 3.0, style::line_paint(each.colour, strength));
    return;
  }
  canvas.fill(outline, style::line_paint(each.colour, 0.25 * strength));
  canvas.outline(outline, style::line_paint(each.colour, strength), 1.1);
}

/// Draws arrowheads along a path at equal distances.
void draw_direction(Canvas& canvas, const std::vector<Point>& path, const Paint& paint) {
  double passed = 0.6 * between_arrows;
  for (std::size_t i = 1; i < path.size(); ++i) {
    const Point way{path[i].x - path[i - 1].x, path[i].y - path[i - 1].y};
    const double length = std::hypot(way.x, way.y);
    passed += length;
    if (passed < between_arrows || !(length > 0.0)) continue;
    passed = 0.0;
    const Point u{way.x / length, way.y / length};
    const Point tip{path[i].x + 5.0 * u.x, path[i].y + 5.0 * u.y}, back{path[i].x - 4.0 * u.x, path[i].y - 4.0 * u.y};
    canvas.fill({tip, {back.x - 3.6 * u.y, back.y + 3.6 * u.x}, {back.x + 3.6 * u.y, back.y - 3.6 * u.x}}, paint);
  }
}

/// True for two poses that would be drawn at the same place.
bool looks_the_same(const Pose& a, const Pose& b, const View& view) {
  const Point p = view(a.position), q = view(b.position);
  return std::hypot(p.x - q.x, p.y - q.y) < 4.0 && a.rotation.angularDistance(b.rotation) < 0.15;
}

void draw_traveller(Canvas& canvas, const Traveller& each, const View& view, std::int64_t every) {
  const std::size_t frames = each.play->recording.frames();
  const std::size_t last = each.last();
  std::vector<std::vector<Point>> paths(1);  // a new one begins after each time it was hidden
  for (std::size_t frame = 0; frame <= last; ++frame) {
    if (each.is_hidden(frame)) {
      if (!paths.back().empty()) paths.emplace_back();
      continue;
    }
    const Point point = view(each.at(frame).position);
    std::vector<Point>& path = paths.back();
    if (path.empty() || frame == last || std::hypot(point.x - path.back().x, point.y - path.back().y) > 0.3)
      path.push_back(point);
  }
  std::optional<Pose> ghost;
  for (std::size_t frame = 0; frame < last; frame += static_cast<std::size_t>(every)) {
    if (each.is_hidden(frame) || (ghost && looks_the_same(*ghost, each.at(frame), view))) continue;
    if (looks_the_same(each.at(last), each.at(frame), view)) continue;
    ghost = each.at(frame);
    draw_body(canvas, each, frame, view, 0.18 + 0.25 * static_cast<double>(frame) / static_cast<double>(frames));
  }
  for (const std::vector<Point>& path : paths) {
    canvas.line(path, style::line_paint(each.colour), 1.8, each.dash);
    draw_direction(canvas, path, style::line_paint(each.colour));
  }
  draw_body(canvas, each, last, view, 1.0);
}

/// Places names beside their objects so that they do not overlap; further away, with a line, where there is no space.
class NamePlaces {
 public:
  NamePlaces(Canvas& canvas, const Area& area) : canvas_{canvas}, area_{area} {}

  void avoid_overlap(const Area& box) { taken_.push_back(box); }

  void place(Point at, const std::string& name, const Paint& paint, bool is_bold) {
    const Area size = canvas_.area_of({0, 0}, name, style::small, Align::left, is_bold);
    for (int ring = 0; ring < 17; ++ring) {
      const double distance = 9.0 + 11.0 * ring;
      for (int direction = 0; direction < 16; ++direction) {
        const double angle = -0.4 + 0.39269908169872414 * direction;  // first to the right, then around
        const Point end{at.x + distance * std::cos(angle), at.y + distance * std::sin(angle)};
        const double left = std::cos(angle) > 0.3 ? 0.0 : std::cos(angle) < -0.3 ? size.width : 0.5 * size.width;
        const Area area{end.x - left - 2.0, end.y - 0.5 * size.height, size.width + 4.0, size.height};
        const bool is_inside =
            area.x >= area_.x && area.right() <= area_.right() && area.y >= area_.y && area.bottom() <= area_.bottom();
        if (!is_inside ||
            std::any_of(taken_.begin(), taken_.end(), [&](const Area& box) { return box.overlaps(area); }))
          continue;
        if (distance > 21.0) canvas_.line({at, end}, Paint::of(style::edge), 1.0);
        canvas_.fill(area, Paint::of(style::paper, 0.75));
        canvas_.text({area.x + 2.0, end.y}, name, paint, style::small, Align::left, is_bold);
        taken_.push_back(area);
        return;
      }
    }
  }

 private:
  Canvas& canvas_;
  Area area_;
  std::vector<Area> taken_;
};

/// Draws a grid with a line every `step` metres: on the ground, or upright in a view from the side.
void draw_grid(Canvas& canvas, const Area& plot, const View& view, double step, ViewFrom from) {
  canvas.fill(plot, Paint::of("#fafbfc"));
  const int second = from == ViewFrom::side ? 1 : 2;
  const Point middle{plot.x + 0.5 * plot.width, plot.y + 0.5 * plot.height};
  const double reach = 2.0 * std::hypot(plot.width, plot.height) / view.scale();
  const Vec3 here = view.ground(middle, second);
  for (const int along : {0, second}) {
    const int across = along == 0 ? second : 0;
    for (const double at : style::ticks(here[across] - reach, here[across] + reach, step)) {
      Vec3 start = here, end = here;
      start[across] = end[across] = at;
      start[along] -= reach;
      end[along] += reach;
      canvas.line({view(start), view(end)}, Paint::of(style::grid), 1.0);
    }
  }
}

std::string_view describe(ViewFrom from) {
  switch (from) {
    case ViewFrom::above: return "seen from above: x to the right, z down";
    case ViewFrom::side: return "seen from the side: x to the right, y up";
    case ViewFrom::angle: return "seen from above at an angle";
  }
  return "";
}

}  // namespace

void draw_paths(Canvas& canvas, const Area& area, std::span<const Watched> plays, const PictureOptions& options) {
  const std::vector<Traveller> travellers = travellers_of(plays, options.only);
  if (travellers.empty()) return;
  View view{options.from};
  const Area plot{area.x, area.y, area.width, area.height - footing};
  view.fit(bounds_of(travellers, view), {plot.x + 8.0, plot.y + 8.0, plot.width - 16.0, plot.height - 16.0});
  const double step = style::round_step(45.0 / view.scale());

  const std::int64_t every =
      ghosts_every(static_cast<std::int64_t>(plays.front().recording.frames()), options.ghosts_every);

  canvas.clip(plot);
  draw_grid(canvas, plot, view, step, options.from);
  NamePlaces names{canvas, plot};
  for (const Traveller& each : travellers) {
    if (each.moves) continue;
    const auto outline = outline_of(each, 0, view);
    canvas.fill(outline, Paint::of(style::faint));
    canvas.outline(outline, Paint::of(style::edge), 1.0);
  }
  const std::vector<Crowd> crowds = crowds_among(travellers);
  const auto is_alone = [&](const Traveller& each) {
    return std::none_of(crowds.begin(), crowds.end(), [&](const Crowd& crowd) { return crowd.has(each); });
  };
  for (const Crowd& crowd : crowds) draw_density(canvas, crowd, view, plot);
  for (const Traveller& each : travellers)
    if (each.moves && is_alone(each)) draw_traveller(canvas, each, view, every);
  for (const Crowd& crowd : crowds) {
    draw_headings(canvas, crowd, view);
    names.place(middle_of(crowd, view), fmt::format("{} ({})", crowd.name, crowd.members.size()),
                style::line_paint(crowd.members[0].colour), true);
  }
  for (const Traveller& each : travellers) {
    if (!is_alone(each)) continue;
    const Point at = view(each.at(each.last()).position);
    names.avoid_overlap({at.x - 5.0, at.y - 5.0, 10.0, 10.0});
  }
  for (const bool moving : {true, false})
    for (const Traveller& each : travellers)
      if (each.moves == moving && each.play == &plays.front() && is_alone(each))
        names.place(view(each.at(each.last()).position), each.name(),
                    moving && plays.size() == 1 ? style::line_paint(each.colour) : Paint::of(style::quiet), moving);
  canvas.unclip();

  const double y = plot.bottom() + 0.55 * footing, length = step * view.scale();
  canvas.line({{plot.x, y - 4.0}, {plot.x, y}, {plot.x + length, y}, {plot.x + length, y - 4.0}}, Paint::of(style::ink),
              1.4);
  canvas.text({plot.x + length + 8.0, y - 2.0}, style::as_label(step, step) + " m", Paint::of(style::ink),
              style::small);
  const Point end{plot.right(), y - 2.0};
  const double scale_end =
      canvas.area_of({plot.x + length + 8.0, y}, style::as_label(step, step) + " m", style::small).right();
  for (const std::string& caption : {fmt::format("{}; a ghost every {} frames", describe(options.from), every),
                                     std::string{describe(options.from)}}) {
    if (canvas.area_of(end, caption, style::small, Align::right).x < scale_end + 12.0) continue;
    canvas.text(end, caption, Paint::of(style::quiet), style::small, Align::right);
    break;
  }
}

}  // namespace hushed::detail
