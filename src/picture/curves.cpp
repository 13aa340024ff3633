// SPDX-License-Identifier: MIT
// Curves over time: a panel for each watch, one below the other, with one time axis.

#include <algorithm>
#include <limits>
#include <optional>

#include <fmt/format.h>

#include "parts.hpp"
#include "style.hpp"

namespace hushed::detail {

namespace {

constexpr double axis_width = 62.0, panel_heading = 20.0, panel_gap = 8.0, time_height = 34.0, line_width = 1.8;
constexpr std::size_t most_panels = 8, most_lines = 40;

/// One line of a panel.
struct Curve {
  std::string label;
  const std::vector<Time>* times;
  const std::vector<double>* values;
  std::size_t colour;
  Dash dash;
};

/// A note about a curve of a panel.
struct Note {
  const Watched::Note* note;
  std::size_t curve;
};

struct Panel {
  std::string name, unit;
  std::vector<Curve> curves;
  std::vector<Note> notes = {};
};

/// "lamp.position" of "lamp.position.x".
std::string stem_of(const std::string& column) {
  const std::size_t dot = column.rfind('.');
  return column.size() - dot == 2 ? column.substr(0, dot) : column;
}

/// "0.3" of "hook.spring.damping = 0.3". The heading shows the whole text.
std::string short_label(const std::string& label) {
  const std::size_t equals = label.rfind("= ");
  return equals == std::string::npos ? label : label.substr(equals + 2);
}

/// A panel with these columns of every play.
Panel panel_of(std::span<const Watched> plays, const std::vector<std::size_t>& together, bool by_unit) {
  const auto& columns = plays.front().columns;
  const std::string &first = columns[together[0]].name, stem = stem_of(first);
  const bool is_alone = together.size() == 1;
  Panel panel{is_alone ? first : by_unit ? "all together" : stem, columns[together[0]].unit, {}};
  for (std::size_t number = 0; number < together.size(); ++number) {
    const std::string& name = columns[together[number]].name;
    const std::string own = is_alone ? "" : by_unit ? name : name.substr(stem.size() + 1);
    for (std::size_t play = 0; play < plays.size(); ++play) {
      const Watched& watched = plays[play];
      if (together[number] >= watched.columns.size()) continue;
      std::string label = plays.size() == 1 ? own : short_label(watched.label);
      if (plays.size() > 1 && !own.empty()) label = fmt::format("{} {}", own, label);
      for (const Watched::Note& note : watched.notes)
        if (note.column == name) panel.notes.push_back({&note, panel.curves.size()});
      panel.curves.push_back({label, &watched.recording.times, &watched.columns[together[number]].values,
                              is_alone ? play : number, is_alone ? play : play + number / style::lines.size()});
    }
  }
  return panel;
}

/// Distributes columns over panels: by watch, or by unit where there would be too many panels.
std::vector<Panel> panels_of(std::span<const Watched> plays) {
  const auto& columns = plays.front().columns;
  const bool by_unit = !columns.empty() && columns.back().watch >= most_panels;
  std::vector<Panel> panels;
  for (std::size_t first = 0; first < columns.size();) {
    std::vector<std::size_t> together;
    for (std::size_t c = first; c < columns.size(); ++c)
      if (by_unit ? columns[c].unit == columns[first].unit : columns[c].watch == columns[first].watch)
        together.push_back(c);
    const bool is_done = std::any_of(panels.begin(), panels.end(),
                                     [&](const Panel& each) { return by_unit && each.unit == columns[first].unit; });
    if (!is_done) panels.push_back(panel_of(plays, together, by_unit));
    first = by_unit ? first + 1 : together.back() + 1;
  }
  return panels;
}

struct Range {
  double low, high;
};

Range range_of(const Panel& panel) {
  double low = std::numeric_limits<double>::infinity(), high = -low;
  for (const Curve& curve : panel.curves)
    for (const double value : *curve.values) {
      low = std::min(low, value);
      high = std::max(high, value);
    }
  if (low > high) return {-1.0, 1.0};
  const double least = 1e-9 * (1.0 + std::max(std::fabs(low), std::fabs(high)));
  const double area = high - low > least ? 0.07 * (high - low) : std::max(0.5, 0.1 * std::fabs(low));
  return {low - area, high + area};
}

Range times_of(std::span<const Watched> plays) {
  Range range{std::numeric_limits<double>::infinity(), -std::numeric_limits<double>::infinity()};
  for (const Watched& play : plays) {
    range.low = std::min(range.low, in_seconds(play.recording.times.front()));
    range.high = std::max(range.high, in_seconds(play.recording.times.back()));
  }
  return range.high > range.low ? range : Range{range.low - 0.5, range.high + 0.5};
}

/// Maps times and values to pixels.
struct Scales {
  Range time, value;
  Area plot;

  double x(double at) const { return plot.x + (at - time.low) / (time.high - time.low) * plot.width; }
  double y(double at) const { return plot.bottom() - (at - value.low) / (value.high - value.low) * plot.height; }
};

/// The pieces of a curve: an angle that passes half a turn continues on the other side as a new piece. Where there are
/// several points in a pixel column, the lowest and the highest are kept.
void draw_curve(Canvas& canvas, const Curve& curve, const Scales& scales, bool is_angle) {
  std::vector<Point> piece;
  const auto end_piece = [&] {
    if (piece.size() == 1) canvas.dot(piece[0], line_width, style::line_paint(curve.colour));
    if (piece.size() > 1) canvas.line(piece, style::line_paint(curve.colour), line_width, curve.dash);
    piece.clear();
  };
  const auto& values = *curve.values;
  const std::size_t count = std::min(values.size(), curve.times->size());
  const bool is_dense = static_cast<double>(count) > 4.0 * scales.plot.width;
  for (std::size_t i = 0; i < count; ++i) {
    if (std::isnan(values[i])) {  // not known: the watched object has ended
      end_piece();
      continue;
    }
    if (i > 0 && is_angle && std::fabs(values[i] - values[i - 1]) > 180.0) end_piece();
    const Point point{scales.x(in_seconds((*curve.times)[i])), scales.y(values[i])};
    const bool same_pixel =
        is_dense && piece.size() >= 3 && std::floor(piece[piece.size() - 3].x) == std::floor(point.x);
    if (!same_pixel) {
      piece.push_back(point);
      continue;
    }
    Point &a = piece[piece.size() - 2],
          &b = piece[piece.size() - 1];  // keeps the extreme two of the last three in a pixel column
    if ((b.y - a.y) * (point.y - b.y) >= 0.0)
      b = point;
    else if (std::fabs(point.y - a.y) > std::fabs(b.y - a.y))
      a = b, b = point;
  }
  end_piece();
}

/// The last known number of a curve.
std::optional<double> last_known(const std::vector<double>& values) {
  const auto found = std::find_if(values.rbegin(), values.rend(), [](double value) { return !std::isnan(value); });
  return found == values.rend() ? std::nullopt : std::optional{*found};
}

/// Draws the names beside the right ends of the curves, outside the plot.
void draw_labels(Canvas& canvas, const Panel& panel, const Scales& scales) {
  struct Label {
    const Curve* curve;
    double y;
  };
  std::vector<Label> labels;
  for (const Curve& curve : panel.curves)
    if (const auto last = last_known(*curve.values)) labels.push_back({&curve, scales.y(*last)});
  std::stable_sort(labels.begin(), labels.end(), [](const Label& a, const Label& b) { return a.y < b.y; });
  const double height = 14.0;
  for (std::size_t i = 1; i < labels.size(); ++i) labels[i].y = std::max(labels[i].y, labels[i - 1].y + height);
  const double over = labels.empty() ? 0.0 : std::max(0.0, labels.back().y - scales.plot.bottom());
  for (std::size_t i = labels.size(); i-- > 0;) {
    const double most = i + 1 < labels.size() ? labels[i + 1].y - height : labels[i].y - over;
    labels[i].y = std::min(labels[i].y, most);
  }
  for (const Label& label : labels) {
    const double x = scales.plot.right();
    canvas.line({{x + 5.0, label.y}, {x + 19.0, label.y}}, style::line_paint(label.curve->colour), line_width + 0.4,
                label.curve->dash);
    canvas.text({x + 25.0, label.y}, label.curve->label, Paint::of(style::ink), style::small);
  }
}

/// The value of a curve at a time, linear between frames; nothing outside.
std::optional<double> value_at(const Curve& curve, double time) {
  const std::vector<Time>& times = *curve.times;
  const auto after = std::find_if(times.begin(), times.end(), [&](Time at) { return in_seconds(at) >= time; });
  if (after == times.end() || (after == times.begin() && in_seconds(*after) > time)) return std::nullopt;
  const auto i = static_cast<std::size_t>(after - times.begin());
  if (i == 0) return curve.values->front();
  const double before = in_seconds(times[i - 1]), width = in_seconds(times[i]) - before;
  const double part = (time - before) / width, a = (*curve.values)[i - 1], b = (*curve.values)[i];
  return a + part * (b - a);
}

/// Draws notes: those with a time beside their point of the curve, others at the right end of the heading.
void draw_notes(Canvas& canvas, const Panel& panel, const Scales& scales) {
  const Area& plot = scales.plot;
  std::vector<Area> taken;
  double right = plot.right();
  for (const Note& each : panel.notes) {
    const Curve& curve = panel.curves[each.curve];
    const std::optional<double> value =
        each.note->at ? value_at(curve, in_seconds(*each.note->at)) : std::optional<double>{};
    if (!value || std::isnan(*value)) {
      const Point at{right, plot.y - 0.5 * panel_heading + 1.5};
      canvas.text(at, each.note->text, style::line_paint(curve.colour), style::small, Align::right);
      right -= canvas.area_of(at, each.note->text, style::small).width + 16.0;
      continue;
    }
    const Point point{scales.x(in_seconds(*each.note->at)), scales.y(*value)};
    canvas.line({{point.x, plot.y}, {point.x, plot.bottom()}}, style::line_paint(curve.colour, 0.5), 1.0, 2);
    canvas.dot(point, 4.6, Paint::of(style::paper));
    canvas.dot(point, 3.4, style::line_paint(curve.colour));
    const bool is_right = point.x > plot.x + 0.75 * plot.width;
    const Align align = is_right ? Align::right : Align::left;
    // Above the point where there is space, otherwise below; further away from labels that are there already.
    double y = point.y > plot.y + 22.0 ? point.y - 13.0 : point.y + 13.0;
    const double step = y < point.y ? -14.0 : 14.0;
    const auto area_at = [&](double height) {
      return canvas.area_of({is_right ? point.x - 7.0 : point.x + 7.0, height}, each.note->text, style::small, align);
    };
    const auto is_taken = [&](double height) {
      return std::any_of(taken.begin(), taken.end(), [&](const Area& area) { return area.overlaps(area_at(height)); });
    };
    while (is_taken(y) && y > plot.y + 8.0 && y < plot.bottom() - 8.0) y += step;
    taken.push_back(area_at(y));
    canvas.fill({taken.back().x - 2.0, taken.back().y, taken.back().width + 4.0, taken.back().height},
                Paint::of(style::paper, 0.8));
    canvas.text({is_right ? point.x - 7.0 : point.x + 7.0, y}, each.note->text, style::line_paint(curve.colour),
                style::small, align);
  }
}

void draw_panel(Canvas& canvas, const Panel& panel, const Scales& scales, bool has_labels) {
  const Area& plot = scales.plot;
  const Point heading{plot.x, plot.y - 0.5 * panel_heading + 1.0};
  canvas.text(heading, panel.name, Paint::of(style::ink), style::normal, Align::left, true);
  const Area area = canvas.area_of(heading, panel.name, style::normal, Align::left, true);
  canvas.text({area.right() + 7.0, heading.y + 0.5}, panel.unit, Paint::of(style::quiet), style::small);

  canvas.fill(plot, Paint::of("#fafbfc"));
  const double most = std::max(2.0, plot.height / 16.0);
  const double step = style::round_step((scales.value.high - scales.value.low) / most, panel.unit == "deg");
  for (const double tick : style::ticks(scales.value.low, scales.value.high, step)) {
    canvas.line({{plot.x, scales.y(tick)}, {plot.right(), scales.y(tick)}}, Paint::of(style::grid), 1.0);
    canvas.text({plot.x - 8.0, scales.y(tick)}, style::as_label(tick, step), Paint::of(style::quiet), style::small,
                Align::right);
  }
  canvas.clip({plot.x - 2.0, plot.y - 2.0, plot.width + 4.0, plot.height + 4.0});
  for (const Curve& curve : panel.curves) draw_curve(canvas, curve, scales, panel.unit == "deg");
  canvas.unclip();
  draw_notes(canvas, panel, scales);
  if (has_labels) draw_labels(canvas, panel, scales);
}

struct Mark {
  double time;
  std::string name;
  Paint paint;
};

/// The events of all plays; an event at the same time in several plays is listed once.
std::vector<Mark> marks_of(std::span<const Watched> plays) {
  std::vector<Mark> marks;
  for (std::size_t play = 0; play < plays.size(); ++play) {
    for (const auto& what : plays[play].recording.happenings) {
      Mark mark{in_seconds(what.time), what.object.empty() ? what.name : fmt::format("{} {}", what.object, what.name),
                Paint::of(style::quiet)};
      if (what.number) mark.name += fmt::format(" {}", *what.number);
      if (play > 0) mark.paint = style::line_paint(play);
      const auto is_same = [&](const Mark& other) { return other.time == mark.time && other.name == mark.name; };
      if (play == 0 || std::none_of(marks.begin(), marks.end(), is_same)) marks.push_back(std::move(mark));
    }
  }
  return marks;
}

/// Draws a mark for each event, with its name where there is space, and a vertical line through the panels where there
/// are few.
void draw_marks(Canvas& canvas, const Area& strip, const Area& panels, const Scales& scales,
                const std::vector<Mark>& marks) {
  std::vector<Area> taken;
  const auto place = [&](const Mark& mark, double x) {
    for (const double y : {strip.y + 19.0, strip.y + 3.0}) {
      for (const Align align : {Align::left, Align::right}) {
        const Point at{align == Align::left ? x - 4.0 : x + 4.0, y};
        const Area area = canvas.area_of(at, mark.name, style::small, align);
        const auto overlaps = [&](const Area& other) { return other.overlaps(area); };
        if (area.x < strip.x || area.right() > strip.right() || std::any_of(taken.begin(), taken.end(), overlaps))
          continue;
        taken.push_back({area.x - 4.0, area.y, area.width + 8.0, area.height});
        canvas.text(at, mark.name, mark.paint, style::small, align);
        return;
      }
    }
  };
  for (const Mark& mark : marks) {
    const double x = scales.x(mark.time);
    if (x < strip.x || x > strip.right()) continue;
    if (marks.size() <= most_lines)
      canvas.line({{x, strip.bottom() - 2.0}, {x, panels.bottom()}},
                  {mark.paint.red, mark.paint.green, mark.paint.blue, 0.45}, 1.0, 2);
    canvas.fill({{x - 4.0, strip.bottom() - 8.0}, {x + 4.0, strip.bottom() - 8.0}, {x, strip.bottom() - 1.0}},
                mark.paint);
    place(mark, x);
  }
}

void draw_time(Canvas& canvas, const Scales& scales, const Area& panels) {
  const double step = style::round_step((scales.time.high - scales.time.low) * 70.0 / panels.width);
  const auto ticks = style::ticks(scales.time.low, scales.time.high, step);
  for (const double tick : ticks) {
    canvas.line({{scales.x(tick), panels.bottom()}, {scales.x(tick), panels.bottom() + 5.0}}, Paint::of(style::edge),
                1.0);
    const bool is_last = tick == ticks.back();
    canvas.text({scales.x(tick), panels.bottom() + 15.0}, style::as_label(tick, step) + (is_last ? " s" : ""),
                Paint::of(style::quiet), style::small, Align::centre);
  }
}

}  // namespace

void draw_curves(Canvas& canvas, const Area& area, std::span<const Watched> plays) {
  const std::vector<Panel> panels = panels_of(plays);
  double label_width = 14.0;
  for (const Panel& panel : panels)
    for (const Curve& curve : panel.curves)
      if (!curve.label.empty())
        label_width = std::max(label_width, 30.0 + canvas.area_of({0, 0}, curve.label, style::small).width);
  const std::vector<Mark> marks = marks_of(plays);
  const double strip_height = marks.empty() ? 0.0 : 36.0;
  const Area strip{area.x + axis_width, area.y, area.width - axis_width - label_width, strip_height};
  const Area all{strip.x, area.y + strip_height, strip.width, area.height - strip_height - time_height};
  const double each = all.height / static_cast<double>(std::max<std::size_t>(panels.size(), 1));
  Scales scales{times_of(plays), {}, all};
  for (std::size_t i = 0; i < panels.size(); ++i) {
    scales.value = range_of(panels[i]);
    scales.plot = {all.x, all.y + static_cast<double>(i) * each + panel_heading, all.width,
                   each - panel_heading - panel_gap};
    const bool has_labels = std::any_of(panels[i].curves.begin(), panels[i].curves.end(),
                                        [](const Curve& curve) { return !curve.label.empty(); });
    draw_panel(canvas, panels[i], scales, has_labels);
  }
  draw_marks(canvas, strip, all, scales, marks);
  draw_time(canvas, scales, all);
}

}  // namespace hushed::detail
