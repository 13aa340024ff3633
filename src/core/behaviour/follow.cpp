// SPDX-License-Identifier: MIT
#include <hushed/behaviour/follow.hpp>

#include <algorithm>
#include <memory>

#include "lanes/clock.hpp"
#include "lanes/conversions.hpp"
#include "lanes/exponential_smoothing.hpp"
#include "lanes/kernel_kind.hpp"
#include "lanes/loop.hpp"
#include "lanes/places.hpp"
#include "lanes/trail.hpp"

namespace hushed {

namespace {

using namespace detail;

struct FollowState {
  PoseMemory memory;  ///< its goal is that before the distance band is applied
  Vec3 offset = Vec3::Zero();
  Trail trail;
  Owner owner = {};
};

/// The numbers of all followers but those that follow with their position alone, at an offset in the world.
struct WholeFollow {
  PoseMemories memory;
  ExponentialSmoothing turning;  ///< of rotation and scale
  Row min_distance, max_distance;
  Row with_target;  ///< 1 where the offset turns with the target
  const Follow* follow[lanes];
  FollowState* state[lanes];
};

struct FollowBlock {
  PositionMemories position;    ///< not used with `whole`
  ExponentialSmoothing moving;  ///< of the position, whose speed may be limited
  Row max_speed, offset[3];
  TargetLanes target;
  std::unique_ptr<WholeFollow> whole;  ///< nullptr in the variant that needs positions only
};

unsigned parts_of(const Follow& follow) {
  unsigned parts = 0;
  for (const Channel channel : follow.channels) parts |= 1U << static_cast<unsigned>(channel);
  return parts;
}

bool has_band(const Follow& follow) { return follow.min_distance || follow.max_distance; }
bool is_at_once(const Follow& follow) { return follow.half_life == Time{} && !follow.max_speed; }

double min_distance_of(const Follow& follow) { return follow.min_distance.value_or(0.0); }
double max_distance_of(const Follow& follow) { return follow.max_distance.value_or(for_ever); }

/// The world pose of the target: the present one, or an earlier one for a trail.
Pose leader(const Follow& follow, const FollowState& state, const SceneQuery& query, Time now) {
  const Pose present = query.world_of(follow.target.object, state.owner.behaviour);
  return follow.trail > Time{} ? state.trail.at(now, present) : present;
}

/// The pose of the leader plus the offset, in the space of `frame`. `with_target` is 1 where the offset turns with the
/// leader, otherwise 0.
template <class R>
PoseOf<R> goal_behind(PoseOf<R> leader, const VecOf<R>& offset, R with_target, const PoseOf<R>& frame) {
  const VecOf<R> turned = rotate(leader.rotation, offset);
  leader.position = leader.position + (turned * with_target + offset * (1.0 - with_target));
  return brought_into(frame, leader);
}

/// The goal of one follower before its dead zone.
Pose goal_behind(const Follow& follow, const FollowState& state, const Pose& leader, const Pose& frame) {
  const double with_target = follow.offset_space == Space::target ? 1.0 : 0.0;
  return vector(goal_behind(numbers(leader), numbers(state.offset), with_target, numbers(frame)));
}

/// Moves the goal of a dead zone only as far as the target leaves the zone.
Vec3 held(const Vec3& before, const Vec3& goal, double deadzone) {
  if (deadzone == 0.0) return goal;
  const VecOf<double> way = numbers(goal) - numbers(before);
  const double length = square_root(squared_length(way));
  // A rounding error must not move a goal again that was moved to the edge.
  const double hair = 1e-15 * (1.0 + square_root(squared_length(numbers(goal))));
  if (length <= deadzone + hair) return before;
  return vector(numbers(goal) - way * (deadzone / length));
}

/// The goals of followers without a trail or a dead zone.
void goals_behind(const FollowBlock& block, const PoseBlock& leaders, const PoseBlock& frame, PoseBlock& goals) {
  for_each_lane([&](int lane) {
    store(goals, lane,
          goal_behind(load<Real>(leaders, lane), load<Real>(block.offset, lane),
                      load<Real>(block.whole->with_target, lane), load<Real>(frame, lane)));
  });
}

/// The goals of followers with a parent that follow with their position alone, at an offset in the world.
void places_behind(const FollowBlock& block, const PoseBlock& frame, Row (&places)[3]) {
  for_each_lane([&](int lane) {
    store(places, lane,
          brought_into(load<Real>(frame, lane), load<Real>(places, lane) + load<Real>(block.offset, lane)));
  });
}

/// One step of followers without a parent that follow with their position alone, at an offset in the world. `place` is
/// the position of the target at the beginning and the next position at the end. That is also written to `position`,
/// and its goal to `goal`, which may be those of the block.
void step_after(const FollowBlock& block, const ExponentialSmoothing::Factors& factors, Row (&place)[3],
                Row (&position)[3], Row (&goal)[3]) {
  for_each_lane([&](int lane) {
    const auto now = load<Real>(place, lane) + load<Real>(block.offset, lane);
    const auto next = smoothed(load<Real>(block.position.pose, lane), load<Real>(block.position.goal, lane), now,
                               load<Real>(factors.remaining, lane), load<Real>(factors.lag, lane));
    store(goal, lane, now);
    store(position, lane, next);
    store(place, lane, next);
  });
}

/// The goals of followers without a parent that follow with their position alone, at an offset in the world.
void places_behind_in_world(const FollowBlock& block, Row (&places)[3]) {
  for_each_lane([&](int lane) { store(places, lane, load<Real>(places, lane) + load<Real>(block.offset, lane)); });
}

void find_goals(FollowBlock& block, const EvalContext& context, PoseBlock& goals) {
  for (int lane = 0; lane < lanes; ++lane) {
    if (!context.is_active(lane)) continue;
    const Follow& follow = *block.whole->follow[lane];
    FollowState& state = *block.whole->state[lane];
    const Pose now = leader(follow, state, *context.query, context.time);
    Pose goal = goal_behind(follow, state, now, lane_of(*context.parent, lane));
    goal.position = held(vector(load<double>(block.whole->memory.goal.position, lane)), goal.position, follow.deadzone);
    set_lane(goals, lane, goal);
    const bool is_marked =
        context.remember == Remember::tick || (context.remember != Remember::nothing && state.trail.is_empty());
    if (follow.trail > Time{} && is_marked)
      state.trail.add(context.time, context.query->world_of(follow.target.object, state.owner.behaviour));
  }
}

/// The point on the line from the goal to the object whose distance is within the band; behind the target, along its
/// -Z, where both coincide.
template <class R>
VecOf<R> banded(const VecOf<R>& here, const VecOf<R>& goal, const QuatOf<R>& target, R min_distance, R max_distance) {
  const VecOf<R> away = here - goal;
  const R distance = square_root(squared_length(away));
  const auto is_clear = distance >= 1e-9;
  const VecOf<R> astern = rotate(target, VecOf<R>{0.0, 0.0, -1.0});
  const R kept = larger(smaller(distance, max_distance), min_distance);
  const R stretched = kept / select(is_clear, distance, R{1.0});
  const auto stays = both_hold(kept == distance, is_clear);  // bit for bit
  const auto place = [&](R at, R centre, R straight, R other) {
    return select(stays, at, centre + select(is_clear, straight * stretched, other * kept));
  };
  return {place(here.x, goal.x, away.x, astern.x), place(here.y, goal.y, away.y, astern.y),
          place(here.z, goal.z, away.z, astern.z)};
}

void clamp_to_band(const FollowBlock& block, const PoseBlock& goals, const Row (&position)[3], Row (&to)[3]) {
  for_each_lane([&](int lane) {
    store(to, lane,
          banded(load<Real>(position, lane), load<Real>(goals.position, lane), load<Real>(goals.rotation, lane),
                 load<Real>(block.whole->min_distance, lane), load<Real>(block.whole->max_distance, lane)));
  });
}

/// Without a step of time or a movement of the goal, an object within the band keeps its position bit for bit.
void stay_in_band(const Steps& steps, const Row (&old_goal)[3], const Row (&goal)[3], const Row (&from)[3],
                  Row (&to)[3]) {
  if (all_move(steps)) return;
  const auto stands = [&](int axis, int lane) { return goal[axis].at[lane] == old_goal[axis].at[lane]; };
  for (int lane = 0; lane < lanes; ++lane)
    if (steps.at(lane) == 0.0 && stands(0, lane) && stands(1, lane) && stands(2, lane))
      for (int axis = 0; axis < 3; ++axis) to[axis].at[lane] = from[axis].at[lane];
}

void shorten(const Row& max_speed, const Row& step, const Row (&from)[3], Row (&to)[3]) {
  for_each_lane([&](int lane) {
    const auto start = load<Real>(from, lane), end = load<Real>(to, lane);
    const auto way = end - start;
    const Real length = square_root(squared_length(way));
    const Real allowed = load<Real>(max_speed, lane) * load<Real>(step, lane);
    const auto is_long = length > allowed;
    const auto shorter = start + way * (allowed / select(is_long, length, Real{1.0}));
    store(to, lane,
          VecOf<Real>{select(is_long, shorter.x, end.x), select(is_long, shorter.y, end.y),
                      select(is_long, shorter.z, end.z)});
  });
}

struct FollowKernel {
  using Values = Follow;

  static constexpr auto summary = "follows another object, optionally smoothed or at a distance";
  static constexpr auto example = R"(
[[object.tug.behaviour]]
kind         = "follow"
target       = "ferry"
min_distance = 6             # metres: keeps between these two from it
max_distance = 10
half_life    = 0.8              # seconds until half of the way is left
)";
  static constexpr auto fields = std::tuple{
      field("target", &Follow::target, unit::none, "the object to follow", required),
      field("offset", &Follow::offset, unit::metres, "position relative to the target; default: as at the start"),
      field("offset_space", &Follow::offset_space, unit::none, "the axes of the offset",
            allowed(Space::world, Space::target)),
      field("channels", &Follow::channels, unit::none, "the parts of the pose that follow"),
      field("half_life", &Follow::half_life, unit::seconds, "time in which the remaining distance halves",
            slider(0, 2)),
      field("max_speed", &Follow::max_speed, unit::speed, "largest speed", slider(0, 20)),
      field("min_distance", &Follow::min_distance, unit::length, "it moves away when the target is closer",
            slider(0, 20)),
      field("max_distance", &Follow::max_distance, unit::length, "it moves closer when the target is further away",
            slider(0, 40)),
      field("trail", &Follow::trail, unit::seconds, "follow the position that the target had this long ago",
            slider(0, 5)),
      field("deadzone", &Follow::deadzone, unit::length, "how far the target can move before it is followed",
            slider(0, 5))};
  using State = FollowState;
  using Block = FollowBlock;

  static constexpr unsigned band = 8, limit = 16, lags = 32, turns = 64;
  /// The commonest variant: positions alone, at an offset in the world.
  static bool needs_positions_only(unsigned variant) { return (variant & ~limit) == part::position; }

  static void prepare(State& state, const Follow& follow, const Owner& owner) {
    state.owner = owner;
    state.trail.reach_back(follow.trail, owner.tick_rate);
  }

  /// The variant: the parts that follow, and whether there is a band, a limited speed, a trail, a dead zone, and an
  /// offset that turns with the target.
  static unsigned variant(const Follow& follow, const State&) {
    return parts_of(follow) | (has_band(follow) ? band : 0U) | (follow.max_speed ? limit : 0U) |
           (follow.trail > Time{} || follow.deadzone > 0.0 ? lags : 0U) |
           (follow.offset_space == Space::target ? turns : 0U);
  }
  static void archive(Archive& archive, State& state, const Follow& values) {
    if (archive.is_reading()) state.trail.reach_back(values.trail, state.owner.tick_rate);
    archive(state.memory, state.offset, state.trail);
  }
  static unsigned touches(unsigned variant) { return variant & part::all; }
  static unsigned overwrites(unsigned variant) { return touches(variant); }

  static void begin(State& state, const Follow& follow, const Start& start) {
    const Moment& now = start.moment;
    const Pose first = now.query->world_of(follow.target.object, state.owner.behaviour);
    state.trail.reach_back(follow.trail, state.owner.tick_rate);
    state.trail.add(now.time, first);
    state.offset = follow.offset      ? *follow.offset
                   : has_band(follow) ? Vec3{Vec3::Zero()}
                                      : offset_now(follow, first, start);
    const Pose goal = goal_behind(follow, state, first, now.parent);
    Pose there = goal;
    if (has_band(follow))
      there.position = vector(banded(numbers(start.in.position), numbers(goal.position), numbers(goal.rotation),
                                     min_distance_of(follow), max_distance_of(follow)));
    const unsigned at_once =
        (is_at_once(follow) ? part::position : 0U) | (follow.half_life == Time{} ? part::rotation | part::scale : 0U);
    state.memory = {only(parts_of(follow) & at_once, there, start.in), goal, now.time};
  }

  static void absorb(State& state, const Follow& follow, OwnTime, const Start& now, const Follow& next) {
    if (!(next.target == follow.target) || next.trail != follow.trail)
      state.trail.reach_back(next.trail, state.owner.tick_rate);
    if (next.offset)
      state.offset = *next.offset;
    else if (has_band(next) && !has_band(follow))
      state.offset = Vec3::Zero();
    state.memory.pose = only(parts_of(follow), state.memory.pose, now.in);
  }

  static void fill(Block& block, int lane, const Follow& follow, State& state) {
    block.moving.set(lane, in_seconds(follow.half_life), is_at_once(follow));
    block.max_speed.at[lane] = follow.max_speed.value_or(for_ever);
    store(block.offset, lane, numbers(state.offset));
    block.target.set(lane, follow.target.object, state.owner.behaviour);
    if (needs_positions_only(variant(follow, state))) return block.position.fill(lane, state.memory);
    if (!block.whole) block.whole = std::make_unique<WholeFollow>();
    WholeFollow& whole = *block.whole;
    whole.memory.fill(lane, state.memory);
    whole.turning.set(lane, in_seconds(follow.half_life));
    whole.min_distance.at[lane] = min_distance_of(follow);
    whole.max_distance.at[lane] = max_distance_of(follow);
    whole.with_target.at[lane] = follow.offset_space == Space::target ? 1.0 : 0.0;
    whole.follow[lane] = &follow;
    whole.state[lane] = &state;
  }
  static void collect(const Block& block, int lane, State& state) {
    block.whole ? block.whole->memory.collect(lane, state.memory) : block.position.collect(lane, state.memory);
  }

  static void evaluate(Block& block, unsigned variant, PoseBlock& poses, const EvalContext& context) {
    if (!needs_positions_only(variant))
      follow_whole(block, variant, poses, context);
    else if (!step_by_a_tick(block, variant, poses.position, context))
      go_after(block, variant, poses.position, context);
  }

  static std::optional<Diagnostic> check(const Follow& follow, const Pose*) {
    if (follow.channels.empty())
      return about("channels", "the list is empty; give one or more of \"position\", \"rotation\" and \"scale\".");
    if (follow.min_distance && follow.max_distance && *follow.min_distance > *follow.max_distance)
      return about("min_distance", as_text(*follow.min_distance) + " is greater than max_distance, " +
                                       as_text(*follow.max_distance) + "; give the smaller one as min_distance.");
    if (follow.trail > std::chrono::minutes{1}) return about("trail", "more than a minute; give 60 s or less.");
    return std::nullopt;
  }

 private:
  /// Any parts of the pose, with a band, a trail or a dead zone.
  [[gnu::noinline]] static void follow_whole(Block& block, unsigned variant, PoseBlock& poses,
                                             const EvalContext& context) {
    WholeFollow& whole = *block.whole;
    const Steps steps = whole.memory.advanced.steps(context);
    PoseBlock goal = whole.memory.goal;
    if ((variant & lags) != 0) {
      find_goals(block, context, goal);
    } else {
      block.target.gather(context, goal);
      in_lanes<goals_behind>(block, goal, *context.parent, goal);
    }
    const PoseBlock& from = whole.memory.pose;
    const PoseBlock& old = whole.memory.goal;
    ExponentialSmoothing::Factors passing;
    if ((variant & part::position) != 0) {
      const auto& factors = block.moving.factors(steps, context, passing);
      if ((variant & band) != 0) {
        Row before[3], after[3];
        in_lanes<clamp_to_band>(block, old, from.position, before);
        in_lanes<clamp_to_band>(block, goal, from.position, after);
        smooth_toward(factors, steps, from.position, before, after, poses.position);
        stay_in_band(steps, old.position, goal.position, from.position, poses.position);
      } else {
        smooth_toward(factors, steps, from.position, old.position, goal.position, poses.position);
      }
      if ((variant & limit) != 0) in_lanes<shorten>(block.max_speed, steps.row(), from.position, poses.position);
    }
    if ((variant & (part::rotation | part::scale)) != 0) {
      const auto& factors = whole.turning.factors(steps, context, passing);
      if ((variant & part::rotation) != 0)
        smooth_toward(factors, steps, from.rotation, old.rotation, goal.rotation, poses.rotation);
      if ((variant & part::scale) != 0) smooth_toward(factors, steps, from.scale, old.scale, goal.scale, poses.scale);
    }
    whole.memory.remember(context, variant, poses, part::all, goal);
  }

  /// The commonest case of positions: all eight by a tick as long as the last, with unlimited speed.
  static bool step_by_a_tick(Block& block, unsigned variant, Row (&to)[3], const EvalContext& context) {
    PositionMemories& memory = block.position;
    if (!context.in_world || (variant & limit) != 0) return false;
    const ExponentialSmoothing::Factors* const factors = memory.factors_of_tick(block.moving, context);
    if (!factors) return false;
    block.target.gather_positions(context, to);
    in_lanes<step_after>(block, *factors, to, memory.pose, memory.goal);
    memory.advanced.to(context);
    return true;
  }

  /// Positions in any case.
  [[gnu::noinline]] static void go_after(Block& block, unsigned variant, Row (&to)[3], const EvalContext& context) {
    const Steps steps = block.position.advanced.steps(context);
    ExponentialSmoothing::Factors passing;
    const auto& factors = block.moving.factors(steps, context, passing);
    const Row(&from)[3] = block.position.pose;
    Row goal[3] = {};
    if (context.in_world && all_move(steps)) {
      Row next[3];
      block.target.gather_positions(context, to);
      in_lanes<step_after>(block, factors, to, next, goal);
    } else {
      block.target.gather_positions(context, goal);
      context.in_world ? in_lanes<places_behind_in_world>(block, goal)
                       : in_lanes<places_behind>(block, *context.parent, goal);
      smooth_toward(factors, steps, from, block.position.goal, goal, to);
    }
    if ((variant & limit) != 0) in_lanes<shorten>(block.max_speed, steps.row(), from, to);
    block.position.remember(context, to, goal);
  }

  static Vec3 offset_now(const Follow& follow, const Pose& leader, const Start& start) {
    const VecOf<double> arm = numbers(compose(start.moment.parent, start.in).position) - numbers(leader.position);
    const bool turns = follow.offset_space == Space::target;
    return vector(turns ? rotate(inverse(numbers(leader.rotation)), arm) : arm);
  }
};

}  // namespace

template <>
const detail::Kind& detail::kind_of<Follow>() {
  static const KernelKind<FollowKernel> kind;
  return kind;
}

}  // namespace hushed
