// SPDX-License-Identifier: MIT
#include "measure/curve.hpp"

#include <algorithm>
#include <cmath>

namespace hushed::detail {

Curve::Curve(MeasuredPlay& play, std::size_t signal, Time from, Time to)
    : play_{play}, signal_{signal}, is_angle_{play.is_angle(signal)} {
  const auto add = [this](Time time, double value) {
    times_.push_back(time);
    values_.push_back(values_.empty() ? value : continued(value, values_.back()));
  };
  const std::vector<Time>& times = play.times();
  const auto begin = std::lower_bound(times.begin(), times.end(), from);
  if (begin == times.end() || *begin != from) add(from, play.number(signal, from));
  for (auto each = begin; each != times.end() && *each <= to; ++each)
    add(*each, play.samples(signal).at(static_cast<std::size_t>(each - times.begin())));
  if (times_.back() != to) add(to, play.number(signal, to));
}

bool Curve::is_known() const {
  return std::none_of(values_.begin(), values_.end(), [](double value) { return std::isnan(value); });
}

double Curve::continued(double value, double before) const {
  return is_angle_ ? value + 360.0 * std::round((before - value) / 360.0) : value;
}

double Curve::number(Time time, std::size_t near) { return continued(play_.number(signal_, time), values_[near]); }

Curve::Extreme Curve::greatest(const std::function<double(double)>& map) {
  // Between the samples, another one may be greater by as much as neighbours differ.
  std::size_t best = 0;
  double slack = 0.0;
  std::vector<std::size_t> tops;
  for (std::size_t i = 0; i < size(); ++i) {
    const double here = map(value(i));
    if (here > map(value(best))) best = i;
    const bool rises = i == 0 || map(value(i - 1)) <= here, falls = i + 1 == size() || map(value(i + 1)) < here;
    if (rises && falls) tops.push_back(i);
  }
  if (best > 0) slack = map(value(best)) - map(value(best - 1));
  if (best + 1 < size()) slack = std::max(slack, map(value(best)) - map(value(best + 1)));
  constexpr std::size_t most_tops = 6;
  const double least = map(value(best)) - slack;
  std::erase_if(tops, [&](std::size_t top) { return top != best && map(value(top)) < least; });
  std::stable_sort(tops.begin(), tops.end(),
                   [&](std::size_t a, std::size_t b) { return map(value(a)) > map(value(b)); });
  if (tops.size() > most_tops) tops.resize(most_tops);
  std::sort(tops.begin(), tops.end());
  Extreme greatest{time(best), map(value(best))};
  for (const std::size_t top : tops)
    if (const Extreme found = greatest_around(top, map); found.value > greatest.value) greatest = found;
  return greatest;
}

/// Golden-section search.
Curve::Extreme Curve::greatest_around(std::size_t sample, const std::function<double(double)>& map) {
  constexpr double golden = 0.6180339887498949;
  constexpr Time precise{units_per_second / 10'000'000};
  Extreme best{time(sample), map(value(sample))};
  Time low = time(sample == 0 ? 0 : sample - 1), high = time(std::min(sample + 1, size() - 1));
  const auto part = [&](double share) { return low + seconds(in_seconds(high - low) * share); };
  const auto at = [&](Time moment) {
    const double here = map(number(moment, sample));
    if (here > best.value) best = {moment, here};
    return here;
  };
  Time left = part(1.0 - golden), right = part(golden);
  double at_left = at(left), at_right = at(right);
  while (high - low > precise) {
    if (at_left > at_right) {
      high = right;
      right = left;
      at_right = at_left;
      left = part(1.0 - golden);
      at_left = at(left);
    } else {
      low = left;
      left = right;
      at_left = at_right;
      right = part(golden);
      at_right = at(right);
    }
  }
  return best;
}

Time Curve::crossing(std::size_t sample, const std::function<double(double)>& map) {
  return crossing_between(time(sample), time(sample + 1), sample, map);
}

/// By halves: a motion that arrives stays for a while.
Time Curve::arrival(std::size_t sample, const std::function<double(double)>& map) {
  Time before = time(sample), there = time(sample + 1);
  while (there - before > Time{1}) {
    const Time middle = before + (there - before) / 2;
    (map(number(middle, sample)) == 0.0 ? there : before) = middle;
  }
  return there;
}

/// Illinois algorithm: false position, with half the weight of an end that stays twice.
Time Curve::crossing_between(Time a, Time b, std::size_t near, const std::function<double(double)>& map) {
  double at_a = map(number(a, near)), at_b = map(number(b, near));
  double size_a = std::abs(at_a), size_b = std::abs(at_b);
  int stays = 0;  // -1: the earlier end has stayed in the last step, 1: the later one
  constexpr int most_steps = 60;
  for (int i = 0; i < most_steps && b - a > Time{1} && at_a != at_b; ++i) {
    const double share = std::clamp(at_a / (at_a - at_b), 1e-3, 1.0 - 1e-3);
    const Time middle =
        std::clamp(a + seconds(in_seconds(b - a) * (i % 8 == 7 ? 0.5 : share)), a + Time{1}, b - Time{1});
    const double here = map(number(middle, near));
    if (here == 0.0) return middle;
    const int now = (here > 0.0) == (at_b > 0.0) ? -1 : 1;
    (now < 0 ? b : a) = middle;
    (now < 0 ? at_b : at_a) = here;
    (now < 0 ? size_b : size_a) = std::abs(here);
    if (now == stays) (now < 0 ? at_a : at_b) *= 0.5;
    stays = now;
  }
  return size_a < size_b ? a : b;
}

}  // namespace hushed::detail
