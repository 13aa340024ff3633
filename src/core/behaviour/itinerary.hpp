// SPDX-License-Identifier: MIT
#pragma once

// The time table of a route: its stretches and the visits to its points, in order of time.

#include <span>
#include <vector>

#include <hushed/behaviour/route.hpp>
#include <hushed/path.hpp>

#include "lanes/clock.hpp"

namespace hushed::detail {

/// The part of a route from one pause to the next.
struct Stretch {
  double begin, length;  ///< s; the length without the pause at its end
  double from, to;       ///< m along the path, or beyond a lap of it
  double pause;          ///< s
  bool onward;           ///< from lower to higher distances
};

struct Visit {
  double time;  ///< s since the beginning of the course
  int point;
};

/// A part of the time table: the part before the laps, or one lap. For a return, a lap is the way there and back.
struct Course {
  std::vector<Stretch> stretches;
  std::vector<Visit> visits;
  double length = 0.0;  ///< s, pauses included

  void clear();
};

/// A moment in the time table. Visits are counted from the start of the route.
struct Moving {
  bool in_lap = false;
  std::size_t stretch = 0;
  double x = 0.0;       ///< the share of the stretch's time
  double waited = 0.0;  ///< s: the elapsed part of the pause at its end
  double laps = 0.0;    ///< the number of whole laps before
  double into = 0.0;    ///< s since the beginning of the course
};

/// The time table of one route. Memory is kept, so that computing it anew for as many points does not allocate.
class Itinerary {
 public:
  void reserve(std::size_t points);
  /// `start` in metres; `onward` is its first direction.
  void plan(const Route& route, const Path& path, double start, bool onward);

  /// The course and the time in it. The stretch is not set.
  Moving course_at(double whole, double rest, double elapsed) const;
  Moving at(double whole, double rest, double elapsed, std::size_t& near) const;
  Shift<double> shift(const Moving& moving, double elapsed) const;
  /// The time of the course at which the stretch and its pause end; infinite for the last.
  double end_of(const Moving& moving) const;
  const Stretch& stretch(const Moving& moving) const { return course(moving).stretches[moving.stretch]; }
  /// The distance in m along the path, for the easing's share of the stretch.
  static double distance(const Stretch& stretch, double share) {
    return stretch.from * (1.0 - share) + stretch.to * share;
  }
  /// The number of visits up to and including this moment.
  double visits_until(const Moving& moving, std::size_t& near) const;
  /// The visits of the course after this moment.
  std::span<const Visit> coming(const Moving& moving, std::size_t& near) const;
  /// The visit of a number, counted from 0. Its time is since the start of the route.
  Visit visit(double number) const;
  /// The time of a share of a stretch, or of the pause after it: s since the start of the route, without the laps.
  double time_of(const Moving& moving) const;

 private:
  const Course& course(const Moving& moving) const { return moving.in_lap ? lap_ : first_; }
  void add_way(Course& course, const Route& route, const Path& path, double start, bool onward, double rate) const;

  Course first_, lap_;
  PeriodOf<double> period_ = {0.0, 0.0, 0.0};
};

}  // namespace hushed::detail
