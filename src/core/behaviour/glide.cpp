// SPDX-License-Identifier: MIT
#include <hushed/behaviour/glide.hpp>

#include <hushed/detail/constants.hpp>

#include <cmath>

#include "easing/curve.hpp"
#include "lanes/clock.hpp"
#include "lanes/conversions.hpp"
#include "lanes/geometry.hpp"
#include "lanes/kernel_kind.hpp"
#include "lanes/loop.hpp"

namespace hushed {

namespace {

using namespace detail;

/// The present leg: from the share `start` of the whole distance to `goal`; the share x of its time has passed.
template <class R>
struct Leg {
  R start, goal, x;
};

/// The times of a glide, in seconds. The first leg is shorter where the glide was reversed on the way; later legs are
/// whole.
template <class R>
struct Times {
  R first_start, first_goal, first_length;
  R length, pause, elapsed;  ///< `elapsed`: the part of the first leg before own time 0
  PeriodOf<R> period;
};

/// After the first leg and its pause, legs of equal length and their pauses follow in a cycle: one leg for a repeat,
/// two for a return, the first of them back.
template <class R>
Leg<R> leg_at(const Times<R>& times, GlideEnds ends, R whole, R rest) {
  const R t = whole + (rest + times.elapsed);
  const R first_x = select(times.first_length > 0.0, t / times.first_length, R{1.0});
  const Leg<R> first{times.first_start, times.first_goal, larger(smaller(first_x, R{1.0}), R{0.0})};
  if (ends == GlideEnds::stop) return first;

  const R into = turns(R{1.0}, whole, rest, times.elapsed - (times.first_length + times.pause), times.period).left;
  const R both = times.length + times.pause;
  const bool comes_back = ends == GlideEnds::come_back;
  const R second = select(both_hold(into >= both, comes_back), R{1.0}, R{0.0});
  const R passed = into - second * both;
  const R later_x = smaller(select(times.length > 0.0, passed / times.length, R{1.0}), R{1.0});
  const R later_goal = select(both_hold(comes_back, second == 0.0), 1.0 - times.first_goal, times.first_goal);
  const R is_first = select(t < times.first_length + times.pause, R{1.0}, R{0.0});
  return {select(is_first != 0.0, first.start, 1.0 - later_goal), select(is_first != 0.0, first.goal, later_goal),
          select(is_first != 0.0, first.x, later_x)};
}

struct GlideBlock {
  Row first_start, first_goal, first_length;
  Row length, pause, elapsed;
  Row period_lead, period_rest, period_inverse;
  Row position[2][3], scale[2][3];
  Row rotation[4], arc[3];  ///< the first rotation, and the rotation vector from it to the last
  const Curve* curve[lanes];
};

Times<Real> times_in(const GlideBlock& block, int lane) {
  return {load<Real>(block.first_start, lane),
          load<Real>(block.first_goal, lane),
          load<Real>(block.first_length, lane),
          load<Real>(block.length, lane),
          load<Real>(block.pause, lane),
          load<Real>(block.elapsed, lane),
          {load<Real>(block.period_lead, lane), load<Real>(block.period_rest, lane),
           load<Real>(block.period_inverse, lane)}};
}

void find_legs(const GlideBlock& block, GlideEnds ends, const EvalContext& context, Row& start, Row& goal, Row& x) {
  const auto find = [&](GlideEnds which) {
    for_each_lane([&](int lane) {
      const auto leg =
          leg_at(times_in(block, lane), which, load<Real>(*context.whole, lane), load<Real>(*context.rest, lane));
      store(start, lane, leg.start);
      store(goal, lane, leg.goal);
      store(x, lane, leg.x);
    });
  };
  switch (ends) {
    case GlideEnds::stop: return find(GlideEnds::stop);
    case GlideEnds::repeat: return find(GlideEnds::repeat);
    case GlideEnds::come_back: return find(GlideEnds::come_back);
  }
}

/// Converts shares of a leg to shares of the whole distance.
void along_the_way(const Row& start, const Row& goal, Row& share) {
  for_each_lane([&](int lane) {
    const Real from = load<Real>(start, lane);
    store(share, lane, from + (load<Real>(goal, lane) - from) * load<Real>(share, lane));
  });
}

void move_between(const Row (&ends)[2][3], const Row& share, Row (&to)[3]) {
  for_each_lane([&](int lane) {
    store(to, lane, between(load<Real>(ends[0], lane), load<Real>(ends[1], lane), load<Real>(share, lane)));
  });
}

void turn_along(const GlideBlock& block, const Row& share, Row (&rotation)[4]) {
  for_each_lane([&](int lane) {
    const auto turn = rotation_by(load<Real>(block.arc, lane) * load<Real>(share, lane));
    store(rotation, lane, near_unit(turn * load<Real>(block.rotation, lane)));
  });
}

struct GlideKernel {
  using Values = Glide;

  static constexpr auto summary = "moves the object from one pose to another, then stops, repeats or returns";
  static constexpr auto example = R"(
[[object.trolley.behaviour]]
kind     = "glide"
by       = { position = [6, 0, 0] }     # or to = "..." (a pose's name), or to = { ... }
duration = 4                            # seconds
easing   = "in-out-sine"
ends     = "return"
pause    = 1
)";
  static constexpr std::array exactly_one{OneOf{{"to", "by"}}, OneOf{{"duration", "speed", "turn_speed"}}};
  static constexpr auto fields = std::tuple{
      field("to", &Glide::to, unit::none, "the end; its parts replace those of the incoming pose"),
      field(
          "by", &Glide::by, unit::none,
          "the end relative to the incoming pose, instead of to: position is added, rotation and scale are multiplied"),
      field("from", &Glide::from, unit::none, "the beginning; default: the pose at the start"),
      field("duration", &Glide::duration, unit::seconds, "time from one end to the other", slider(0, 10)),
      field("speed", &Glide::speed, unit::speed, "speed of the position, instead of duration", slider(0, 10)),
      field("turn_speed", &Glide::turn_speed, unit::turning_speed, "turning rate, instead of duration", slider(0, 360)),
      field("easing", &Glide::easing, unit::none, "progress over time"),
      field("ends", &Glide::ends, unit::none, "what happens at the end"),
      field("pause", &Glide::pause, unit::seconds, "pause after each arrival", slider(0, 5))};

  struct State {
    Pose from, to;
    double start = 0.0, goal = 1.0;  ///< of the present leg, as shares of the whole distance
    double elapsed = 0.0;            ///< s: the part of the leg before own time 0
  };

  using Block = GlideBlock;

  using Parts = VariantField<unsigned, 0, 3>;
  using Ends = VariantField<GlideEnds, 3, 2>;
  using Formula = VariantField<unsigned, 5, 8>;
  /// The variant: the easing's formula, the behaviour at the end, and a bit for each part of the pose that changes.
  static unsigned variant(const Glide& glide, const State&) {
    const PoseParts& parts = changed(glide);
    return Formula::put(glide.easing.curve().formula) | Ends::put(glide.ends) |
           Parts::put((parts.position ? part::position : 0U) | (parts.rotation ? part::rotation : 0U) |
                      (parts.scale ? part::scale : 0U));
  }

  static void archive(Archive& archive, State& state, const Glide&) {
    archive(state.from, state.to, state.start, state.goal, state.elapsed);
  }
  static unsigned touches(unsigned variant) { return Parts::of(variant); }
  static unsigned overwrites(unsigned variant) { return touches(variant); }
  static bool needs_start(const Glide&) { return true; }

  static void begin(State& state, const Glide& glide, const Start& start) {
    state = {};
    state.from = glide.from ? glide.from->over(start.was) : start.was;
    state.to = end_of(glide, state.from);
  }

  static void absorb(State& state, const Glide& glide, OwnTime time, const Start& now, const Glide& next) {
    if (next.to != glide.to || next.by != glide.by) {  // a new goal: from the present pose
      state.to = end_of(next, state.from);
      state.from = now.was;
      state.start = 0.0;
      state.goal = 1.0;
      state.elapsed = 0.0;
      return;
    }
    // The present leg becomes the first one, with the new times.
    const Times<double> old = times_of(glide, state);
    const Leg<double> leg = leg_at(old, glide.ends, time.whole, time.rest);
    const double waited = leg.x < 1.0 ? 0.0 : waited_at(old, glide.ends, time);
    state.start = leg.start;
    state.goal = leg.goal;
    state.elapsed = 0.0;
    if (next.from && next.from != glide.from) {
      state.from = next.from->over(state.from);
      state.to = end_of(next, state.from);
    }
    const Times<double> times = times_of(next, state);
    state.elapsed = leg.x < 1.0 ? leg.x * times.first_length : times.first_length + smaller(waited, times.pause);
    if (!std::isfinite(state.elapsed)) state.elapsed = 0.0;
  }

  static void turn_back(State& state, const Glide& glide, OwnTime time, const Start&) {
    const Leg<double> leg = leg_at(times_of(glide, state), glide.ends, time.whole, time.rest);
    state.start = leg.start + (leg.goal - leg.start) * glide.easing(leg.x);
    state.goal = 1.0 - leg.goal;
    state.elapsed = 0.0;
  }

  static void fill(Block& block, int lane, const Glide& glide, const State& state) {
    const Times<double> times = times_of(glide, state);
    block.first_start.at[lane] = times.first_start;
    block.first_goal.at[lane] = times.first_goal;
    block.first_length.at[lane] = times.first_length;
    block.length.at[lane] = times.length;
    block.pause.at[lane] = times.pause;
    block.elapsed.at[lane] = times.elapsed;
    block.period_lead.at[lane] = times.period.lead;
    block.period_rest.at[lane] = times.period.rest;
    block.period_inverse.at[lane] = times.period.inverse;
    store(block.position[0], lane, numbers(state.from.position));
    store(block.position[1], lane, numbers(state.to.position));
    store(block.scale[0], lane, numbers(state.from.scale));
    store(block.scale[1], lane, numbers(state.to.scale));
    store(block.rotation, lane, numbers(state.from.rotation));
    store(block.arc, lane, numbers(arc(state)));
    block.curve[lane] = &glide.easing.curve();
  }

  static void evaluate(const Block& block, unsigned variant, PoseBlock& poses, const EvalContext& context) {
    Row start, goal, share;
    in_lanes<find_legs>(block, Ends::of(variant), context, start, goal, share);
    ease(Formula::of(variant), block.curve, share);
    in_lanes<along_the_way>(start, goal, share);
    if ((Parts::of(variant) & part::position) != 0) in_lanes<move_between>(block.position, share, poses.position);
    if ((Parts::of(variant) & part::rotation) != 0) in_lanes<turn_along>(block, share, poses.rotation);
    if ((variant & 4U) != 0) in_lanes<move_between>(block.scale, share, poses.scale);
  }

  static std::optional<Diagnostic> check(const Glide& glide, const Pose*) {
    const char* key = glide.to ? "to" : "by";
    const PoseParts& parts = changed(glide);
    if (parts.empty()) return about(key, "the pose is empty; give a position, a rotation or a scale.");
    if (!glide.from) return std::nullopt;
    const auto only_in_from = [&](bool in_from, bool in_other, const char* part) -> std::optional<Diagnostic> {
      if (!in_from || in_other) return std::nullopt;
      return about("from", std::string{"it has a "} + part + ", and " + key + " has none; give both, or neither.");
    };
    if (auto diagnostic = only_in_from(glide.from->position.has_value(), parts.position.has_value(), "position"))
      return diagnostic;
    if (auto diagnostic = only_in_from(glide.from->rotation.has_value(), parts.rotation.has_value(), "rotation"))
      return diagnostic;
    return only_in_from(glide.from->scale.has_value(), parts.scale.has_value(), "scale");
  }

 private:
  static const PoseParts& changed(const Glide& glide) { return glide.to ? *glide.to : *glide.by; }

  static Pose end_of(const Glide& glide, const Pose& from) {
    if (glide.to) return glide.to->over(from);
    const PoseParts& by = *glide.by;
    Pose end = from;
    if (by.position) end.position = vector(numbers(from.position) + numbers(*by.position));
    if (by.rotation) end.rotation = vector(near_unit(numbers(from.rotation) * numbers(*by.rotation)));
    if (by.scale) end.scale = vector(by_factors(numbers(from.scale), numbers(*by.scale)));
    return end;
  }

  static Vec3 arc(const State& state) {
    return rotation_vector(vector(numbers(state.to.rotation) * inverse(numbers(state.from.rotation))));
  }

  /// The duration of a whole leg in s; infinite where it never arrives.
  static double length_of(const Glide& glide, const State& state) {
    if (glide.duration) return in_seconds(*glide.duration);
    const PoseParts& parts = changed(glide);
    const double way =
        glide.speed
            ? (parts.position ? std::sqrt(squared_length(numbers(state.to.position) - numbers(state.from.position)))
                              : 0.0)
            : (parts.rotation ? std::sqrt(squared_length(numbers(arc(state)))) * degrees_per_radian : 0.0);
    const double rate = glide.speed ? *glide.speed : glide.turn_speed->in_degrees();
    return way == 0.0 ? 0.0 : way / rate;
  }

  static Times<double> times_of(const Glide& glide, const State& state) {
    const double length = length_of(glide, state), pause = in_seconds(glide.pause);
    const double part = absolute(state.goal - state.start);
    const double cycle = (glide.ends == GlideEnds::come_back ? 2.0 : 1.0) * (length + pause);
    return {state.start,
            state.goal,
            part == 0.0 ? 0.0 : part * length,
            length,
            pause,
            state.elapsed,
            period_of(glide.ends == GlideEnds::stop || !std::isfinite(cycle) ? 0.0 : cycle)};
  }

  /// The time in s that it has rested at the end of a leg.
  static double waited_at(const Times<double>& times, GlideEnds ends, OwnTime time) {
    const double after_first = time.seconds() + times.elapsed - times.first_length;
    if (ends == GlideEnds::stop || after_first < times.pause) return after_first;
    const double both = times.length + times.pause;
    const double into =
        turns(1.0, time.whole, time.rest, times.elapsed - (times.first_length + times.pause), times.period).left;
    return (into >= both ? into - both : into) - times.length;
  }
};

}  // namespace

template <>
const detail::Kind& detail::kind_of<Glide>() {
  static const KernelKind<GlideKernel> kind;
  return kind;
}

}  // namespace hushed
