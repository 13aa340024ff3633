// SPDX-License-Identifier: MIT
#pragma once

#include <chrono>
#include <optional>
#include <utility>
#include <vector>

#include <hushed/detail/export.hpp>
#include <hushed/detail/field_type.hpp>
#include <hushed/detail/kind_of.hpp>
#include <hushed/easing.hpp>
#include <hushed/path_shape.hpp>
#include <hushed/place.hpp>
#include <hushed/time.hpp>

namespace hushed HUSHED_API {

/// What a `Route` does at its last point.
enum class RouteEnds { stop, loop, come_back };

constexpr auto choices(RouteEnds) {
  return Choices<RouteEnds, 3>{
      {{RouteEnds::stop, "stop"}, {RouteEnds::loop, "loop"}, {RouteEnds::come_back, "return"}}};
}

/// The direction that a `Route` faces.
enum class RouteFacing { none, travel };

constexpr auto choices(RouteFacing) {
  return Choices<RouteFacing, 2>{{{RouteFacing::none, "none"}, {RouteFacing::travel, "travel"}}};
}

/// The pauses at points: `.pause = 2s` for all, or `.pause = {2s, 0s, 1s}`, one for each.
struct Pauses {
  Pauses() = default;
  template <class Rep, class Period>
  Pauses(std::chrono::duration<Rep, Period> all) : each{Time{all}} {}
  Pauses(std::vector<Time> of_each) : each{std::move(of_each)} {}
  Pauses(std::initializer_list<Time> of_each) : each{of_each} {}

  std::vector<Time> each = {Time{}};  ///< one for all points, or one for each

  Time at(std::size_t point) const { return each.size() == 1 ? each[0] : each[point]; }
  std::optional<Diagnostic> check() const;
  bool operator==(const Pauses&) const = default;

  friend HUSHED_API std::optional<Diagnostic> read(const Value& from, const Unit& unit, Pauses& to);
  friend HUSHED_API std::optional<Value> write(const Pauses& from, const Unit& unit);
  friend HUSHED_API Form form_of(const Pauses*, const Unit& unit);
};

/// Moves along waypoints, at a constant speed except for easing and pauses. A function of time alone: the distance
/// along the route is known at every moment, so no point is skipped.
///
/// It sets out at once and pauses after each arrival. An easing applies to each stretch between points with a pause;
/// the ends of the route and of each lap end a stretch too. Where points move, all is computed from where they are now.
/// Raises the event "reached" with the number of the point; of more than a hundred at one tick or frame, the last
/// hundred.
struct Route {
  std::vector<Place> points = {};
  std::optional<double> speed = {};   ///< m/s; negative goes the other way
  std::optional<Time> duration = {};  ///< of one pass, the closing leg of a loop included, without pauses
  PathShape shape = PathShape::straight;
  RouteEnds ends = RouteEnds::stop;
  Pauses pause = {};
  Easing easing = {};
  RouteFacing face = RouteFacing::none;  ///< +Z along the route, +Y near the parent's; vertical: as it comes in
  double start = 0.0;                    ///< m along the route

  static constexpr auto kind = "route";
};

template <>
const detail::Kind& detail::kind_of<Route>();

}  // namespace hushed
