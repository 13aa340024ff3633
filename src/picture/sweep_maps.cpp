// SPDX-License-Identifier: MIT
#include <algorithm>
#include <array>
#include <cmath>
#include <utility>

#include "sweep_parts.hpp"

namespace hushed::detail {

namespace {

class SweepMaps {
 public:
  explicit SweepMaps(const SweepParts& parts) : parts_{parts} {}

  void draw(const Area& area) const {
    const std::size_t columns = std::min<std::size_t>(parts_.measures.size(), parts_.measures.size() > 4 ? 3 : 2);
    const std::size_t rows = (parts_.measures.size() + columns - 1) / columns;
    for (std::size_t i = 0; i < parts_.measures.size(); ++i) {
      const double width = area.width / static_cast<double>(columns), height = area.height / static_cast<double>(rows);
      const std::size_t row = i / columns;
      draw_map({area.x + width * static_cast<double>(i % columns), area.y + height * static_cast<double>(row), width,
                height},
               i);
    }
  }

 private:
  void draw_map(const Area& area, std::size_t measure) const {
    constexpr double bar_width = 92.0;
    const Area plot{area.x + SweepParts::left_width, area.y + SweepParts::name_height,
                    area.width - SweepParts::left_width - bar_width,
                    area.height - SweepParts::name_height - SweepParts::below_height - 4.0};
    const Axis& colour = parts_.measures[measure];
    parts_.canvas.text({plot.x, plot.y - 0.5 * SweepParts::name_height + 1.0}, colour.name(), Paint::of(style::ink),
                       style::normal, Align::left, true);
    parts_.canvas.fill(plot, Paint::of("#fafbfc"));
    draw_x_axis(parts_.canvas, parts_.values[0], plot, false);
    draw_y_axis(parts_.canvas, parts_.values[1], plot, false);
    if (const std::optional<Cells> cells = cells_of(measure))
      draw_cells(*cells, colour, plot);
    else
      draw_dots(measure, colour, plot);
    draw_now(plot);
    draw_colours(colour, {plot.right() + 18.0, plot.y, 14.0, plot.height});
    draw_name_of_y(plot);
  }

  /// The name of the vertical axis, at its upper end.
  void draw_name_of_y(const Area& plot) const {
    const std::string name = "up: " + parts_.values[1].name();
    parts_.canvas.text({plot.right(), plot.y - 0.5 * SweepParts::name_height + 1.0}, name, Paint::of(style::ink),
                       style::small, Align::right);
  }

  /// The numbers of a measure at all crossings of two lists of values.
  struct Cells {
    std::vector<double> x, y;  ///< shares of the axes
    std::vector<std::optional<double>> numbers;
    const std::optional<double>& at(std::size_t column, std::size_t row) const {
      return numbers[row * x.size() + column];
    }
  };

  /// Nothing where the plays are no grid.
  std::optional<Cells> cells_of(std::size_t measure) const {
    Cells cells;
    for (std::size_t value = 0; value < 2; ++value) {
      std::vector<double>& list = value == 0 ? cells.x : cells.y;
      for (const SweepTable::Row& row : parts_.sweep.rows) list.push_back(parts_.place(row, value));
      std::sort(list.begin(), list.end());
      list.erase(std::unique(list.begin(), list.end()), list.end());
    }
    if (cells.x.size() < 2 || cells.y.size() < 2 || cells.x.size() * cells.y.size() > 4 * parts_.sweep.rows.size())
      return std::nullopt;
    cells.numbers.resize(cells.x.size() * cells.y.size());
    const auto index = [](const std::vector<double>& list, double share) {
      return static_cast<std::size_t>(std::lower_bound(list.begin(), list.end(), share) - list.begin());
    };
    for (const SweepTable::Row& row : parts_.sweep.rows)
      cells.numbers[index(cells.y, parts_.place(row, 1)) * cells.x.size() + index(cells.x, parts_.place(row, 0))] =
          row.measured[measure];
    return cells;
  }

  static double edge_before(const std::vector<double>& list, std::size_t i) {
    return i == 0 ? 0.0 : i == list.size() ? 1.0 : 0.5 * (list[i - 1] + list[i]);
  }

  void draw_cells(const Cells& cells, const Axis& colour, const Area& plot) const {
    for (std::size_t row = 0; row < cells.y.size(); ++row) {
      for (std::size_t column = 0; column < cells.x.size(); ++column) {
        const std::optional<double>& number = cells.at(column, row);
        if (!number) continue;
        const double left = plot.x + edge_before(cells.x, column) * plot.width;
        const double right = plot.x + edge_before(cells.x, column + 1) * plot.width;
        const double top = plot.bottom() - edge_before(cells.y, row + 1) * plot.height;
        const double bottom = plot.bottom() - edge_before(cells.y, row) * plot.height;
        parts_.canvas.fill({left - 0.3, top - 0.3, right - left + 0.6, bottom - top + 0.6},
                           shade(colour.share(*number)));
      }
    }
    const bool is_field = parts_.values[0].is_number() && parts_.values[1].is_number();
    if (!is_field) return;
    parts_.canvas.clip(plot);
    for (const Tick& tick : colour.ticks(plot.height, 60.0))
      if (tick.at > 1e-6 && tick.at < 1.0 - 1e-6)  // an end of the range is reached by whole areas
        draw_contour(cells, colour.low() + tick.at * (colour.high() - colour.low()), tick, plot);
    parts_.canvas.unclip();
  }

  /// The line of one number, linear between the middles of the cells (marching squares). Its label stands where it
  /// passes nearest to the middle of the map.
  void draw_contour(const Cells& cells, double level, const Tick& tick, const Area& plot) const {
    const Point middle{plot.x + 0.5 * plot.width, plot.y + 0.5 * plot.height};
    const Paint paint = Paint::of(tick.at > 0.45 ? style::paper : style::ink, 0.8);
    std::optional<Point> label;
    const auto distance = [&](const Point& at) { return std::hypot(at.x - middle.x, at.y - middle.y); };
    for (std::size_t row = 0; row + 1 < cells.y.size(); ++row) {
      for (std::size_t column = 0; column + 1 < cells.x.size(); ++column) {
        std::vector<Point> crossings;
        const std::array<std::array<std::size_t, 2>, 4> corners{
            {{column, row}, {column + 1, row}, {column + 1, row + 1}, {column, row + 1}}};
        for (std::size_t i = 0; i < 4; ++i) {
          const auto& [ax, ay] = corners[i];
          const auto& [bx, by] = corners[(i + 1) % 4];
          const std::optional<double>&a = cells.at(ax, ay), &b = cells.at(bx, by);
          if (!a || !b || (*a > level) == (*b > level)) continue;
          const double part = (level - *a) / (*b - *a);
          crossings.push_back({plot.x + (cells.x[ax] + part * (cells.x[bx] - cells.x[ax])) * plot.width,
                               plot.bottom() - (cells.y[ay] + part * (cells.y[by] - cells.y[ay])) * plot.height});
        }
        for (std::size_t i = 0; i + 1 < crossings.size(); i += 2) {
          parts_.canvas.line({crossings[i], crossings[i + 1]}, paint, 1.1);
          if (!label || distance(crossings[i]) < distance(*label)) label = crossings[i];
        }
      }
    }
    if (label) parts_.canvas.text({label->x + 4.0, label->y - 7.0}, tick.label, paint, style::small);
  }

  void draw_dots(std::size_t measure, const Axis& colour, const Area& plot) const {
    for (const SweepTable::Row& row : parts_.sweep.rows) {
      const Point at{plot.x + parts_.place(row, 0) * plot.width, plot.bottom() - parts_.place(row, 1) * plot.height};
      if (!row.measured[measure]) {
        parts_.canvas.dot(at, 1.5, Paint::of(style::edge));
        continue;
      }
      parts_.canvas.dot(at, 6.0, Paint::of(style::edge));
      parts_.canvas.dot(at, 5.2, shade(colour.share(*row.measured[measure])));
    }
  }

  void draw_now(const Area& plot) const {
    const std::optional<double> x = parts_.now(0), y = parts_.now(1);
    if (!x || !y) return;
    const Point at{plot.x + *x * plot.width, plot.bottom() - *y * plot.height};
    for (const auto& [paint, width] :
         {std::pair{Paint::of(style::paper), 5.0}, std::pair{Paint::of(SweepParts::now_colour), 2.2}}) {
      parts_.canvas.line({{at.x - 8.0, at.y}, {at.x + 8.0, at.y}}, paint, width);
      parts_.canvas.line({{at.x, at.y - 8.0}, {at.x, at.y + 8.0}}, paint, width);
    }
    const bool is_right = *x > 0.85;
    const Point text{is_right ? at.x - 12.0 : at.x + 12.0, at.y + (*y > 0.9 ? 14.0 : -12.0)};
    const Align align = is_right ? Align::right : Align::left;
    const Area area = parts_.canvas.area_of(text, "now", style::small, align, true);
    parts_.canvas.fill({area.x - 3.0, area.y - 1.0, area.width + 6.0, area.height + 2.0},
                       Paint::of(style::paper, 0.85));
    parts_.canvas.text(text, "now", Paint::of(SweepParts::now_colour), style::small, align, true);
  }

  void draw_colours(const Axis& colour, const Area& bar) const {
    constexpr int steps = 100;
    for (int i = 0; i < steps; ++i) {
      const double share = (i + 0.5) / steps;
      parts_.canvas.fill({bar.x, bar.bottom() - (i + 1) * bar.height / steps, bar.width, bar.height / steps + 0.5},
                         shade(share));
    }
    for (const Tick& tick : colour.ticks(bar.height, 60.0)) {
      const double y = bar.bottom() - tick.at * bar.height;
      parts_.canvas.line({{bar.right(), y}, {bar.right() + 4.0, y}}, Paint::of(style::edge), 1.0);
      parts_.canvas.text({bar.right() + 8.0, y}, tick.label, Paint::of(style::quiet), style::small);
    }
  }

  const SweepParts& parts_;
};

}  // namespace

void draw_sweep_maps(const SweepParts& parts, const Area& area) { SweepMaps{parts}.draw(area); }

}  // namespace hushed::detail
