// SPDX-License-Identifier: MIT
#include "axis.hpp"

#include <algorithm>
#include <charconv>
#include <cmath>
#include <utility>

#include "style.hpp"

namespace hushed::detail {

namespace {

std::optional<double> number_in(const std::string& text) {
  double number = 0.0;
  const auto [end, error] = std::from_chars(text.data(), text.data() + text.size(), number);
  const bool is_number = error == std::errc{} && end == text.data() + text.size();
  return is_number ? std::optional{number} : std::nullopt;
}

}  // namespace

Axis::Axis(std::string name, const std::vector<std::string>& texts) : name_{std::move(name)} {
  is_number_ = std::all_of(texts.begin(), texts.end(), [](const auto& text) { return number_in(text).has_value(); });
  for (const std::string& text : texts) {
    if (is_number_)
      include(*number_in(text));
    else if (std::find(words_.begin(), words_.end(), text) == words_.end())
      words_.push_back(text);
  }
  widen();
}

Axis::Axis(std::string name, const std::vector<std::optional<double>>& numbers) : name_{std::move(name)} {
  for (const std::optional<double>& number : numbers)
    if (number) include(*number);
  widen();
}

void Axis::pad() {
  const double more = 0.07 * (high_ - low_);
  low_ -= more;
  high_ += more;
}

std::optional<double> Axis::share(const std::string& text) const {
  if (is_number_) {
    const auto number = number_in(text);
    return number ? std::optional{share(*number)} : std::nullopt;
  }
  const auto found = std::find(words_.begin(), words_.end(), text);
  if (found == words_.end()) return std::nullopt;
  return (static_cast<double>(found - words_.begin()) + 0.5) / static_cast<double>(words_.size());
}

std::vector<Tick> Axis::ticks(double pixels, double apart) const {
  std::vector<Tick> all;
  if (!is_number_) {
    for (const std::string& word : words_) all.push_back({*share(word), word});
    return all;
  }
  const double step = style::round_step((high_ - low_) * apart / pixels);
  for (const double tick : style::ticks(low_, high_, step)) all.push_back({share(tick), style::as_label(tick, step)});
  return all;
}

void Axis::include(double number) {
  low_ = std::min(low_, number);
  high_ = std::max(high_, number);
}

void Axis::widen() {
  if (low_ > high_) low_ = -1.0, high_ = 1.0;
  if (high_ - low_ > 1e-9 * (1.0 + std::abs(low_))) return;
  const double half = std::max(0.5, 0.1 * std::abs(low_));
  low_ -= half;
  high_ += half;
}

void draw_x_axis(Canvas& canvas, const Axis& axis, const Area& plot, bool has_lines) {
  const std::vector<Tick> ticks = axis.ticks(plot.width, 80.0);
  for (const Tick& tick : ticks) {
    const double x = plot.x + tick.at * plot.width;
    if (has_lines) canvas.line({{x, plot.y}, {x, plot.bottom()}}, Paint::of(style::grid), 1.0);
    canvas.line({{x, plot.bottom()}, {x, plot.bottom() + 4.0}}, Paint::of(style::edge), 1.0);
    canvas.text({x, plot.bottom() + 13.0}, tick.label, Paint::of(style::quiet), style::small, Align::centre);
  }
  canvas.text({plot.x + 0.5 * plot.width, plot.bottom() + 31.0}, axis.name(), Paint::of(style::ink), style::normal,
              Align::centre);
}

void draw_y_axis(Canvas& canvas, const Axis& axis, const Area& plot, bool has_lines) {
  for (const Tick& tick : axis.ticks(plot.height, 34.0)) {
    const double y = plot.bottom() - tick.at * plot.height;
    if (has_lines) canvas.line({{plot.x, y}, {plot.right(), y}}, Paint::of(style::grid), 1.0);
    canvas.text({plot.x - 8.0, y}, tick.label, Paint::of(style::quiet), style::small, Align::right);
  }
}

}  // namespace hushed::detail
