// SPDX-License-Identifier: MIT
#include "scene/values.hpp"

#include <algorithm>

#include "scene/checks.hpp"

namespace hushed::detail {

namespace {

bool contains(std::span<const std::string_view> keys, std::string_view key) {
  return std::find(keys.begin(), keys.end(), key) != keys.end();
}

/// The field that is set and that excludes `key`; nothing where `key` can be set.
std::optional<std::string_view> field_instead_of(const Kind& kind, std::string_view key, const void* values) {
  for (const Either& either : kind.alternatives())
    for (const FieldInfo& other : kind.fields())
      if (contains(either.others, key) && other.name == either.key && other.get(values)) return other.name;
  for (const OneOf& one_of : kind.exactly_one())
    for (const FieldInfo& other : kind.fields())
      if (contains(one_of.keys, key) && contains(one_of.keys, other.name) && other.name != key && other.get(values))
        return other.name;
  return std::nullopt;
}

}  // namespace

void Values::set(Index index, const void* wanted) {
  core_.refresh();
  BehaviourRecord& behaviour = registry_.behaviours[index];
  const auto found = resolved_with_lost(registry_, behaviour, wanted);
  const void* values = found.get();
  check_values(registry_, behaviour, values, nullptr);
  remember_given_values(behaviour);
  behaviour.given->values_changed = true;
  References dependencies = registry_.dependencies_of(*behaviour.kind, values);
  const bool other_dependencies = dependencies != behaviour.dependencies;
  if (other_dependencies) registry_.set_dependencies(index, std::move(dependencies), behaviour.common.reads);

  const BehaviourSample before = evaluator_.advance_and_sample(index, now_);
  core_.collect_state_of(index);
  const bool other_queries = update_queries(behaviour, values);
  const bool has_started = behaviour.run.phase == Run::Phase::running || behaviour.run.phase == Run::Phase::halted;
  replace_in_store(behaviour, values, has_started ? &before.start : nullptr);
  if (other_dependencies) hold_or_release(index, before.output);
  hold_newly_touched_parts(behaviour, before.start.in);

  const bool keeps_lane = !other_dependencies && !other_queries &&
                          registry_.store(behaviour).variant(behaviour.row) == core_.batch_of(behaviour).variant;
  if (keeps_lane) {
    core_.fill_lane(behaviour);
  } else {
    behaviour.run.once_touched |= core_.batch_of(behaviour).touches;
    core_.lay_out_again(index);
    core_.evaluate_all({.now = now_});
  }
  if (has_started) evaluator_.advance_and_sample(index, now_);  // its goal may have changed
  if (has_started && !behaviour.run.holding) commands_.bridge_over(index, before.output);
  if (!keeps_lane) core_.invalidate_poses();  // the poses were evaluated without the bridge
  if (other_dependencies && registry_.first_lost(behaviour).generation == 0) commands_.stop_waiting_for_lost(index);
  core_.update_paces();
}

bool Values::update_queries(const BehaviourRecord& behaviour, const void* values) {
  const auto before = behaviour.kind->neighbour_queries(registry_.store(behaviour).values(behaviour.row));
  const auto after = behaviour.kind->neighbour_queries(values);
  if (!has_equal_range(before, after)) core_.flocks.plan_again();
  return needs_other_neighbours(before, after);
}

void Values::replace_in_store(BehaviourRecord& behaviour, const void* values, const Start* start) {
  BehaviourStore& store = registry_.store(behaviour);
  Run& run = behaviour.run;
  if (start && store.absorb(behaviour.row, evaluator_.own_time_of(behaviour, now_), *start, values))
    run.clock = run.phase == Run::Phase::halted ? Time{0} : evaluator_.object_time(behaviour.object, now_);
  store.set_values(behaviour.row, values);
}

void Values::hold_or_release(Index index, const Pose& output) {
  Run& run = registry_.behaviours[index].run;
  const Object lost = registry_.first_lost(registry_.behaviours[index]);
  if (lost.generation == 0)
    run.holding = false;
  else if (!run.holding)
    commands_.lose(index, lost, output);
}

void Values::hold_newly_touched_parts(BehaviourRecord& behaviour, const Pose& in) {
  if (!evaluator_.is_frozen(behaviour) || evaluator_.adds_displacement(behaviour)) return;
  Pose& held = behaviour.run.transition->held;
  held = only(core_.batch_of(behaviour).touches | behaviour.run.once_touched, held, in);
  behaviour.run.transition_has_changed();
}

void Values::remember_given_values(BehaviourRecord& behaviour) {
  if (behaviour.given) return;
  behaviour.given.make() = {behaviour.kind->make(registry_.store(behaviour).values(behaviour.row)), behaviour.common};
}

void Values::set_common(Index index, const Common& common) {
  core_.refresh();
  BehaviourRecord& behaviour = registry_.behaviours[index];
  check_common(registry_, behaviour, common);
  if (common.name != behaviour.common.name)
    refuse(registry_, behaviour,
           "the name of a behaviour cannot be changed; give the object a new behaviour with the new name.");

  remember_given_values(behaviour);
  const Common old = behaviour.common;
  const BehaviourSample before = evaluator_.sample(index, now_);
  if (common.reads != old.reads) {
    registry_.set_dependencies(index, behaviour.dependencies, common.reads);
    core_.invalidate_layout();
  }
  behaviour.common = common;
  if (common.fade > Time{0}) behaviour.run.transition.make();
  if (behaviour.run.phase == Run::Phase::waiting && behaviour.run.starts_at != when_found && common.delay != old.delay)
    core_.schedule_start(index, behaviour.run.waits_from, common.delay);
  core_.refresh();
  if (common.weight != old.weight || common.reads != old.reads) commands_.bridge_over(index, before.output);
  if (common.reads != old.reads) core_.invalidate_poses();  // what was presented had no bridge yet
  if (common.enabled != old.enabled)
    commands_.execute({common.enabled ? Action::Verb::start : Action::Verb::stop, index});
  evaluator_.update_lane(index, now_);
}

void Values::retarget(Index index, Object to) {
  const BehaviourRecord& behaviour = registry_.behaviours[index];
  const FieldInfo* field = aim_of(*behaviour.kind);
  registry_.index(to);
  const auto values = behaviour.kind->make(registry_.store(behaviour).values(behaviour.row));
  if (field) field->aim(values.get(), to);
  const auto dependencies = registry_.dependencies_of(*behaviour.kind, values.get());
  if (!field || std::find(dependencies.each.begin(), dependencies.each.end(), to) == dependencies.each.end())
    refuse(registry_, behaviour, "it has no target that could be replaced.");
  set(index, values.get());
}

void Values::set(const ValuePath& end, std::string_view path, const std::optional<Value>& value) {
  const auto& [index, field, is_common] = end;
  const BehaviourRecord& behaviour = registry_.behaviours[index];
  const auto refuse = [path](const std::string& text) { throw BadValue{std::string{path} + ": " + text}; };
  if (is_common) {
    Common common = behaviour.common;
    if (const auto diagnostic = field->put(&common, value)) refuse(diagnostic->text);
    return set_common(index, common);
  }
  const void* present = registry_.store(behaviour).values(behaviour.row);
  if (const auto rival = field_instead_of(*behaviour.kind, field->name, present))
    refuse(std::string{*rival} + " is given and excludes this key; set " + std::string{*rival} + " instead.");
  const auto changed = behaviour.kind->make(present);
  if (const auto diagnostic = field->put(changed.get(), value)) refuse(diagnostic->text);
  set(index, changed.get());
  if (core_.flocks.is_stale()) core_.flocks.update();
}

}  // namespace hushed::detail
