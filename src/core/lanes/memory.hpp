#pragma once

// What memory advanced from tick to tick needs to know of time: until when each of eight has been advanced.

#include <hushed/inside/kind.hpp>

#include "lanes/loop.hpp"

namespace hushed::inside {

inline double in_units(Time time) { return static_cast<double>(time.count()); }
inline Time time_of(double units) { return Time{static_cast<Time::rep>(units)}; }

inline bool is_active(const BlockMoment& moment, int lane) { return (moment.active >> lane & 1U) != 0; }

/// 1 for lanes that are active, or else 0.
inline Row active_lanes(const BlockMoment& moment) {
  Row active;
  for (int lane = 0; lane < lanes; ++lane) active.at[lane] = is_active(moment, lane) ? 1.0 : 0.0;
  return active;
}

/// s since memory was last advanced; 0 where it does not move. Lanes that are not active have the step of one that is,
/// so that they do not spoil what is kept for steps that are all the same.
inline Row steps_since(const Row& until, const BlockMoment& moment) {
  Row step;
  double common = 0.0;
  for (int lane = 0; lane < lanes; ++lane) {
    const double units = in_units(moment.time) - until.at[lane];
    const bool moves = units > 0.0 && moment.remember != Remember::standing_still;
    step.at[lane] = moves ? units / static_cast<double>(units_per_second) : 0.0;
    if (is_active(moment, lane)) common = step.at[lane];
  }
  for (int lane = 0; lane < lanes; ++lane)
    if (!is_active(moment, lane)) step.at[lane] = common;
  return step;
}

/// Writes down that memory has been advanced to the moment.
inline void advance_to(const BlockMoment& moment, Row& until) {
  for (int lane = 0; lane < lanes; ++lane)
    if (is_active(moment, lane)) until.at[lane] = in_units(moment.time);
}

/// A row takes those lanes of another that are chosen.
inline void keep_where(const Row& chosen, const Row& from, Row& to) {
  for_each_lane([&](int lane) {
    const auto is_chosen = load<Real>(chosen, lane) != 0.0;
    store(to, lane, select(is_chosen, load<Real>(from, lane), load<Real>(to, lane)));
  });
}
template <std::size_t count>
void keep_where(const Row& chosen, const Row (&from)[count], Row (&to)[count]) {
  for (std::size_t i = 0; i < count; ++i) keep_where(chosen, from[i], to[i]);
}

inline bool are_equal(const Row& a, const Row& b) {
  std::uint64_t different = 0;
  for (int lane = 0; lane < lanes; ++lane)
    different |= std::bit_cast<std::uint64_t>(a.at[lane]) ^ std::bit_cast<std::uint64_t>(b.at[lane]);
  return different == 0;
}

/// What is left of a way, or 0 where it has come to rest: the goal stands still, and rounding would take over.
template <class R>
R rest_of(R left, R goal_moved, R goal) {
  return select(both_hold(goal_moved == 0.0, absolute(left) <= 1e-15 * (1.0 + absolute(goal))), R{0.0}, left);
}

}  // namespace hushed::inside
