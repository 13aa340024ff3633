// SPDX-License-Identifier: MIT
// Pictures of sweeps: curves over one value, maps over two, and lines across many.

#include <algorithm>
#include <charconv>
#include <cmath>
#include <limits>
#include <optional>

#include <fmt/format.h>

#include <hushed/error.hpp>
#include <hushed/picture.hpp>

#include "picture_file.hpp"
#include "style.hpp"

namespace hushed {

using namespace detail;

namespace {

constexpr double title_height = 40.0, left_width = 66.0, below_height = 44.0, name_height = 22.0;
constexpr std::string_view now_colour = style::lines[1];

std::optional<double> number_in(const std::string& text) {
  double number = 0.0;
  const auto [end, error] = std::from_chars(text.data(), text.data() + text.size(), number);
  const bool is_number = error == std::errc{} && end == text.data() + text.size();
  return is_number ? std::optional{number} : std::nullopt;
}

struct Tick {
  double at;  ///< share of the axis
  std::string label;
};

/// An axis of numbers, or of words at equal distances.
class Axis {
 public:
  Axis(std::string name, const std::vector<std::string>& texts) : name_{std::move(name)} {
    is_number_ = std::all_of(texts.begin(), texts.end(), [](const auto& text) { return number_in(text).has_value(); });
    for (const std::string& text : texts) {
      if (is_number_)
        include(*number_in(text));
      else if (std::find(words_.begin(), words_.end(), text) == words_.end())
        words_.push_back(text);
    }
    widen();
  }
  Axis(std::string name, const std::vector<std::optional<double>>& numbers) : name_{std::move(name)} {
    for (const std::optional<double>& number : numbers)
      if (number) include(*number);
    widen();
  }

  const std::string& name() const { return name_; }
  bool is_number() const { return is_number_; }
  double low() const { return low_; }
  double high() const { return high_; }
  /// More space at both ends.
  void pad() {
    const double more = 0.07 * (high_ - low_);
    low_ -= more;
    high_ += more;
  }
  double share(double number) const { return (number - low_) / (high_ - low_); }
  /// Nothing where the text is neither on the axis nor near it.
  std::optional<double> share(const std::string& text) const {
    if (is_number_) {
      const auto number = number_in(text);
      return number ? std::optional{share(*number)} : std::nullopt;
    }
    const auto found = std::find(words_.begin(), words_.end(), text);
    if (found == words_.end()) return std::nullopt;
    return (static_cast<double>(found - words_.begin()) + 0.5) / static_cast<double>(words_.size());
  }
  std::vector<Tick> ticks(double pixels, double apart) const {
    std::vector<Tick> all;
    if (!is_number_) {
      for (const std::string& word : words_) all.push_back({*share(word), word});
      return all;
    }
    const double step = style::round_step((high_ - low_) * apart / pixels);
    for (const double tick : style::ticks(low_, high_, step)) all.push_back({share(tick), style::as_label(tick, step)});
    return all;
  }

 private:
  void include(double number) {
    low_ = std::min(low_, number);
    high_ = std::max(high_, number);
  }
  void widen() {
    if (low_ > high_) low_ = -1.0, high_ = 1.0;
    if (high_ - low_ > 1e-9 * (1.0 + std::abs(low_))) return;
    const double half = std::max(0.5, 0.1 * std::abs(low_));
    low_ -= half;
    high_ += half;
  }

  std::string name_;
  bool is_number_ = true;
  std::vector<std::string> words_;
  double low_ = std::numeric_limits<double>::infinity(), high_ = -std::numeric_limits<double>::infinity();
};

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

class SweepPicture {
 public:
  SweepPicture(Canvas& canvas, const SweepTable& sweep, const SweepPictureOptions& options)
      : canvas_{canvas}, sweep_{sweep}, options_{options} {
    for (std::size_t i = 0; i < sweep.paths.size(); ++i) {
      std::vector<std::string> texts;
      for (const SweepTable::Row& row : sweep.rows) texts.push_back(row.values[i]);
      values_.emplace_back(sweep.paths[i], texts);
    }
    for (std::size_t i = 0; i < sweep.measures.size(); ++i) {
      std::vector<std::optional<double>> numbers;
      for (const SweepTable::Row& row : sweep.rows) numbers.push_back(row.measured[i]);
      const bool has_unit = i < sweep.units.size() && !sweep.units[i].empty();
      measures_.emplace_back(sweep.measures[i] + (has_unit ? "  " + sweep.units[i] : ""), numbers);
    }
  }

  void draw() {
    draw_heading();
    const Area whole = canvas_.whole();
    const Area area{style::margin, style::margin + title_height, whole.width - 2.0 * style::margin,
                    whole.height - 2.0 * style::margin - title_height};
    if (values_.size() == 1)
      draw_curves(area);
    else if (values_.size() == 2)
      draw_maps(area);
    else
      draw_lines(area);
  }

 private:
  void draw_heading() {
    const Point at{style::margin, style::margin + 0.3 * title_height};
    canvas_.text(at, options_.title, Paint::of(style::ink), style::large, Align::left, true);
    const double right = options_.title.empty()
                             ? style::margin
                             : canvas_.area_of(at, options_.title, style::large, Align::left, true).right() + 14.0;
    const auto lacks = [](const SweepTable::Row& row) {
      return std::any_of(row.measured.begin(), row.measured.end(), [](const auto& number) { return !number; });
    };
    const auto lacking = std::count_if(sweep_.rows.begin(), sweep_.rows.end(), lacks);
    std::string words = fmt::format("{} of {} plays", sweep_.rows.size(), sweep_.plays);
    if (lacking > 0) words += fmt::format("; {} of them without a value, left blank", lacking);
    canvas_.text({right, at.y + 1.0}, words, Paint::of(style::quiet), style::normal);
  }

  std::optional<double> now(std::size_t value) const {
    if (value >= options_.present.size()) return std::nullopt;
    const std::optional<double> share = values_[value].share(options_.present[value]);
    return share && *share >= 0.0 && *share <= 1.0 ? share : std::nullopt;
  }

  void draw_x_axis(const Axis& axis, const Area& plot, bool has_lines) {
    const std::vector<Tick> ticks = axis.ticks(plot.width, 80.0);
    for (const Tick& tick : ticks) {
      const double x = plot.x + tick.at * plot.width;
      if (has_lines) canvas_.line({{x, plot.y}, {x, plot.bottom()}}, Paint::of(style::grid), 1.0);
      canvas_.line({{x, plot.bottom()}, {x, plot.bottom() + 4.0}}, Paint::of(style::edge), 1.0);
      canvas_.text({x, plot.bottom() + 13.0}, tick.label, Paint::of(style::quiet), style::small, Align::centre);
    }
    canvas_.text({plot.x + 0.5 * plot.width, plot.bottom() + 31.0}, axis.name(), Paint::of(style::ink), style::normal,
                 Align::centre);
  }

  void draw_y_axis(const Axis& axis, const Area& plot, bool has_lines) {
    for (const Tick& tick : axis.ticks(plot.height, 34.0)) {
      const double y = plot.bottom() - tick.at * plot.height;
      if (has_lines) canvas_.line({{plot.x, y}, {plot.right(), y}}, Paint::of(style::grid), 1.0);
      canvas_.text({plot.x - 8.0, y}, tick.label, Paint::of(style::quiet), style::small, Align::right);
    }
  }

  // --- one value ----------------------------------------------------------------------------------------------------

  void draw_curves(const Area& area) {
    const double each = (area.height - below_height) / static_cast<double>(measures_.size());
    for (std::size_t i = 0; i < measures_.size(); ++i) {
      Axis height = measures_[i];
      height.pad();
      const Area plot{area.x + left_width, area.y + static_cast<double>(i) * each + name_height,
                      area.width - left_width - 20.0, each - name_height - 8.0};
      canvas_.text({plot.x, plot.y - 0.5 * name_height + 1.0}, height.name(), Paint::of(style::ink), style::normal,
                   Align::left, true);
      canvas_.fill(plot, Paint::of("#fafbfc"));
      draw_y_axis(height, plot, true);
      if (i + 1 == measures_.size()) draw_x_axis(values_[0], plot, false);
      draw_now_line(plot, i == 0);
      draw_curve(plot, height, i);
    }
  }

  void draw_now_line(const Area& plot, bool has_label) {
    const std::optional<double> at = now(0);
    if (!at) return;
    const double x = plot.x + *at * plot.width;
    canvas_.line({{x, plot.y}, {x, plot.bottom()}}, Paint::of(now_colour), 1.4, 1);
    if (!has_label) return;
    const bool is_left = *at > 0.85;
    canvas_.text({is_left ? x - 6.0 : x + 6.0, plot.y + 10.0}, "now " + options_.present[0], Paint::of(now_colour),
                 style::small, is_left ? Align::right : Align::left);
  }

  void draw_curve(const Area& plot, const Axis& height, std::size_t measure) {
    std::vector<std::pair<double, const SweepTable::Row*>> sorted;
    for (const SweepTable::Row& row : sweep_.rows) sorted.emplace_back(values_[0].share(row.values[0]).value(), &row);
    std::stable_sort(sorted.begin(), sorted.end(), [](const auto& a, const auto& b) { return a.first < b.first; });
    std::vector<Point> piece, dots;
    const auto end_piece = [&] {
      if (piece.size() > 1 && values_[0].is_number()) canvas_.line(piece, style::line_paint(0), 1.8);
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
      for (const Point& dot : dots) canvas_.dot(dot, 3.0, style::line_paint(0));
    if (dots.empty())
      canvas_.text({plot.x + 0.5 * plot.width, plot.y + 0.5 * plot.height}, "none in any play", Paint::of(style::quiet),
                   style::normal, Align::centre);
  }

  // --- two values ---------------------------------------------------------------------------------------------------

  void draw_maps(const Area& area) {
    const std::size_t columns = std::min<std::size_t>(measures_.size(), measures_.size() > 4 ? 3 : 2);
    const std::size_t rows = (measures_.size() + columns - 1) / columns;
    for (std::size_t i = 0; i < measures_.size(); ++i) {
      const double width = area.width / static_cast<double>(columns), height = area.height / static_cast<double>(rows);
      const std::size_t row = i / columns;
      draw_map({area.x + width * static_cast<double>(i % columns), area.y + height * static_cast<double>(row), width,
                height},
               i);
    }
  }

  void draw_map(const Area& area, std::size_t measure) {
    constexpr double bar_width = 92.0;
    const Area plot{area.x + left_width, area.y + name_height, area.width - left_width - bar_width,
                    area.height - name_height - below_height - 4.0};
    const Axis& colour = measures_[measure];
    canvas_.text({plot.x, plot.y - 0.5 * name_height + 1.0}, colour.name(), Paint::of(style::ink), style::normal,
                 Align::left, true);
    canvas_.fill(plot, Paint::of("#fafbfc"));
    draw_x_axis(values_[0], plot, false);
    draw_y_axis(values_[1], plot, false);
    if (const std::optional<Cells> cells = cells_of(measure))
      draw_cells(*cells, colour, plot);
    else
      draw_dots(measure, colour, plot);
    draw_now(plot);
    draw_colours(colour, {plot.right() + 18.0, plot.y, 14.0, plot.height});
    draw_name_of_y(plot);
  }

  /// The name of the vertical axis, at its upper end.
  void draw_name_of_y(const Area& plot) {
    const std::string name = "up: " + values_[1].name();
    canvas_.text({plot.right(), plot.y - 0.5 * name_height + 1.0}, name, Paint::of(style::ink), style::small,
                 Align::right);
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
    const auto place = [&](const SweepTable::Row& row, std::size_t value) {
      return values_[value].share(row.values[value]).value();
    };
    for (std::size_t value = 0; value < 2; ++value) {
      std::vector<double>& list = value == 0 ? cells.x : cells.y;
      for (const SweepTable::Row& row : sweep_.rows) list.push_back(place(row, value));
      std::sort(list.begin(), list.end());
      list.erase(std::unique(list.begin(), list.end()), list.end());
    }
    if (cells.x.size() < 2 || cells.y.size() < 2 || cells.x.size() * cells.y.size() > 4 * sweep_.rows.size())
      return std::nullopt;
    cells.numbers.resize(cells.x.size() * cells.y.size());
    const auto index = [](const std::vector<double>& list, double share) {
      return static_cast<std::size_t>(std::lower_bound(list.begin(), list.end(), share) - list.begin());
    };
    for (const SweepTable::Row& row : sweep_.rows)
      cells.numbers[index(cells.y, place(row, 1)) * cells.x.size() + index(cells.x, place(row, 0))] =
          row.measured[measure];
    return cells;
  }

  static double edge_before(const std::vector<double>& list, std::size_t i) {
    return i == 0 ? 0.0 : i == list.size() ? 1.0 : 0.5 * (list[i - 1] + list[i]);
  }

  void draw_cells(const Cells& cells, const Axis& colour, const Area& plot) {
    for (std::size_t row = 0; row < cells.y.size(); ++row) {
      for (std::size_t column = 0; column < cells.x.size(); ++column) {
        const std::optional<double>& number = cells.at(column, row);
        if (!number) continue;
        const double left = plot.x + edge_before(cells.x, column) * plot.width;
        const double right = plot.x + edge_before(cells.x, column + 1) * plot.width;
        const double top = plot.bottom() - edge_before(cells.y, row + 1) * plot.height;
        const double bottom = plot.bottom() - edge_before(cells.y, row) * plot.height;
        canvas_.fill({left - 0.3, top - 0.3, right - left + 0.6, bottom - top + 0.6}, shade(colour.share(*number)));
      }
    }
    const bool is_field = values_[0].is_number() && values_[1].is_number();
    if (!is_field) return;
    canvas_.clip(plot);
    for (const Tick& tick : colour.ticks(plot.height, 60.0))
      if (tick.at > 1e-6 && tick.at < 1.0 - 1e-6)  // an end of the range is reached by whole areas
        draw_contour(cells, colour.low() + tick.at * (colour.high() - colour.low()), tick, plot);
    canvas_.unclip();
  }

  /// The line of one number, linear between the middles of the cells (marching squares). Its label stands where it
  /// passes nearest to the middle of the map.
  void draw_contour(const Cells& cells, double level, const Tick& tick, const Area& plot) {
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
          canvas_.line({crossings[i], crossings[i + 1]}, paint, 1.1);
          if (!label || distance(crossings[i]) < distance(*label)) label = crossings[i];
        }
      }
    }
    if (label) canvas_.text({label->x + 4.0, label->y - 7.0}, tick.label, paint, style::small);
  }

  void draw_dots(std::size_t measure, const Axis& colour, const Area& plot) {
    for (const SweepTable::Row& row : sweep_.rows) {
      const Point at{plot.x + values_[0].share(row.values[0]).value() * plot.width,
                     plot.bottom() - values_[1].share(row.values[1]).value() * plot.height};
      if (!row.measured[measure]) {
        canvas_.dot(at, 1.5, Paint::of(style::edge));
        continue;
      }
      canvas_.dot(at, 6.0, Paint::of(style::edge));
      canvas_.dot(at, 5.2, shade(colour.share(*row.measured[measure])));
    }
  }

  void draw_now(const Area& plot) {
    const std::optional<double> x = now(0), y = now(1);
    if (!x || !y) return;
    const Point at{plot.x + *x * plot.width, plot.bottom() - *y * plot.height};
    for (const auto& [paint, width] :
         {std::pair{Paint::of(style::paper), 5.0}, std::pair{Paint::of(now_colour), 2.2}}) {
      canvas_.line({{at.x - 8.0, at.y}, {at.x + 8.0, at.y}}, paint, width);
      canvas_.line({{at.x, at.y - 8.0}, {at.x, at.y + 8.0}}, paint, width);
    }
    const bool is_right = *x > 0.85;
    const Point text{is_right ? at.x - 12.0 : at.x + 12.0, at.y + (*y > 0.9 ? 14.0 : -12.0)};
    const Align align = is_right ? Align::right : Align::left;
    const Area area = canvas_.area_of(text, "now", style::small, align, true);
    canvas_.fill({area.x - 3.0, area.y - 1.0, area.width + 6.0, area.height + 2.0}, Paint::of(style::paper, 0.85));
    canvas_.text(text, "now", Paint::of(now_colour), style::small, align, true);
  }

  void draw_colours(const Axis& colour, const Area& bar) {
    constexpr int steps = 100;
    for (int i = 0; i < steps; ++i) {
      const double share = (i + 0.5) / steps;
      canvas_.fill({bar.x, bar.bottom() - (i + 1) * bar.height / steps, bar.width, bar.height / steps + 0.5},
                   shade(share));
    }
    for (const Tick& tick : colour.ticks(bar.height, 60.0)) {
      const double y = bar.bottom() - tick.at * bar.height;
      canvas_.line({{bar.right(), y}, {bar.right() + 4.0, y}}, Paint::of(style::edge), 1.0);
      canvas_.text({bar.right() + 8.0, y}, tick.label, Paint::of(style::quiet), style::small);
    }
  }

  // --- more values --------------------------------------------------------------------------------------------------

  void draw_lines(const Area& area) {
    std::vector<const Axis*> axes;
    for (const Axis& axis : values_) axes.push_back(&axis);
    for (const Axis& axis : measures_) axes.push_back(&axis);
    const Area plot{area.x + 40.0, area.y + 2.0 * name_height, area.width - 110.0,
                    area.height - 2.0 * name_height - 24.0};
    const auto x_of = [&](std::size_t i) {
      return plot.x + plot.width * static_cast<double>(i) / static_cast<double>(axes.size() - 1);
    };
    const auto y_of = [&](double share) { return plot.bottom() - share * plot.height; };
    const Axis& colour = measures_.front();
    std::vector<const SweepTable::Row*> sorted;  // the darkest last
    for (const SweepTable::Row& row : sweep_.rows) sorted.push_back(&row);
    std::stable_sort(sorted.begin(), sorted.end(), [](const auto* a, const auto* b) {
      return a->measured.front().value_or(-1e300) < b->measured.front().value_or(-1e300);
    });
    for (const SweepTable::Row* const row : sorted) {
      std::vector<Point> points;
      for (std::size_t i = 0; i < axes.size(); ++i) {
        if (i < values_.size())
          points.push_back({x_of(i), y_of(axes[i]->share(row->values[i]).value())});
        else if (const std::optional<double>& number = row->measured[i - values_.size()])
          points.push_back({x_of(i), y_of(axes[i]->share(*number))});
        else
          break;  // the line ends before a measure that does not exist
      }
      const bool has_colour = row->measured.front().has_value();
      Paint paint = has_colour ? shade(0.15 + 0.85 * colour.share(*row->measured.front())) : Paint::of(style::edge);
      paint.alpha = 0.8;
      canvas_.line(points, paint, 1.2);
    }
    for (std::size_t i = 0; i < axes.size(); ++i) draw_upright(*axes[i], x_of(i), plot, i);
  }

  void draw_upright(const Axis& axis, double x, const Area& plot, std::size_t number) {
    canvas_.line({{x, plot.y}, {x, plot.bottom()}}, Paint::of(style::ink), 1.2);
    for (const Tick& tick : axis.ticks(plot.height, 60.0)) {
      const double y = plot.bottom() - tick.at * plot.height;
      canvas_.line({{x, y}, {x + 4.0, y}}, Paint::of(style::ink), 1.0);
      const Area area = canvas_.area_of({x + 8.0, y}, tick.label, style::small);
      canvas_.fill({area.x - 2.0, area.y, area.width + 4.0, area.height}, Paint::of(style::paper, 0.75));
      canvas_.text({x + 8.0, y}, tick.label, Paint::of(style::quiet), style::small);
    }
    // Neighbouring names stand at two heights.
    const double y = plot.y - (number % 2 == 0 ? 30.0 : 12.0);
    const double half = 0.5 * canvas_.area_of({0.0, 0.0}, axis.name(), style::small, Align::centre, true).width;
    const double middle = std::clamp(x, style::margin + half, canvas_.whole().right() - style::margin - half);
    canvas_.text({middle, y}, axis.name(), Paint::of(style::ink), style::small, Align::centre,
                 number >= values_.size());
    if (const std::optional<double> at = number < values_.size() ? now(number) : std::nullopt) {
      const Point mark{x, plot.bottom() - *at * plot.height};
      canvas_.dot(mark, 6.0, Paint::of(style::paper));
      canvas_.dot(mark, 4.5, Paint::of(now_colour));
      canvas_.text({x - 10.0, mark.y}, "now", Paint::of(now_colour), style::small, Align::right, true);
    }
  }

  Canvas& canvas_;
  const SweepTable& sweep_;
  const SweepPictureOptions& options_;
  std::vector<Axis> values_, measures_;
};

}  // namespace

void draw_sweep(const SweepTable& sweep, const std::filesystem::path& file, const SweepPictureOptions& options) {
  if (sweep.rows.empty() || sweep.paths.empty() || sweep.measures.empty())
    throw BadValue{"there is no play to draw; play at least one."};
  PictureFile picture{file, options.width, options.height};
  SweepPicture{picture.canvas(), sweep, options}.draw();
  picture.write();
}

}  // namespace hushed
