// SPDX-License-Identifier: MIT
#include <hushed/behaviour/roam.hpp>

#include <cmath>

#include <hushed/seeded.hpp>

#include "easing/curve.hpp"
#include "lanes/clock.hpp"
#include "lanes/conversions.hpp"
#include "lanes/geometry.hpp"
#include "lanes/kernel_kind.hpp"
#include "lanes/loop.hpp"

namespace hushed {

namespace {

using namespace detail;

struct Progress {
  Vec3 from = Vec3::Zero();  ///< m: the start of the first leg
  double first = 0.0;        ///< the number of the first leg
  double elapsed = 0.0;      ///< s: the part of the first leg before own time 0
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

/// The present leg: `count` legs after the first. It began at `begin`, in seconds of own time.
struct RoamLeg {
  double count = 0.0, begin = 0.0, length = 0.0;
  Vec3 from = Vec3::Zero(), to = Vec3::Zero();
};

RoamLeg leg_number(const Roam& roam, const Progress& state, double count, double begin) {
  RoamLeg leg{count, begin, 0.0, count == 0.0 ? state.from : place(roam, state.first + count - 1.0),
              place(roam, state.first + count)};
  if (roam.duration) {
    leg.length = in_seconds(*roam.duration);
  } else {
    const double way = std::sqrt(squared_length(numbers(leg.to) - numbers(leg.from)));
    leg.length = way == 0.0 ? 0.0 : way / *roam.speed;
  }
  return leg;
}

/// The legs of one behaviour, with a cache of the last ones. Legs of equal length are found by division. Others are
/// added up from the first, always in the same order, so that the cache does not change a bit of the result.
struct Walk {
  const Roam* roam = nullptr;
  Progress state;
  PeriodOf<double> period = {0.0, 0.0, 0.0};  ///< of legs of equal length
  RoamLeg present, before;

  void set_out(const Roam& from, const Progress& taken) {
    roam = &from;
    state = taken;
    period = from.duration ? period_of(in_seconds(*from.duration) + in_seconds(from.pause)) : period_of(0.0);
    present = before = leg_number(from, taken, 0.0, -taken.elapsed);
  }

  /// Finds the leg of an own time.
  void move_to(double whole, double rest) {
    if (roam->duration) {
      const double count = turns(1.0, whole, rest, state.elapsed, period).count;
      if (count != present.count) present = leg_number(*roam, state, count, 0.0);
      return;
    }
    const double t = whole + rest, pause = in_seconds(roam->pause);
    if (t < present.begin) present = before;
    if (t < present.begin) present = leg_number(*roam, state, 0.0, -state.elapsed);
    while (!is_a_point(roam->box) && t >= present.begin + (present.length + pause)) {
      before = present;
      present = leg_number(*roam, state, present.count + 1.0, present.begin + (present.length + pause));
    }
  }

  /// Converts own time to the time within the present leg.
  Shift<double> shift() const {
    if (!roam->duration) return {0.0, 0.0, -present.begin};
    return {present.count * period.lead, present.count * period.rest, state.elapsed};
  }
};

/// The present legs of eight objects.
struct RoamBlock {
  PieceRows piece;
  Row from[3], to[3];
  Walk* walk[lanes];
  const Curve* curve[lanes];
};

void take_leg(RoamBlock& block, int lane) {
  const Walk& walk = *block.walk[lane];
  const RoamLeg& leg = walk.present;
  const bool is_short = leg.length < 1e-300;
  block.piece.set(lane, walk.shift(), leg.length + in_seconds(walk.roam->pause) - near_the_ends,
                  is_short ? 0.0 : 1.0 / leg.length);
  store(block.from, lane, numbers(is_short ? leg.to : leg.from));
  store(block.to, lane, numbers(leg.to));
}

template <unsigned easing>
[[gnu::always_inline]] inline void place_by(const RoamBlock& block, const Row& whole, const Row& rest,
                                            Row (&position)[3], Row& is_known) {
  for_each_lane([&](int lane) {
    const auto share = share_now(block.piece, lane, load<Real>(whole, lane), load<Real>(rest, lane));
    store(is_known, lane, share.is_known);
    const auto from = load<Real>(block.from, lane), to = load<Real>(block.to, lane);
    store(position, lane, between(from, to, cheap_ease<easing>(share.of_piece)));
  });
}

void place_evenly(const RoamBlock& block, const Row& whole, const Row& rest, Row (&position)[3], Row& is_known) {
  place_by<formula::linear>(block, whole, rest, position, is_known);
}

void place_smoothly(const RoamBlock& block, const Row& whole, const Row& rest, Row (&position)[3], Row& is_known) {
  place_by<formula::smoothstep>(block, whole, rest, position, is_known);
}

void find_shares(const RoamBlock& block, const Row& whole, const Row& rest, Row& share, Row& is_known) {
  for_each_lane([&](int lane) {
    const auto now = share_now(block.piece, lane, load<Real>(whole, lane), load<Real>(rest, lane));
    store(is_known, lane, now.is_known);
    store(share, lane, now.of_piece);
  });
}

void place_between(const RoamBlock& block, const Row& share, Row (&position)[3]) {
  for_each_lane([&](int lane) {
    store(position, lane, between(load<Real>(block.from, lane), load<Real>(block.to, lane), load<Real>(share, lane)));
  });
}

/// The variant: the commonest easings have their own kernels.
void place(const RoamBlock& block, unsigned easing, const EvalContext& context, Row (&position)[3], Row& is_known) {
  const Row &whole = *context.whole, &rest = *context.rest;
  if (easing == formula::linear) return in_lanes<place_evenly>(block, whole, rest, position, is_known);
  if (easing == formula::smoothstep) return in_lanes<place_smoothly>(block, whole, rest, position, is_known);
  Row share;
  in_lanes<find_shares>(block, whole, rest, share, is_known);
  ease(easing, block.curve, share);
  in_lanes<place_between>(block, share, position);
}

struct RoamKernel {
  using Values = Roam;

  static constexpr auto summary = "moves the object to one random place after another";
  static constexpr auto example = R"(
[[object.lantern.behaviour]]
kind   = "roam"
box    = [[-8, 0, -8], [8, 0, 8]]
speed  = 0.4                        # metres per second
easing = "in-out-sine"
seed   = 3                          # another seed, other places
)";
  static constexpr std::array exactly_one{OneOf{{"duration", "speed"}}};
  static constexpr auto fields = std::tuple{
      field("box", &Roam::box, unit::metres, "the box of the places, [[min], [max]] in the parent's space", required),
      field("duration", &Roam::duration, unit::seconds, "time of each leg", slider(0, 20)),
      field("speed", &Roam::speed, unit::speed, "speed, instead of duration", slider(0, 10)),
      field("easing", &Roam::easing, unit::none, "progress over time of each leg"),
      field("pause", &Roam::pause, unit::seconds, "pause at each place", slider(0, 5)),
      field("seed", &Roam::seed, unit::none, "seed of the random places")};

  struct State {
    Progress progress;
    Walk walk;  ///< a cache
  };

  using Block = RoamBlock;

  static unsigned variant(const Roam& roam, const State&) { return roam.easing.curve().formula; }

  static void archive(Archive& archive, State& state, const Roam&) {
    archive(state.progress.from, state.progress.first, state.progress.elapsed);
  }
  static unsigned touches(unsigned) { return part::position; }
  static unsigned overwrites(unsigned) { return part::position; }
  static bool needs_start(const Roam&) { return true; }
  static void begin(State& state, const Roam&, const Start& start) { state.progress = {start.was.position, 0.0, 0.0}; }

  static void absorb(State& state, const Roam& roam, OwnTime time, const Start&, const Roam& next) {
    Walk& walk = state.walk;
    Progress& progress = state.progress;
    walk.set_out(roam, progress);
    walk.move_to(time.whole, time.rest);
    const double into = larger(walk.shift().of(time.whole, time.rest), 0.0);
    const double x = walk.present.length > 0.0 ? smaller(into / walk.present.length, 1.0) : 1.0;
    const double old_length = walk.present.length;
    progress = {walk.present.from, progress.first + walk.present.count, 0.0};
    const double length = leg_number(next, progress, 0.0, 0.0).length;
    const double waited = into - old_length;
    progress.elapsed = x < 1.0 ? x * length : length + smaller(waited, in_seconds(next.pause));
    if (!std::isfinite(progress.elapsed)) progress.elapsed = 0.0;
  }

  static void fill(Block& block, int lane, const Roam& roam, State& state) {
    state.walk.set_out(roam, state.progress);
    block.walk[lane] = &state.walk;
    take_leg(block, lane);
    block.piece.forget(lane);  // to be found anew
    block.curve[lane] = &roam.easing.curve();
  }

  static void evaluate(Block& block, unsigned variant, PoseBlock& poses, const EvalContext& context) {
    Row is_known;
    place(block, variant, context, poses.position, is_known);
    if (!all_hold(is_known) && look_for(block, context, is_known))
      place(block, variant, context, poses.position, is_known);
  }

  static bool look_for(Block& block, const EvalContext& context, const Row& is_known) {
    bool any = false;
    for (int lane = 0; lane < lanes; ++lane) {
      if (is_known.at[lane] != 0.0 || !context.is_active(lane)) continue;
      block.walk[lane]->move_to(context.whole->at[lane], context.rest->at[lane]);
      take_leg(block, lane);
      any = true;
    }
    return any;
  }

  static std::optional<Diagnostic> check(const Roam& roam, const Pose*) {
    if (!roam.box.min.allFinite() || !roam.box.max.allFinite())
      return about("box", "the box must be finite; give two corners, [[x, y, z], [x, y, z]], without inf.");
    for (int i = 0; i < 3; ++i)
      if (roam.box.min[i] > roam.box.max[i])
        return about("box", "min " + as_text(roam.box.min[i]) + " is above max " + as_text(roam.box.max[i]) +
                                "; give the smaller corner first.");
    if (is_a_point(roam.box)) return std::nullopt;
    const double across = (roam.box.max - roam.box.min).norm();
    const double time = in_seconds(roam.pause) + (roam.duration ? in_seconds(*roam.duration) : across / *roam.speed);
    if (time < 0.01)
      return Diagnostic{
          {},
          std::string{roam.duration ? "duration" : "speed"} +
              ": there would be more than a hundred legs in a second; give a longer duration, a lower speed or "
              "a pause."};
    return std::nullopt;
  }
};

}  // namespace

template <>
const detail::Kind& detail::kind_of<Roam>() {
  static const KernelKind<RoamKernel> kind;
  return kind;
}

}  // namespace hushed
