#pragma once

// What memory advanced from tick to tick needs to know of time: until when each of eight has been advanced.

#include <hushed/inside/kind.hpp>

#include "lanes/loop.hpp"

namespace hushed::inside {

inline double in_units(Time time) { return static_cast<double>(time.count()); }
inline Time time_of(double units) { return Time{static_cast<Time::rep>(units)}; }

inline bool is_active(const BlockMoment& moment, int lane) { return (moment.active >> lane & 1U) != 0; }

/// s since memory was last advanced; 0 where it does not move. Lanes that are not active have the step of one that is,
/// so that they do not spoil what is kept for steps that are all the same.
inline Row steps_since(const Row& until, const BlockMoment& moment) {
  Row step;
  const double now = in_units(moment.time), moves = moment.remember == Remember::standing_still ? 0.0 : 1.0;
  for_each_lane([&](int lane) {
    const Real units = now - load<Real>(until, lane);
    store(step, lane, larger(units, Real{0.0}) * (moves * (1.0 / static_cast<double>(units_per_second))));
  });
  if (moment.active == 0xFF) return step;
  double common = 0.0;
  for (int lane = 0; lane < lanes; ++lane)
    if (is_active(moment, lane)) common = step.at[lane];
  for (int lane = 0; lane < lanes; ++lane)
    if (!is_active(moment, lane)) step.at[lane] = common;
  return step;
}

/// A row takes the active lanes of another.
inline void keep_active(const BlockMoment& moment, const Row& from, Row& to) {
  if (moment.active == 0xFF) {
    to = from;
    return;
  }
  for (int lane = 0; lane < lanes; ++lane)
    if (is_active(moment, lane)) to.at[lane] = from.at[lane];
}
template <std::size_t count>
void keep_active(const BlockMoment& moment, const Row (&from)[count], Row (&to)[count]) {
  for (std::size_t i = 0; i < count; ++i) keep_active(moment, from[i], to[i]);
}

/// Writes down that memory has been advanced to the moment.
inline void advance_to(const BlockMoment& moment, Row& until) {
  Row now;
  for (int lane = 0; lane < lanes; ++lane) now.at[lane] = in_units(moment.time);
  keep_active(moment, now, until);
}

/// Every sixteenth tick or so, by the time alone: often enough to see what has come to rest.
inline bool may_rest(const BlockMoment& moment) {
  if (moment.remember != Remember::tick || !(moment.step > 0.0)) return false;
  return static_cast<std::int64_t>(in_units(moment.time) / static_cast<double>(units_per_second) / moment.step + 0.5) %
             16 ==
         0;
}

inline bool are_equal(const Row& a, const Row& b) {
  std::uint64_t different = 0;
  for (int lane = 0; lane < lanes; ++lane)
    different |= std::bit_cast<std::uint64_t>(a.at[lane]) ^ std::bit_cast<std::uint64_t>(b.at[lane]);
  return different == 0;
}

}  // namespace hushed::inside
