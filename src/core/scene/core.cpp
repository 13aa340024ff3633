// SPDX-License-Identifier: MIT
#include "scene/core.hpp"

#include <algorithm>

#include "scene/checks.hpp"
#include "scene/names.hpp"

namespace hushed::detail {

SceneCore::SceneCore(double tick_rate)
    : clock{tick_rate},
      flocks{registry, ticks},
      nearest{registry, ticks},
      evaluator{{registry, layout, ticks, inputs, feeds, flocks, nearest}, nearest, events},
      rules{registry, layout, evaluator, inputs} {
  registry.tick_rate = tick_rate;
}

// --- the run state of behaviours -------------------------------------------------------------------------------------

Index SceneCore::give(Index object, const Kind& kind, const void* values, const Common& wanted) {
  Common common = wanted;
  if (common.name.empty() && kind.is_anonymous()) common.name = registry.free_name(object, kind);
  const auto found = check_new(registry, object, kind, values, common);
  const Index index = registry.give(object, kind, found.get(), common);
  begin(index);
  return index;
}

void SceneCore::begin(Index index) {
  BehaviourRecord& behaviour = registry.behaviours[index];
  behaviour.run = {};
  const bool may_jump = !evaluator.starts_without_bridge(behaviour) || !behaviour.dependencies.empty();
  if (behaviour.common.fade > Time{0} || !behaviour.common.enabled || may_jump) behaviour.run.transition.make();
  if (behaviour.common.enabled) schedule_start(index, clock.now, behaviour.common.delay);
}

void SceneCore::schedule_start(Index index, Time from, Time delay) {
  BehaviourRecord& behaviour = registry.behaviours[index];
  Run& run = behaviour.run;
  run.phase = Run::Phase::waiting;
  run.waits_from = from;
  run.starts_at = std::max(from + delay, clock.now);
  if (behaviour.kind->traits().has_memory && run.starts_at > Time{0})
    run.starts_at = clock.tick_after(run.starts_at - Time{1});
  if (evaluator.starts_without_bridge(behaviour)) {
    if (delay > Time{0} || behaviour.common.fade > Time{0}) {
      run.transition.make();
      return;
    }
    run.phase = Run::Phase::running;
    run.clock = run.starts_at;
    return;
  }
  run.transition.make();
  starts.push(run.starts_at, index);
  if (run.starts_at <= clock.now) invalidate_poses();  // it starts before the next command, read or not
}

void SceneCore::resolve_tags() {
  for (Index index = 0; index < registry.behaviours.size(); ++index) {
    BehaviourRecord& behaviour = registry.behaviours[index];
    if (!behaviour.in_use || registry.needs_all_dependencies(behaviour)) continue;
    const auto values = behaviour.kind->make(registry.store(behaviour).values(behaviour.row));
    const NamesInScene names{registry, behaviour.object};
    for (const FieldInfo& field : behaviour.kind->fields()) (void)field.resolve(values.get(), names);
    References dependencies = registry.dependencies_of(*behaviour.kind, values.get());
    if (dependencies == behaviour.dependencies) continue;
    try {
      registry.set_dependencies(index, std::move(dependencies), behaviour.common.reads);
      registry.store(behaviour).set_values(behaviour.row, values.get());
    } catch (const DependencyCycle&) {  // a new member depends on it: it continues without them
    }
  }
}

// --- layout and poses ------------------------------------------------------------------------------------------------

/// Within a tick, behaviours that are due start later, with the tick itself.
void SceneCore::refresh() {
  if (!is_laid_out_) lay_out_again();
  if (poses_are_current_) return;
  if (!in_tick_) return evaluate_all({.now = clock.now, .starts = Starts::all});
  evaluator.evaluate({.now = clock.now});
  poses_are_current_ = true;
}

void SceneCore::lay_out_again(Index changed) {
  collect_state(changed);
  lay_out_from_stores();
}

void SceneCore::lay_out_from_stores() {
  std::vector<Pose> output(registry.objects.size());
  for (Index i = 0; i < output.size(); ++i)
    output[i] = registry.objects[i].location ? layout.world(registry.lane_of_world(i)) : registry.objects[i].base();

  layout = lay_out(registry, evaluator.threads());
  evaluator.reserve();
  evaluator.last_tick = frame_time(clock.ticks_until(clock.now) - (before_tick_ ? 1 : 0), clock.tick_rate);
  remember_tick_objects(output);
  flocks.plan();
  flocks.update();
  nearest.plan();
  update_all_lanes();
  is_laid_out_ = true;
  poses_are_current_ = false;
}

void SceneCore::clear_layout() {
  layout = {};
  for (ObjectRecord& object : registry.objects) object.location.reset();
  for (BehaviourRecord& behaviour : registry.behaviours) behaviour.location.reset();
  starts.clear();
  invalidate_layout();
  invalidate_poses();
}

void SceneCore::update_all_lanes() {
  starts.clear();
  std::size_t observers = 0, emitters = 0;
  for (Index i = 0; i < registry.behaviours.size(); ++i) {
    const BehaviourRecord& behaviour = registry.behaviours[i];
    if (!behaviour.location) continue;
    evaluator.update_lane(i, clock.now);
    if (behaviour.run.phase == Run::Phase::waiting && !evaluator.starts_without_bridge(behaviour))
      starts.append(behaviour.run.starts_at, i);
    if (!behaviour.dependencies.empty()) ++observers;
    if (behaviour.kind->traits().emits_events) ++emitters;
  }
  const std::size_t capacity = events.size() + 2 * observers + 16 * emitters + 16;  // a frame must not allocate
  events.reserve(capacity);
  rules.reserve(capacity);
  evaluator.gatherings.reserve(emitters);
  starts.make_order();
}

/// Objects whose last tick is read for the first time start with their present pose, or with the rest pose at time 0,
/// when there is no other pose yet.
void SceneCore::remember_tick_objects(const std::vector<Pose>& output) {
  ticks.turn_to(evaluator.last_tick, layout, registry,
                [&](Index object) { return clock.now == Time{0} ? rest_pose_in_world(object) : output[object]; });
}

Pose SceneCore::rest_pose_in_world(Index object) const {
  Pose pose = registry.objects[object].base();
  for (Index child = object; registry.objects[child].parent != none; child = registry.objects[child].parent) {
    const Inherit inherit = registry.objects[child].inherit;
    Pose frame = registry.objects[registry.objects[child].parent].base();
    if (!inherit.position) frame.position = Vec3::Zero();
    if (!inherit.rotation) frame.rotation = Quat::Identity();
    if (!inherit.scale) frame.scale = Vec3::Ones();
    pose = compose(frame, pose);
  }
  return pose;
}

void SceneCore::evaluate_all(const EvalRequest& request) noexcept {
  evaluator.evaluate(request);
  if (request.starts == Starts::all)
    while (starts.next_time() <= clock.now) starts.take();
  if (clock.now == Time{0}) {
    commit_tick_memory(clock.now);
    decide(clock.now);
  }
  poses_are_current_ = true;
}

void SceneCore::enter_tick(Time tick, bool is_committed) noexcept {
  evaluator.catch_up();
  clock.now = tick;
  in_tick_ = true;
  before_tick_ = !is_committed;
  if (!is_laid_out_) lay_out_again();
  evaluator.evaluate({.now = tick, .scope = is_committed ? Scope::not_at_ticks : Scope::all});
  poses_are_current_ = true;
}

// --- values and state of behaviours ----------------------------------------------------------------------------------

void SceneCore::fill_lane(const BehaviourRecord& behaviour) {
  layout.lane_blocks(*behaviour.location).fill(behaviour.location->block, behaviour.location->lane, behaviour.row);
}

void SceneCore::fill_all_lanes() {
  for (const Batch& batch : layout.batches)
    for (const Index index : batch.behaviours)
      if (index != none) fill_lane(registry.behaviours[index]);
  update_all_lanes();
  flocks.plan();
  flocks.update();
}

void SceneCore::collect_state_of(Index index) {
  const BehaviourRecord& behaviour = registry.behaviours[index];
  layout.lane_blocks(*behaviour.location).collect(behaviour.location->block, behaviour.location->lane, behaviour.row);
}

void SceneCore::collect_state(Index except) {
  for (const Batch& batch : layout.batches)
    for (const Index b : batch.behaviours)
      if (b != none && b != except && registry.behaviours[b].in_use) collect_state_of(b);
}

// --- ticks -----------------------------------------------------------------------------------------------------------

void SceneCore::decide(Time at) noexcept {
  ticks.update_presence(registry);
  flocks.update();
  evaluator.decide(at);
}

void SceneCore::pass_events_to_rules() noexcept {
  while (const Event* event = events.next_for_rules()) rules.receive(*event);
}

}  // namespace hushed::detail
