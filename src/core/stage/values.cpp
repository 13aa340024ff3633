// Changing values while the scene plays, by handle or by path, without a jump.

#include <algorithm>

#include "stage/stage.hpp"

namespace hushed::inside {

void Stage::set_values(Index index, const void* wanted) {
  settle();
  BehaviourRecord& behaviour = cast.behaviours[index];
  const auto found = resolved(behaviour, wanted);
  const void* values = found.get();
  check_values(behaviour, values, nullptr);
  remember_as_given(behaviour);
  References looks_at = cast.looks_of(*behaviour.kind, values);
  const bool looks_elsewhere = looks_at != behaviour.looks_at;
  if (looks_elsewhere) cast.set_looks(index, std::move(looks_at), behaviour.common.reads);
  const Probe before = player_.settle(index, now);
  collect_memory_of(index);

  Run& run = behaviour.run;
  Roster& roster = cast.roster(behaviour);
  const auto senses = behaviour.kind->senses(values), sensed = behaviour.kind->senses(roster.values(behaviour.row));
  const bool seeks_others = looks_for_others(sensed, senses);
  if (!looks_as_far(sensed, senses)) flocks_.plan_again();
  const bool has_started = run.phase == Run::Phase::running || run.phase == Run::Phase::halted;
  if (has_started && roster.absorb(behaviour.row, player_.own_time_of(run, now), before.start, values))
    run.clock = run.phase == Run::Phase::halted ? Time{0} : now;
  roster.set_values(behaviour.row, values);
  if (looks_elsewhere) {
    const Object lost = cast.lost_one(behaviour);
    if (lost.generation == 0)
      run.holding = false;
    else if (!run.holding)
      lose(index, lost, before.shown);
  }

  if (player_.stands_still(behaviour) &&
      !player_.keeps_displacement(behaviour)) {  // parts that it did not hold so far, it holds as they come in now
    Pose& held = run.transition->held;
    held = only(batch_of(behaviour).touches | behaviour.once_touched, held, before.start.in);
  }
  const bool in_place =
      !looks_elsewhere && !seeks_others && roster.variant(behaviour.row) == batch_of(behaviour).variant;
  if (in_place) {
    fill_lane(behaviour);
  } else {
    behaviour.once_touched |= batch_of(behaviour).touches;
    lay_out_again(index);
    present(false);
  }
  if (has_started) player_.settle(index, now);  // its goal may be another now
  if (has_started && !run.holding) bridge_over(index, before.shown);
  if (!in_place) shown_ = false;  // what was presented had no bridge yet
  if (looks_elsewhere && cast.lost_one(behaviour).generation == 0) stop_waiting_for_lost(index);
}

void Stage::remember_as_given(BehaviourRecord& behaviour) {
  if (behaviour.given) return;
  behaviour.given = behaviour.kind->make(cast.roster(behaviour).values(behaviour.row));
  behaviour.given_common = behaviour.common;
}

void Stage::set_common(Index index, const Common& common) {
  settle();
  BehaviourRecord& behaviour = cast.behaviours[index];
  check_common(behaviour, common);
  if (common.name != behaviour.common.name)
    refuse(behaviour, "a behaviour keeps its name; give another one under the new name.");

  remember_as_given(behaviour);
  const Common old = behaviour.common;
  const Probe before = player_.probe(index, now);
  if (common.reads != old.reads) {
    cast.set_looks(index, behaviour.looks_at, common.reads);
    laid_out_ = false;
  }
  behaviour.common = common;
  if (common.fade > Time{0}) behaviour.run.transition.make();
  if (behaviour.run.phase == Run::Phase::waiting && behaviour.run.starts_at != when_found && common.delay != old.delay)
    wait(index, behaviour.run.waits_from, common.delay);
  settle();
  if (common.weight != old.weight || common.reads != old.reads) bridge_over(index, before.shown);
  if (common.reads != old.reads) shown_ = false;  // what was presented had no bridge yet
  if (common.enabled != old.enabled) carry_out({common.enabled ? Action::Verb::start : Action::Verb::stop, index});
  player_.note(index, now);
}

/// A value that is tuned stays as it is wherever `seek` goes, so that states of the past no longer fit it, but for that
/// at the beginning.
void Stage::forget_past_values() {
  if (!kept_.empty()) kept_.resize(1);
}

/// Switching a behaviour on or off is a start or a stop, which `seek` repeats.
void Stage::log_enabled(Index index, bool was_enabled) {
  const bool is_enabled = cast.behaviours[index].common.enabled;
  if (is_enabled != was_enabled)
    commands_.add({.verb = is_enabled ? Action::Verb::start : Action::Verb::stop, .target = index, .at = now});
}

void Stage::tune_common(Index index, const Common& common) {
  const Common old = cast.behaviours[index].common;
  set_common(index, common);
  log_enabled(index, old.enabled);
  for (const std::string_view field : changed_fields(fields_of<Common>(), &old, &common)) own_from_now_on(index, field);
  forget_past_values();
}

void Stage::retarget(Index index, Object to) {
  const BehaviourRecord& behaviour = cast.behaviours[index];
  const FieldInfo* field = aim_of(*behaviour.kind);
  cast.index(to);
  const auto values = behaviour.kind->make(cast.roster(behaviour).values(behaviour.row));
  if (field) field->aim(values.get(), to);
  const auto seen = cast.looks_of(*behaviour.kind, values.get());
  if (!field || std::find(seen.each.begin(), seen.each.end(), to) == seen.each.end())
    refuse(behaviour, "it has no target that could be another.");
  set_values(index, values.get());
}

Index Stage::find_behaviour(std::string_view path) const {
  const std::size_t dot = path.find('.');
  if (dot == std::string_view::npos) return none;
  const Index object = cast.find(path.substr(0, dot));
  return object == none ? none : cast.find_behaviour(object, path.substr(dot + 1));
}

Stage::PathEnd Stage::resolve(std::string_view path) const {
  const std::size_t first = path.find('.');
  const std::size_t second = first == std::string_view::npos ? first : path.find('.', first + 1);
  if (second == std::string_view::npos)
    throw BadValue{in_quotes(path) + " is not a path; give object.behaviour.field, such as lamp.spin.speed."};
  const std::string_view object_name = path.substr(0, first);
  const std::string_view behaviour_name = path.substr(first + 1, second - first - 1);
  const std::string_view field_name = path.substr(second + 1);

  const Index object = cast.find(object_name);
  if (object == none)
    throw BadValue{std::string{path} + ": there is no object " + in_quotes(object_name) + " in this scene" +
                   suggestion(object_name, cast.names())};
  const Index behaviour = cast.find_behaviour(object, behaviour_name);
  if (behaviour == none) {
    std::vector<std::string_view> names;
    cast.for_stack(object, [&](Index b) { names.push_back(cast.name_of_behaviour(b)); });
    throw BadValue{std::string{path} + ": " + std::string{object_name} + " has no behaviour " +
                   in_quotes(behaviour_name) + suggestion(behaviour_name, names)};
  }
  const Kind& kind = *cast.behaviours[behaviour].kind;
  const FieldFound found = find_field(kind, field_name);
  if (found.field) return {behaviour, found.field, found.is_common};
  throw BadValue{std::string{path} + ": there is no " + in_quotes(field_name) + " here" +
                 suggestion(field_name, field_names(kind))};
}

void Stage::tune(std::string_view path, const std::optional<Value>& value) {
  settle();
  if (const auto preset = preset_path(path)) {
    set_in_preset(*preset, value);
  } else {
    const PathEnd end = resolve(path);
    const bool was_enabled = cast.behaviours[end.behaviour].common.enabled;
    set(end, path, value);
    log_enabled(end.behaviour, was_enabled);
    own_from_now_on(end.behaviour, end.field->name);
  }
  forget_past_values();
}

void Stage::set(const PathEnd& end, std::string_view path, const std::optional<Value>& value) {
  const auto& [index, field, is_common] = end;
  const BehaviourRecord& behaviour = cast.behaviours[index];
  const auto refuse = [path](const std::string& text) { throw BadValue{std::string{path} + ": " + text}; };
  if (is_common) {
    Common common = behaviour.common;
    if (const auto complaint = field->put(&common, value)) refuse(complaint->text);
    return set_common(index, common);
  }
  const void* present = cast.roster(behaviour).values(behaviour.row);
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
  if (const auto complaint = field->put(changed.get(), value)) refuse(complaint->text);
  set_values(index, changed.get());
  if (flocks_.is_stale()) flocks_.look();
}

std::optional<Value> Stage::get(std::string_view path) {
  if (const auto preset = preset_path(path)) return get_from_preset(*preset);
  const auto [index, field, is_common] = resolve(path);
  const BehaviourRecord& behaviour = cast.behaviours[index];
  return field->get(is_common ? static_cast<const void*>(&behaviour.common)
                              : cast.roster(behaviour).values(behaviour.row));
}

}  // namespace hushed::inside
