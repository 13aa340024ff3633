// SPDX-License-Identifier: MIT
// Ticks: input takes effect, rules are evaluated and their actions executed, gathered objects go, callbacks are called.

#include <algorithm>

#include <hushed/behaviour/attract.hpp>
#include <hushed/error.hpp>

#include "scene/scene_impl.hpp"

namespace hushed::detail {

// --- input -----------------------------------------------------------------------------------------------------------

void SceneImpl::input(InputChange::What what, std::string_view name, double value) {
  settle();
  drop_later_commands();
  inputs_.add({now, std::string{name}, what, value}, false);
  limit_past();
}

void SceneImpl::input_beforehand(const InputChange& change) {
  settle();
  if (change.time < now)
    throw BadValue{"input at " + as_text(in_seconds(change.time)) + " s comes too late: it is " +
                   as_text(in_seconds(now)) + " s already."};
  drop_later_commands();
  inputs_.add(change, true);
}

// --- ticks -----------------------------------------------------------------------------------------------------------

void SceneImpl::tick(Time at) noexcept {
  if (!rules_.memory.firings.empty()) perform_rule_actions(at);
  evaluator_.tick(at);
  commit_tick_memory(at);
  inputs_.tick(at);
  if (!evaluator_.gatherings.empty()) gather(at);  // before agents decide
  decide(at);
  if (!rules_.empty()) evaluate_rules(at);
}

void SceneImpl::stand_at(Time tick, bool ticked) noexcept {
  evaluator_.catch_up();
  now = tick;
  in_tick_ = true;
  before_tick_ = !ticked;
  if (!laid_out_) lay_out_again();
  evaluator_.evaluate({.now = now, .scope = ticked ? Scope::not_at_ticks : Scope::all});
  poses_are_current_ = true;
}

// --- rules -----------------------------------------------------------------------------------------------------------

void SceneImpl::add_rule(Rule rule) {
  rules_.add(std::move(rule));
  content_changed_ = true;
}

void SceneImpl::evaluate_rules(Time tick) noexcept {
  process_events();
  rules_.judge(tick);
}

/// Executes the actions in the order of the rules' names, at the moment of the tick, before its poses are computed.
void SceneImpl::perform_rule_actions(Time tick) noexcept {
  stand_at(tick, false);
  for (const RuleMemory::Firing& firing : rules_.memory.firings) {
    const Rule& rule = rules_.rule(firing.rule);
    if (rule.fires != Fires::always) events.push({now, "fired", {}, {}, {}, {}, 0, rule.name});
    for (const Action& action : rule.then) {
      try {
        perform(firing, action);
      } catch (const std::exception& error) {
        events.push({now, "failed", {}, {}, {}, "the rule " + rule.name + ": " + error.what(), 0});
      }
    }
  }
  rules_.memory.firings.clear();
  in_tick_ = before_tick_ = false;
}

/// Does nothing where the object or behaviour has ended.
void SceneImpl::perform(const RuleMemory::Firing& firing, const Action& action) {
  using Verb = Action::Verb;
  if (action.verb == Verb::raise) {
    process_events();
    events.push({now, event_called(action.word), {}, {}, {}, {}, 0, rules_.rule(firing.rule).name});
    process_events();
    rules_.raised(firing);
    return;
  }
  if (!action.behaviour.path.empty()) {
    if (!registry.alive(action.behaviour.handle)) return;
    const Index behaviour = action.behaviour.handle.index;
    if (action.verb == Verb::set) {
      const std::string path = registry.path_of(behaviour) + '.' + action.field;
      return set(resolve(path), path, action.value);
    }
    if (action.verb != Verb::retarget) return execute({.verb = action.verb, .target = behaviour, .by = action.by});
    const Object to = action.to.is_one() ? action.to.target.object
                                         : nearest(registry.behaviours[behaviour].object, action.to.tagged.members());
    if (registry.alive(to)) retarget(behaviour, to);
    return;
  }
  const Object object = action.object.object;
  if (!registry.alive(object)) return;
  Index pose = 0;
  if (action.verb == Verb::place)
    while (registry.objects[object.index].poses[pose].name != action.word) ++pose;
  execute({.verb = action.verb, .target = object.index, .pose = pose});
}

Object SceneImpl::nearest(Index to, std::span<const Object> among) const {
  const Vec3 here = layout.worlds[registry.slot_of(to)].position;
  Object found;
  double least = 0.0;
  for (const Object object : among) {
    if (object.index == to || !registry.is_there(object)) continue;
    const double distance = (layout.worlds[registry.slot_of(object.index)].position - here).stableNorm();
    if (found.generation != 0 && distance >= least) continue;
    least = distance;
    found = object;
  }
  return found;
}

void SceneImpl::process_events() noexcept {
  while (const Event* event = events.next_unheard()) rules_.hear(*event);
}

// --- values that rules set -------------------------------------------------------------------------------------------

/// Finds the values that rules set. They are part of the play: `seek` and `restore` take them back.
void SceneImpl::find_set_by_rules() {
  set_by_rules_.clear();
  for (Index number = 0; number < rules_.size(); ++number) {
    for (const Action& action : rules_.rule(number).then) {
      if (action.verb == Action::Verb::retarget && registry.alive(action.behaviour.handle)) {
        const Index behaviour = action.behaviour.handle.index;
        set_by_rules_.push_back({behaviour, aim_of(*registry.behaviours[behaviour].kind), false});
      } else if (action.verb == Action::Verb::set && registry.alive(action.behaviour.handle)) {
        set_by_rules_.push_back(resolve(action.behaviour.path + '.' + action.field));
      }
    }
  }
}

void SceneImpl::capture_set_by_rules(SceneState& state) const {
  for (const auto& [index, field, is_common] : set_by_rules_) {
    const BehaviourRecord& behaviour = registry.behaviours[index];
    state.set_by_rules.push_back(field->get(is_common ? static_cast<const void*>(&behaviour.common)
                                                      : registry.store(behaviour).values(behaviour.row)));
  }
}

void SceneImpl::restore_set_by_rules(const SceneState& state) {
  for (std::size_t i = 0; i < set_by_rules_.size(); ++i) {
    const auto& [index, field, is_common] = set_by_rules_[i];
    BehaviourRecord& behaviour = registry.behaviours[index];
    if (is_common) {
      (void)field->put(&behaviour.common, state.set_by_rules[i]);
      continue;
    }
    BehaviourStore& store = registry.store(behaviour);
    const auto values = behaviour.kind->make(store.values(behaviour.row));
    (void)field->put(values.get(), state.set_by_rules[i]);
    store.set_values(behaviour.row, resolved(behaviour, values.get()).get());
  }
}

// --- gathering -------------------------------------------------------------------------------------------------------

/// Executes gatherings in the order of names, at the tick itself.
void SceneImpl::gather(Time tick) noexcept {
  auto& gatherings = evaluator_.gatherings;
  std::sort(gatherings.begin(), gatherings.end(), [this](const auto& a, const auto& b) {
    const auto& one = registry.objects[registry.behaviours[a.behaviour].object].name;
    const auto& other = registry.objects[registry.behaviours[b.behaviour].object].name;
    return one != other ? one < other : a.behaviour < b.behaviour;
  });
  stand_at(tick, true);
  for (const auto& [index, by, then] : gatherings) {
    const Index object = registry.behaviours[index].object;
    const int number = registry.alive(by) ? ++registry.objects[by.index].gathered : 0;
    events.push({now, "gathered", registry.handle(object), registry.behaviour_handle(index), by, {}, number});
    if (then == Gathered::hide) set_hidden(object, true);
    if (then == Gathered::end && !registry.objects[object].ended) end_subtree(object);
  }
  gatherings.clear();
  in_tick_ = false;
}

// --- callbacks -------------------------------------------------------------------------------------------------------

/// Calls the callbacks after the frame. Their calls take effect between two frames, like those of the program.
void SceneImpl::call_listeners() noexcept {
  if (events.empty()) return;
  is_in_callbacks_ = true;
  const std::vector<Event> told{events.all().begin(), events.all().end()};
  for (const Event& event : told) {
    for (std::size_t i = 0; i < listeners_.size(); ++i) {
      if (listeners_[i].event != event.name) continue;
      const Callback callback = listeners_[i].callback;
      try {
        callback(event);
      } catch (const std::exception& error) {
        events.push({now, "failed", {}, {}, {}, "what listens to " + in_quotes(event.name) + ": " + error.what(), 0});
      } catch (...) {
        events.push({now, "failed", {}, {}, {}, "what listens to " + in_quotes(event.name) + " threw", 0});
      }
    }
  }
  is_in_callbacks_ = false;
}

// --- tags ------------------------------------------------------------------------------------------------------------

/// Resolves tags and the values that rules set anew, after objects or behaviours were added or removed.
void SceneImpl::resolve_names() {
  rules_.resolve_names();
  find_set_by_rules();
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

}  // namespace hushed::detail
