// SPDX-License-Identifier: MIT
// Replaces the content of a scene: everything that both contents have in common keeps its state and its handles.

#include <algorithm>

#include "scene/scene_impl.hpp"

namespace hushed::detail {

std::vector<std::string> SceneImpl::take_state_from(SceneImpl& old) {
  old.settle();
  clear_locations();
  std::vector<std::string> lost;
  now = old.now;
  evaluator_.last_tick = old.evaluator_.last_tick;
  rounding_ = old.rounding_;
  ticks_ = old.ticks_;
  inputs_ = old.inputs_;
  listeners_ = std::move(old.listeners_);
  take_objects_from(old, lost);
  std::vector<Index> state;
  for (Index index = 0; index < registry.behaviours.size(); ++index) {
    if (!registry.behaviours[index].in_use) continue;
    const auto why = agree(old, index);
    if (!why) {
      state.push_back(index);
      continue;
    }
    begin_anew(index);
    if (!why->empty()) lost.push_back(registry.path_of(index) + " begins anew: " + *why + ".");
  }
  for (Index index = 0; index < old.registry.behaviours.size(); ++index)
    if (old.registry.behaviours[index].in_use && !old.registry.objects[old.registry.behaviours[index].object].ended &&
        registry.alive(registry.handle(old.registry.behaviours[index].object)) &&
        find_behaviour(old.registry.path_of(index)) == none)
      lost.push_back(old.registry.path_of(index) + " is not there any more.");
  old.settle();
  old.collect_memory();
  for (const Index index : state) take_behaviour_state_from(old, index);
  take_rules_from(old, lost);
  content_changed_ = true;
  laid_out_ = poses_are_current_ = false;
  return lost;
}

/// Removes the layout and all events of the new scene's own past.
void SceneImpl::clear_locations() {
  layout = {};
  for (ObjectRecord& object : registry.objects) object.location.reset();
  for (BehaviourRecord& behaviour : registry.behaviours) behaviour.location.reset();
  due_.clear();
  events = {};
}

void SceneImpl::take_objects_from(const SceneImpl& old, std::vector<std::string>& lost) {
  for (Index index = 0; index < old.registry.objects.size(); ++index) {
    const ObjectRecord& before = old.registry.objects[index];
    if (!before.in_use || before.ended) continue;
    if (!registry.alive(old.registry.handle(index))) {
      lost.push_back(old.registry.name(index) + " is not there any more.");
      continue;
    }
    ObjectRecord& object = registry.objects[index];
    object.hidden = before.hidden;
    object.gathered = before.gathered;
    if (before.placed == none) continue;
    const std::string& pose = before.poses[before.placed].name;
    const auto same = std::find_if(object.poses.begin(), object.poses.end(),
                                   [&](const PoseParts& each) { return each.name == pose; });
    if (same != object.poses.end())
      object.placed = static_cast<Index>(same - object.poses.begin());
    else
      lost.push_back(before.name + " is at rest again: its pose " + in_quotes(pose) + " is not there any more.");
  }
  const auto hide_below = [this](auto&& self, Index object, bool above) -> void {
    registry.objects[object].under_hidden = above || registry.objects[object].hidden;
    for (Index child = registry.objects[object].first_child; child != none;
         child = registry.objects[child].next_sibling)
      self(self, child, registry.objects[object].under_hidden);
  };
  for (Index index = 0; index < registry.objects.size(); ++index)
    if (registry.objects[index].in_use && registry.objects[index].parent == none) hide_below(hide_below, index, false);
}

/// Makes the values of a behaviour equal in both scenes; the old one changes without a jump. Returns the reason where
/// the behaviour cannot continue; an empty text where it is new.
std::optional<std::string> SceneImpl::agree(SceneImpl& old, Index index) {
  BehaviourRecord& behaviour = registry.behaviours[index];
  const Index other = old.find_behaviour(registry.path_of(index));
  if (other == none) return "";
  const BehaviourRecord& before = old.registry.behaviours[other];
  if (before.kind != behaviour.kind) return "it was a " + std::string{before.kind->name()};
  if (before.kind->traits().has_memory && tick_rate != old.tick_rate) return "the tick rate has changed";
  const auto fields = behaviour.kind->fields();
  BehaviourStore& store = registry.store(behaviour);
  const void* present = old.registry.store(before).values(before.row);
  try {
    if (changed_fields(fields, store.values(behaviour.row), before.given ? before.given.get() : present).empty()) {
      const auto values = resolved(behaviour, present);  // as it has been tuned, or a rule has set it
      registry.set_dependencies(index, registry.dependencies_of(*behaviour.kind, values.get()), behaviour.common.reads);
      behaviour.given = before.given;
      behaviour.own = before.own;
      store.set_values(behaviour.row, values.get());
    } else {
      old.set_values(other, store.values(behaviour.row));
    }
    const Common& given = before.given ? before.given_common : before.common;
    if (changed_fields(common_fields(), &behaviour.common, &given).empty()) {
      behaviour.common = before.common;
      behaviour.given_common = before.given_common;
    } else {
      old.set_common(other, behaviour.common);
    }
  } catch (const Error& error) {
    return error.what();
  }
  return std::nullopt;
}

void SceneImpl::begin_anew(Index index) {
  BehaviourRecord& behaviour = registry.behaviours[index];
  behaviour.run = {};
  const bool may_jump = !evaluator_.starts_without_bridge(behaviour) || !behaviour.dependencies.empty();
  if (behaviour.common.fade > Time{0} || !behaviour.common.enabled || may_jump) behaviour.run.transition.make();
  if (behaviour.common.enabled) wait(index, now, behaviour.common.delay);
}

void SceneImpl::take_behaviour_state_from(const SceneImpl& old, Index index) {
  BehaviourRecord& behaviour = registry.behaviours[index];
  const BehaviourRecord& before = old.registry.behaviours[old.find_behaviour(registry.path_of(index))];
  registry.store(behaviour).take_state(behaviour.row, old.registry.store(before), before.row);
  behaviour.run.go_back_to(before.run);
  behaviour.once_touched = before.once_touched;
}

/// Takes the state of rules of the same name, their pending actions, and events that were not processed yet.
void SceneImpl::take_rules_from(SceneImpl& old, std::vector<std::string>& lost) {
  rules_.memory.judged = old.rules_.memory.judged;
  for (const Index before : old.rules_.in_order()) {
    const std::string& name = old.rules_.rule(before).name;
    if (const auto number = rules_.number_of(name))
      rules_.take_state_from(*number, old.rules_, before);
    else
      lost.push_back("the rule " + name + " is not there any more.");
  }
  for (const RuleMemory::Firing& firing : old.rules_.memory.firings)
    if (const auto number = rules_.number_of(old.rules_.rule(firing.rule).name))
      rules_.memory.firings.push_back({*number, none});
  for (const RuleMemory::Told& told : old.rules_.memory.told)
    rules_.memory.told.push_back({event_called(told.event), told.subject, none});
  events = std::move(old.events);
  events.for_each([this](Event& event) {
    event.name = event_called(event.name);
    if (!event.rule.empty()) event.rule = event_called(event.rule);
  });
}

}  // namespace hushed::detail
