// SPDX-License-Identifier: MIT
#include <hushed/behaviour/smooth.hpp>

#include <memory>

#include <algorithm>

#include <hushed/detail/table_reader.hpp>

#include "lanes/exponential_smoothing.hpp"
#include "lanes/kernel_kind.hpp"
#include "lanes/pose_blocks.hpp"

namespace hushed {

std::optional<Diagnostic> HalfLives::check() const {
  for (const Time one : {position, rotation, scale})
    if (auto diagnostic = detail::check_any(one, unit::seconds)) return diagnostic;
  return std::nullopt;
}

std::optional<Diagnostic> read(const Value& from, const Unit& unit, HalfLives& to) {
  HalfLives taken;
  if (!from.as<Value::Table>()) {
    if (auto diagnostic = detail::read(from, unit, taken.position)) return diagnostic;
    to = {taken.position, taken.position, taken.position};
    return std::nullopt;
  }
  detail::Diagnostics diagnostics;
  detail::TableReader table{from, "", diagnostics};
  table.read("position", unit, taken.position);
  table.read("rotation", unit, taken.rotation);
  table.read("scale", unit, taken.scale);
  table.refuse_the_rest();
  if (!diagnostics.empty()) return diagnostics.front();
  to = taken;
  return std::nullopt;
}

std::optional<Value> write(const HalfLives& from, const Unit& unit) {
  if (from.position == from.rotation && from.rotation == from.scale) return detail::write(from.position, unit);
  Value::Table table;
  for (const auto& [key, time] :
       {std::pair{"position", from.position}, {"rotation", from.rotation}, {"scale", from.scale}})
    if (time != Time{}) table.push_back({key, {}, *detail::write(time, unit)});
  return Value{std::move(table)};
}

Form form_of(const HalfLives*, const Unit& unit) {
  const Form time = form::number(unit);
  return form::any_of(
      {time, form::table({{"position", time}, {"rotation", time}, {"scale", time}}, "a time for some of the parts")},
      "a number, 0 or more, or { position = ..., rotation = ..., scale = ... }");
}

namespace {

using namespace detail;

/// The numbers of all behaviours but those that smooth positions only, in the parent's space.
struct WholeSmooth {
  PoseMemories memory;
  ExponentialSmoothing rotation, scale;
};

struct SmoothBlock {
  PositionMemories positions;  ///< not used with `whole`
  ExponentialSmoothing position;
  std::unique_ptr<WholeSmooth> whole;  ///< nullptr where only positions are smoothed, in the parent's space
};

/// One step of eight positions by a tick. `position` is the goal at the beginning and the next position at the end.
void step_positions(const ExponentialSmoothing::Factors& factors, PositionMemories& memory, Row (&position)[3]) {
  for_each_lane([&](int lane) {
    const auto goal = load<Real>(position, lane);
    const auto next = smoothed(load<Real>(memory.pose, lane), load<Real>(memory.goal, lane), goal,
                               load<Real>(factors.remaining, lane), load<Real>(factors.lag, lane));
    store(memory.goal, lane, goal);
    store(memory.pose, lane, next);
    store(position, lane, next);
  });
}

struct SmoothKernel {
  using Values = Smooth;

  static constexpr auto summary = "smooths the motion of the behaviours below it";
  static constexpr auto example = R"(
[[object.pennant.behaviour]]
kind      = "smooth"
half_life = 0.2              # seconds until half of the way is left
)";
  static constexpr auto fields = std::tuple{
      field("half_life", &Smooth::half_life, unit::seconds, "time in which the remaining distance halves", required,
            slider(0, 2)),
      field("space", &Smooth::space, unit::none, "parent: only its own motion is smoothed; world: its parent's too",
            allowed(Space::parent, Space::world))};
  using State = PoseMemory;
  using Block = SmoothBlock;

  using Parts = VariantField<unsigned, 0, 3>;
  using InWorld = VariantField<bool, 3, 1>;
  /// The variant: the parts that are smoothed, and whether in the world.
  static unsigned variant(const Smooth& smooth, const State&) {
    return Parts::put(parts(smooth)) | InWorld::put(smooth.space == Space::world);
  }
  static void archive(Archive& archive, State& state, const Smooth&) { archive(state); }
  static unsigned touches(unsigned variant) { return Parts::of(variant); }

  static void begin(State& state, const Smooth& smooth, const Start& start) {
    state.pose = state.goal = smooth.space == Space::world ? compose(start.moment.parent, start.in) : start.in;
    state.until = start.moment.time;
  }

  static void absorb(State& state, const Smooth& smooth, OwnTime, const Start& now, const Smooth& next) {
    const bool was_in_world = smooth.space == Space::world, is_in_world = next.space == Space::world;
    const Pose& parent = now.moment.parent;
    const Pose in = was_in_world ? compose(parent, now.in) : now.in;
    for (Pose* pose : {&state.pose, &state.goal}) {
      *pose = only(parts(smooth), *pose, in);
      if (was_in_world != is_in_world) *pose = is_in_world ? compose(parent, *pose) : into(parent, *pose);
    }
  }

  static void fill(Block& block, int lane, const Smooth& smooth, const State& state) {
    block.position.set(lane, in_seconds(smooth.half_life.position));
    if (variant(smooth, state) == Parts::put(part::position)) return block.positions.fill(lane, state);
    if (!block.whole) block.whole = std::make_unique<WholeSmooth>();
    block.whole->memory.fill(lane, state);
    block.whole->rotation.set(lane, in_seconds(smooth.half_life.rotation));
    block.whole->scale.set(lane, in_seconds(smooth.half_life.scale));
  }
  static void collect(const Block& block, int lane, State& state) {
    block.whole ? block.whole->memory.collect(lane, state) : block.positions.collect(lane, state);
  }

  static void evaluate(Block& block, unsigned variant, PoseBlock& poses, const EvalContext& context) {
    if (variant == Parts::put(part::position)) return smooth_positions(block, poses.position, context);
    smooth_any(block, variant, poses, context);
  }

  [[gnu::noinline]] static void smooth_any(Block& block, unsigned variant, PoseBlock& poses,
                                           const EvalContext& context) {
    WholeSmooth& whole = *block.whole;
    const bool in_world = InWorld::of(variant);
    const unsigned parts = Parts::of(variant);
    const PoseBlock in = poses;
    if (in_world) into_world(*context.parent, poses);
    const PoseBlock goal = poses;
    const PoseBlock& from = whole.memory.pose;
    const PoseBlock& old = whole.memory.goal;
    const Steps steps = whole.memory.advanced.steps(context);
    ExponentialSmoothing::Factors passing;
    if ((parts & part::position) != 0)
      smooth_toward(block.position.factors(steps, context, passing), steps, from.position, old.position, goal.position,
                    poses.position);
    if ((parts & part::rotation) != 0)
      smooth_toward(whole.rotation.factors(steps, context, passing), steps, from.rotation, old.rotation, goal.rotation,
                    poses.rotation);
    if ((parts & part::scale) != 0)
      smooth_toward(whole.scale.factors(steps, context, passing), steps, from.scale, old.scale, goal.scale,
                    poses.scale);
    whole.memory.remember(context, variant, poses, goal);
    if (!in_world) return;
    out_of_world(*context.parent, poses);
    restore_other_parts(variant, in, poses);
  }

  /// The commonest variant: positions alone, in the parent's space.
  static void smooth_positions(Block& block, Row (&position)[3], const EvalContext& context) {
    if (const auto* const factors = block.positions.factors_of_tick(block.position, context)) {
      in_lanes<step_positions>(*factors, block.positions, position);
      return block.positions.advanced.to(context);
    }
    const Row goal[3] = {position[0], position[1], position[2]};
    const Steps steps = block.positions.advanced.steps(context);
    ExponentialSmoothing::Factors passing;
    smooth_toward(block.position.factors(steps, context, passing), steps, block.positions.pose, block.positions.goal,
                  goal, position);
    block.positions.remember(context, position, goal);
  }

  static unsigned parts(const Smooth& smooth) {
    const HalfLives& times = smooth.half_life;
    return (times.position > Time{} ? part::position : 0U) | (times.rotation > Time{} ? part::rotation : 0U) |
           (times.scale > Time{} ? part::scale : 0U);
  }

  static std::optional<Diagnostic> check(const Smooth&, const Pose*) { return std::nullopt; }
};

}  // namespace

template <>
const detail::Kind& detail::kind_of<Smooth>() {
  static const KernelKind<SmoothKernel> kind;
  return kind;
}

}  // namespace hushed
