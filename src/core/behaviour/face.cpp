// SPDX-License-Identifier: MIT
#include <hushed/behaviour/face.hpp>

#include <algorithm>

#include <hushed/detail/constants.hpp>

#include "archived_time.hpp"
#include "lanes/clock.hpp"
#include "lanes/conversions.hpp"
#include "lanes/exponential_smoothing.hpp"
#include "lanes/facing.hpp"
#include "lanes/kernel_kind.hpp"
#include "lanes/loop.hpp"
#include "lanes/places.hpp"

namespace hushed {

FaceTarget FaceTarget::travel() {
  FaceTarget target;
  target.is_travel = target.is_given = true;
  return target;
}

std::optional<Diagnostic> read(const Value& from, const Unit& unit, FaceTarget& to) {
  if (const auto* word = from.as<std::string>(); word && *word == "travel") {
    to = FaceTarget::travel();
    return std::nullopt;
  }
  Place place;
  if (auto diagnostic = read(from, unit, place)) return diagnostic;
  to = std::move(place);
  return std::nullopt;
}

std::optional<Value> write(const FaceTarget& from, const Unit& unit) {
  if (!from.is_given) return std::nullopt;
  return from.is_travel ? std::optional{Value{std::string{"travel"}}} : write(from.place, unit);
}

Form form_of(const FaceTarget*, const Unit& unit) { return form_of(static_cast<const Place*>(nullptr), unit); }

namespace {

using namespace detail;

constexpr double nearest_place = 1e-9;  ///< m

/// The world positions of a target at the last two ticks.
struct Way {
  Vec3 last = Vec3::Zero(), before = Vec3::Zero();
  Time last_at = {}, before_at = {};

  void archive(Archive& archive) {
    archive(last, before);
    archive_times(archive, last_at, before_at);
  }

  void pass(const Vec3& place, Time at) {
    before = last;
    before_at = last_at;
    last = place;
    last_at = at;
  }
  /// The movement of the target in the tick before `now`. Between ticks, the earlier position is read off the parabola
  /// through the three known positions.
  Vec3 travel(const Vec3& place, Time now) const {
    const double tick = in_seconds(last_at - before_at), passed = in_seconds(now - last_at);
    const double share = tick > passed ? (tick - passed) / (tick + passed) : 0.0;
    const VecOf<double> here = numbers(place);
    return vector((here - numbers(last)) + (here - numbers(before)) * share);
  }
};

struct FaceState {
  PoseMemory memory;     ///< its goal is the last one that was defined
  bool is_good = false;  ///< a goal has been defined
  Way way;
  std::uint32_t behaviour = 0;
};

/// The largest turn of a step: half of its angle, as sine and cosine.
struct LargestTurn {
  Row sine, cosine;
};

/// The numbers that are not needed where objects turn about +Y at a limited rate, with +Z as forward axis.
struct GeneralFace {
  ExponentialSmoothing smoothing;
  Row up[3], turned[4];  ///< from the object's axes to axes whose +Z is `forward`
  Row with_target;       ///< 1 where the offset turns with the target
  FaceState* state[lanes];
};

struct FaceBlock {
  RotationMemories memory;
  PerStep<LargestTurn> largest_turns;
  Row place[3];  ///< m: position in the parent's space, or offset from the target
  TargetLanes target;
  bool is_level = false;  ///< all goals are defined, and all rotations are known to be about +Y: (0, y, 0, w)
  Row is_good;
  Row max_speed;  ///< rad/s
  std::unique_ptr<GeneralFace> general = std::make_unique<GeneralFace>();
};

enum class TargetKind { point, object, motion };

TargetKind target_kind_of(const Face& face) {
  return face.target.is_travel       ? TargetKind::motion
         : face.target.place.moves() ? TargetKind::object
                                     : TargetKind::point;
}

/// The rotation that turns `forward` to +Z and leaves +Y as close to +Y as possible.
Quat turned_to_z(const Vec3& forward) {
  const VecOf<double> z = unit_of(numbers(forward));
  const bool is_upright = square_root(z.x * z.x + z.z * z.z) < 1e-6;
  const VecOf<double> above = is_upright ? VecOf<double>{0.0, 0.0, 1.0} : VecOf<double>{0.0, 1.0, 0.0};
  return vector(inverse(facing(z, above).rotation));
}

/// The direction to the target in the world, from a position in the world.
Vec3 direction_of(const Face& face, const FaceState& state, const Pose& parent, const Vec3& here,
                  const SceneQuery& query, Time now) {
  if (face.target.is_travel) return state.way.travel(here, now);
  const Place& place = face.target.place;
  const Vec3 there =
      place.moves() ? where_is(place, Pose{}, query, state.behaviour) : compose(parent, at(place.point)).position;
  return vector(numbers(there) - numbers(here));
}

/// Directions of motion: from the positions a tick ago to the present ones.
void find_ways(FaceBlock& block, const PoseBlock& poses, const EvalContext& context, Row (&direction)[3]) {
  for (int lane = 0; lane < lanes; ++lane) {
    if (!context.is_active(lane)) continue;
    Way& way = block.general->state[lane]->way;
    const Pose parent = lane_of(*context.parent, lane);
    const Vec3 here = compose(parent, at(vector(load<double>(poses.position, lane)))).position;
    if (context.remember == Remember::standing_still) way = {here, here, context.time, context.time};
    store(direction, lane, numbers(way.travel(here, context.time)));
    if (context.remember == Remember::tick && context.time > way.last_at) way.pass(here, context.time);
  }
}

/// Directions in the world to the targets.
void find_directions_to_objects(const FaceBlock& block, const PoseBlock& targets, const PoseBlock& parent,
                                const PoseBlock& poses, Row (&direction)[3]) {
  for_each_lane([&](int lane) {
    const auto frame = load<Real>(parent, lane), target = load<Real>(targets, lane);
    const auto offset = load<Real>(block.place, lane), turned = rotate(target.rotation, offset);
    const Real with_target = load<Real>(block.general->with_target, lane);
    const auto there = target.position + (turned * with_target + offset * (1.0 - with_target));
    const auto here =
        frame.position + rotate(frame.rotation, by_factors(frame.scale, load<Real>(poses.position, lane)));
    store(direction, lane, there - here);
  });
}

/// Directions of objects without a parent to positions that stand in `places`, which they replace.
void find_directions_in_world(const FaceBlock& block, const PoseBlock& poses, Row (&places)[3]) {
  for_each_lane([&](int lane) {
    const auto there = load<Real>(places, lane) + load<Real>(block.place, lane);
    store(places, lane, there - load<Real>(poses.position, lane));
  });
}

/// Directions in the parents' space to points in the parents' space.
void find_directions_to_points(const FaceBlock& block, const PoseBlock& parent, const PoseBlock& poses,
                               Row (&direction)[3]) {
  for_each_lane([&](int lane) {
    const auto frame = load<Real>(parent, lane);
    const auto way = load<Real>(block.place, lane) - load<Real>(poses.position, lane);
    store(direction, lane, rotate(frame.rotation, by_factors(frame.scale, way)));
  });
}

template <class R>
FacingOf<R> looking(VecOf<R> direction, const QuatOf<R>& parent, const VecOf<R>& up, bool yaw_only,
                    const QuatOf<R>& turned) {
  direction = rotate(inverse(parent), direction);
  if (yaw_only) direction = direction - up * dot(up, direction);
  const R length = square_root(squared_length(direction));
  const auto is_far = length >= nearest_place;
  const auto found = facing_along(over(direction, select(is_far, length, R{1.0})), up);
  return {near_unit(found.rotation * turned), select(is_far, found.is_good, R{0.0})};
}

template <bool yaw_only>
[[gnu::always_inline]] inline void find_goals(const FaceBlock& block, const Row (&direction)[3],
                                              const PoseBlock& parent, const PoseBlock& in, Row (&goal)[4],
                                              Row& is_good) {
  for_each_lane([&](int lane) {
    const auto found = looking(load<Real>(direction, lane), load<Real>(parent.rotation, lane),
                               load<Real>(block.general->up, lane), yaw_only, load<Real>(block.general->turned, lane));
    const Real before = load<Real>(block.is_good, lane);
    const auto kept = choose(before, load<Real>(block.memory.goal, lane), load<Real>(in.rotation, lane));
    store(goal, lane, choose(found.is_good, found.rotation, kept));
    store(is_good, lane, larger(before, found.is_good));
  });
}

/// The goals of objects without a parent that turn about +Y only, with +Z as forward axis.
void find_level_goals(const FaceBlock& block, const Row (&direction)[3], const PoseBlock& in, Row (&goal)[4],
                      Row& is_good) {
  for_each_lane([&](int lane) {
    const auto way = load<Real>(direction, lane);
    const Real length = square_root(way.x * way.x + way.z * way.z);
    const auto is_far = length >= nearest_place;
    const auto found = facing_level(way.x, way.z, select(is_far, length, Real{1.0}));
    const Real before = load<Real>(block.is_good, lane), now = select(is_far, Real{1.0}, Real{0.0});
    const auto kept = choose(before, load<Real>(block.memory.goal, lane), load<Real>(in.rotation, lane));
    store(goal, lane, choose(now, found, kept));
    store(is_good, lane, larger(before, now));
  });
}

void find_all_goals(const FaceBlock& block, const Row (&direction)[3], const PoseBlock& parent, const PoseBlock& in,
                    Row (&goal)[4], Row& is_good) {
  find_goals<false>(block, direction, parent, in, goal, is_good);
}
void find_yaw_goals(const FaceBlock& block, const Row (&direction)[3], const PoseBlock& parent, const PoseBlock& in,
                    Row (&goal)[4], Row& is_good) {
  find_goals<true>(block, direction, parent, in, goal, is_good);
}

void find_largest_turns(const Row& max_speed, const Row& step, LargestTurn& to) {
  for_each_lane([&](int lane) {
    // A turn is at most half a revolution, so larger ones need no limit.
    const Real half = 0.5 * smaller(load<Real>(max_speed, lane) * load<Real>(step, lane), Real{pi});
    const auto [sine, cosine] = sine_cosine(half);
    store(to.sine, lane, sine);
    store(to.cosine, lane, cosine);
  });
}

/// The turns of a step, as quaternions with w >= 0: the shortest way round.
void find_turns(const Row (&from)[4], const Row (&to)[4], Row (&turn)[4]) {
  for_each_lane([&](int lane) {
    const auto shortest = load<Real>(to, lane) * inverse(load<Real>(from, lane));
    const Real sign = select(shortest.w < 0.0, Real{-1.0}, Real{1.0});
    store(turn, lane, QuatOf<Real>{shortest.x * sign, shortest.y * sign, shortest.z * sign, shortest.w * sign});
  });
}

/// Replaces turns that are too long by turns in the same direction by the largest angle. The angle of a turn is
/// compared by the sine of its half, so that it need not be known. A turn with w < 0 is longer than half a revolution.
void shorten_turns(const LargestTurn& most, const Row (&from)[4], const Row (&turn)[4], Row (&to)[4]) {
  for_each_lane([&](int lane) {
    const auto whole = load<Real>(turn, lane);
    const Real sine = square_root(squared_length(VecOf<Real>{whole.x, whole.y, whole.z}));
    const Real most_sine = load<Real>(most.sine, lane), most_cosine = load<Real>(most.cosine, lane);
    const Real is_long = select(sine > most_sine, Real{1.0}, select(whole.w < 0.0, Real{1.0}, Real{0.0}));
    const Real factor = most_sine / select(sine > 0.0, sine, Real{1.0});
    const QuatOf<Real> part{whole.x * factor, whole.y * factor, whole.z * factor, most_cosine};
    store(to, lane, choose(is_long, near_unit(part * load<Real>(from, lane)), load<Real>(to, lane)));
  });
}

/// The cosine of half of 140 degrees: only longer turns may change their direction of rotation.
constexpr double nearly_half = 0.34;

/// Turns that are nearly half a revolution go on in the direction of rotation of the last step: the same rotation, the
/// other way round.
void keep_direction(const LargestTurn& most, const Row (&from)[4], const Row (&old_goal)[4], Row (&turn)[4]) {
  for_each_lane([&](int lane) {
    const auto whole = load<Real>(turn, lane);
    const auto shortest = rotation_vector_of(whole);
    const auto begun = rotation_vector_of(load<Real>(old_goal, lane) * inverse(load<Real>(from, lane)));
    const auto turns_back = dot(way_begun(shortest, begun), shortest) < 0.0;
    const auto is_limited = both_hold(whole.w <= nearly_half, load<Real>(most.sine, lane) != 1.0);
    const Real sign = select(both_hold(turns_back, is_limited), Real{-1.0}, Real{1.0});
    store(turn, lane, QuatOf<Real>{whole.x * sign, whole.y * sign, whole.z * sign, whole.w * sign});
  });
}

bool is_any_nearly_half(const Row (&turn)[4]) {
  return std::any_of(turn[3].at, turn[3].at + lanes, [](double cosine) { return cosine <= nearly_half; });
}

/// Limits the angle of a turn.
void slow_down(const LargestTurn& most, const Row (&from)[4], const Row (&old_goal)[4], Row (&to)[4]) {
  Row turn[4];
  in_lanes<find_turns>(from, to, turn);
  if (is_any_nearly_half(turn)) in_lanes<keep_direction>(most, from, old_goal, turn);
  in_lanes<shorten_turns>(most, from, turn, to);
}

// Of objects without a parent that turn about +Y only, with +Z as forward axis, and whose rotations are about +Y
// already, two numbers of each quaternion are 0. The functions below compute the same bits without them.

/// As `find_directions_in_world`, `find_level_goals` and `find_turns`. `places` are the positions of the targets.
void find_level_turns(const FaceBlock& block, const PoseBlock& poses, const Row (&places)[3], Row (&goal)[4],
                      Row (&turn)[4]) {
  for_each_lane([&](int lane) {
    const auto there = load<Real>(places, lane) + load<Real>(block.place, lane);
    const auto way = there - load<Real>(poses.position, lane);
    const Real length = square_root(way.x * way.x + way.z * way.z);
    const auto is_far = length >= nearest_place;
    const auto found = facing_level(way.x, way.z, select(is_far, length, Real{1.0}));
    const Real y = select(is_far, found.y, load<Real>(block.memory.goal[1], lane));
    const Real w = select(is_far, found.w, load<Real>(block.memory.goal[3], lane));
    const Real from_y = load<Real>(block.memory.pose[1], lane), from_w = load<Real>(block.memory.pose[3], lane);
    const Real sine = (y * from_w - w * from_y) + 0.0, cosine = w * from_w + y * from_y;
    const Real sign = select(cosine < 0.0, Real{-1.0}, Real{1.0});
    store(goal[1], lane, y);
    store(goal[3], lane, w);
    store(turn[1], lane, sine * sign);
    store(turn[3], lane, cosine * sign);
  });
}

/// As `shorten_turns`. The results are also the state from now on.
void shorten_level_turns(const LargestTurn& most, const Row (&turn)[4], const Row (&goal)[4], FaceBlock& block,
                         Row (&to)[4]) {
  for_each_lane([&](int lane) {
    const Real y = load<Real>(turn[1], lane), w = load<Real>(turn[3], lane);
    const Real sine = square_root(y * y);  // not the absolute value, where the square is subnormal
    const Real most_sine = load<Real>(most.sine, lane), most_cosine = load<Real>(most.cosine, lane);
    const Real is_long = select(sine > most_sine, Real{1.0}, select(w < 0.0, Real{1.0}, Real{0.0}));
    const Real part = y * (most_sine / select(sine > 0.0, sine, Real{1.0}));
    const Real from_y = load<Real>(block.memory.pose[1], lane), from_w = load<Real>(block.memory.pose[3], lane);
    const Real turned_y = (most_cosine * from_y + part * from_w) + 0.0, turned_w = most_cosine * from_w - part * from_y;
    const Real factor = 1.5 - 0.5 * (turned_y * turned_y + turned_w * turned_w);  // see `near_unit`
    const Real goal_y = load<Real>(goal[1], lane), goal_w = load<Real>(goal[3], lane);
    const Real next_y = select(is_long != 0.0, turned_y * factor, goal_y);
    const Real next_w = select(is_long != 0.0, turned_w * factor, goal_w);
    store(block.memory.goal[1], lane, goal_y);
    store(block.memory.goal[3], lane, goal_w);
    store(block.memory.pose[1], lane, next_y);
    store(block.memory.pose[3], lane, next_w);
    store(to[0], lane, Real{0.0});
    store(to[1], lane, next_y);
    store(to[2], lane, Real{0.0});
    store(to[3], lane, next_w);
  });
}

/// Makes -0 to 0 in the parts of rotations that are 0 where they are about +Y.
void make_zeros_positive(Row (&rotation)[4], Row (&goal)[4]) {
  for_each_lane([&](int lane) {
    for (Row* const row : {&rotation[0], &rotation[2], &goal[0], &goal[2]})
      store(*row, lane, load<Real>(*row, lane) + 0.0);
  });
}

struct FaceKernel {
  using Values = Face;

  static constexpr auto summary = "turns the object towards a place, or in its direction of travel";
  static constexpr auto example = R"(
[[object.searchlight.behaviour]]
kind           = "face"
target         = "ferry"     # or a point, or "travel"
only           = "yaw"
max_turn_speed = 30          # degrees per second
)";
  static constexpr auto fields = std::tuple{
      field("target", &Face::target, unit::none, "the place to turn to, or \"travel\": the direction of travel",
            required),
      field("half_life", &Face::half_life, unit::seconds, "time in which the remaining angle halves", slider(0, 2)),
      field("max_turn_speed", &Face::max_turn_speed, unit::turning_speed, "largest turning rate", slider(0, 360)),
      field("only", &Face::only, unit::none, "\"yaw\": turn only about up"),
      field("up", &Face::up, unit::direction, "direction that its +Y stays close to, in the parent's space"),
      field("forward", &Face::forward, unit::direction, "the own axis that points there")};
  using State = FaceState;
  using Block = FaceBlock;

  using YawOnly = VariantField<bool, 0, 1>;
  using Limited = VariantField<bool, 1, 1>;
  using Target = VariantField<TargetKind, 2, 2>;

  static void prepare(State& state, const Face&, const Owner& owner) { state.behaviour = owner.behaviour; }

  using Smoothed = VariantField<bool, 4, 1>;
  using Level = VariantField<bool, 5, 1>;
  using WithTarget = VariantField<bool, 6, 1>;

  /// The variant: whether it turns by yaw alone, whether its speed is limited, the kind of target, whether it has a
  /// half-life, whether its axes are the common ones (+Z forward, +Y up), and whether an offset turns with the target.
  static unsigned variant(const Face& face, const State&) {
    return YawOnly::put(face.only == Turns::yaw) | Limited::put(face.max_turn_speed.has_value()) |
           Target::put(target_kind_of(face)) | Smoothed::put(face.half_life > Time{}) |
           Level::put(face.forward == axis::forward && face.up == axis::up) |
           WithTarget::put(face.target.place.offset_space == Space::target);
  }
  static void archive(Archive& archive, State& state, const Face&) { archive(state.memory, state.is_good, state.way); }
  static unsigned touches(unsigned) { return part::rotation; }

  static void begin(State& state, const Face& face, const Start& start) {
    const Moment& now = start.moment;
    const Vec3 here = compose(now.parent, start.in).position;
    state.way = {here, here, now.time, now.time};
    const auto found = looking(numbers(direction_of(face, state, now.parent, here, *now.query, now.time)),
                               numbers(now.parent.rotation), unit_of(numbers(face.up)), face.only == Turns::yaw,
                               numbers(turned_to_z(face.forward)));
    state.is_good = found.is_good != 0.0;
    const Pose goal = start.in.with_rotation(state.is_good ? vector(found.rotation) : start.in.rotation);
    state.memory = {is_at_once(face) ? goal : start.in, goal, now.time};
  }

  /// A direction of motion that was not recorded so far begins here.
  static void absorb(State& state, const Face& face, OwnTime, const Start& now, const Face& next) {
    if (face.target.is_travel || !next.target.is_travel) return;
    const Vec3 here = compose(now.moment.parent, now.in).position;
    state.way = {here, here, now.moment.time, now.moment.time};
  }

  static void fill(Block& block, int lane, const Face& face, State& state) {
    block.memory.fill(lane, state.memory);
    block.general->smoothing.set(lane, in_seconds(face.half_life), is_at_once(face));
    block.is_good.at[lane] = state.is_good ? 1.0 : 0.0;
    block.max_speed.at[lane] = face.max_turn_speed ? face.max_turn_speed->in_radians() : for_ever;
    block.largest_turns.forget(lane);
    store(block.general->up, lane, unit_of(numbers(face.up)));
    store(block.general->turned, lane, numbers(turned_to_z(face.forward)));
    store(block.place, lane, numbers(face.target.place.point));
    block.general->with_target.at[lane] = face.target.place.offset_space == Space::target ? 1.0 : 0.0;
    block.target.set(lane, face.target.place.target.object, state.behaviour);
    block.general->state[lane] = &state;
    block.is_level = false;
  }
  static void collect(const Block& block, int lane, State& state) {
    block.memory.collect(lane, state.memory);
    state.is_good = block.is_good.at[lane] != 0.0;
  }

  static void evaluate(Block& block, unsigned variant, PoseBlock& poses, const EvalContext& context) {
    if (!turn_level_by_a_tick(block, variant, poses, context)) turn(block, variant, poses, context);
  }

  static std::optional<Diagnostic> check(const Face&, const Pose*) { return std::nullopt; }

 private:
  /// The commonest case: all eight turn about +Y only, at a limited rate, toward an object, by a tick as long as the
  /// last.
  static bool turn_level_by_a_tick(Block& block, unsigned variant, PoseBlock& poses, const EvalContext& context) {
    constexpr unsigned commonest =
        YawOnly::put(true) | Limited::put(true) | Target::put(TargetKind::object) | Level::put(true);
    if (variant != commonest || !context.in_world) return false;
    const auto step = block.memory.advanced.common_step(context, 1);
    const LargestTurn* const most = step > 0.0 ? block.largest_turns.valid_for(*step) : nullptr;
    if (!most || !is_level(block)) return false;
    Row places[3], goal[4], turn[4];
    block.target.gather_positions(context, places);
    in_lanes<find_level_turns>(block, poses, places, goal, turn);
    if (is_any_nearly_half(turn)) {
      turn[0] = turn[2] = {};
      in_lanes<keep_direction>(*most, block.memory.pose, block.memory.goal, turn);
    }
    in_lanes<shorten_level_turns>(*most, turn, goal, block, poses.rotation);
    block.memory.advanced.to(context);
    return true;
  }
  static bool is_level(Block& block) {
    if (block.is_level) return true;
    std::uint64_t bits = 0;
    for (const auto* const rotation : {&block.memory.pose, &block.memory.goal})
      for (const int i : {0, 2})
        for (const double each : (*rotation)[i].at) bits |= std::bit_cast<std::uint64_t>(each);
    block.is_level = bits == 0 && all_hold(block.is_good);
    return block.is_level;
  }

  /// The general case.
  [[gnu::noinline]] static void turn(Block& block, unsigned variant, PoseBlock& poses, const EvalContext& context) {
    const Steps steps = block.memory.advanced.steps(context);
    Row direction[3] = {};
    find_directions(block, variant, poses, context, direction);
    Row goal[4], is_good;
    const auto& from = block.memory.pose;
    if (YawOnly::of(variant) && Level::of(variant) && context.in_world)
      in_lanes<find_level_goals>(block, direction, poses, goal, is_good);
    else if (YawOnly::of(variant))
      in_lanes<find_yaw_goals>(block, direction, *context.parent, poses, goal, is_good);
    else
      in_lanes<find_all_goals>(block, direction, *context.parent, poses, goal, is_good);
    const auto& old_goal = block.memory.goal;
    if (Smoothed::of(variant)) {
      ExponentialSmoothing::Factors passing;
      const auto& factors = block.general->smoothing.factors(steps, context, passing);
      smooth_toward(factors, steps, from, old_goal, goal, poses.rotation);
    } else {
      std::copy(goal, goal + 4, poses.rotation);
      if (Limited::of(variant)) stay(steps, from, poses.rotation);
    }
    if (Limited::of(variant)) {
      LargestTurn passing;
      const auto find = [&block](const Row& step, LargestTurn& to) {
        in_lanes<find_largest_turns>(block.max_speed, step, to);
      };
      slow_down(block.largest_turns.at(steps, context, passing, find), from, old_goal, poses.rotation);
    }
    if (YawOnly::of(variant) && Level::of(variant)) in_lanes<make_zeros_positive>(poses.rotation, goal);
    block.memory.remember(context, poses.rotation, goal);
    if (context.remember == Remember::nothing) return;
    store_active(context, is_good, block.is_good);
    block.is_level = false;
  }

  static void find_directions(Block& block, unsigned variant, const PoseBlock& poses, const EvalContext& context,
                              Row (&direction)[3]) {
    switch (Target::of(variant)) {
      case TargetKind::motion: return find_ways(block, poses, context, direction);
      case TargetKind::point: return in_lanes<find_directions_to_points>(block, *context.parent, poses, direction);
      case TargetKind::object: break;
    }
    if (context.in_world && !WithTarget::of(variant)) {
      block.target.gather_positions(context, direction);
      return in_lanes<find_directions_in_world>(block, poses, direction);
    }
    PoseBlock targets{};
    block.target.gather(context, targets);
    in_lanes<find_directions_to_objects>(block, targets, *context.parent, poses, direction);
  }

  static bool is_at_once(const Face& face) { return face.half_life == Time{} && !face.max_turn_speed; }
};

}  // namespace

template <>
const detail::Kind& detail::kind_of<Face>() {
  static const KernelKind<FaceKernel> kind;
  return kind;
}

}  // namespace hushed
