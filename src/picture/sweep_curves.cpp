// SPDX-License-Identifier: MIT
#include <algorithm>
#include <utility>

#include "sweep_parts.hpp"

namespace hushed::detail {

namespace {

class SweepCurves {
 public:
  explicit SweepCurves(const SweepParts& parts) : parts_{parts} {}

  void draw(const Area& area) const {
    const double each = (area.height - SweepParts::below_height) / static_cast<double>(parts_.measures.size());
    for (std::size_t i = 0; i < parts_.measures.size(); ++i) {
      Axis height = parts_.measures[i];
      height.pad();
      const Area plot{area.x + SweepParts::left_width, area.y + static_cast<double>(i) * each + SweepParts::name_height,
                      area.width - SweepParts::left_width - 20.0, each - SweepParts::name_height - 8.0};
      parts_.canvas.text({plot.x, plot.y - 0.5 * SweepParts::name_height + 1.0}, height.name(), Paint::of(style::ink),
                         style::normal, Align::left, true);
      parts_.canvas.fill(plot, Paint::of("#fafbfc"));
      draw_y_axis(parts_.canvas, height, plot, true);
      if (i + 1 == parts_.measures.size()) draw_x_axis(parts_.canvas, parts_.values[0], plot, false);
      draw_now_line(plot, i == 0);
      draw_curve(plot, height, i);
    }
  }

 private:
  void draw_now_line(const Area& plot, bool has_label) const {
    const std::optional<double> at = parts_.now(0);
    if (!at) return;
    const double x = plot.x + *at * plot.width;
    parts_.canvas.line({{x, plot.y}, {x, plot.bottom()}}, Paint::of(SweepParts::now_colour), 1.4, 1);
    if (!has_label) return;
    const bool is_left = *at > 0.85;
    parts_.canvas.text({is_left ? x - 6.0 : x + 6.0, plot.y + 10.0}, "now " + parts_.options.present[0],
                       Paint::of(SweepParts::now_colour), style::small, is_left ? Align::right : Align::left);
  }

  void draw_curve(const Area& plot, const Axis& height, std::size_t measure) const {
    std::vector<std::pair<double, const SweepTable::Row*>> sorted;
    for (const SweepTable::Row& row : parts_.sweep.rows) sorted.emplace_back(parts_.place(row, 0), &row);
    std::stable_sort(sorted.begin(), sorted.end(), [](const auto& a, const auto& b) { return a.first < b.first; });
    std::vector<Point> piece, dots;
    const auto end_piece = [&] {
      if (piece.size() > 1 && parts_.values[0].is_number()) parts_.canvas.line(piece, style::line_paint(0), 1.8);
      piece.clear();
    };
    for (const auto& [share, row] : sorted) {
      if (!row->measured[measure]) {
        end_piece();
        continue;
      }
      piece.push_back(
          {plot.x + share * plot.width, plot.bottom() - height.share(*row->measured[measure]) * plot.height});
      dots.push_back(piece.back());
    }
    end_piece();
    if (static_cast<double>(dots.size()) < plot.width / 6.0)
      for (const Point& dot : dots) parts_.canvas.dot(dot, 3.0, style::line_paint(0));
    if (dots.empty())
      parts_.canvas.text({plot.x + 0.5 * plot.width, plot.y + 0.5 * plot.height}, "none in any play",
                         Paint::of(style::quiet), style::normal, Align::centre);
  }

  const SweepParts& parts_;
};

}  // namespace

void draw_sweep_curves(const SweepParts& parts, const Area& area) { SweepCurves{parts}.draw(area); }

}  // namespace hushed::detail
