#include <hushed/behaviour/roam.hpp>

#include <cmath>

#include <hushed/seeded.hpp>

#include "easing/curve.hpp"
#include "lanes/clock.hpp"
#include "lanes/geometry.hpp"
#include "lanes/lane_kind.hpp"
#include "lanes/loop.hpp"

namespace hushed {

namespace {

using namespace inside;

struct RoamState {
  Vec3 from = Vec3::Zero();  ///< where the first leg sets out
  double first = 0.0;        ///< its number
  double elapsed = 0.0;      ///< s of it, before own time began to count
};

Vec3 place(const Roam& roam, double number) {
  const auto k = static_cast<std::uint64_t>(number);
  Vec3 at;
  for (int i = 0; i < 3; ++i) {
    const double share = seeded_number(static_cast<std::uint64_t>(roam.seed), 3 * k + static_cast<std::uint64_t>(i));
    at[i] = roam.box.min[i] + (roam.box.max[i] - roam.box.min[i]) * share;
  }
  return at;
}

bool is_a_point(const Box& box) { return box.min == box.max; }

/// A leg under way: `count` legs after the first, begun at `begin`, in seconds of own time.
struct Leg {
  double count = 0.0, begin = 0.0, length = 0.0;
  Vec3 from = Vec3::Zero(), to = Vec3::Zero();
};

Leg leg_number(const Roam& roam, const RoamState& state, double count, double begin) {
  Leg leg{count, begin, 0.0, count == 0.0 ? state.from : place(roam, state.first + count - 1.0),
          place(roam, state.first + count)};
  if (roam.duration) {
    leg.length = in_seconds(*roam.duration);
  } else {
    const double way = std::sqrt(squared_length(numbers(leg.to) - numbers(leg.from)));
    leg.length = way == 0.0 ? 0.0 : way / *roam.speed;
  }
  return leg;
}

/// The legs of one behaviour, and those it has last been on. Legs of equal length are found by division. Others are
/// counted through from the first, always in the same order, so that what is remembered changes no bit.
struct Walk {
  const Roam* roam = nullptr;
  RoamState state;
  PeriodOf<double> period = {0.0, 0.0, 0.0};  ///< of legs of equal length
  Leg present, before;

  void set_out(const Roam& from, const RoamState& taken) {
    roam = &from;
    state = taken;
    period = from.duration ? period_of(in_seconds(*from.duration) + in_seconds(from.pause)) : period_of(0.0);
    present = before = leg_number(from, taken, 0.0, -taken.elapsed);
  }

  /// How far into its present leg it is, in seconds, at an own time.
  double move_to(double whole, double rest) {
    if (roam->duration) {
      const auto [count, left] = turns(1.0, whole, rest, state.elapsed, period);
      if (count != present.count) present = leg_number(*roam, state, count, 0.0);
      return left;
    }
    const double t = whole + rest, pause = in_seconds(roam->pause);
    if (t < present.begin) present = before;
    if (t < present.begin) present = leg_number(*roam, state, 0.0, -state.elapsed);
    while (!is_a_point(roam->box) && t >= present.begin + (present.length + pause)) {
      before = present;
      present = leg_number(*roam, state, present.count + 1.0, present.begin + (present.length + pause));
    }
    return t - present.begin;
  }

  double share_of_time(double into) const { return present.length > 0.0 ? smaller(into / present.length, 1.0) : 1.0; }
};

struct RoamBlock {
  Walk walk[lanes];
  const Curve* curve[lanes];
};

HUSHED_KERNEL void place_between(const Row (&from)[3], const Row (&to)[3], const Row& share, Row (&position)[3]) {
  for_each_lane([&](int lane) {
    store(position, lane, between(load<Real>(from, lane), load<Real>(to, lane), load<Real>(share, lane)));
  });
}

struct RoamRoom {
  using Values = Roam;
  using State = RoamState;
  using Block = RoamBlock;

  static unsigned variant(const Roam& roam, const State&) { return roam.easing.curve().formula; }

  static unsigned touches(unsigned) { return part::position; }
  static bool needs_start(const Roam&) { return true; }
  static void begin(State& state, const Roam&, const Start& start) { state = {start.was.position, 0.0, 0.0}; }

  static void absorb(State& state, const Roam& roam, OwnTime time, const Start&, const Roam& next) {
    Walk walk;
    walk.set_out(roam, state);
    const double into = walk.move_to(time.whole, time.rest);
    const double x = walk.share_of_time(into);
    state = {walk.present.from, state.first + walk.present.count, 0.0};
    const double length = leg_number(next, state, 0.0, 0.0).length;
    const double waited = into - walk.present.length;
    state.elapsed = x < 1.0 ? x * length : length + smaller(waited, in_seconds(next.pause));
    if (!std::isfinite(state.elapsed)) state.elapsed = 0.0;
  }

  static void fill(Block& block, int lane, const Roam& roam, const State& state) {
    block.walk[lane].set_out(roam, state);
    block.curve[lane] = &roam.easing.curve();
  }

  static void evaluate(Block& block, unsigned variant, PoseBlock& poses, const BlockMoment& moment) {
    Row share, from[3], to[3];
    for (int lane = 0; lane < lanes; ++lane) {
      Walk& walk = block.walk[lane];
      share.at[lane] = walk.share_of_time(walk.move_to(moment.whole->at[lane], moment.rest->at[lane]));
      store(from, lane, numbers(walk.present.from));
      store(to, lane, numbers(walk.present.to));
    }
    ease(variant, block.curve, share);
    place_between(from, to, share, poses.position);
  }

  static std::optional<Complaint> check(const Roam& roam, const Pose*) {
    if (!roam.box.min.allFinite() || !roam.box.max.allFinite())
      return Complaint{{}, "box: it must end on every side; give two corners, [[x, y, z], [x, y, z]], without inf."};
    for (int i = 0; i < 3; ++i)
      if (roam.box.min[i] > roam.box.max[i])
        return Complaint{{},
                         "box: min " + as_text(roam.box.min[i]) + " is above max " + as_text(roam.box.max[i]) +
                             "; give the smaller corner first."};
    if (is_a_point(roam.box)) return std::nullopt;
    const double across = (roam.box.max - roam.box.min).norm();
    const double time = in_seconds(roam.pause) + (roam.duration ? in_seconds(*roam.duration) : across / *roam.speed);
    if (time < 0.01)
      return Complaint{
          {},
          std::string{roam.duration ? "duration" : "speed"} +
              ": it would be at another place more than a hundred times in a second; give it more time, or "
              "a pause."};
    return std::nullopt;
  }
};

}  // namespace

template <>
const inside::Kind& inside::kind_of<Roam>() {
  static const LaneKind<RoamRoom> kind;
  return kind;
}

}  // namespace hushed
