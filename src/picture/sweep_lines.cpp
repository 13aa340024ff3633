// SPDX-License-Identifier: MIT
#include <algorithm>
#include <utility>

#include "sweep_parts.hpp"

namespace hushed::detail {

namespace {

class SweepLines {
 public:
  explicit SweepLines(const SweepParts& parts) : parts_{parts} {}

  void draw(const Area& area) const {
    std::vector<const Axis*> axes;
    for (const Axis& axis : parts_.values) axes.push_back(&axis);
    for (const Axis& axis : parts_.measures) axes.push_back(&axis);
    const Area plot{area.x + 40.0, area.y + 2.0 * SweepParts::name_height, area.width - 110.0,
                    area.height - 2.0 * SweepParts::name_height - 24.0};
    const auto x_of = [&](std::size_t i) {
      return plot.x + plot.width * static_cast<double>(i) / static_cast<double>(axes.size() - 1);
    };
    const auto y_of = [&](double share) { return plot.bottom() - share * plot.height; };
    const Axis& colour = parts_.measures.front();
    std::vector<const SweepTable::Row*> sorted;  // the darkest last
    for (const SweepTable::Row& row : parts_.sweep.rows) sorted.push_back(&row);
    std::stable_sort(sorted.begin(), sorted.end(), [](const auto* a, const auto* b) {
      return a->measured.front().value_or(-1e300) < b->measured.front().value_or(-1e300);
    });
    for (const SweepTable::Row* const row : sorted) {
      std::vector<Point> points;
      for (std::size_t i = 0; i < axes.size(); ++i) {
        if (i < parts_.values.size())
          points.push_back({x_of(i), y_of(axes[i]->share(row->values[i]).value())});
        else if (const std::optional<double>& number = row->measured[i - parts_.values.size()])
          points.push_back({x_of(i), y_of(axes[i]->share(*number))});
        else
          break;  // the line ends before a measure that does not exist
      }
      const bool has_colour = row->measured.front().has_value();
      Paint paint = has_colour ? shade(0.15 + 0.85 * colour.share(*row->measured.front())) : Paint::of(style::edge);
      paint.alpha = 0.8;
      parts_.canvas.line(points, paint, 1.2);
    }
    for (std::size_t i = 0; i < axes.size(); ++i) draw_upright(*axes[i], x_of(i), plot, i);
  }

 private:
  void draw_upright(const Axis& axis, double x, const Area& plot, std::size_t number) const {
    parts_.canvas.line({{x, plot.y}, {x, plot.bottom()}}, Paint::of(style::ink), 1.2);
    for (const Tick& tick : axis.ticks(plot.height, 60.0)) {
      const double y = plot.bottom() - tick.at * plot.height;
      parts_.canvas.line({{x, y}, {x + 4.0, y}}, Paint::of(style::ink), 1.0);
      const Area area = parts_.canvas.area_of({x + 8.0, y}, tick.label, style::small);
      parts_.canvas.fill({area.x - 2.0, area.y, area.width + 4.0, area.height}, Paint::of(style::paper, 0.75));
      parts_.canvas.text({x + 8.0, y}, tick.label, Paint::of(style::quiet), style::small);
    }
    // Neighbouring names stand at two heights.
    const double y = plot.y - (number % 2 == 0 ? 30.0 : 12.0);
    const double half = 0.5 * parts_.canvas.area_of({0.0, 0.0}, axis.name(), style::small, Align::centre, true).width;
    const double middle = std::clamp(x, style::margin + half, parts_.canvas.whole().right() - style::margin - half);
    parts_.canvas.text({middle, y}, axis.name(), Paint::of(style::ink), style::small, Align::centre,
                       number >= parts_.values.size());
    if (const std::optional<double> at = number < parts_.values.size() ? parts_.now(number) : std::nullopt) {
      const Point mark{x, plot.bottom() - *at * plot.height};
      parts_.canvas.dot(mark, 6.0, Paint::of(style::paper));
      parts_.canvas.dot(mark, 4.5, Paint::of(SweepParts::now_colour));
      parts_.canvas.text({x - 10.0, mark.y}, "now", Paint::of(SweepParts::now_colour), style::small, Align::right,
                         true);
    }
  }

  const SweepParts& parts_;
};

}  // namespace

void draw_sweep_lines(const SweepParts& parts, const Area& area) { SweepLines{parts}.draw(area); }

}  // namespace hushed::detail
