// SPDX-License-Identifier: MIT
#pragma once

// When a route is where: its stretches and the visits to its points, in order of time.

#include <span>
#include <vector>

#include <hushed/behaviour/route.hpp>

#include "lanes/clock.hpp"

namespace hushed::detail {

/// From one pause to the next.
struct Stretch {
  double begin, length;  ///< s; the length without the pause at its end
  double from, to;       ///< m along the path, or beyond a lap of it
  double pause;          ///< s
  bool onward;           ///< from lower to higher distances
};

struct Visit {
  double time;  ///< s since the course began
  int point;
};

/// A piece of the time table: what comes before the laps, or one lap (a way and back, for a return).
struct Course {
  std::vector<Stretch> stretches;
  std::vector<Visit> visits;
  double length = 0.0;  ///< s, pauses included

  void clear();
};

/// Where in a time table it is. Visits are counted from the start of the whole.
struct Moving {
  bool in_lap = false;
  std::size_t stretch = 0;
  double x = 0.0;       ///< the share of the stretch's time
  double waited = 0.0;  ///< s in the pause that follows
  double laps = 0.0;    ///< whole ones before
  double into = 0.0;    ///< s since the course began
};

/// The time table of one route. What it needs to be made again for as many points is kept, so that this allocates
/// nothing.
class Itinerary {
 public:
  void reserve(std::size_t points);
  /// `start` in metres; `onward` is its first direction.
  void plan(const Route& route, const Path& path, double start, bool onward);

  /// How far into which course: the stretch is left open.
  Moving course_at(double whole, double rest, double elapsed) const;
  Moving at(double whole, double rest, double elapsed, std::size_t& near) const;
  Shift<double> shift(const Moving& moving, double elapsed) const;
  /// How long into the course the stretch and its pause last; for ever, for the last.
  double end_of(const Moving& moving) const;
  const Stretch& stretch(const Moving& moving) const { return course(moving).stretches[moving.stretch]; }
  /// How far along, by the easing's share of the stretch.
  static double distance(const Stretch& stretch, double share) {
    return stretch.from * (1.0 - share) + stretch.to * share;
  }
  /// How many visits there have been, that of this moment included.
  double visits_until(const Moving& moving, std::size_t& near) const;
  /// The visits of the course that are still to come.
  std::span<const Visit> coming(const Moving& moving, std::size_t& near) const;
  /// The visit of that number, from 0; its time counts from the start of the whole.
  Visit visit(double number) const;
  /// The time of a share of a stretch, or of a pause after it: how long since the start of the whole, laps left out.
  double time_of(const Moving& moving) const;

 private:
  const Course& course(const Moving& moving) const { return moving.in_lap ? lap_ : first_; }
  void add_way(Course& course, const Route& route, const Path& path, double start, bool onward, double rate) const;

  Course first_, lap_;
  PeriodOf<double> period_ = {0.0, 0.0, 0.0};
};

}  // namespace hushed::detail
