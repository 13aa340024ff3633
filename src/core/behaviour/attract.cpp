// SPDX-License-Identifier: MIT
#include <hushed/behaviour/attract.hpp>

#include "archived_time.hpp"
#include "lanes/conversions.hpp"
#include "lanes/geometry.hpp"
#include "lanes/kernel_kind.hpp"
#include "lanes/memory.hpp"

namespace hushed {

namespace {

using namespace detail;

struct AttractState {
  Vec3 displacement = Vec3::Zero();  ///< m, in the parent's space
  double speed = 0.0;                ///< m/s, where it gathers speed
  Vec3 place = Vec3::Zero();         ///< m: its position when it was last advanced
  Object aim = {};                   ///< the object that attracts it since then; none where no target was there
  Vec3 aim_place = Vec3::Zero();     ///< m: the position of that object then
  bool drawn = false;                ///< that object was within range
  bool gathered = false;
  bool has_raised_event = false;  ///< the event "gathered" has been raised
  Time until = {};                ///< the time to which it was last advanced
  std::uint32_t behaviour = 0;
  Object owner = {};
};

struct AttractBlock {
  const Attract* attract[lanes];
  AttractState state[lanes];
};

/// The position of an object in the parent's space.
Vec3 place_of(Object object, const AttractState& state, const Pose& parent, const SceneQuery& query) {
  return vector(brought_into(numbers(parent), numbers(query.world_of(object, state.behaviour).position)));
}

bool is_identity(const Pose& pose) {
  return pose.position == Vec3::Zero() && pose.rotation.coeffs() == Quat::Identity().coeffs() &&
         pose.scale == Vec3::Ones();
}

/// The nearest target, and whether it is within range.
void take_aim(const Attract& attract, const Pose& parent, const SceneQuery& query, AttractState& state) {
  state.aim = {};
  state.drawn = false;
  double least = 0.0;
  const auto consider = [&](Object object) {
    if (!query.is_there(object)) return;
    const Vec3 place = place_of(object, state, parent, query);
    const double squared = squared_length(numbers(place) - numbers(state.place));
    if (state.aim.generation != 0 && squared >= least) return;
    least = squared;
    state.aim = object;
    state.aim_place = place;
  };
  const auto consider_nearest = [&] {
    if (is_identity(parent))
      if (const auto nearest = query.nearest(attract.to.tagged.found, state.place, state.owner, state.behaviour))
        return consider(*nearest);
    for (const Object object : attract.to.tagged.members())
      if (object != state.owner) consider(object);
  };
  if (attract.to.is_one())
    consider(attract.to.target.object);
  else
    consider_nearest();
  state.drawn = state.aim.generation != 0 && square_root(least) <= attract.within;
}

/// False where the aim was hidden, has ended or has lost its tag since it was chosen.
bool is_still_target(const Attract& attract, const SceneQuery& query, const AttractState& state) {
  return query.is_there(state.aim) && (attract.to.is_one() || query.has_tag(state.aim, attract.to.tagged.tag));
}

/// The least distance from the origin to the straight segment between two points.
double least_distance(const VecOf<double>& from, const VecOf<double>& to) {
  const VecOf<double> way = to - from;
  const double squared = squared_length(way);
  const double share = squared > 0.0 ? larger(0.0, smaller(1.0, -dot(from, way) / squared)) : 0.0;
  return square_root(squared_length(between(from, to, share)));
}

void advance(const Attract& attract, const Vec3& in, const Pose& parent, const SceneQuery& query, double step,
             AttractState& state) {
  if (state.gathered || state.aim.generation == 0 || !is_still_target(attract, query, state)) return;
  const VecOf<double> aim = numbers(place_of(state.aim, state, parent, query));
  const VecOf<double> here = numbers(in) + numbers(state.displacement);
  VecOf<double> there = here;
  const double acceleration = attract.acceleration.value_or(0.0);
  if (!state.drawn || attract.speed) state.speed = 0.0;
  if (state.drawn) {
    const VecOf<double> way = aim - here;
    const double distance = square_root(squared_length(way));
    const double reached = attract.speed ? *attract.speed * step : (state.speed + 0.5 * acceleration * step) * step;
    there = distance > reached ? here + way * (reached / distance) : aim;
    state.speed += acceleration * step;
  }
  state.gathered = least_distance(numbers(state.place) - numbers(state.aim_place), there - aim) <= attract.reach;
  state.displacement = vector(there - numbers(in));
}

struct AttractKernel {
  using Values = Attract;

  static constexpr auto summary = "pulls the object towards another one that comes near, until it is gathered";
  static constexpr auto example = R"(
[[object.paper-1.behaviour]]
kind   = "attract"
to     = "ferry"             # or { tag = "boat" }: the nearest of them
within = 6                   # metres
speed  = 2.5                 # metres per second
then   = "hide"              # once it is gathered
)";
  static constexpr auto fields = std::tuple{
      field("to", &Attract::to, unit::none, "the object that attracts it, or the nearest with a tag", required),
      field("within", &Attract::within, unit::length, "largest distance at which it is pulled", required,
            slider(0, 20)),
      field("speed", &Attract::speed, unit::speed, "speed towards the other object", slider(0, 10)),
      field("acceleration", &Attract::acceleration, unit::acceleration, "acceleration from rest, instead of speed",
            slider(0, 10)),
      field("reach", &Attract::reach, unit::length, "distance at which it is gathered", slider(0, 2)),
      field("then", &Attract::then, unit::none, "what happens when it is gathered")};
  static constexpr std::array exactly_one{OneOf{{"speed", "acceleration"}}};
  using State = AttractState;
  using Block = AttractBlock;

  static constexpr bool needs_every_tick = true;
  static constexpr bool is_additive = true;
  static constexpr bool emits_events = true;

  static bool needs_all_dependencies(const Attract& attract) { return attract.to.is_one(); }
  static void prepare(State& state, const Attract&, const Owner& owner) {
    state.behaviour = owner.behaviour;
    state.owner = owner.object;
  }
  static unsigned variant(const Attract&, const State&) { return 0; }
  static void archive(Archive& archive, State& state, const Attract&) {
    archive(state.displacement, state.speed, state.place, state.aim, state.aim_place);
    archive(state.drawn, state.gathered, state.has_raised_event);
    archive_times(archive, state.until);
  }
  static unsigned touches(unsigned) { return part::position; }

  static void begin(State& state, const Attract& attract, const Start& start) {
    state = {.behaviour = state.behaviour, .owner = state.owner};
    state.until = start.moment.time;
    state.place = start.in.position;
    take_aim(attract, start.moment.parent, *start.moment.query, state);
  }
  static void absorb(State& state, const Attract&, OwnTime, const Start& now, const Attract& next) {
    take_aim(next, now.moment.parent, *now.moment.query, state);
  }
  static void fill(Block& block, int lane, const Attract& attract, const State& state) {
    block.attract[lane] = &attract;
    block.state[lane] = state;
  }
  static void collect(const Block& block, int lane, State& state) { state = block.state[lane]; }

  static void evaluate(Block& block, unsigned, PoseBlock& poses, const EvalContext& context) {
    for (int lane = 0; lane < lanes; ++lane) {
      if (!context.is_active(lane)) continue;
      const Attract& attract = *block.attract[lane];
      const Pose parent = lane_of(*context.parent, lane);
      const Vec3 in = vector(load<double>(poses.position, lane));
      AttractState state = block.state[lane];
      const Time step = context.time - state.until;
      const bool moves = step > Time{} && context.remember != Remember::standing_still;
      if (moves) advance(attract, in, parent, *context.query, in_seconds(step), state);
      const Vec3 place = vector(numbers(in) + numbers(state.displacement));
      store(poses.position, lane, numbers(place));
      if (context.remember == Remember::nothing) continue;
      state.until = context.time;
      state.place = place;
      if (state.gathered && !state.has_raised_event && context.remember == Remember::tick) {
        state.has_raised_event = true;
        context.query->gathered(state.behaviour, state.aim, attract.then);
      }
      if (!state.gathered) take_aim(attract, parent, *context.query, state);
      block.state[lane] = state;
    }
  }

  static std::optional<Diagnostic> check(const Attract& attract, const Pose*) {
    if (attract.to.is_one() && !attract.to.target.is_given()) return about("to", "missing; give an object or a tag.");
    return std::nullopt;
  }
};

}  // namespace

template <>
const detail::Kind& detail::kind_of<Attract>() {
  static const KernelKind<AttractKernel> kind;
  return kind;
}

}  // namespace hushed
