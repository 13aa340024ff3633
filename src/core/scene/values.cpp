// SPDX-License-Identifier: MIT
// Changing values while the scene plays, by handle or by path, without a jump.

#include <algorithm>

#include "scene/scene_impl.hpp"

namespace hushed::detail {

void SceneImpl::set_values(Index index, const void* wanted) {
  settle();
  BehaviourRecord& behaviour = registry.behaviours[index];
  const auto found = resolved(behaviour, wanted);
  const void* values = found.get();
  check_values(behaviour, values, nullptr);
  remember_given_values(behaviour);
  References dependencies = registry.dependencies_of(*behaviour.kind, values);
  const bool dependencies_changed = dependencies != behaviour.dependencies;
  if (dependencies_changed) registry.set_dependencies(index, std::move(dependencies), behaviour.common.reads);
  const BehaviourSample before = evaluator_.advance_and_sample(index, now);
  collect_memory_of(index);

  Run& run = behaviour.run;
  BehaviourStore& store = registry.store(behaviour);
  const auto neighbour_queries = behaviour.kind->neighbour_queries(values),
             neighbour_sums = behaviour.kind->neighbour_queries(store.values(behaviour.row));
  const bool seeks_others = needs_other_neighbours(neighbour_sums, neighbour_queries);
  if (!has_equal_range(neighbour_sums, neighbour_queries)) flocks_.plan_again();
  const bool has_started = run.phase == Run::Phase::running || run.phase == Run::Phase::halted;
  if (has_started && store.absorb(behaviour.row, evaluator_.own_time_of(run, now), before.start, values))
    run.clock = run.phase == Run::Phase::halted ? Time{0} : now;
  store.set_values(behaviour.row, values);
  if (dependencies_changed) {
    const Object lost = registry.first_lost(behaviour);
    if (lost.generation == 0)
      run.holding = false;
    else if (!run.holding)
      lose(index, lost, before.output);
  }

  if (evaluator_.is_frozen(behaviour) &&
      !evaluator_.adds_displacement(behaviour)) {  // parts that it did not hold so far are held as they come in now
    Pose& held = run.transition->held;
    held = only(batch_of(behaviour).touches | behaviour.once_touched, held, before.start.in);
  }
  const bool in_place =
      !dependencies_changed && !seeks_others && store.variant(behaviour.row) == batch_of(behaviour).variant;
  if (in_place) {
    fill_lane(behaviour);
  } else {
    behaviour.once_touched |= batch_of(behaviour).touches;
    lay_out_again(index);
    present({.now = now});
  }
  if (has_started) evaluator_.advance_and_sample(index, now);  // its goal may have changed
  if (has_started && !run.holding) bridge_over(index, before.output);
  if (!in_place) poses_are_current_ = false;  // the poses were evaluated without the bridge
  if (dependencies_changed && registry.first_lost(behaviour).generation == 0) stop_waiting_for_lost(index);
}

void SceneImpl::remember_given_values(BehaviourRecord& behaviour) {
  if (behaviour.given) return;
  behaviour.given = behaviour.kind->make(registry.store(behaviour).values(behaviour.row));
  behaviour.given_common = behaviour.common;
}

void SceneImpl::set_common(Index index, const Common& common) {
  settle();
  BehaviourRecord& behaviour = registry.behaviours[index];
  check_common(behaviour, common);
  if (common.name != behaviour.common.name)
    refuse(behaviour, "a behaviour keeps its name; give another one under the new name.");

  remember_given_values(behaviour);
  const Common old = behaviour.common;
  const BehaviourSample before = evaluator_.sample(index, now);
  if (common.reads != old.reads) {
    registry.set_dependencies(index, behaviour.dependencies, common.reads);
    laid_out_ = false;
  }
  behaviour.common = common;
  if (common.fade > Time{0}) behaviour.run.transition.make();
  if (behaviour.run.phase == Run::Phase::waiting && behaviour.run.starts_at != when_found && common.delay != old.delay)
    wait(index, behaviour.run.waits_from, common.delay);
  settle();
  if (common.weight != old.weight || common.reads != old.reads) bridge_over(index, before.output);
  if (common.reads != old.reads) poses_are_current_ = false;  // what was presented had no bridge yet
  if (common.enabled != old.enabled) execute({common.enabled ? Action::Verb::start : Action::Verb::stop, index});
  evaluator_.update_lane(index, now);
}

/// `seek` leaves tuned values as they are, so states of the past no longer match, except the first.
void SceneImpl::drop_past_states() {
  if (!states_.empty()) states_.resize(1);
}

/// Records a change of `enabled` as a start or stop, which `seek` repeats.
void SceneImpl::log_enabled(Index index, bool was_enabled) {
  const bool is_enabled = registry.behaviours[index].common.enabled;
  if (is_enabled != was_enabled)
    commands_.add({.verb = is_enabled ? Action::Verb::start : Action::Verb::stop, .target = index, .at = now});
}

void SceneImpl::tune_common(Index index, const Common& common) {
  const Common old = registry.behaviours[index].common;
  set_common(index, common);
  log_enabled(index, old.enabled);
  for (const std::string_view field : changed_fields(common_fields(), &old, &common)) mark_own(index, field);
  drop_past_states();
}

void SceneImpl::retarget(Index index, Object to) {
  const BehaviourRecord& behaviour = registry.behaviours[index];
  const FieldInfo* field = aim_of(*behaviour.kind);
  registry.index(to);
  const auto values = behaviour.kind->make(registry.store(behaviour).values(behaviour.row));
  if (field) field->aim(values.get(), to);
  const auto dependencies = registry.dependencies_of(*behaviour.kind, values.get());
  if (!field || std::find(dependencies.each.begin(), dependencies.each.end(), to) == dependencies.each.end())
    refuse(behaviour, "it has no target that could be another.");
  set_values(index, values.get());
}

Index SceneImpl::find_behaviour(std::string_view path) const {
  const std::size_t dot = path.find('.');
  if (dot == std::string_view::npos) return none;
  const Index object = registry.find(path.substr(0, dot));
  return object == none ? none : registry.find_behaviour(object, path.substr(dot + 1));
}

SceneImpl::PathEnd SceneImpl::resolve(std::string_view path) const {
  const std::size_t first = path.find('.');
  const std::size_t second = first == std::string_view::npos ? first : path.find('.', first + 1);
  if (second == std::string_view::npos)
    throw BadValue{in_quotes(path) + " is not a path; give object.behaviour.field, such as lamp.spin.speed."};
  const std::string_view object_name = path.substr(0, first);
  const std::string_view behaviour_name = path.substr(first + 1, second - first - 1);
  const std::string_view field_name = path.substr(second + 1);

  const Index object = registry.find(object_name);
  if (object == none)
    throw BadValue{std::string{path} + ": there is no object " + in_quotes(object_name) + " in this scene" +
                   suggestion(object_name, registry.names())};
  const Index behaviour = registry.find_behaviour(object, behaviour_name);
  if (behaviour == none) {
    std::vector<std::string_view> names;
    registry.for_stack(object, [&](Index b) { names.push_back(registry.name_of_behaviour(b)); });
    throw BadValue{std::string{path} + ": " + std::string{object_name} + " has no behaviour " +
                   in_quotes(behaviour_name) + suggestion(behaviour_name, names)};
  }
  const Kind& kind = *registry.behaviours[behaviour].kind;
  const FieldFound found = find_field(kind, field_name);
  if (found.field) return {behaviour, found.field, found.is_common};
  throw BadValue{std::string{path} + ": there is no " + in_quotes(field_name) + " here" +
                 suggestion(field_name, field_names(kind))};
}

void SceneImpl::tune(std::string_view path, const std::optional<Value>& value) {
  settle();
  if (const auto preset = preset_path(path)) {
    set_in_preset(*preset, value);
  } else {
    const PathEnd end = resolve(path);
    const bool was_enabled = registry.behaviours[end.behaviour].common.enabled;
    set(end, path, value);
    log_enabled(end.behaviour, was_enabled);
    mark_own(end.behaviour, end.field->name);
  }
  drop_past_states();
}

void SceneImpl::set(const PathEnd& end, std::string_view path, const std::optional<Value>& value) {
  const auto& [index, field, is_common] = end;
  const BehaviourRecord& behaviour = registry.behaviours[index];
  const auto refuse = [path](const std::string& text) { throw BadValue{std::string{path} + ": " + text}; };
  if (is_common) {
    Common common = behaviour.common;
    if (const auto diagnostic = field->put(&common, value)) refuse(diagnostic->text);
    return set_common(index, common);
  }
  const void* present = registry.store(behaviour).values(behaviour.row);
  for (const Either& either : behaviour.kind->alternatives()) {
    const bool is_other = std::find(either.others.begin(), either.others.end(), field->name) != either.others.end();
    for (const FieldInfo& other : behaviour.kind->fields())
      if (is_other && other.name == either.key && other.get(present))
        refuse("it goes by its " + std::string{either.key} + "; set " + std::string{either.key} + " instead.");
  }
  for (const OneOf& one_of : behaviour.kind->exactly_one()) {
    const auto& keys = one_of.keys;
    if (std::find(keys.begin(), keys.end(), field->name) == keys.end()) continue;
    for (const FieldInfo& other : behaviour.kind->fields())
      if (other.name != field->name && std::find(keys.begin(), keys.end(), other.name) != keys.end() &&
          other.get(present))
        refuse("it goes by its " + std::string{other.name} + "; set " + std::string{other.name} + " instead.");
  }
  const auto changed = behaviour.kind->make(present);
  if (const auto diagnostic = field->put(changed.get(), value)) refuse(diagnostic->text);
  set_values(index, changed.get());
  if (flocks_.is_stale()) flocks_.update();
}

std::optional<Value> SceneImpl::get(std::string_view path) {
  if (const auto preset = preset_path(path)) return get_from_preset(*preset);
  const auto [index, field, is_common] = resolve(path);
  const BehaviourRecord& behaviour = registry.behaviours[index];
  return field->get(is_common ? static_cast<const void*>(&behaviour.common)
                              : registry.store(behaviour).values(behaviour.row));
}

}  // namespace hushed::detail
