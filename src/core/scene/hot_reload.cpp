// SPDX-License-Identifier: MIT
#include "scene/hot_reload.hpp"

#include <algorithm>
#include <utility>

#include "scene/checks.hpp"

namespace hushed::detail {

std::vector<std::string> HotReload::run() {
  next_.clear_layout();
  take_time_and_input();
  take_objects();
  take_clocks();
  take_behaviours();
  next_.clocks.update(registry_, next_.clock.now, next_.evaluator.last_tick, [](const ObjectClock&) {});
  take_rules();
  take_events();
  next_.invalidate_layout();
  next_.invalidate_poses();
  return std::move(lost_);
}

void HotReload::take_time_and_input() {
  next_.clock.now = old_.clock.now;
  next_.clock.rounding = old_.clock.rounding;
  next_.evaluator.last_tick = old_.evaluator.last_tick;
  next_.ticks = old_.ticks;
  next_.inputs = old_.inputs;
  next_.feeds = old_.feeds;
}

// --- objects ---------------------------------------------------------------------------------------------------------

void HotReload::take_objects() {
  for (Index index = 0; index < old_.registry.objects.size(); ++index) {
    const ObjectRecord& before = old_.registry.objects[index];
    if (!before.in_use || before.ended) continue;
    if (!registry_.alive(old_.registry.handle(index))) {
      lost_.push_back(old_.registry.name(index) + " no longer exists.");
      continue;
    }
    ObjectRecord& object = registry_.objects[index];
    object.hidden = before.hidden;
    object.gathered = before.gathered;
    if (before.placed != none) take_pose(object, before);
  }
  for (Index index = 0; index < registry_.objects.size(); ++index)
    if (registry_.objects[index].in_use && registry_.objects[index].parent == none) update_hidden_below(index);
}

void HotReload::take_pose(ObjectRecord& object, const ObjectRecord& before) {
  const std::string& name = before.poses[before.placed].name;
  const auto found =
      std::find_if(object.poses.begin(), object.poses.end(), [&](const PoseParts& pose) { return pose.name == name; });
  if (found != object.poses.end())
    object.placed = static_cast<Index>(found - object.poses.begin());
  else
    lost_.push_back(before.name + " returned to its rest pose: its pose " + in_quotes(name) + " no longer exists.");
}

void HotReload::update_hidden_below(Index top) {
  registry_.for_subtree(top, [this](Index index) {
    ObjectRecord& object = registry_.objects[index];
    object.under_hidden = object.hidden || (object.parent != none && registry_.objects[object.parent].under_hidden);
  });
}

/// The time of an object goes on.
void HotReload::take_clocks() {
  const Time now = next_.clock.now, last_tick = next_.evaluator.last_tick;
  const auto take = [&](Index index) {
    const bool is_known = old_.registry.alive(registry_.handle(index));
    const Index parent = registry_.objects[index].parent;
    const SceneCore& from = is_known ? old_ : next_;
    const Index clock = is_known         ? old_.registry.objects[index].clock
                        : parent == none ? 0
                                         : registry_.objects[parent].clock;
    const Time own = from.clocks.own_at(clock, now), own_at_tick = from.clocks.own_at(clock, last_tick);
    if (next_.clocks.own_at(registry_.objects[index].clock, now) != own)
      next_.clocks.set(registry_, index, now, own, last_tick, own_at_tick);
  };
  for (Index top = 0; top < registry_.objects.size(); ++top)
    if (registry_.objects[top].in_use && registry_.objects[top].parent == none) registry_.for_subtree(top, take);
}

// --- behaviours ------------------------------------------------------------------------------------------------------

void HotReload::take_behaviours() {
  std::vector<std::pair<Index, Index>> common;
  for (Index index = 0; index < registry_.behaviours.size(); ++index) {
    if (!registry_.behaviours[index].in_use) continue;
    const Index before = find_behaviour(old_.registry, registry_.path_of(index));
    if (before == none) {
      next_.begin(index);
    } else if (const auto reason = agree(index, before)) {
      next_.begin(index);
      lost_.push_back(registry_.path_of(index) + " was restarted: " + *reason + ".");
    } else {
      common.emplace_back(index, before);
    }
  }
  for (Index index = 0; index < old_.registry.behaviours.size(); ++index) {
    const BehaviourRecord& before = old_.registry.behaviours[index];
    if (!before.in_use || old_.registry.objects[before.object].ended) continue;
    if (!registry_.alive(old_.registry.handle(before.object))) continue;  // the whole object is lost
    if (find_behaviour(registry_, old_.registry.path_of(index)) == none)
      lost_.push_back(old_.registry.path_of(index) + " no longer exists.");
  }
  old_.refresh();
  old_.collect_state();
  for (const auto& [index, before] : common) take_state(index, before);
}

std::optional<std::string> HotReload::agree(Index index, Index other) {
  const BehaviourRecord& behaviour = registry_.behaviours[index];
  const BehaviourRecord& before = old_.registry.behaviours[other];
  if (before.kind != behaviour.kind) return "it was a " + std::string{before.kind->name()};
  if (before.kind->traits().has_memory && next_.clock.tick_rate != old_.clock.tick_rate)
    return "the tick rate was changed";
  try {
    agree_on_values(index, other);
    agree_on_common(index, other);
  } catch (const Error& error) {
    return error.what();
  }
  return std::nullopt;
}

/// Where the program or a rule has changed the old values and the scene gives the values that it gave before, the
/// changed ones stay. Otherwise the old scene changes to the new values.
void HotReload::agree_on_values(Index index, Index other) {
  BehaviourRecord& behaviour = registry_.behaviours[index];
  const BehaviourRecord& before = old_.registry.behaviours[other];
  BehaviourStore& store = registry_.store(behaviour);
  const void* present = old_.registry.store(before).values(before.row);
  const void* given = before.given ? before.given.get() : present;
  if (!changed_fields(behaviour.kind->fields(), store.values(behaviour.row), given).empty())
    return old_values_.set(other, store.values(behaviour.row));
  const auto values = resolved(registry_, behaviour, present);
  registry_.set_dependencies(index, registry_.dependencies_of(*behaviour.kind, values.get()), behaviour.common.reads);
  behaviour.given = before.given;
  behaviour.values_changed = before.values_changed;
  behaviour.own = before.own;
  store.set_values(behaviour.row, values.get());
}

void HotReload::agree_on_common(Index index, Index other) {
  BehaviourRecord& behaviour = registry_.behaviours[index];
  const BehaviourRecord& before = old_.registry.behaviours[other];
  const Common& given = before.given ? before.given_common : before.common;
  if (!changed_fields(common_fields(), &behaviour.common, &given).empty())
    return old_values_.set_common(other, behaviour.common);
  behaviour.common = before.common;
  behaviour.given_common = before.given_common;
}

void HotReload::take_state(Index index, Index other) {
  BehaviourRecord& behaviour = registry_.behaviours[index];
  const BehaviourRecord& before = old_.registry.behaviours[other];
  registry_.store(behaviour).take_state(behaviour.row, old_.registry.store(before), before.row);
  behaviour.run.go_back_to(before.run);
}

// --- rules and events ------------------------------------------------------------------------------------------------

/// Takes the state of rules of the same name, and their pending actions.
void HotReload::take_rules() {
  Rules& rules = next_.rules;
  const Rules& before = old_.rules;
  rules.memory.evaluated_at = before.memory.evaluated_at;
  for (const Index number : before.in_order()) {
    const std::string& name = before.rule(number).name;
    if (const auto found = rules.number_of(name))
      rules.take_state_from(*found, before, number);
    else
      lost_.push_back("rule " + name + " no longer exists.");
  }
  for (const RuleMemory::Firing& firing : before.memory.firings)
    if (const auto found = rules.number_of(before.rule(firing.rule).name))
      rules.memory.firings.push_back({*found, none});
  for (const RuleMemory::ReceivedEvent& received : before.memory.received)
    rules.memory.received.push_back({next_.event_names.intern(received.event), received.subject, none});
}

void HotReload::take_events() {
  next_.events = std::move(old_.events);
  next_.events.for_each([this](Event& event) {
    event.name = next_.event_names.intern(event.name);
    if (!event.rule.empty()) event.rule = next_.event_names.intern(event.rule);
  });
}

}  // namespace hushed::detail
