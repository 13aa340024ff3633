// SPDX-License-Identifier: MIT
#include <hushed/behaviour/spin.hpp>

#include <cmath>

#include "lanes/clock.hpp"
#include "lanes/conversions.hpp"
#include "lanes/facing.hpp"
#include "lanes/geometry.hpp"
#include "lanes/kernel_kind.hpp"
#include "lanes/loop.hpp"

namespace hushed {

namespace {

using namespace detail;

struct SpinBlock {
  Row axis[3];  ///< unit length
  Row half_speed;
  Row half_phase;
};

template <class R>
QuatOf<R> turn(const SpinBlock& block, int lane, const VecOf<R>& axis, const EvalContext& context) {
  const R half =
      product_less_periods(load<R>(block.half_speed, lane), load<R>(*context.whole, lane), load<R>(*context.rest, lane),
                           load<R>(block.half_phase, lane), PeriodOf<R>{360.0, 0.0, 1.0 / 360.0});
  const auto [sine, cosine] = sine_cosine_of_degrees(half);
  return {axis.x * sine, axis.y * sine, axis.z * sine, cosine};
}

void turn_in_own_axes(const SpinBlock& block, Row (&rotation)[4], const EvalContext& context) {
  for_each_lane([&](int lane) {
    const auto axis = load<Real>(block.axis, lane);
    store(rotation, lane, load<Real>(rotation, lane) * turn(block, lane, axis, context));
  });
}

void turn_in_parents_axes(const SpinBlock& block, Row (&rotation)[4], const EvalContext& context) {
  for_each_lane([&](int lane) {
    const auto axis = load<Real>(block.axis, lane);
    store(rotation, lane, turn(block, lane, axis, context) * load<Real>(rotation, lane));
  });
}

/// P^-1 R P is the rotation by the same angle about the axis converted to the parent's space.
void turn_in_worlds_axes(const SpinBlock& block, Row (&rotation)[4], const EvalContext& context) {
  for_each_lane([&](int lane) {
    const auto axis = rotate(inverse(load<Real>(context.parent->rotation, lane)), load<Real>(block.axis, lane));
    store(rotation, lane, turn(block, lane, axis, context) * load<Real>(rotation, lane));
  });
}

struct SpinKernel {
  using Values = Spin;

  static constexpr auto summary = "turns the object about an axis at a constant rate";
  static constexpr auto example = R"(
[[object.lamp.behaviour]]
kind  = "spin"
axis  = "y"
speed = 40        # degrees per second
)";
  static constexpr std::array alternatives{Either{"velocity", {"axis", "speed"}}};
  static constexpr auto fields = std::tuple{
      field("axis", &Spin::axis, unit::direction, "axis of rotation"),
      field("speed", &Spin::speed, unit::degrees_per_second, "turning rate; negative turns the other way",
            slider(-360, 360)),
      field("velocity", &Spin::velocity, unit::degrees_per_second, "axis and speed as one vector, instead of both"),
      field("space", &Spin::space, unit::none, "the space of the axis",
            allowed(Space::own, Space::parent, Space::world))};

  struct State {
    double half_phase = 0.0;  ///< degrees: half the angle turned before the last change of speed
  };

  using Block = SpinBlock;

  static unsigned variant(const Spin& spin, const State&) { return static_cast<unsigned>(spin.space); }

  static void archive(Archive& archive, State& state, const Spin&) { archive(state.half_phase); }
  static unsigned touches(unsigned) { return part::rotation; }
  static bool needs_start(const Spin&) { return false; }  // the angle at the start is 0
  static void begin(State& state, const Spin&, const Start&) { state = {}; }

  static void absorb(State& state, const Spin& spin, OwnTime time, const Start&, const Spin&) {
    state.half_phase = reduced_product(0.5 * rate(spin), time.whole, time.rest, state.half_phase, period_of(360.0));
  }

  static void fill(Block& block, int lane, const Spin& spin, const State& state) {
    store(block.axis, lane, direction(spin));
    block.half_speed.at[lane] = 0.5 * rate(spin);
    block.half_phase.at[lane] = state.half_phase;
  }

  static void evaluate(const Block& block, unsigned variant, PoseBlock& poses, const EvalContext& context) {
    switch (static_cast<Space>(variant)) {
      case Space::parent: return in_lanes<turn_in_parents_axes>(block, poses.rotation, context);
      case Space::world: return in_lanes<turn_in_worlds_axes>(block, poses.rotation, context);
      default: return in_lanes<turn_in_own_axes>(block, poses.rotation, context);
    }
  }

  static std::optional<Diagnostic> check(const Spin&, const Pose*) { return std::nullopt; }

 private:
  static double rate(const Spin& spin) {
    return spin.velocity ? std::sqrt(squared_length(numbers(*spin.velocity))) : spin.speed.in_degrees();
  }

  static VecOf<double> direction(const Spin& spin) {
    const Vec3 axis = spin.velocity ? *spin.velocity : spin.axis;
    return axis.isZero(0.0) ? numbers(axis::up)
                            : unit_of(numbers(axis));  // without an axis it does not turn: any axis will do
  }
};

}  // namespace

template <>
const detail::Kind& detail::kind_of<Spin>() {
  static const KernelKind<SpinKernel> kind;
  return kind;
}

}  // namespace hushed
