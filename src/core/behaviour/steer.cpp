// SPDX-License-Identifier: MIT
#include <hushed/behaviour/steer.hpp>

#include <algorithm>
#include <memory>

#include "archived_time.hpp"
#include "behaviour/agent.hpp"
#include "lanes/conversions.hpp"
#include "lanes/facing.hpp"
#include "lanes/kernel_kind.hpp"
#include "lanes/loop.hpp"
#include "lanes/memory.hpp"

namespace hushed {

namespace {

using namespace detail;

struct SteerState {
  AgentState agent;
  double tick_rate = 0.0;
  std::shared_ptr<const SteeringParams> params;
  std::vector<TrackedTarget> tracked_targets;  ///< one for each urge that pursues or evades, in their order

  Vec3 place = Vec3::Zero(), velocity = Vec3::Zero();
  Vec3 wanted = Vec3::Zero();  ///< m/s, from the last tick to the next
  Quat facing = Quat::Identity();
  Time until = {};  ///< the time to which it was last advanced
};

struct SteerBlock {
  Row place[3], velocity[3], wanted[3], facing[4];
  Row max_speed, max_acceleration;
  Row turning;  ///< rad/s: the greatest rate of turning
  Advanced advanced;
  AgentState agents[lanes];
  TrackedTarget* tracked_targets[lanes];
};

void step_on(const SteerBlock& block, const Row& step, Row (&velocity)[3], Row (&place)[3]) {
  for_each_lane([&](int lane) {
    const auto v = load<Real>(block.velocity, lane), wanted = load<Real>(block.wanted, lane);
    const Real dt = load<Real>(step, lane);
    const auto change = wanted - v;
    const Real length = square_root(squared_length(change)), most = load<Real>(block.max_acceleration, lane) * dt;
    const auto is_far = length > most;
    const auto near = v + change * (most / select(is_far, length, Real{1.0}));
    VecOf<Real> next{select(is_far, near.x, wanted.x), select(is_far, near.y, wanted.y),
                     select(is_far, near.z, wanted.z)};
    const Real speed = square_root(squared_length(next)), fastest = load<Real>(block.max_speed, lane);
    const auto is_fast = speed > fastest;
    next = next * select(is_fast, fastest / select(is_fast, speed, Real{1.0}), Real{1.0});
    store(velocity, lane, next);
    store(place, lane, load<Real>(block.place, lane) + next * dt);
  });
}

/// Between two ticks it is on the straight line from one position to the other: it moves at the velocity that it has at
/// the second tick. So no frame between them shows it inside an obstacle.
void go_straight(const SteerBlock& block, const Row& step, const EvalContext& context, Row (&place)[3]) {
  Row to_next_tick, velocity[3];
  for (int lane = 0; lane < lanes; ++lane) to_next_tick.at[lane] = step.at[lane] + context.to_next_tick;
  in_lanes<step_on>(block, to_next_tick, velocity, place);
  for (int lane = 0; lane < lanes; ++lane)
    store(place, lane, load<double>(block.place, lane) + load<double>(velocity, lane) * step.at[lane]);
}

/// Turns toward the direction of motion, no faster than `turning`, so that an agent that reverses its velocity at low
/// speed does not flip.
void face_travel(const SteerBlock& block, const Row& step, const Row (&velocity)[3], Row (&to)[4]) {
  for_each_lane([&](int lane) {
    const auto v = load<Real>(velocity, lane);
    const auto from = load<Real>(block.facing, lane);
    const auto found = facing(v, VecOf<Real>{0.0, 1.0, 0.0});
    const Real is_good = select(squared_length(v) > 1e-12, found.is_good, Real{0.0});
    const auto way = rotation_vector_of(found.rotation * inverse(from));
    const Real angle = square_root(squared_length(way));
    const Real most = load<Real>(block.turning, lane) * load<Real>(step, lane);
    const Real is_long = select(angle > most, Real{1.0}, Real{0.0});
    const auto part = near_unit(rotation_by(way * (most / select(angle > most, angle, Real{1.0}))) * from);
    store(to, lane, choose(is_good, choose(is_long, part, found.rotation), from));
  });
}

struct SteerKernel {
  using Values = Steer;

  static constexpr auto summary = "makes the object an agent that steers by a list of urges";
  static constexpr auto example = R"(
[object.gull]
tags = ["gull"]

[[object.gull.behaviour]]
kind      = "steer"
max_speed = 6                # metres per second
urges = [
  { urge = "wander" },
  { urge = "separation", tag = "gull", within = 2, weight = 2 },
  { urge = "alignment", tag = "gull" },
  { urge = "cohesion", tag = "gull" },
  { urge = "flee", target = "ferry", within = 8, weight = 5 },
  { urge = "contain", box = [[-30, 2, -30], [30, 15, 30]] },
]
)";
  static constexpr auto fields =
      std::tuple{field("urges", &Steer::urges, unit::none, "the urges and their weights", required),
                 field("max_speed", &Steer::max_speed, unit::speed, "largest speed", slider(0, 20)),
                 field("max_acceleration", &Steer::max_acceleration, unit::acceleration,
                       "largest change of velocity per second", slider(0, 40)),
                 field("face", &Steer::face, unit::none,
                       "\"travel\": +Z points in the direction of travel, +Y as close to up as possible"),
                 field("planar", &Steer::planar, unit::none, "the agent moves in a horizontal plane")};
  using State = SteerState;
  using Block = SteerBlock;

  static constexpr bool needs_every_tick = true;
  static constexpr bool reports_each_lost = true;
  static constexpr unsigned faces = 1;

  static bool needs_all_dependencies(const Steer&) { return false; }
  static void prepare(State& state, const Steer& steer, const Owner& owner) {
    state.tick_rate = owner.tick_rate;
    state.agent.number = owner.number;
    state.agent.behaviour = owner.behaviour;
    state.agent.object = owner.object.index;
    take(state, steer);
  }
  static unsigned variant(const Steer& steer, const State&) { return steer.face == SteerFacing::travel ? faces : 0U; }
  static void archive(Archive& archive, State& state, const Steer&) {
    archive(state.agent.wander_point.x, state.agent.wander_point.y, state.agent.wander_point.z, state.agent.decided);
    archive(state.tracked_targets, state.place, state.velocity, state.wanted, state.facing);
    archive_times(archive, state.until);
  }
  static unsigned touches(unsigned variant) {
    return variant == faces ? part::position | part::rotation : unsigned{part::position};
  }

  static std::vector<NeighbourQuery> neighbour_queries(const Steer& steer) {
    return neighbour_queries_of(steer.urges, steer.planar);
  }

  static void begin(State& state, const Steer& steer, const Start& start) {
    state.velocity = state.wanted = Vec3::Zero();
    state.agent.decided = AgentState::never;
    std::fill(state.tracked_targets.begin(), state.tracked_targets.end(), TrackedTarget{});
    state.place = start.in.position;
    state.facing = start.in.rotation;
    state.until = start.moment.time;
    start_wander(state.agent, start.in.rotation);
    // At the start no neighbour is known, whether or not it was at the last tick. All agents decide once the first
    // poses are evaluated.
    if (start.moment.time == Time{}) return;
    const AgentMotion body{
        numbers(state.place), {0.0, 0.0, 0.0}, numbers(state.facing), steer.max_speed, steer.max_acceleration};
    state.wanted = vector(detail::decide(body, state.agent, state.tracked_targets.data(),
                                         {start.moment.parent, start.moment.time, *start.moment.query, false}));
  }
  static void absorb(State& state, const Steer& steer, OwnTime, const Start& now, const Steer& next) {
    if (!track_same_targets(steer.urges, next.urges)) state.tracked_targets.clear();
    take(state, next);
    if (next.face == SteerFacing::travel) state.facing = now.in.rotation;
  }
  static void kick(State& state, const Steer&, const Vec3& by) { state.velocity += by; }

  static void fill(Block& block, int lane, const Steer& steer, State& state) {
    take(state, steer);
    store(block.place, lane, numbers(state.place));
    store(block.velocity, lane, numbers(state.velocity));
    store(block.wanted, lane, numbers(state.wanted));
    store(block.facing, lane, numbers(state.facing));
    block.max_speed.at[lane] = steer.max_speed;
    block.max_acceleration.at[lane] = steer.max_acceleration;
    block.turning.at[lane] = turning(steer);
    block.advanced.set(lane, state.until);
    block.agents[lane] = state.agent;
    block.tracked_targets[lane] = state.tracked_targets.data();
  }
  static void collect(const Block& block, int lane, State& state) {
    state.place = vector(load<double>(block.place, lane));
    state.velocity = vector(load<double>(block.velocity, lane));
    state.wanted = vector(load<double>(block.wanted, lane));
    state.facing = vector(load<double>(block.facing, lane));
    state.until = block.advanced.of(lane);
    state.agent = block.agents[lane];
  }

  static void evaluate(Block& block, unsigned variant, PoseBlock& poses, const EvalContext& context) {
    const Steps steps = block.advanced.steps(context);
    Row velocity[3];
    const Row step = steps.row();
    in_lanes<step_on>(block, step, velocity, poses.position);
    if (context.remember != Remember::tick) go_straight(block, step, context, poses.position);
    stay(steps, block.velocity, velocity);
    if (variant == faces) {
      in_lanes<face_travel>(block, step, velocity, poses.rotation);
      stay(steps, block.facing, poses.rotation);
    }
    if (context.remember == Remember::nothing) return;
    if (context.remember != Remember::standing_still) {
      store_active(context, velocity, block.velocity);
      store_active(context, poses.position, block.place);
      if (variant == faces) store_active(context, poses.rotation, block.facing);
    }
    block.advanced.to(context);
  }

  static void decide(Block& block, const EvalContext& context) {
    for (int lane = 0; lane < lanes; ++lane) {
      if (!context.is_active(lane)) continue;
      const Pose parent = parent_of(lane, context);
      store(block.wanted, lane,
            detail::decide(body(block, lane), block.agents[lane], block.tracked_targets[lane],
                           {parent, context.time, *context.query}));
    }
  }
  static std::vector<UrgeShare> urges(const Block& block, int lane, const EvalContext& context) {
    const Pose parent = parent_of(lane, context);
    return shares(body(block, lane), block.agents[lane], block.tracked_targets[lane],
                  {parent, context.time, *context.query});
  }

  static std::optional<Diagnostic> check(const Steer& steer, const Pose*) {
    constexpr std::size_t most = 32;
    if (steer.urges.empty())
      return about("urges", "the list is empty; give at least one urge, such as { urge = \"wander\" }.");
    if (steer.urges.size() > most)
      return about("urges", "found " + std::to_string(steer.urges.size()) + "; give at most 32.");
    int wanders = 0;
    for (const Urge& urge : steer.urges) {
      if (urge.as<urge::Wander>() && ++wanders > 1) return about("urges", "found two urges \"wander\"; remove one.");
      if (const auto* path = urge.as<urge::Path>(); path && path->points.empty())
        return about("urges", "path: points: the list is empty; give at least one point.");
      if (const auto* contain = urge.as<urge::Contain>())
        if ((contain->box.min.array() > contain->box.max.array()).any())
          return about("urges", "contain: box: a lower bound is above the upper one; give the lower corner first.");
    }
    return std::nullopt;
  }

 private:
  static AgentMotion body(const Block& block, int lane) {
    return {load<double>(block.place, lane), load<double>(block.velocity, lane), load<double>(block.facing, lane),
            block.max_speed.at[lane], block.max_acceleration.at[lane]};
  }
  static Pose parent_of(int lane, const EvalContext& context) {
    return context.in_world ? Pose{} : lane_of(*context.parent, lane);
  }
  /// The rate at which its direction of motion can turn at a quarter of the maximum speed: a / (s / 4).
  static double turning(const Steer& steer) {
    return steer.max_acceleration > 0.0 && steer.max_speed > 0.0
               ? smaller(4.0 * steer.max_acceleration / steer.max_speed, 1e6)
               : 1e6;
  }
  static void take(State& state, const Steer& steer) {
    if (!state.params || !state.params->are(steer, state.tick_rate))
      state.params = shared_params(steer, state.tick_rate);
    state.agent.params = state.params.get();
    state.tracked_targets.resize(state.params->tracked_count);
  }
};

}  // namespace

template <>
const detail::Kind& detail::kind_of<Steer>() {
  static const KernelKind<SteerKernel> kind;
  return kind;
}

}  // namespace hushed
