// SPDX-License-Identifier: MIT
#include "measure/words.hpp"

#include <algorithm>
#include <array>
#include <cmath>

#include "measure/curve.hpp"

namespace hushed::detail {

namespace {

using Arguments = MeasureArguments;

double itself(double value) { return value; }
double negative(double value) { return -value; }

Measured peak(const Arguments&, MeasuredPlay& play, std::size_t signal, Time from, Time to) {
  Curve curve{play, signal, from, to};
  if (!curve.is_known()) return {};
  const Curve::Extreme found = curve.greatest(itself);
  return {found.value, found.at};
}

Measured least(const Arguments&, MeasuredPlay& play, std::size_t signal, Time from, Time to) {
  Curve curve{play, signal, from, to};
  if (!curve.is_known()) return {};
  const Curve::Extreme found = curve.greatest(negative);
  return {-found.value, found.at};
}

/// Simpson's rule for samples at uneven distances; a last single interval by the trapezoidal rule.
Measured mean(const Arguments&, MeasuredPlay& play, std::size_t signal, Time from, Time to) {
  Curve curve{play, signal, from, to};
  if (!curve.is_known() || to <= from) return {};
  const auto width = [&](std::size_t i) { return in_seconds(curve.time(i + 1) - curve.time(i)); };
  double sum = 0.0;
  std::size_t i = 0;
  for (; i + 2 < curve.size(); i += 2) {
    const double a = width(i), b = width(i + 1);
    sum += (a + b) / 6.0 *
           ((2.0 - b / a) * curve.value(i) + (a + b) * (a + b) / (a * b) * curve.value(i + 1) +
            (2.0 - a / b) * curve.value(i + 2));
  }
  if (i + 1 < curve.size()) sum += width(i) * (curve.value(i) + curve.value(i + 1)) / 2.0;
  return {sum / in_seconds(to - from)};
}

/// The samples within a stretch of time.
struct Range {
  std::size_t first, end;
};
Range range_of(const MeasuredPlay& play, Time from, Time to) {
  const auto& times = play.times();
  const auto first = std::lower_bound(times.begin(), times.end(), from);
  const auto end = std::upper_bound(times.begin(), times.end(), to);
  return {static_cast<std::size_t>(first - times.begin()), static_cast<std::size_t>(end - times.begin())};
}

Vec3 point(const MeasuredPlay& play, std::size_t signal, std::size_t sample) {
  const MeasuredPlay::Samples& samples = play.samples(signal);
  return {samples.at(sample, 0), samples.at(sample, 1), samples.at(sample, 2)};
}

/// The length of chords, extrapolated from chords of one and two intervals (Richardson).
Measured travelled(const Arguments&, MeasuredPlay& play, std::size_t signal, Time from, Time to) {
  const Range range = range_of(play, from, to);
  double single = 0.0, twice = 0.0, rest = 0.0;
  std::size_t i = range.first;
  for (; i + 2 < range.end; i += 2) {
    const Vec3 a = point(play, signal, i), b = point(play, signal, i + 1), c = point(play, signal, i + 2);
    single += (b - a).norm() + (c - b).norm();
    twice += (c - a).norm();
  }
  if (i + 1 < range.end) rest = (point(play, signal, i + 1) - point(play, signal, i)).norm();
  const double length = std::max(single, (4.0 * single - twice) / 3.0) + rest;
  return std::isnan(length) ? Measured{} : Measured{length};
}

/// The third derivative by central differences over two intervals on each side.
Measured smoothness(const Arguments&, MeasuredPlay& play, std::size_t signal, Time from, Time to) {
  const Range range = range_of(play, from, to);
  double sum = 0.0;
  std::size_t count = 0;
  for (std::size_t i = range.first + 2; i + 2 < range.end; ++i) {
    const double h = in_seconds(play.times()[i + 2] - play.times()[i - 2]) / 4.0;
    const Vec3 jerk = (point(play, signal, i + 2) - 2.0 * point(play, signal, i + 1) +
                       2.0 * point(play, signal, i - 1) - point(play, signal, i - 2)) /
                      (2.0 * h * h * h);
    sum += jerk.squaredNorm();
    ++count;
  }
  if (count == 0 || std::isnan(sum)) return {};
  return {std::sqrt(sum / static_cast<double>(count))};
}

double final_of(const Arguments& given, const Curve& curve) { return given.of.value_or(curve.last()); }

Measured overshoot(const Arguments& given, MeasuredPlay& play, std::size_t signal, Time from, Time to) {
  Curve curve{play, signal, from, to};
  const double final = final_of(given, curve), way = final - curve.first();
  if (!curve.is_known() || way == 0.0) return {};
  const double sign = way > 0.0 ? 1.0 : -1.0;
  const Curve::Extreme found = curve.greatest([sign](double value) { return sign * value; });
  const double beyond = (found.value - sign * final) / std::abs(way) * 100.0;
  return beyond > 0.0 ? Measured{beyond, found.at} : Measured{0.0};
}

double band_of(const Arguments& given, const Curve& curve, double final) {
  return given.is_share ? given.within * std::abs(final - curve.first()) : given.within;
}

Measured settled(const Arguments& given, MeasuredPlay& play, std::size_t signal, Time from, Time to) {
  Curve curve{play, signal, from, to};
  if (!curve.is_known()) return {};
  const double final = final_of(given, curve);
  const double band = std::max(band_of(given, curve, final), 1e-12);
  const auto beyond = [&](double value) { return std::abs(value - final) - band; };
  if (beyond(curve.last()) > 0.0) return {};
  for (std::size_t i = curve.size() - 1; i-- > 0;) {
    if (beyond(curve.value(i)) > 0.0) {
      const Time at = curve.crossing(i, beyond);
      return {in_seconds(at - from), at};
    }
    // An extreme between the samples may be outside.
    const bool is_top = i > 0 && beyond(curve.value(i)) >= beyond(curve.value(i - 1)) &&
                        beyond(curve.value(i)) >= beyond(curve.value(i + 1)) && beyond(curve.value(i)) > -0.1 * band;
    if (!is_top) continue;
    const Curve::Extreme top = curve.greatest_around(i, beyond);
    if (top.value <= 0.0) continue;
    const Time at = curve.crossing_between(top.at, curve.time(i + 1), i, beyond);
    return {in_seconds(at - from), at};
  }
  return {0.0, from};
}

Measured reached(const Arguments& given, MeasuredPlay& play, std::size_t signal, Time from, Time to) {
  Curve curve{play, signal, from, to};
  const auto beyond = [&](double value) { return value - given.value; };
  for (std::size_t i = 0; i < curve.size(); ++i) {
    const double here = beyond(curve.value(i));
    if (here == 0.0) return {in_seconds(curve.time(i) - from), curve.time(i)};
    if (i + 1 == curve.size()) break;
    const double next = beyond(curve.value(i + 1));
    if (next != 0.0 && !(here * next < 0.0)) continue;
    const Time at = next == 0.0 ? curve.arrival(i, beyond) : curve.crossing(i, beyond);
    return {in_seconds(at - from), at};
  }
  return {};
}

Measured ringing(const Arguments& given, MeasuredPlay& play, std::size_t signal, Time from, Time to) {
  Curve curve{play, signal, from, to};
  if (!curve.is_known()) return {};
  double low = curve.first(), high = curve.first();
  for (std::size_t i = 0; i < curve.size(); ++i) {
    low = std::min(low, curve.value(i));
    high = std::max(high, curve.value(i));
  }
  const double least = std::max(given.is_share ? given.within * (high - low) : given.within, 1e-12);
  int way = 0, reversals = 0;
  double extreme = curve.first();
  for (std::size_t i = 0; i < curve.size(); ++i) {
    const double value = curve.value(i);
    if (way == 0 ? std::abs(value - extreme) > least : static_cast<double>(way) * (extreme - value) > least) {
      if (way != 0) ++reversals;
      way = way == 0 ? (value > extreme ? 1 : -1) : -way;
      extreme = value;
    } else if (static_cast<double>(way) * (value - extreme) > 0.0) {
      extreme = value;
    }
  }
  return {static_cast<double>(reversals)};
}

/// Between the first and the last rise through the middle of the extremes.
Measured period(const Arguments&, MeasuredPlay& play, std::size_t signal, Time from, Time to) {
  Curve curve{play, signal, from, to};
  if (!curve.is_known()) return {};
  const double middle = (curve.greatest(itself).value - curve.greatest(negative).value) / 2.0;
  const auto beyond = [&](double value) { return value - middle; };
  std::vector<std::size_t> rises;
  for (std::size_t i = 0; i + 1 < curve.size(); ++i)
    if (beyond(curve.value(i)) < 0.0 && beyond(curve.value(i + 1)) >= 0.0) rises.push_back(i);
  if (rises.size() < 2) return {};
  const Time first = curve.crossing(rises.front(), beyond), last = curve.crossing(rises.back(), beyond);
  return {in_seconds(last - first) / static_cast<double>(rises.size() - 1)};
}

Measured outside(const Arguments&, MeasuredPlay& play, std::size_t signal, Time from, Time to) {
  Curve curve{play, signal, from, to};
  if (!curve.is_known()) return {};
  Time sum{}, since = from;
  for (std::size_t i = 0; i + 1 < curve.size(); ++i) {
    const bool is_outside = curve.value(i) > 0.0, is_next = curve.value(i + 1) > 0.0;
    if (is_outside == is_next) continue;
    const Time at = curve.crossing(i, itself);
    if (is_outside) sum += at - since;
    since = at;
  }
  if (curve.last() > 0.0) sum += to - since;
  return {in_seconds(sum)};
}

bool is_meant(const Arguments& given, const MeasuredPlay::Happened& each, Time from, Time to) {
  return each.name == given.event && (given.object.empty() || each.object == given.object) && each.time >= from &&
         each.time <= to;
}

Measured count(const Arguments& given, MeasuredPlay& play, std::size_t, Time from, Time to) {
  const auto& all = play.happened();
  return {static_cast<double>(
      std::count_if(all.begin(), all.end(), [&](const auto& each) { return is_meant(given, each, from, to); }))};
}

Measured time_of(const Arguments& given, MeasuredPlay& play, std::size_t, Time from, Time to) {
  double left = given.value;
  for (const MeasuredPlay::Happened& each : play.happened())
    if (is_meant(given, each, from, to) && --left < 0.5) return {in_seconds(each.time - from), each.time};
  return {};
}

constexpr std::array<MeasureWord, 14> words{{
    {{"peak", "peak(WATCH)", "of the watch", "its greatest value"}, "w", false, false, 0.0, peak},
    {{"least", "least(WATCH)", "of the watch", "its least value"}, "w", false, false, 0.0, least},
    {{"mean", "mean(WATCH)", "of the watch", "its mean over time"}, "w", false, false, 0.0, mean},
    {{"travelled", "travelled(OBJECT)", "m", "the length of its path"}, "p", false, false, 0.0, travelled},
    {{"overshoot", "overshoot(WATCH, of = VALUE)", "%",
      "how far it goes beyond its final value, in % of the way from its first; of: instead of the last value"},
     "w",
     true,
     false,
     0.0,
     overshoot},
    {{"settled", "settled(WATCH, within = 5%, of = VALUE)", "s",
      "the time after which it stays near its final value: within a share of the way from its first, or a distance"},
     "w",
     true,
     true,
     0.05,
     settled},
    {{"reached", "reached(WATCH, VALUE)", "s", "the time at which it first has a value"},
     "wv",
     false,
     false,
     0.0,
     reached},
    {{"ringing", "ringing(WATCH, within = 2%)", "",
      "how often it reverses by more than a share of its range, or a distance"},
     "w",
     false,
     true,
     0.02,
     ringing},
    {{"smoothness", "smoothness(OBJECT)", "m/s^3",
      "the root mean square of the jerk of its position, from samples at half ticks"},
     "p",
     false,
     false,
     0.0,
     smoothness},
    {{"period", "period(WATCH)", "s", "the time from one rise through the middle of its range to the next, on average"},
     "w",
     false,
     false,
     0.0,
     period},
    {{"closest", "closest(OBJECT, OBJECT)", "m", "the least distance of two objects"}, "oo", false, false, 0.0, least},
    {{"count", "count(EVENT, OBJECT)", "", "how often an event happens, or a rule fires; of one object, if given"},
     "e?",
     false,
     false,
     0.0,
     count},
    {{"time", "time(EVENT, N, OBJECT)", "s", "when an event happens for the N-th time; of one object, if given"},
     "ev?",
     false,
     false,
     0.0,
     time_of},
    {{"outside", "outside(OBJECT, [[MIN], [MAX]])", "s",
      "for how long it is outside a box, in m along the world's axes"},
     "ob",
     false,
     false,
     0.0,
     outside},
}};

}  // namespace

std::span<const MeasureWord> measure_words() { return words; }

}  // namespace hushed::detail
