// SPDX-License-Identifier: MIT
#include <hushed/behaviour/travel.hpp>

#include <algorithm>
#include <bit>
#include <cmath>

#include "lanes/clock.hpp"
#include "lanes/conversions.hpp"
#include "lanes/geometry.hpp"
#include "lanes/kernel_kind.hpp"
#include "lanes/loop.hpp"

namespace hushed {

namespace {

using namespace detail;

constexpr std::string_view axis_names[] = {"x", "y", "z"};

bool bounded(const Travel& travel, int axis) {
  return std::isfinite(travel.between.min[axis]) || std::isfinite(travel.between.max[axis]);
}
bool bounded_twice(const Travel& travel, int axis) {
  return std::isfinite(travel.between.min[axis]) && std::isfinite(travel.between.max[axis]);
}

/// The distance in m after which the motion along an axis repeats; infinite where it does not.
PeriodOf<double> period(const Travel& travel, int axis) {
  if (!bounded_twice(travel, axis) || travel.at_edge == Edge::stop) return period_of(0.0);
  const double low = travel.between.min[axis], high = travel.between.max[axis];
  const double length = high - low;
  const double back = length - high;
  const double rounded_off = (high - (length - back)) - (low + back);  // Knuth's two-sum of high and -low
  const double legs = travel.at_edge == Edge::bounce ? 2.0 : 1.0;
  return period_of(legs * length, legs * rounded_off);
}

/// The position `in + moved` folded into the bounds, for `moved` reduced to half a period either way. The result is
/// clamped, for input from outside the bounds and for rounding.
template <class R>
R at_edge(Edge edge, R in, R moved, R low, R high) {
  const R free = in + moved;
  if (edge == Edge::stop) return larger(smaller(free, high), low);
  const R folded = edge == Edge::bounce
                       ? select(free > high, 2.0 * high - free, select(free < low, 2.0 * low - free, free))
                       : select(free >= high, free - (high - low), select(free < low, free + (high - low), free));
  return larger(smaller(folded, high), low);
}

/// Eight motions along one axis. The members that are read without bounds come first. There is one such block for each
/// axis with motion.
struct TravelBlock {
  Row velocity, moved;
  Row low, high;
  Row period_lead, period_rest, period_inverse;
};

void drift(const TravelBlock& axis, Row& position, const EvalContext& context) {
  for_each_lane([&](int lane) {
    const Real velocity = load<Real>(axis.velocity, lane);
    const Real moved = velocity * load<Real>(*context.whole, lane) +
                       (velocity * load<Real>(*context.rest, lane) + load<Real>(axis.moved, lane));
    store(position, lane, load<Real>(position, lane) + moved);
  });
}

template <Edge edge>
void between(const TravelBlock& axis, Row& position, const EvalContext& context) {
  for_each_lane([&](int lane) {
    const Real moved =
        reduced_product(load<Real>(axis.velocity, lane), load<Real>(*context.whole, lane),
                        load<Real>(*context.rest, lane), load<Real>(axis.moved, lane),
                        PeriodOf<Real>{load<Real>(axis.period_lead, lane), load<Real>(axis.period_rest, lane),
                                       load<Real>(axis.period_inverse, lane)});
    store(position, lane,
          at_edge(edge, load<Real>(position, lane), moved, load<Real>(axis.low, lane), load<Real>(axis.high, lane)));
  });
}

void bounce(const TravelBlock& axis, Row& position, const EvalContext& context) {
  between<Edge::bounce>(axis, position, context);
}
void wrap(const TravelBlock& axis, Row& position, const EvalContext& context) {
  between<Edge::wrap>(axis, position, context);
}
void stop(const TravelBlock& axis, Row& position, const EvalContext& context) {
  between<Edge::stop>(axis, position, context);
}

struct TravelKernel {
  using Values = Travel;

  static constexpr auto summary = "moves the object at a constant velocity, optionally within bounds";
  static constexpr auto example = R"(
[[object.skiff.behaviour]]
kind     = "travel"
velocity = [1.5, 0, 0]                             # metres per second
between  = [[-6, -inf, -inf], [6, inf, inf]]       # to and fro along x
)";
  static constexpr auto fields = std::tuple{
      field("velocity", &Travel::velocity, unit::metres_per_second, "the velocity", required),
      field("space", &Travel::space, unit::none, "the axes of the velocity; own and world as they are at the start",
            allowed(Space::own, Space::parent, Space::world)),
      field("between", &Travel::between, unit::metres, "bounds [[min], [max]] in the parent's space; inf for no bound"),
      field("at_edge", &Travel::at_edge, unit::none, "what happens at a bound")};

  struct State {
    Vec3 moved = Vec3::Zero();  ///< m: the displacement at the last change of velocity, without reflections
    // For `own` and `world`, as of the start: the velocity in the parent's space is
    // after * (turn applied to (before * velocity)).
    Vec3 before = Vec3::Ones();
    Quat turn = Quat::Identity();
    Vec3 after = Vec3::Ones();
  };

  using Block = TravelBlock;

  using WithBounds = VariantField<unsigned, 0, 3>;
  using Still = VariantField<unsigned, 3, 3>;
  using EdgeField = VariantField<Edge, 6, 2>;
  /// The variant: the behaviour at the edge, a bit for each axis with bounds, and one for each without bounds and
  /// motion.
  static unsigned variant(const Travel& travel, const State& state) {
    unsigned with_bounds = 0, still = 0;
    for (int axis = 0; axis < 3; ++axis) {
      const bool moves = travel.space != Space::parent || travel.velocity[axis] != 0.0 || state.moved[axis] != 0.0;
      if (bounded(travel, axis))
        with_bounds |= 1U << axis;
      else if (!moves)
        still |= 1U << axis;
    }
    return WithBounds::put(with_bounds) | Still::put(still) | EdgeField::put(travel.at_edge);
  }

  static std::size_t blocks(unsigned variant) {
    return static_cast<std::size_t>(std::max(1, 3 - std::popcount(Still::of(variant))));
  }
  static void archive(Archive& archive, State& state, const Travel&) {
    archive(state.moved, state.before, state.turn, state.after);
  }
  static unsigned touches(unsigned) { return part::position; }
  static bool needs_start(const Travel& travel) {
    return travel.space != Space::parent || bounded(travel, 0) || bounded(travel, 1) || bounded(travel, 2);
  }

  static void begin(State& state, const Travel& travel, const Start& start) {
    state = {};
    take_axes(state, travel.space, start);
  }

  static void absorb(State& state, const Travel& travel, OwnTime time, const Start& now, const Travel& next) {
    const Vec3 velocity = along_parent(state, travel);
    for (int axis = 0; axis < 3; ++axis) {
      const double in = now.in.position[axis];
      const double moved =
          reduced_product(velocity[axis], time.whole, time.rest, state.moved[axis], period(travel, axis));
      const double low = travel.between.min[axis], high = travel.between.max[axis];
      const double here = at_edge(travel.at_edge, in, moved, low, high);
      const bool turned_back = travel.at_edge == Edge::bounce && (in + moved > high || in + moved < low);
      state.moved[axis] = unfolded(here, turned_back, axis, next) - in;
    }
    if (next.space != travel.space) take_axes(state, next.space, now);
  }

  static void fill(Block& block, int lane, const Travel& travel, const State& state) {
    const Vec3 velocity = along_parent(state, travel);
    const unsigned still = Still::of(variant(travel, state));
    TravelBlock* next = &block;
    for (int axis = 0; axis < 3; ++axis) {
      if ((still & 1U << axis) != 0) continue;
      TravelBlock& rows = *next++;
      const PeriodOf<double> lap = period(travel, axis);
      const bool stands = bounded_twice(travel, axis) && travel.between.min[axis] == travel.between.max[axis];
      rows.velocity.at[lane] = stands ? 0.0 : velocity[axis];
      rows.moved.at[lane] = state.moved[axis];
      rows.low.at[lane] = travel.between.min[axis];
      rows.high.at[lane] = travel.between.max[axis];
      rows.period_lead.at[lane] = lap.lead;
      rows.period_rest.at[lane] = lap.rest;
      rows.period_inverse.at[lane] = lap.inverse;
    }
  }

  static void evaluate(const Block& block, unsigned variant, PoseBlock& poses, const EvalContext& context) {
    const TravelBlock* next = &block;
    for (int axis = 0; axis < 3; ++axis) {
      Row& position = poses.position[axis];
      if ((Still::of(variant) & 1U << axis) != 0) continue;
      const TravelBlock& rows = *next++;
      if ((WithBounds::of(variant) & 1U << axis) == 0) {
        in_lanes<drift>(rows, position, context);
        continue;
      }
      switch (EdgeField::of(variant)) {
        case Edge::bounce: in_lanes<bounce>(rows, position, context); break;
        case Edge::wrap: in_lanes<wrap>(rows, position, context); break;
        case Edge::stop: in_lanes<stop>(rows, position, context); break;
      }
    }
  }

  static std::optional<Diagnostic> check(const Travel& travel, const Pose* in) {
    for (int axis = 0; axis < 3; ++axis) {
      const double low = travel.between.min[axis], high = travel.between.max[axis];
      const std::string name{axis_names[axis]};
      if (low > high)
        return about("between", "along " + name + ", min " + as_text(low) + " is above max " + as_text(high) +
                                    "; give the smaller one first.");
      if (travel.at_edge == Edge::wrap && bounded(travel, axis) && !bounded_twice(travel, axis))
        return about("between", "along " + name +
                                    " only one bound is given, and \"wrap\" needs two; give the other one, or use "
                                    "at_edge = \"bounce\" or \"stop\".");
      if (in && (in->position[axis] < low || in->position[axis] > high))
        return about("between", "the object starts outside the bounds, at " + name + " = " +
                                    as_text(in->position[axis]) + "; allowed is " + as_text(low) + " to " +
                                    as_text(high) + ". Move the object or the bounds.");
    }
    return std::nullopt;
  }

 private:
  static void take_axes(State& state, Space space, const Start& now) {
    state.before = state.after = Vec3::Ones();
    state.turn = Quat::Identity();
    if (space == Space::own) {
      state.before = now.in.scale;
      state.turn = now.in.rotation;
    } else if (space == Space::world) {
      state.turn = now.moment.parent.rotation.conjugate();
      for (int axis = 0; axis < 3; ++axis) {
        const double scale = now.moment.parent.scale[axis];
        state.after[axis] = std::abs(scale) < 1e-12 ? 0.0 : 1.0 / scale;
      }
    }
  }

  static Vec3 along_parent(const State& state, const Travel& travel) {
    const auto own = by_factors(numbers(state.before), numbers(travel.velocity));
    return vector(by_factors(numbers(state.after), rotate(numbers(state.turn), own)));
  }

  /// The unfolded position that continues at `here` in the present direction with the next values.
  static double unfolded(double here, bool turned_back, int axis, const Travel& next) {
    const double low = next.between.min[axis], high = next.between.max[axis];
    const double held = larger(smaller(here, high), low);
    if (!turned_back || next.at_edge != Edge::bounce) return held;
    if (std::isfinite(high)) return 2.0 * high - held;
    if (std::isfinite(low)) return 2.0 * low - held;
    return held;
  }
};

}  // namespace

template <>
const detail::Kind& detail::kind_of<Travel>() {
  static const KernelKind<TravelKernel> kind;
  return kind;
}

}  // namespace hushed
