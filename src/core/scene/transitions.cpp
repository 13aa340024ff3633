// SPDX-License-Identifier: MIT
// The evaluator's slower way for behaviours that wait, start, fade, are weighted, bridged or frozen.

#include <utility>

#include "lanes/clock.hpp"
#include "lanes/conversions.hpp"
#include "lanes/geometry.hpp"
#include "scene/bridge.hpp"
#include "scene/evaluator.hpp"

namespace hushed::detail {

namespace {

/// A behaviour that fails after having succeeded for this long reports it again.
constexpr Time long_enough = std::chrono::seconds{1};

}  // namespace

void Evaluator::evaluate_with_transitions(Batch& batch, Index block, PoseBlock& pose, Pass& pass) noexcept {
  EvalContext& context = pass.context;
  const Time now = pass.request.now;
  const std::uint8_t in_transition = batch.bits[block].in_transition;
  const PoseBlock in = pose;
  context.active = all_lanes;
  context.used = batch.bits[block].occupied;
  unsigned started = 0, asked_again = 0;
  for (int lane = 0; lane < lanes; ++lane) {
    if ((in_transition >> lane & 1U) == 0) continue;
    BehaviourRecord& behaviour = registry_.behaviours[batch.behaviours[block * lanes + static_cast<Index>(lane)]];
    if (start_if_due(behaviour, lane_of(in, lane), lane, pass)) started |= 1U << lane;
    if (behaviour.run.failed && pass.request.remember == Remember::tick) asked_again |= 1U << lane;
    const bool is_asked = is_active(behaviour) || (asked_again >> lane & 1U) != 0;
    if (!is_asked || is_frozen(behaviour)) context.active &= ~(1U << lane);
  }

  OwnTimes own;
  set_clocks(batch, block, pass, own);
  batch.lane_blocks->evaluate(block, pose, context);
  const unsigned failed = pass.worker->take_failed_lanes();

  for (int lane = 0; lane < lanes; ++lane) {
    if ((in_transition >> lane & 1U) == 0) continue;
    const Index index = batch.behaviours[block * lanes + static_cast<Index>(lane)];
    BehaviourRecord& behaviour = registry_.behaviours[index];
    Run& run = behaviour.run;
    const Pose came_in = lane_of(in, lane);
    const bool just_started = (started >> lane & 1U) != 0;
    const bool is_failing = (failed >> lane & 1U) != 0;
    const bool recovers = (asked_again & context.active & ~failed) >> lane & 1U;
    if (recovers) run.failed = false;
    Pose out = came_in;
    if (is_frozen(behaviour)) {
      out = frozen_pose(behaviour, came_in);
    } else if (is_active(behaviour) && !is_failing) {
      const Pose before = just_started || recovers ? bridged(run, came_in, now) : came_in;
      out = weighted(behaviour, came_in, lane_of(pose, lane), now);
      if (just_started || recovers) bridge(behaviour, before, out, now);
      out = bridged(run, out, now);
      if (now - long_enough > run.failed_at) run.failed_at = Time::min();
    } else {
      out = bridged(run, came_in, now);
    }
    set_lane(pose, lane, only(batch.touches | run.once_touched, out, came_in));
    update_lane(index, now);
  }
}

void Evaluator::show_failed(const Batch& batch, Index block, unsigned failed, PoseBlock& pose, Time now) const {
  for (int lane = 0; lane < lanes; ++lane) {
    if ((failed >> lane & 1U) == 0) continue;
    const Index index = batch.behaviours[block * lanes + static_cast<Index>(lane)];
    set_lane(pose, lane, bridged(registry_.behaviours[index].run, lane_of(pose, lane), now));
  }
}

/// Starts the behaviour if it is due. Returns true where its first pose may differ from the incoming one.
bool Evaluator::start_if_due(BehaviourRecord& behaviour, const Pose& in, int lane, const Pass& pass) noexcept {
  const EvalRequest& request = pass.request;
  const auto index = static_cast<Index>(&behaviour - registry_.behaviours.data());
  Run& run = behaviour.run;
  if (run.phase != Run::Phase::waiting || run.starts_at > request.now) return false;
  if (registry_.presences[behaviour.object].ended) return false;
  if (!starts_without_bridge(behaviour) &&
      (request.starts == Starts::none || (request.starts == Starts::start_set && !is_in_start_set(behaviour.object))))
    return false;
  if (waits_for_lost(behaviour, pass)) return false;

  run.phase = Run::Phase::running;
  run.clock = object_time(behaviour.object, run.starts_at);
  if (behaviour.common.fade > Time{0}) {
    Transition& fading = *run.transition;
    fading.level_from = 0.0;
    fading.level_to = 1.0;
    fading.level_since = run.starts_at;
    fading.level_length = behaviour.common.fade;
    run.transition_has_changed();
  }
  if (request.starts != Starts::none && !starts_without_bridge(behaviour)) {
    const Moment now{.time = pass.context.time,
                     .parent = lane_of(*pass.context.parent, lane),
                     .query = pass.worker,
                     .behaviour = index};
    const ObjectRecord& object = registry_.objects[behaviour.object];
    // Where scales never change, the block holds those in the world.
    const bool is_scaled_in_world = (layout_.groups[object.location->group].touched & part::scale) == 0;
    const Pose local = is_scaled_in_world ? in.with_scale(registry_.base(behaviour.object).scale) : in;
    registry_.store(behaviour).begin(behaviour.row, {local, bridged(run, local, request.now), now});
    layout_.lane_blocks(*behaviour.location).fill(behaviour.location->block, behaviour.location->lane, behaviour.row);
  }
  update_lane(index, request.now);  // its clock runs now
  return !starts_without_bridge(behaviour);
}

/// A behaviour that is due while a dependency is lost waits until that is back.
bool Evaluator::waits_for_lost(BehaviourRecord& behaviour, const Pass& pass) noexcept {
  if (behaviour.dependencies.empty()) return false;
  const Object lost = registry_.first_lost(behaviour);
  if (lost.generation == 0) return false;
  behaviour.run.starts_at = when_found;
  const auto index = static_cast<Index>(&behaviour - registry_.behaviours.data());
  pass.worker->raise(
      {pass.request.now, "lost", registry_.handle(behaviour.object), registry_.behaviour_handle(index), lost});
  return true;
}

bool Evaluator::starts_without_bridge(const BehaviourRecord& behaviour) const {
  return !behaviour.kind->needs_start(registry_.store(behaviour).values(behaviour.row));
}

Pose Evaluator::weighted(const BehaviourRecord& behaviour, const Pose& in, const Pose& given, Time now) const {
  return mix(in, given, behaviour.common.weight * fade_level(behaviour.run, now));
}

/// True where it gives its last pose: a dependency is lost, or it was stopped and its kind holds it then.
bool Evaluator::is_frozen(const BehaviourRecord& behaviour) const {
  return behaviour.run.holding ||
         (behaviour.run.phase == Run::Phase::halted && behaviour.kind->traits().holds_when_stopped);
}

Pose Evaluator::frozen_pose(const BehaviourRecord& behaviour, const Pose& in) const {
  const Pose& held = behaviour.run.transition->held;
  if (!adds_displacement(behaviour)) return held;
  return {vector(numbers(in.position) + numbers(held.position)),
          vector(near_unit(numbers(held.rotation) * numbers(in.rotation))), in.scale};
}

void Evaluator::hold(BehaviourRecord& behaviour, const Pose& in, const Pose& output) const {
  Pose& held = behaviour.run.transition.make().held;
  if (adds_displacement(behaviour))
    held = {vector(numbers(output.position) - numbers(in.position)),
            vector(near_unit(numbers(output.rotation) * inverse(numbers(in.rotation)))), Vec3::Ones()};
  else
    held = output;
  behaviour.run.transition_has_changed();
}

/// True for an additive behaviour that is stopped: it adds its last displacement to the incoming pose.
bool Evaluator::adds_displacement(const BehaviourRecord& behaviour) const {
  return behaviour.run.phase == Run::Phase::halted && behaviour.kind->traits().is_additive;
}

bool Evaluator::is_active(const BehaviourRecord& behaviour) const {
  const Run& run = behaviour.run;
  return (run.phase == Run::Phase::running || run.phase == Run::Phase::halted) && !run.failed;
}

bool Evaluator::is_in_transition(const BehaviourRecord& behaviour, Time now) const {
  const Run& run = behaviour.run;
  if (!is_active(behaviour) || is_frozen(behaviour) || run.failed_at != Time::min()) return true;
  if (behaviour.common.weight != 1.0) return true;
  if (!run.uses_transition) return false;
  const Transition& transition = *run.transition;
  return now < transition.bridge_since + transition.bridge_length ||
         now < transition.level_since + transition.level_length || transition.level_to != 1.0;
}

OwnTime Evaluator::own_time_of(const BehaviourRecord& behaviour, Time now) const {
  const Run& run = behaviour.run;
  const Time own = run.phase == Run::Phase::halted ? run.clock : object_time(behaviour.object, now) - run.clock;
  return own_time(static_cast<double>(own.count()));
}

void Evaluator::update_lane(Index behaviour, Time now) {
  const BehaviourRecord& record = registry_.behaviours[behaviour];
  if (!record.location) return;
  const auto [batch_index, block, lane] = *record.location;
  Batch& batch = layout_.batches[batch_index];
  const auto bit = static_cast<std::uint8_t>(1U << lane);
  const auto set = [bit](std::uint8_t& bits, bool on) {
    bits = static_cast<std::uint8_t>(on ? bits | bit : bits & ~bit);
  };
  set(batch.bits[block].in_transition, is_in_transition(record, now));

  const bool halted = record.run.phase == Run::Phase::halted;
  set(batch.bits[block].on_own_clock, halted || record.run.clock != Time{0});
  const double clock = static_cast<double>(record.run.clock.count());
  batch.clocks[block].pace.at[lane] = halted ? 0.0 : 1.0;
  batch.clocks[block].zero.at[lane] = halted ? -clock : clock;
}

}  // namespace hushed::detail
