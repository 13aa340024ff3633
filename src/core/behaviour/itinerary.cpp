// SPDX-License-Identifier: MIT
#include "behaviour/itinerary.hpp"

#include <algorithm>
#include <cmath>
#include <limits>

namespace hushed::detail {

namespace {

/// The index of the last item that is not after `at`, or 0. `near` is tried first.
template <class Item, class TimeOf>
std::size_t last_until(const std::vector<Item>& items, double at, TimeOf&& time_of, std::size_t& near) {
  const auto fits = [&](std::size_t i) {
    return i < items.size() && (i == 0 || time_of(items[i]) <= at) &&
           (i + 1 == items.size() || time_of(items[i + 1]) > at);
  };
  if (!fits(near)) {
    const auto after =
        std::upper_bound(items.begin(), items.end(), at, [&](double t, const Item& item) { return t < time_of(item); });
    near = after == items.begin() ? 0 : static_cast<std::size_t>(after - items.begin()) - 1;
  }
  return near;
}

std::size_t visits_passed(const std::vector<Visit>& visits, double into, std::size_t& near) {
  if (visits.empty()) return 0;
  const std::size_t last = last_until(
      visits, into, [](const Visit& each) { return each.time; }, near);
  return visits[last].time <= into ? last + 1 : 0;
}

/// The share of a stretch's time at which a share of its length is first reached.
double first_time_at(const Easing& easing, double share) {
  if (easing.text() == "linear") return share;
  constexpr int samples = 128;
  for (int i = 1; i <= samples; ++i) {
    double high = static_cast<double>(i) / samples;
    if (easing(high) < share) continue;
    double low = static_cast<double>(i - 1) / samples;
    for (int step = 0; step < 50; ++step) {
      const double middle = 0.5 * (low + high);
      (easing(middle) < share ? low : high) = middle;
    }
    return high;
  }
  return 1.0;
}

}  // namespace

void Course::clear() {
  stretches.clear();
  visits.clear();
  length = 0.0;
}

void Itinerary::reserve(std::size_t points) {
  for (Course* course : {&first_, &lap_}) {
    course->stretches.reserve(2 * points + 2);
    course->visits.reserve(2 * points + 2);
  }
}

void Itinerary::plan(const Route& route, const Path& path, double start, bool onward) {
  first_.clear();
  lap_.clear();
  period_ = period_of(0.0);

  const double length = path.length();
  const bool loops = route.ends == RouteEnds::loop;
  double from = std::min(std::max(start, 0.0), length);
  if (loops && length > 0.0) from = start - std::floor(start / length) * length;
  if (!(from >= 0.0 && from <= length)) from = 0.0;

  const double rate = route.speed ? std::abs(*route.speed) : length / in_seconds(*route.duration);
  if (length == 0.0 || rate == 0.0) {  // it never moves
    first_.stretches.push_back({0.0, std::numeric_limits<double>::infinity(), from, from, 0.0, onward});
    first_.length = std::numeric_limits<double>::infinity();
    return;
  }
  const double origin = onward ? 0.0 : length, other = onward ? length : 0.0;
  if (loops && !onward && from == 0.0) from = length;
  add_way(first_, route, path, from, onward, rate);
  if (route.ends == RouteEnds::come_back) {
    add_way(first_, route, path, other, !onward, rate);
    add_way(lap_, route, path, origin, onward, rate);
    add_way(lap_, route, path, other, !onward, rate);
  } else if (loops) {
    add_way(lap_, route, path, origin, onward, rate);
  }
  if (std::isfinite(lap_.length) && lap_.length > 0.0) period_ = period_of(lap_.length);
}

/// Adds the stretches from `start` to the end of the route or lap, in one direction.
void Itinerary::add_way(Course& course, const Route& route, const Path& path, double start, bool onward,
                        double rate) const {
  const auto count = static_cast<int>(path.points());
  const bool loops = route.ends == RouteEnds::loop;
  const double end = onward ? path.length() : 0.0;
  const auto distance_of = [&](int point) {
    return loops && point == count ? path.length() : path.distance_of(static_cast<std::size_t>(point));
  };
  // The points ahead. A point at `start` is not ahead. Point 0 ends a lap.
  const int last = onward ? (loops ? count : count - 1) : 0;
  const int step = onward ? 1 : -1;
  int next = onward ? 0 : (loops && start == path.length() ? count : count - 1);
  while (next != last + step && (onward ? distance_of(next) < start : distance_of(next) > start)) next += step;
  if (next != last + step && distance_of(next) == start) next += step;

  const auto pause_at = [&](int point) { return in_seconds(route.pause.at(static_cast<std::size_t>(point % count))); };
  double from = start;
  std::size_t inner = course.visits.size();  // the first visit of the present stretch
  const auto close = [&](double to, double pause) {
    const double way = std::abs(to - from);
    const Stretch stretch{course.length, way > 0.0 ? way / rate : 0.0, from, to, pause, onward};
    for (double earliest = stretch.begin; inner < course.visits.size(); ++inner) {
      Visit& visit = course.visits[inner];
      const double share = way > 0.0 ? std::abs(visit.time - from) / way : 1.0;
      const bool is_end = inner + 1 == course.visits.size();
      const double x = is_end ? 1.0 : first_time_at(route.easing, share);
      visit.time = earliest = std::max(earliest, stretch.begin + (x > 0.0 ? x * stretch.length : 0.0));
    }
    course.stretches.push_back(stretch);
    course.length = stretch.begin + stretch.length + pause;
    from = to;
  };
  for (; next != last + step; next += step) {
    course.visits.push_back({distance_of(next), next % count});  // its time is set when the stretch ends
    const double pause = pause_at(next);
    if (pause > 0.0 || next == last) close(distance_of(next), pause);
  }
  if (course.stretches.empty()) close(end, 0.0);
}

Moving Itinerary::course_at(double whole, double rest, double elapsed) const {
  Moving moving;
  moving.into = whole + (rest + elapsed);
  if (period_.inverse != 0.0 && moving.into >= first_.length) {
    const double laps = turns(1.0, whole, rest, elapsed - first_.length, period_).count;
    moving.in_lap = true;
    moving.laps = laps;
    moving.into = larger(shift(moving, elapsed).of(whole, rest), 0.0);
  }
  return moving;
}

Moving Itinerary::at(double whole, double rest, double elapsed, std::size_t& near) const {
  Moving moving = course_at(whole, rest, elapsed);
  const auto& stretches = course(moving).stretches;
  moving.stretch = last_until(
      stretches, moving.into, [](const Stretch& each) { return each.begin; }, near);
  const Stretch& stretch = stretches[moving.stretch];
  const double passed = larger(moving.into - stretch.begin, 0.0);
  moving.x = stretch.length > 0.0 ? smaller(passed / stretch.length, 1.0) : 1.0;
  moving.waited = moving.x < 1.0 ? 0.0 : passed - stretch.length;
  return moving;
}

Shift<double> Itinerary::shift(const Moving& moving, double elapsed) const {
  if (!moving.in_lap) return {0.0, 0.0, elapsed};
  return {moving.laps * period_.lead, moving.laps * period_.rest, elapsed - first_.length};
}

double Itinerary::end_of(const Moving& moving) const {
  const Course& now = course(moving);
  if (moving.stretch + 1 < now.stretches.size()) return now.stretches[moving.stretch + 1].begin;
  return period_.inverse != 0.0 ? now.length : std::numeric_limits<double>::infinity();
}

double Itinerary::visits_until(const Moving& moving, std::size_t& near) const {
  const auto& visits = course(moving).visits;
  const double passed = static_cast<double>(visits_passed(visits, moving.into, near));
  if (!moving.in_lap) return passed;
  return static_cast<double>(first_.visits.size()) + moving.laps * static_cast<double>(lap_.visits.size()) + passed;
}

std::span<const Visit> Itinerary::coming(const Moving& moving, std::size_t& near) const {
  const std::span<const Visit> visits = course(moving).visits;
  return visits.subspan(visits_passed(course(moving).visits, moving.into, near));
}

Visit Itinerary::visit(double number) const {
  const double before = static_cast<double>(first_.visits.size());
  if (number < before) return first_.visits[static_cast<std::size_t>(number)];
  const double each = static_cast<double>(lap_.visits.size());
  const double laps = std::floor((number - before) / each);
  const auto at = static_cast<std::size_t>((number - before) - laps * each);
  const Visit visit = lap_.visits[std::min(at, lap_.visits.size() - 1)];
  return {first_.length + laps * lap_.length + visit.time, visit.point};
}

double Itinerary::time_of(const Moving& moving) const {
  const auto& stretches = course(moving).stretches;
  const Stretch& stretch = stretches[std::min(moving.stretch, stretches.size() - 1)];
  const double into =
      moving.x < 1.0 ? moving.x * stretch.length : stretch.length + smaller(moving.waited, stretch.pause);
  const double time = (moving.in_lap ? first_.length : 0.0) + stretch.begin + into;
  return std::isfinite(time) ? time : 0.0;
}

}  // namespace hushed::detail
