// SPDX-License-Identifier: MIT
#include <hushed/behaviour/spring.hpp>

#include <algorithm>
#include <cmath>
#include <memory>
#include <tuple>

#include <hushed/detail/constants.hpp>
#include <hushed/detail/table_reader.hpp>
#include <hushed/error.hpp>
#include <hushed/pose_parts.hpp>

#include "lanes/clock.hpp"
#include "lanes/conversions.hpp"
#include "lanes/damped_spring.hpp"
#include "lanes/exponential_smoothing.hpp"
#include "lanes/facing.hpp"
#include "lanes/kernel_kind.hpp"
#include "lanes/loop.hpp"
#include "lanes/places.hpp"
#include "lanes/pose_blocks.hpp"

namespace hushed {

std::optional<Diagnostic> SpringTarget::check() const {
  if (auto diagnostic = place.check()) return diagnostic;
  return PoseParts{.rotation = rotation}.check();
}

std::optional<Diagnostic> read(const Value& from, const Unit& unit, SpringTarget& to) {
  const auto* keys = from.as<Value::Table>();
  const auto is_turn = [](const Value::Entry& entry) {
    return entry.key == "rotation" || entry.key == "axis_angle" || entry.key == "quaternion";
  };
  if (keys && std::any_of(keys->begin(), keys->end(), is_turn)) {
    PoseParts parts;
    if (auto diagnostic = read(from, unit, parts)) return diagnostic;
    if (parts.position || parts.scale) return detail::expected(from, "a pose that has only a rotation");
    to = *parts.rotation;
    return std::nullopt;
  }
  Place place;
  if (auto diagnostic = read(from, unit, place)) {
    const bool is_other = !from.as<Value::List>() && !from.as<std::string>() && !keys;
    return is_other ? detail::expected(from, form_of(static_cast<const SpringTarget*>(nullptr), unit).description)
                    : diagnostic;
  }
  to = std::move(place);
  return std::nullopt;
}

std::optional<Value> write(const SpringTarget& from, const Unit& unit) {
  if (!from.is_given) return std::nullopt;
  if (from.rotation) return write(PoseParts{.rotation = from.rotation}, unit);
  return write(from.place, unit);
}

Form form_of(const SpringTarget*, const Unit& unit) {
  return form::any_of({form_of(static_cast<const Place*>(nullptr), unit), detail::form_of_parts()},
                      "three numbers, the name of an object, or a rotation as in a rest pose");
}

namespace {

using namespace detail;

Quat rotation_of(const SpringTarget& target) {
  const Vec3& angles = target.place.point;
  return target.rotation ? *target.rotation : rotation(degrees(angles.x()), degrees(angles.y()), degrees(angles.z()));
}

Vec3 velocity_of(const Spring& spring, const Vec3& given) {
  return spring.channel == Channel::rotation ? vector(numbers(given) * radians_per_degree) : given;
}

/// The frame of the spring's space.
Pose frame_of(const Spring& spring, const Pose& parent) { return spring.space == Space::world ? Pose{} : parent; }

struct SpringState {
  PoseMemory memory;
  Vec3 velocity = Vec3::Zero();  ///< m/s, rad/s or 1/s
  std::uint32_t behaviour = 0;
};

/// The numbers that a tick needs, in contiguous rows. A goal is that of the last advance of the state.
struct SpringBlock {
  Advanced advanced;
  Row x[3], velocity[3], goal[3];  ///< position or scale, depending on the channel
  DampedSpring damping;
  Row turn[4], goal_turn[4];              ///< rotation
  std::unique_ptr<MovingPlaces> targets;  ///< nullptr in the variants whose target is no object
};

/// The goal of a spring to an object, in the spring's space.
Pose goal_in(const Spring& spring, const Pose& parent, const SceneQuery& query, std::uint32_t behaviour) {
  const Place& place = spring.target.place;
  const Pose frame = frame_of(spring, parent);
  const Pose goal_now = into(frame, query.world_of(place.target.object, behaviour));
  return goal_now.with_position(where_is(place, frame, query, behaviour));
}

struct SpringKernel {
  using Values = Spring;

  static constexpr auto summary = "pulls the object to a target, or to the incoming pose, with a damped spring";
  static constexpr auto example = R"(
[[object.hook.behaviour]]
kind      = "spring"
frequency = 0.7              # Hz
damping   = 0.2              # 1 would not swing at all
space     = "world"          # swings when its parent moves
)";
  static constexpr auto fields =
      std::tuple{field("channel", &Spring::channel, unit::none, "the part of the pose that springs"),
                 field("frequency", &Spring::frequency, unit::frequency, "undamped frequency", slider(0, 8)),
                 field("damping", &Spring::damping, unit::ratio,
                       "damping ratio: 0 oscillates for ever, 1 is critical (no overshoot)", slider(0, 2)),
                 field("target", &Spring::target, unit::none, "the goal; default: the incoming pose"),
                 field("velocity", &Spring::velocity, unit::of_channel_per_second, "initial velocity"),
                 field("space", &Spring::space, unit::none,
                       "parent: it moves along with its parent; world: it reacts to the parent's motion",
                       allowed(Space::parent, Space::world))};
  using State = SpringState;
  using Block = SpringBlock;

  using ChannelField = VariantField<Channel, 0, 2>;
  using InWorld = VariantField<bool, 2, 1>;
  using HasTarget = VariantField<bool, 3, 1>;
  using TargetMoves = VariantField<bool, 4, 1>;

  static void prepare(State& state, const Spring&, const Owner& owner) { state.behaviour = owner.behaviour; }

  /// The variant: the channel, the space, whether a target is given, and whether it is an object.
  static unsigned variant(const Spring& spring, const State&) {
    return ChannelField::put(spring.channel) | InWorld::put(spring.space == Space::world) |
           HasTarget::put(spring.target.is_given) | TargetMoves::put(spring.target.place.moves());
  }
  static void archive(Archive& archive, State& state, const Spring&) { archive(state.memory, state.velocity); }
  static unsigned touches(unsigned variant) { return 1U << static_cast<unsigned>(ChannelField::of(variant)); }

  static unsigned overwrites(unsigned variant) {
    return HasTarget::of(variant) && !InWorld::of(variant) ? touches(variant) : 0U;
  }

  static void begin(State& state, const Spring& spring, const Start& start) {
    const Pose in = spring.space == Space::world ? compose(start.moment.parent, start.in) : start.in;
    state.memory = {in, goal_of(state, spring, in, start.moment), start.moment.time};
    state.velocity = velocity_of(spring, spring.velocity);
  }

  /// Another space keeps the present state, converted; another channel begins anew from the output.
  static void absorb(State& state, const Spring& spring, OwnTime, const Start& now, const Spring& next) {
    const Pose& parent = now.moment.parent;
    if (spring.channel != next.channel) {
      state.memory.pose = next.space == Space::world ? compose(parent, now.was) : now.was;
      state.velocity = Vec3::Zero();
    } else if (spring.space != next.space) {
      const bool leaves = next.space == Space::world;
      const Pose there = only(1U << static_cast<unsigned>(spring.channel), state.memory.pose,
                              spring.space == Space::world ? compose(parent, now.in) : now.in);
      const auto brought = [&](const Pose& pose) { return leaves ? compose(parent, pose) : into(parent, pose); };
      // The velocity is converted as the difference of two positions, so that it is rotated and scaled.
      Pose there_and_on = there;
      if (spring.channel == Channel::position) there_and_on.position += state.velocity;
      if (spring.channel == Channel::scale) there_and_on.scale += state.velocity;
      const Pose here = brought(there), here_and_on = brought(there_and_on);
      if (spring.channel == Channel::position) state.velocity = here_and_on.position - here.position;
      if (spring.channel == Channel::scale) state.velocity = here_and_on.scale - here.scale;
      if (spring.channel == Channel::rotation) {
        const QuatOf<double> turn = numbers(parent.rotation);
        state.velocity = vector(rotate(leaves ? turn : inverse(turn), numbers(state.velocity)));
      }
      state.memory.pose = here;
    }
  }

  static void kick(State& state, const Spring& spring, const Vec3& by) { state.velocity += velocity_of(spring, by); }

  static void fill(Block& block, int lane, const Spring& spring, const State& state) {
    const Place& place = spring.target.place;
    const bool stays = spring.target.is_given && !place.moves();
    const Pose& goal = state.memory.goal;
    const bool moves = spring.channel == Channel::position;
    block.advanced.set(lane, state.memory.until);
    store(block.x, lane, numbers(moves ? state.memory.pose.position : state.memory.pose.scale));
    store(block.turn, lane, numbers(state.memory.pose.rotation));
    store(block.velocity, lane, numbers(state.velocity));
    store(block.goal, lane, numbers(stays ? place.point : moves ? goal.position : goal.scale));
    const bool turns = spring.channel == Channel::rotation;
    store(block.goal_turn, lane, numbers(stays && turns ? rotation_of(spring.target) : goal.rotation));
    block.damping.set(lane, spring.frequency, spring.damping);
    if (!place.moves()) return;
    if (!block.targets) block.targets = std::make_unique<MovingPlaces>();
    block.targets->set(lane, place, state.behaviour);
  }
  static void collect(const Block& block, int lane, State& state) {
    PoseMemory& memory = state.memory;
    memory.until = block.advanced.of(lane);
    for (const auto& [pose, line, turn] :
         {std::tuple{&memory.pose, &block.x, &block.turn}, {&memory.goal, &block.goal, &block.goal_turn}}) {
      const Vec3 three = vector(load<double>(*line, lane));
      *pose = {three, vector(load<double>(*turn, lane)), three};  // of which only the channel is used
    }
    state.velocity = vector(load<double>(block.velocity, lane));
  }

  static void evaluate(Block& block, unsigned variant, PoseBlock& poses, const EvalContext& context) {
    if (!advance_many(block, variant, 1, poses, context)) swing_or_turn(block, variant, poses, context);
  }

  /// The commonest case: eight positions whose goals do not move, by a tick as long as the last.
  static bool advance_many(Block& block, unsigned variant, int ticks, PoseBlock& poses, const EvalContext& context) {
    if (variant != (ChannelField::put(Channel::position) | HasTarget::put(true))) return false;
    const auto step = block.advanced.common_step(context, ticks);
    const DampedSpring::Factors* factors = step > 0.0 ? block.damping.valid_for(*step) : nullptr;
    if (!factors) return false;
    vibrate_about(*factors, ticks, block.goal, block.x, block.velocity, poses.position);
    if (context.may_rest) {
      rest(block.damping.omega(), block.goal, block.goal, block.x, block.velocity);
      copy(block.x, poses.position);
    }
    block.advanced.to(context);
    return true;
  }

  static std::optional<Diagnostic> check(const Spring& spring, const Pose*) {
    if (spring.channel != Channel::rotation && spring.target.rotation)
      return about("target",
                   "a rotation is allowed with channel = \"rotation\" only; give three numbers or an object.");
    const bool has_offset = spring.target.place.moves() && !spring.target.place.point.isZero(0.0);
    if (spring.channel != Channel::position && has_offset)
      return about("target", "an offset is allowed with channel = \"position\" only; give the object alone.");
    return std::nullopt;
  }

 private:
  /// The general case: any channel, goal and step.
  [[gnu::noinline]] static void swing_or_turn(Block& block, unsigned variant, PoseBlock& poses,
                                              const EvalContext& context) {
    const Steps steps = block.advanced.steps(context);
    const bool is_outside = InWorld::of(variant);
    PoseBlock in;
    if (is_outside) {
      in = poses;
      into_world(*context.parent, poses);
    }
    switch (ChannelField::of(variant)) {
      case Channel::position: swing(block, variant, steps, poses.position, context); break;
      case Channel::rotation: turn(block, variant, steps, poses.rotation, context); break;
      case Channel::scale: swing(block, variant, steps, poses.scale, context); break;
    }
    if (context.remember != Remember::nothing) block.advanced.to(context);
    if (!is_outside) return;
    out_of_world(*context.parent, poses);
    restore_other_parts(touches(variant), in, poses);
  }

  /// The goals of springs to objects: the part of the channel.
  static void find_goals(MovingPlaces& targets, unsigned variant, const EvalContext& context, PoseBlock& to) {
    static const PoseBlock world = [] {
      PoseBlock origin;
      for (int lane = 0; lane < lanes; ++lane) set_lane(origin, lane, Pose{});
      return origin;
    }();
    const PoseBlock& frame = InWorld::of(variant) ? world : *context.parent;
    if (ChannelField::of(variant) == Channel::position) return targets.gather(context, frame, to.position);
    targets.objects().gather(context, to);
    out_of_world(frame, to);
  }

  static bool has_fixed_goal(unsigned variant) { return HasTarget::of(variant) && !TargetMoves::of(variant); }

  /// Position or scale.
  static void swing(Block& block, unsigned variant, const Steps& steps, Row (&to)[3], const EvalContext& context) {
    DampedSpring::Factors passing;
    const auto& factors = block.damping.factors(steps, context, passing);
    Row goal_now[3];
    const bool stays = has_fixed_goal(variant);
    if (TargetMoves::of(variant)) {
      PoseBlock goals{};
      find_goals(*block.targets, variant, context, goals);
      copy(ChannelField::of(variant) == Channel::position ? goals.position : goals.scale, goal_now);
    } else if (!stays) {
      copy(to, goal_now);
    }
    const auto& goal = stays ? block.goal : goal_now;
    Row velocity[3];
    copy(block.x, to);
    copy(block.velocity, velocity);
    stays ? vibrate_about(factors, 1, goal, to, velocity, to) : vibrate(factors, block.goal, goal, to, velocity);
    stay(steps, block.x, to);
    stay(steps, block.velocity, velocity);
    if (context.remember == Remember::nothing) return;
    if (context.may_rest) rest(block.damping.omega(), block.goal, goal, to, velocity);
    store_active(context, to, block.x);
    store_active(context, velocity, block.velocity);
    if (!stays) store_active(context, goal_now, block.goal);
  }

  static void turn(Block& block, unsigned variant, const Steps& steps, Row (&to)[4], const EvalContext& context) {
    DampedSpring::Factors passing;
    const auto& factors = block.damping.factors(steps, context, passing);
    Row velocity[3], goal[4];
    const Row none[3] = {};
    copy(has_fixed_goal(variant) ? block.goal_turn : to, goal);
    if (TargetMoves::of(variant)) {
      PoseBlock goals{};
      find_goals(*block.targets, variant, context, goals);
      copy(goals.rotation, goal);
    }
    TurnsLeft turns;
    turns_from_goal(block.turn, block.goal_turn, goal, turns);
    copy(block.velocity, velocity);
    vibrate(factors, turns.moved, none, turns.away, velocity);
    stay(steps, block.velocity, velocity);
    if (context.may_rest) rest(block.damping.omega(), turns.moved, none, turns.away, velocity);
    turn_from_goal(steps.row(), block.turn, goal, turns.away, to);
    if (context.remember == Remember::nothing) return;
    store_active(context, to, block.turn);
    store_active(context, velocity, block.velocity);
    store_active(context, goal, block.goal_turn);
  }

  static Pose goal_of(const State& state, const Spring& spring, const Pose& in, const Moment& context) {
    if (!spring.target.is_given) return in;
    const Place& place = spring.target.place;
    if (place.moves()) return goal_in(spring, context.parent, *context.query, state.behaviour);
    return {place.point, rotation_of(spring.target), place.point};
  }

  template <std::size_t count>
  static void copy(const Row (&from)[count], Row (&to)[count]) {
    for (std::size_t i = 0; i < count; ++i) to[i] = from[i];
  }
};

/// The remaining difference `time` seconds after a jump of 1.
double left_after(const Spring& spring, double time) {
  const double t = two_pi * spring.frequency * time;
  return 1.0 - t * t * damped_spring_factors(t, spring.damping * t).m;
}

/// In s; see `settling_time`. `for_ever` where it never settles.
double settles_after(const Spring& spring, double within) {
  const double omega = two_pi * spring.frequency, z = spring.damping;
  if (!(within > 0.0) || !(omega > 0.0) || !(z > 0.0)) return within >= 1.0 ? 0.0 : for_ever;
  if (within >= 1.0 && z >= 1.0) return 0.0;
  // Between these two times it enters for the last time, and its velocity does not change sign.
  double low = 0.0, high = 0.0, sign = 1.0;
  if (z < 1.0) {
    const double half_swing = 0.5 * two_pi / (omega * std::sqrt((1.0 - z) * (1.0 + z)));
    const double turns = std::ceil(std::max(-std::log(within) / (z * omega * half_swing), 1.0));
    low = (turns - 1.0) * half_swing;
    high = turns * half_swing;
    sign = std::fmod(turns, 2.0) == 1.0 ? 1.0 : -1.0;
  } else {
    for (high = 1.0 / omega; left_after(spring, high) > within && high < 1e9; high *= 2.0) low = high;
  }
  for (int i = 0; i < 100; ++i) {
    const double middle = 0.5 * (low + high);
    (sign * left_after(spring, middle) > within ? low : high) = middle;
  }
  return high;
}

}  // namespace

double overshoot(const Spring& spring) {
  const double z = spring.damping;
  return z < 1.0 && spring.frequency > 0.0 ? std::exp(-0.5 * two_pi * z / std::sqrt((1.0 - z) * (1.0 + z))) : 0.0;
}

Time settling_time(const Spring& spring, double within) { return seconds(settles_after(spring, within)); }

Spring spring_for(double overshoot, Time settling, double within) {
  if (!(overshoot >= 0.0 && overshoot < 1.0))
    throw BadValue{"no spring has the overshoot " + as_text(overshoot) + "; give a share from 0 to below 1."};
  if (settling <= Time{0})
    throw BadValue{"no spring settles in " + as_text(in_seconds(settling)) + " s; give a time above 0."};
  if (!(within > 0.0 && within < 1.0))
    throw BadValue{"within is " + as_text(within) + "; give a share between 0 and 1."};
  Spring spring;
  // z = -ln o / sqrt(pi^2 + ln^2 o), from o = exp(-pi z / sqrt(1 - z^2)). Times are inverse to the frequency.
  const double log = std::log(overshoot);
  spring.damping = overshoot > 0.0 ? -log / std::hypot(0.5 * two_pi, log) : 1.0;
  spring.frequency = 1.0;
  spring.frequency = settles_after(spring, within) / in_seconds(settling);
  return spring;
}

Time half_life(const Spring& spring) {
  const double omega = two_pi * spring.frequency, z = spring.damping;
  const double rate = z <= 1.0 ? z * omega : omega / (z + std::sqrt((z - 1.0) * (z + 1.0)));
  return seconds(rate > 0.0 ? std::log(2.0) / rate : for_ever);
}

double frequency_with(Time half_life, double damping) {
  if (!(half_life > Time{0}) || !(damping > 0.0))
    throw BadValue{"no spring has the half-life " + as_text(in_seconds(half_life)) + " s and the damping " +
                   as_text(damping) + "; give numbers above 0."};
  const double rate = std::log(2.0) / in_seconds(half_life);
  const double share = damping <= 1.0 ? damping : 1.0 / (damping + std::sqrt((damping - 1.0) * (damping + 1.0)));
  return rate / (share * two_pi);
}

template <>
const detail::Kind& detail::kind_of<Spring>() {
  static const KernelKind<SpringKernel> kind;
  return kind;
}

}  // namespace hushed
