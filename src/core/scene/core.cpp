// SPDX-License-Identifier: MIT
#include "scene/core.hpp"

#include <algorithm>

#include <hushed/behaviour/pace.hpp>

#include "scene/checks.hpp"
#include "scene/names.hpp"

namespace hushed::detail {

namespace {

Pose inherited(Inherit parts, const Pose& parent) {
  return {parts.position ? parent.position : Vec3{Vec3::Zero()},
          parts.rotation ? parent.rotation : Quat{Quat::Identity()}, parts.scale ? parent.scale : Vec3{Vec3::Ones()}};
}

}  // namespace

SceneCore::SceneCore(double tick_rate)
    : clock{tick_rate},
      flocks{registry, ticks},
      nearest{registry, ticks},
      evaluator{{registry, layout, ticks, clocks, inputs, feeds, flocks, nearest}, nearest, events},
      rules{registry, layout, evaluator, inputs},
      editor_{registry, layout, ticks, flocks, evaluator} {
  registry.tick_rate = tick_rate;
}

// --- the run state of behaviours -------------------------------------------------------------------------------------

Index SceneCore::give(Index object, const Kind& kind, const void* values, const Common& wanted) {
  Common common = wanted;
  if (common.name.empty() && kind.is_anonymous()) common.name = registry.free_name(object, kind);
  const auto found = check_new(registry, object, kind, values, common);
  const Index index = registry.give(object, kind, found.get(), common);
  begin_new(index);
  return index;
}

Index SceneCore::give_again(Index object, const Kind& kind, const void* values, const Common& common) {
  const Index index = registry.give_again(object, kind, values, common);
  begin_new(index);
  return index;
}

void SceneCore::begin_new(Index index) {
  const BehaviourRecord& behaviour = registry.behaviours[index];
  if (behaviour.kind == &kind_of<Pace>()) clocks.make_own(registry, behaviour.object);
  begin(index);
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
    run.clock = evaluator.object_time(behaviour.object, run.starts_at);
    return;
  }
  run.transition.make();
  starts.push(run.starts_at, index);
  // It starts before the next command, read or not. An object that is not in the layout yet is evaluated when it is.
  if (run.starts_at <= clock.now && registry.objects[behaviour.object].location) invalidate_poses();
}

void SceneCore::resolve_tags() {
  if (resolved_tags_ == registry.tags.edition()) return;
  resolved_tags_ = registry.tags.edition();
  registry.for_behaviours_with_tags([this](Index index) {
    BehaviourRecord& behaviour = registry.behaviours[index];
    const auto values = behaviour.kind->make(registry.store(behaviour).values(behaviour.row));
    const auto names = NamesInScene::with_lost(registry, behaviour.object, Reads::now);  // the newest members
    for (const FieldInfo& field : behaviour.kind->fields()) (void)field.resolve(values.get(), names);
    References dependencies = registry.dependencies_of(*behaviour.kind, values.get());
    if (dependencies == behaviour.dependencies) return;
    try {
      registry.set_dependencies(index, std::move(dependencies), behaviour.common.reads);
      if (behaviour.location) invalidate_layout();
      registry.store(behaviour).set_values(behaviour.row, values.get());
    } catch (const DependencyCycle&) {  // a new member depends on it: it continues without them
    }
  });
}

// --- pace ---

/// Between two ticks an agent moves in a straight line to where it will be at the second, at the present pace. Another
/// line begins where it is now.
void SceneCore::update_paces() {
  clocks.update(registry, clock.now, evaluator.last_tick, [this](const ObjectClock& changing) {
    if (clock.now == Time{0} || registry.presences[changing.owner].ended) return;
    registry.for_subtree(changing.owner, [&](Index object) {
      if (registry.objects[object].clock != registry.objects[changing.owner].clock) return;
      registry.for_stack(object, [this](Index b) {
        if (registry.behaviours[b].kind->traits().decides) evaluator.advance_and_sample(b, clock.now);
      });
    });
  });
}

// --- content ---------------------------------------------------------------------------------------------------------

void SceneCore::leave_out_ended() {
  for (const Index object : registry.ended())
    if (is_laid_out_ && !editor_.remove(object, clock.now)) invalidate_layout();
}

void SceneCore::remove_ended() {
  leave_out_ended();
  feeds.forget(registry.ended());
  registry.remove_ended();
  clocks.remove_unused(registry);
}

void SceneCore::take_out(Index object) {
  if (!is_laid_out_ || !registry.objects[object].location) return;
  const Pose last = layout.world(registry.lane_of_world(object));
  if (editor_.has_readers(object) || !editor_.remove(object, clock.now)) return invalidate_layout();
  taken_out_.emplace(object, last);
}

void SceneCore::take_ticks_from(const SceneCore& replaced) {
  ticks = replaced.ticks;
  const Registry& before = replaced.registry;
  for (Index object = 0; object < before.objects.size(); ++object)
    if (before.objects[object].location && registry.alive(before.handle(object)))
      taken_out_.insert_or_assign(object, replaced.layout.world(before.lane_of_world(object)));
}

void SceneCore::remove(Index behaviour) {
  take_out(registry.behaviours[behaviour].object);
  if (const auto location = registry.behaviours[behaviour].location) {
    const auto lane = static_cast<Index>(location->lane);
    layout.batches[location->batch].behaviours[std::size_t{location->block} * lanes + lane] = none;
  }
  registry.remove(behaviour);
}

bool SceneCore::has_readers(Index object) const {
  return is_laid_out_ && registry.objects[object].location && editor_.has_readers(object);
}

void SceneCore::add_to_layout(std::span<const Index> objects) {
  if (clock.now == Time{0} || in_tick_) invalidate_layout();
  const auto is_alive = [this](Index object) { return registry.presences[object].is_alive(); };
  for (const Index object : objects)
    if (is_laid_out_ && is_alive(object) && !editor_.add(object, clock.now)) invalidate_layout();
  if (!is_laid_out_) return;
  taken_out_.clear();
  reserve_events();
  evaluator.last_tick = frame_time(clock.ticks_until(clock.now), clock.tick_rate);
  if (!poses_are_current_) return;
  for (const Index object : objects)
    if (is_alive(object)) evaluator.add_to_start_set(object);
  evaluator.evaluate_start_set(clock.now);
  while (starts.next_time() <= clock.now) starts.take();
}

void SceneCore::restore_content(const RegistryContent& content,
                                std::span<const std::unique_ptr<BehaviourStore>> stores) {
  clear_layout();
  taken_out_.clear();
  registry.restore(content, stores);
  resolved_tags_ = registry.tags.edition();  // the values in these stores name their members
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
    output[i] = registry.objects[i].location ? layout.world(registry.lane_of_world(i)) : registry.base(i);
  for (const auto& [object, pose] : taken_out_) output[object] = pose;
  taken_out_.clear();

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
  for (Index i = 0; i < registry.behaviours.size(); ++i) {
    const BehaviourRecord& behaviour = registry.behaviours[i];
    if (!behaviour.location) continue;
    evaluator.update_lane(i, clock.now);
    if (behaviour.run.phase == Run::Phase::waiting && !evaluator.starts_without_bridge(behaviour))
      starts.append(behaviour.run.starts_at, i);
  }
  reserve_events();
  starts.make_order();
}

/// A frame must not allocate.
void SceneCore::reserve_events() {
  const std::size_t capacity = events.size() + evaluator.most_events() + 16;
  events.reserve(capacity);
  rules.reserve(capacity);
  evaluator.gatherings.reserve(evaluator.most_gatherings());
}

/// Objects whose last tick is read for the first time start with their present pose, or with the rest pose at time 0,
/// when there is no other pose yet.
void SceneCore::remember_tick_objects(const std::vector<Pose>& output) {
  ticks.turn_to(evaluator.last_tick, layout, registry,
                [&](Index object) { return clock.now == Time{0} ? rest_pose_in_world(object) : output[object]; });
}

Pose SceneCore::rest_pose_in_world(Index object) const {
  Pose pose = registry.base(object);
  for (Index child = object; registry.objects[child].parent != none; child = registry.objects[child].parent)
    pose = compose(inherited(registry.objects[child].inherit, registry.base(registry.objects[child].parent)), pose);
  return pose;
}

Pose SceneCore::inherited_frame(Index object) const {
  const ObjectRecord& record = registry.objects[object];
  if (record.parent == none) return {};
  return inherited(record.inherit, layout.world(registry.lane_of_world(record.parent)));
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
    for (std::size_t i = 0; i < batch.behaviours.size(); ++i) {
      const Index b = batch.behaviours[i];
      if (b != none) batch.lane_blocks->fill(i / lanes, static_cast<int>(i % lanes), registry.behaviours[b].row);
    }
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
    for (std::size_t i = 0; i < batch.behaviours.size(); ++i) {
      const Index b = batch.behaviours[i];
      if (b == none || b == except || !registry.behaviours[b].in_use) continue;
      batch.lane_blocks->collect(i / lanes, static_cast<int>(i % lanes), registry.behaviours[b].row);
    }
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
