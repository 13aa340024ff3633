#include "lanes/softening.hpp"

#include <algorithm>
#include <utility>

#include "lanes/exponential.hpp"
#include "lanes/facing.hpp"
#include "lanes/geometry.hpp"
#include "lanes/loop.hpp"

namespace hushed::inside {

namespace {

/// (1 - e^-a) / a; by its series where the difference would lose digits.
template <class R>
R mean_of_decay(R a, R decayed) {
  const R small = smaller(a, R{0.35});
  R series = R{1.0 / 6227020800.0};
  for (const double factorial :
       {479001600.0, 39916800.0, 3628800.0, 362880.0, 40320.0, 5040.0, 720.0, 120.0, 24.0, 6.0, 2.0, 1.0})
    series = 1.0 / factorial - small * series;
  return select(a < 0.35, series, (1.0 - decayed) / larger(a, R{0.35}));
}

HUSHED_KERNEL void find_factors(const Row& rate, const Row& at_once, const Row& step, Softening::Factors& to) {
  for_each_lane([&](int lane) {
    const Real n = load<Real>(step, lane) * load<Real>(rate, lane);
    const Real keep = select(n < 200.0, power_of_two(-n), Real{0.0});  // never so small as to be slow
    const Real lag = mean_of_decay(n * 0.6931471805599453, keep);
    const auto now = load<Real>(at_once, lane) != 0.0;
    store(to.keep, lane, select(now, Real{0.0}, keep));
    store(to.lag, lane, select(now, Real{0.0}, lag));
    store(to.at_once, lane, load<Real>(at_once, lane));
  });
}

}  // namespace

void PoseMemories::fill(int lane, const PoseMemory& from) {
  set_lane(pose, lane, from.pose);
  set_lane(goal, lane, from.goal);
  until.at[lane] = in_units(from.until);
}

void PoseMemories::collect(int lane, PoseMemory& to) const {
  to.pose = lane_of(pose, lane);
  to.goal = lane_of(goal, lane);
  to.until = time_of(until.at[lane]);
}

void PoseMemories::remember(const BlockMoment& moment, unsigned parts, const PoseBlock& out,
                            const PoseBlock& new_goal) {
  if (moment.remember == Remember::nothing) return;
  const Row chosen = active_lanes(moment);
  for (const auto& [from, to] : {std::pair{&out, &pose}, {&new_goal, &goal}}) {
    if ((parts & part::position) != 0) keep_where(chosen, from->position, to->position);
    if ((parts & part::rotation) != 0) keep_where(chosen, from->rotation, to->rotation);
    if ((parts & part::scale) != 0) keep_where(chosen, from->scale, to->scale);
  }
  advance_to(moment, until);
}

void Softening::set(int lane, double half_life) {
  at_once_.at[lane] = half_life > 0.0 ? 0.0 : 1.0;
  rate_.at[lane] = half_life > 0.0 ? smaller(1.0 / half_life, 1e300) : 0.0;
  step_.at[lane] = -1.0;  // to be worked out
}

const Softening::Factors& Softening::factors(const Row& step, bool tick) {
  if (are_equal(step, step_)) return kept_;
  Factors& to = tick ? kept_ : passing_;
  find_factors(rate_, at_once_, step, to);
  if (tick) step_ = step;
  return to;
}

HUSHED_KERNEL void soften(const Softening::Factors& factors, const Row& step, const Row (&from)[3],
                          const Row (&old_goal)[3], const Row (&goal)[3], Row (&to)[3]) {
  for_each_lane([&](int lane) {
    const Real keep = load<Real>(factors.keep, lane), lag = load<Real>(factors.lag, lane);
    const auto moves = load<Real>(step, lane) + load<Real>(factors.at_once, lane) > 0.0;
    for (int i = 0; i < 3; ++i) {
      const Real x0 = load<Real>(from[i], lane), g0 = load<Real>(old_goal[i], lane), g1 = load<Real>(goal[i], lane);
      const Real left = (x0 - g0) * keep - (g1 - g0) * lag;
      store(to[i], lane, select(moves, g1 + rest_of(left, g1 - g0, g1), x0));
    }
  });
}

HUSHED_KERNEL void soften(const Softening::Factors& factors, const Row& step, const Row (&from)[4],
                          const Row (&old_goal)[4], const Row (&goal)[4], Row (&to)[4]) {
  for_each_lane([&](int lane) {
    const Real keep = load<Real>(factors.keep, lane), lag = load<Real>(factors.lag, lane);
    const auto moves = load<Real>(step, lane) + load<Real>(factors.at_once, lane) > 0.0;
    const QuatOf<Real> q0 = load<Real>(from, lane), q1 = load<Real>(goal, lane);
    const QuatOf<Real> back = inverse(q1);
    const VecOf<Real> x = rotation_vector_of(q0 * back), g = rotation_vector_of(load<Real>(old_goal, lane) * back);
    const VecOf<Real> left = (x - g) * keep + g * lag;
    const auto rests = both_hold(squared_length(left) < 1e-30, squared_length(g) < 1e-30);
    const QuatOf<Real> turned = near_unit(rotation_by(left) * q1);
    const QuatOf<Real> out = choose(select(rests, Real{1.0}, Real{0.0}), q1, turned);
    store(to, lane, choose(select(moves, Real{1.0}, Real{0.0}), out, q0));
  });
}

HUSHED_KERNEL void into_world(const PoseBlock& frame, PoseBlock& poses) {
  for_each_lane([&](int lane) { store(poses, lane, compose(load<Real>(frame, lane), load<Real>(poses, lane))); });
}

HUSHED_KERNEL void out_of_world(const PoseBlock& frame, PoseBlock& poses) {
  for_each_lane([&](int lane) { store(poses, lane, brought_into(load<Real>(frame, lane), load<Real>(poses, lane))); });
}

void keep_other_parts(unsigned parts, const PoseBlock& in, PoseBlock& poses) {
  if ((parts & part::position) == 0) std::copy(in.position, in.position + 3, poses.position);
  if ((parts & part::rotation) == 0) std::copy(in.rotation, in.rotation + 4, poses.rotation);
  if ((parts & part::scale) == 0) std::copy(in.scale, in.scale + 3, poses.scale);
}

}  // namespace hushed::inside
