// SPDX-License-Identifier: MIT
#include <hushed/detail/constants.hpp>

#include "lanes/exponential_smoothing.hpp"

#include <algorithm>

#include "lanes/conversions.hpp"
#include "lanes/exponential.hpp"
#include "lanes/facing.hpp"
#include "lanes/geometry.hpp"
#include "lanes/loop.hpp"

namespace hushed::detail {

namespace {

void find_smoothing_factors(const Row& rate, const Row& at_once, const Row& step, ExponentialSmoothing::Factors& to) {
  for_each_lane([&](int lane) {
    const Real n = load<Real>(step, lane) * load<Real>(rate, lane);
    const Real remaining = select(n < 200.0, power_of_two(-n), Real{0.0});  // never subnormal
    const Real lag = mean_of_decay(n * ln_2, remaining);
    const auto now = load<Real>(at_once, lane) != 0.0;
    store(to.remaining, lane, select(now, Real{0.0}, remaining));
    store(to.lag, lane, select(now, Real{0.0}, lag));
    store(to.at_once, lane, load<Real>(at_once, lane));
  });
}

}  // namespace

void PoseMemories::fill(int lane, const PoseMemory& from) {
  set_lane(pose, lane, from.pose);
  set_lane(goal, lane, from.goal);
  advanced.set(lane, from.until);
}

void PoseMemories::collect(int lane, PoseMemory& to) const {
  to.pose = lane_of(pose, lane);
  to.goal = lane_of(goal, lane);
  to.until = advanced.of(lane);
}

void PoseMemories::remember(const EvalContext& context, unsigned parts, PoseBlock& out, unsigned goal_parts,
                            const PoseBlock& new_goal) {
  if (context.remember == Remember::nothing) return;
  const auto remaining = [&](unsigned which, const PoseBlock& from, PoseBlock& to) {
    if ((which & part::position) != 0) store_active(context, from.position, to.position);
    if ((which & part::rotation) != 0) store_active(context, from.rotation, to.rotation);
    if ((which & part::scale) != 0) store_active(context, from.scale, to.scale);
  };
  if ((parts & part::position) != 0 && context.may_rest) rest(goal.position, new_goal.position, out.position);
  if ((parts & part::scale) != 0 && context.may_rest) rest(goal.scale, new_goal.scale, out.scale);
  remaining(parts, out, pose);
  remaining(goal_parts, new_goal, goal);
  advanced.to(context);
}

/// Copies some rows to one place and as many to another.
template <std::size_t count>
static void store_rows(const Row (&a)[count], const Row (&b)[count], Row (&to_a)[count], Row (&to_b)[count]) {
  for_each_lane([&](int lane) {
    store(to_a, lane, load<Real>(a, lane));
    store(to_b, lane, load<Real>(b, lane));
  });
}

void PositionMemories::fill(int lane, const PoseMemory& from) {
  store(pose, lane, numbers(from.pose.position));
  store(goal, lane, numbers(from.goal.position));
  advanced.set(lane, from.until);
}

void PositionMemories::collect(int lane, PoseMemory& to) const {
  to.pose.position = vector(load<double>(pose, lane));
  to.goal.position = vector(load<double>(goal, lane));
  to.until = advanced.of(lane);
}

void PositionMemories::remember(const EvalContext& context, Row (&position)[3], const Row (&new_goal)[3]) {
  if (context.remember == Remember::nothing) return;
  if (context.may_rest) rest(goal, new_goal, position);
  if (context.active == all_lanes) {
    in_lanes<store_rows<3>>(position, new_goal, pose, goal);
  } else {
    store_active(context, position, pose);
    store_active(context, new_goal, goal);
  }
  advanced.to(context);
}

void RotationMemories::fill(int lane, const PoseMemory& from) {
  store(pose, lane, numbers(from.pose.rotation));
  store(goal, lane, numbers(from.goal.rotation));
  advanced.set(lane, from.until);
}

void RotationMemories::collect(int lane, PoseMemory& to) const {
  to.pose.rotation = vector(load<double>(pose, lane));
  to.goal.rotation = vector(load<double>(goal, lane));
  to.until = advanced.of(lane);
}

void RotationMemories::remember(const EvalContext& context, const Row (&rotation)[4], const Row (&new_goal)[4]) {
  if (context.remember == Remember::nothing) return;
  if (context.active == all_lanes) {
    in_lanes<store_rows<4>>(rotation, new_goal, pose, goal);
  } else {
    store_active(context, rotation, pose);
    store_active(context, new_goal, goal);
  }
  advanced.to(context);
}

void ExponentialSmoothing::set(int lane, double half_life, bool at_once) {
  const double is_at_once = half_life == 0.0 && at_once ? 1.0 : 0.0;
  const double rate = half_life > 0.0 ? smaller(1.0 / half_life, 1e300) : 1e300;
  if (is_at_once == at_once_.at[lane] && rate == rate_.at[lane]) return;
  at_once_.at[lane] = is_at_once;
  rate_.at[lane] = rate;
  per_step_.forget(lane);
}

const ExponentialSmoothing::Factors& ExponentialSmoothing::factors(const Steps& steps, const EvalContext& context,
                                                                   Factors& passing) {
  return per_step_.at(steps, context, passing, [this](const Row& step, Factors& to) {
    in_lanes<find_smoothing_factors>(rate_, at_once_, step, to);
  });
}

/// The case in which every step is greater than 0, or the half-life is 0.
static void close_in(const ExponentialSmoothing::Factors& factors, const Row& from, const Row& old_goal,
                     const Row& goal, Row& to) {
  for_each_lane([&](int lane) {
    store(to, lane,
          smoothed(load<Real>(from, lane), load<Real>(old_goal, lane), load<Real>(goal, lane),
                   load<Real>(factors.remaining, lane), load<Real>(factors.lag, lane)));
  });
}

void smooth_toward(const ExponentialSmoothing::Factors& factors, const Steps& steps, const Row (&from)[3],
                   const Row (&old_goal)[3], const Row (&goal)[3], Row (&to)[3]) {
  for (int i = 0; i < 3; ++i) in_lanes<close_in>(factors, from[i], old_goal[i], goal[i], to[i]);
  if (all_move(steps)) return;
  for (int lane = 0; lane < lanes; ++lane)
    for (int i = 0; i < 3; ++i)
      if (steps.at(lane) + factors.at_once.at[lane] == 0.0) to[i].at[lane] = from[i].at[lane];
}

void rest(const Row (&old_goal)[3], const Row (&goal)[3], Row (&x)[3]) {
  for (int i = 0; i < 3; ++i) {
    for (int lane = 0; lane < lanes; ++lane) {
      const double g = goal[i].at[lane], hair = 1e-15 * (1.0 + absolute(g));
      if (old_goal[i].at[lane] == g && absolute(x[i].at[lane] - g) <= hair) x[i].at[lane] = g;
    }
  }
}

static void find_turns(const Row (&from)[4], const Row (&old_goal)[4], const Row (&goal)[4], TurnsLeft& to) {
  for_each_lane([&](int lane) {
    const QuatOf<Real> back = inverse(load<Real>(goal, lane));
    store(to.away, lane, rotation_vector_of(load<Real>(from, lane) * back));
    const VecOf<Real> moved = rotation_vector_of(load<Real>(old_goal, lane) * back);
    // A difference that is only rounding is not a motion of the goal.
    const auto is_still = squared_length(moved) < 1e-30;
    const auto clean = [&](Real value) { return select(is_still, Real{0.0}, value); };
    store(to.moved, lane, VecOf<Real>{clean(moved.x), clean(moved.y), clean(moved.z)});
  });
}

void turns_from_goal(const Row (&from)[4], const Row (&old_goal)[4], const Row (&goal)[4], TurnsLeft& to) {
  in_lanes<find_turns>(from, old_goal, goal, to);
  for (int lane = 0; lane < lanes; ++lane) {
    const auto away = load<double>(to.away, lane);
    if (!is_nearly_half_a_turn(away)) continue;
    const auto before = rotation_vector_of(load<double>(from, lane) * inverse(load<double>(old_goal, lane)));
    store(to.away, lane, way_begun(away, before + load<double>(to.moved, lane)));
  }
}

static void turn_by_rest(const Row& moves, const Row (&before)[4], const Row (&goal)[4], const Row (&away)[3],
                         Row (&to)[4]) {
  for_each_lane([&](int lane) {
    const QuatOf<Real> q1 = load<Real>(goal, lane);
    const VecOf<Real> left = load<Real>(away, lane);
    const auto is_there = select(squared_length(left) == 0.0, Real{1.0}, Real{0.0});
    const auto turned = choose(is_there, q1, near_unit(rotation_by(left) * q1));
    store(to, lane,
          choose(select(load<Real>(moves, lane) > 0.0, Real{1.0}, Real{0.0}), turned, load<Real>(before, lane)));
  });
}

void turn_from_goal(const Row& moves, const Row (&before)[4], const Row (&goal)[4], const Row (&away)[3],
                    Row (&to)[4]) {
  in_lanes<turn_by_rest>(moves, before, goal, away, to);
}

static void smooth_turns(const ExponentialSmoothing::Factors& factors, const Row& step, TurnsLeft& turns, Row& moves) {
  for_each_lane([&](int lane) {
    const Real remaining = load<Real>(factors.remaining, lane), lag = load<Real>(factors.lag, lane);
    const VecOf<Real> x = load<Real>(turns.away, lane), g = load<Real>(turns.moved, lane);
    const VecOf<Real> left = (x - g) * remaining + g * lag;
    const auto rests = both_hold(squared_length(left) < 1e-30, squared_length(g) == 0.0);
    const auto clean = [&](Real value) { return select(rests, Real{0.0}, value); };
    store(turns.away, lane, VecOf<Real>{clean(left.x), clean(left.y), clean(left.z)});
    store(moves, lane, load<Real>(step, lane) + load<Real>(factors.at_once, lane));
  });
}

void smooth_toward(const ExponentialSmoothing::Factors& factors, const Steps& steps, const Row (&from)[4],
                   const Row (&old_goal)[4], const Row (&goal)[4], Row (&to)[4]) {
  TurnsLeft turns;
  Row moves;
  turns_from_goal(from, old_goal, goal, turns);
  in_lanes<smooth_turns>(factors, steps.row(), turns, moves);
  turn_from_goal(moves, from, goal, turns.away, to);
}

}  // namespace hushed::detail
