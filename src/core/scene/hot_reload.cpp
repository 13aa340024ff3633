// SPDX-License-Identifier: MIT
#include "scene/hot_reload.hpp"

#include <algorithm>
#include <utility>

#include <hushed/runtime_kind.hpp>

#include "scene/added_content.hpp"
#include "scene/checks.hpp"
#include "scene/event_text.hpp"

namespace hushed::detail {

namespace {

bool is_same(const Pose& a, const Pose& b) {
  return a.position == b.position && a.rotation.coeffs() == b.rotation.coeffs() && a.scale == b.scale;
}

/// The behaviour of the same object and name in another registry, or none.
Index counterpart(const Registry& in, const Registry& of, Index behaviour) {
  const Index object = of.behaviours[behaviour].object;
  return in.alive(of.handle(object)) ? in.find_behaviour(object, of.name_of_behaviour(behaviour)) : none;
}

/// Takes the contents of files that the values name from others. Returns true where any was another.
bool renew(const Kind& kind, void* values, const void* from) {
  bool any = false;
  for (const FieldInfo& field : kind.fields())
    if (field.renew && field.renew(values, from)) any = true;
  return any;
}

/// True where two kinds are versions of one that was made at run time.
bool are_versions(const Kind& before, const Kind& now) {
  return &before != &now && before.name() == now.name() && before.as_runtime() && now.as_runtime();
}

/// True where two versions are known to do the same.
bool are_made_alike(const Kind& before, const Kind& now) {
  return now.as_runtime()->is_made_like(*before.as_runtime());
}

}  // namespace

void try_new_versions(SceneCore& playing, const SceneCore& next) {
  bool is_current = false;
  for (Index index = 0; index < next.registry.behaviours.size(); ++index) {
    const BehaviourRecord& behaviour = next.registry.behaviours[index];
    const Index before = behaviour.in_use ? counterpart(playing.registry, next.registry, index) : none;
    if (before == none) continue;
    const BehaviourRecord& earlier = playing.registry.behaviours[before];
    if (!are_versions(*earlier.kind, *behaviour.kind) || are_made_alike(*earlier.kind, *behaviour.kind)) continue;
    if (!std::exchange(is_current, true)) {
      playing.refresh();
      playing.collect_state();
    }
    if (!earlier.location || !playing.evaluator.is_active(earlier)) continue;
    const void* const values = next.registry.store(behaviour).values(behaviour.row);
    const Object owner = playing.registry.handle(earlier.object);
    bool are_there = true;  // the objects that it reads
    behaviour.kind->dependencies(values).for_each(
        owner, [&](Object object) { are_there = are_there && playing.registry.alive(object); });
    if (!are_there) continue;
    const Start start = playing.evaluator.sample(before, playing.clock.now).start;
    Moment now = start.moment;
    now.since_start = playing.evaluator.own_time_of(earlier, playing.clock.now).seconds();
    now.owner = owner;
    const std::string problem = behaviour.kind->as_runtime()->try_as_version(
        values, *earlier.kind->as_runtime(), playing.registry.store(earlier), earlier.row, start.in, now);
    if (!problem.empty()) throw VersionFails{playing.registry.path_of(before), problem};
  }
}

std::vector<std::string> HotReload::run() {
  next_.clear_layout();
  take_time_and_input();
  keeps_additions_ = keeps_changes_ && old_.registry.has_base && registry_.has_base;
  if (keeps_additions_) added_rules_ = AddedContent{next_, next_presets_, old_, old_presets_, lost_}.add();
  if (keeps_changes_) next_presets_.take_changed_values(old_presets_);
  take_objects();
  agree_on_behaviours();
  take_parents();
  take_clocks();
  take_behaviours();
  if (old_.registry.has_base && registry_.has_base) end_what_has_ended();
  next_.clocks.update(registry_, next_.clock.now, next_.evaluator.last_tick, [](const ObjectClock&) {});
  take_rules();
  take_events();
  registry_.free_unused();
  next_.invalidate_layout();
  next_.invalidate_poses();
  return std::move(lost_);
}

void HotReload::take_time_and_input() {
  next_.clock.now = old_.clock.now;
  next_.clock.rounding = old_.clock.rounding;
  next_.evaluator.last_tick = old_.evaluator.last_tick;
  next_.inputs = old_.inputs;
  next_.feeds = old_.feeds;
}

/// Objects of a file that ended while it played do not come back.
void HotReload::end_what_has_ended() {
  for (const std::string& name : old_.registry.ended_base) {
    const Index top = registry_.find(name);
    std::vector<Index> ending;
    if (top != none) registry_.for_subtree(top, [&](Index index) { ending.push_back(index); });
    for (const Index index : ending) registry_.end(index);
  }
}

// --- objects ---------------------------------------------------------------------------------------------------------

void HotReload::take_objects() {
  for (Index index = 0; index < old_.registry.objects.size(); ++index) {
    const Presence& before = old_.registry.presences[index];
    if (!before.is_alive()) continue;
    if (!registry_.alive(old_.registry.handle(index))) {
      lost_.push_back(old_.registry.name(index) + " no longer exists.");
      continue;
    }
    registry_.presences[index].hidden = before.hidden;
    registry_.presences[index].gathered = before.gathered;
    if (before.placed != none) take_pose(index);
    if (keeps_additions_) take_changes(index);
  }
}

/// What the program has changed of an object of the base stays where the new scene gives what the old one gave before.
void HotReload::take_changes(Index index) {
  ObjectRecord& object = registry_.objects[index];
  const ObjectRecord& changed = old_.registry.objects[index];
  if (object.is_base) object.number = changed.number;
  if (!object.is_base || !changed.in_base) return;
  const BaseObject& before = *changed.in_base;
  object.in_base = changed.in_base;
  if (is_same(object.rest, before.rest)) object.rest = changed.rest;
  if (object.tags == before.tags) registry_.set_tags(index, changed.tags);
  if (registry_.parent_name(index) != before.parent || old_.registry.parent_name(index) == before.parent) return;
  // Until all values are those of the playing scene, another parent may seem to depend on the object.
  registry_.set_parent(index, none);
  parents_.push_back({index, changed.parent == none ? Object{} : old_.registry.handle(changed.parent), before.parent});
}

void HotReload::take_parents() {
  const auto lose = [&](const NewParent& each, const std::string& why) {
    lost_.push_back(registry_.name(each.object) + " returned to its parent in the file: " + why + '.');
    try {
      if (const Index in_file = each.in_file ? registry_.find(*each.in_file) : none; in_file != none)
        registry_.set_parent(each.object, in_file);
    } catch (const DependencyCycle&) {  // it stays without one
    }
  };
  // One may be possible only after another.
  for (std::size_t left = parents_.size() + 1; left > parents_.size();) {
    left = parents_.size();
    std::erase_if(parents_, [&](const NewParent& each) {
      if (each.parent.generation != 0 && !registry_.alive(each.parent)) {
        lose(each, old_.registry.name(each.parent.index) + " no longer exists");
        return true;
      }
      try {
        registry_.set_parent(each.object, each.parent.generation == 0 ? none : each.parent.index);
        return true;
      } catch (const DependencyCycle& cycle) {
        return false;
      }
    });
  }
  for (const NewParent& each : parents_) {
    try {
      registry_.set_parent(each.object, each.parent.index);
    } catch (const DependencyCycle& cycle) {
      lose(each, cycle.what());
    }
  }
  for (Index index = 0; index < registry_.objects.size(); ++index)
    if (registry_.presences[index].in_use && registry_.objects[index].parent == none) update_hidden_below(index);
}

void HotReload::take_pose(Index object) {
  const ObjectRecord& before = old_.registry.objects[object];
  const std::string& name = before.poses[old_.registry.presences[object].placed].name;
  const std::vector<PoseParts>& poses = registry_.objects[object].poses;
  const auto found = std::find_if(poses.begin(), poses.end(), [&](const PoseParts& pose) { return pose.name == name; });
  if (found != poses.end())
    registry_.presences[object].placed = static_cast<Index>(found - poses.begin());
  else
    lost_.push_back(before.name + " returned to its rest pose: its pose " + in_quotes(name) + " no longer exists.");
}

void HotReload::update_hidden_below(Index top) {
  registry_.for_subtree(
      top, [this](Index index) { registry_.presences[index].under_hidden = registry_.should_hide(index); });
}

/// The time of an object goes on.
void HotReload::take_clocks() {
  const auto take = [&](Index index) {
    ObjectRecord& object = registry_.objects[index];
    const Index of_parent = object.parent == none ? 0 : registry_.objects[object.parent].clock;
    if (next_.clocks.at(object.clock).owner != index) object.clock = of_parent;  // it had another parent
    const bool is_known = old_.registry.alive(registry_.handle(index));
    const ObjectClock times = next_.clocks.at(of_parent),
                      wanted = is_known ? old_.clocks.at(old_.registry.objects[index].clock) : times;
    if (!next_.clocks.at(object.clock).has_times_of(wanted)) next_.clocks.set(registry_, index, wanted);
  };
  for (Index top = 0; top < registry_.objects.size(); ++top)
    if (registry_.presences[top].in_use && registry_.objects[top].parent == none) registry_.for_subtree(top, take);
}

// --- behaviours ------------------------------------------------------------------------------------------------------

/// Finds the behaviours that go on, and makes their values agree.
void HotReload::agree_on_behaviours() {
  std::vector<std::pair<Index, Index>> left;
  for (Index index = 0; index < registry_.behaviours.size(); ++index) {
    if (!registry_.behaviours[index].in_use) continue;
    if (const Index before = counterpart(old_.registry, registry_, index); before != none)
      left.emplace_back(index, before);
    else
      beginning_.push_back(index);
  }
  // One may be possible only after another, whose dependencies are others then.
  std::vector<std::string> reasons;
  for (std::size_t count = left.size() + 1; count > left.size() && !left.empty();) {
    count = left.size();
    reasons.clear();
    std::erase_if(left, [&](const auto& pair) {
      const auto reason = agree(pair.first, pair.second);
      if (reason) reasons.push_back(*reason);
      if (!reason) common_.push_back(pair);
      return !reason;
    });
  }
  std::sort(common_.begin(), common_.end());
  for (std::size_t i = 0; i < left.size(); ++i) {
    beginning_.push_back(left[i].first);
    lost_.push_back(registry_.path_of(left[i].first) + " was restarted: " + reasons[i] + ".");
  }
}

void HotReload::take_behaviours() {
  for (const Index index : beginning_) next_.begin(index);
  for (Index index = 0; index < old_.registry.behaviours.size(); ++index) {
    const BehaviourRecord& before = old_.registry.behaviours[index];
    if (!before.in_use || old_.registry.presences[before.object].ended) continue;
    if (keeps_additions_ && !before.is_base) continue;                    // reported where it was not kept
    if (!registry_.alive(old_.registry.handle(before.object))) continue;  // the whole object is lost
    if (counterpart(registry_, old_.registry, index) == none)
      lost_.push_back(old_.registry.path_of(index) + " no longer exists.");
  }
  old_.refresh();
  old_.collect_state();
  next_.take_ticks_from(old_);
  for (const auto& [index, before] : common_) take_state(index, before);
}

std::optional<std::string> HotReload::agree(Index index, Index other) {
  const BehaviourRecord& behaviour = registry_.behaviours[index];
  const BehaviourRecord& before = old_.registry.behaviours[other];
  const bool is_new_version = are_versions(*before.kind, *behaviour.kind);
  if (before.kind != behaviour.kind && !is_new_version) return "it was a " + std::string{before.kind->name()};
  if (before.kind->traits().has_memory && next_.clock.tick_rate != old_.clock.tick_rate)
    return "the tick rate was changed";
  if (is_new_version) return agree_on_version(index, other);
  if (keeps_additions_ && !behaviour.is_base) return std::nullopt;  // it was added with the old values
  try {
    agree_on_values(index, other);
    agree_on_common(index, other);
  } catch (const Error& error) {
    return error.what();
  }
  return std::nullopt;
}

std::optional<std::string> HotReload::agree_on_version(Index index, Index other) {
  BehaviourRecord& behaviour = registry_.behaviours[index];
  const BehaviourRecord& before = old_.registry.behaviours[other];
  if (before.kind->traits().has_memory != behaviour.kind->traits().has_memory)
    return behaviour.kind->traits().has_memory ? "it remembers more than before" : "it remembers nothing now";
  bool has_other_values = false;  // in its file
  try {
    BehaviourStore& store = registry_.store(behaviour);
    const void* present = old_.registry.store(before).values(before.row);
    const void* given = before.given ? before.given->values.get() : present;
    const auto values = behaviour.kind->make(store.values(behaviour.row));
    bool has_changed = false;
    for (const FieldInfo& field : behaviour.kind->fields()) {
      const FieldFound old = find_field(*before.kind, field.name);
      if (!old.field || old.is_common) continue;
      const auto then = old.field->get(given), now = old.field->get(present), next = field.get(values.get());
      const auto text = [](const std::optional<Value>& value) { return value ? as_text(*value) : std::string{}; };
      has_other_values = has_other_values || text(then) != text(next);
      if (!keeps_changes_) continue;
      if (text(then) != text(next) || text(now) == text(then)) continue;
      has_changed = !field.put(values.get(), now) || has_changed;  // or it has another range now
    }
    if (has_changed) {
      const auto found = resolved(registry_, behaviour, values.get());
      registry_.set_dependencies(index, registry_.dependencies_of(*behaviour.kind, found.get()),
                                 behaviour.common.reads);
      behaviour.given.make() = {behaviour.kind->make(store.values(behaviour.row)), behaviour.common, true};
      store.set_values(behaviour.row, found.get());
    }
    agree_on_common(index, other);
  } catch (const Error& error) {
    return error.what();
  }
  if (before.run.phase == Run::Phase::running && (has_other_values || !are_made_alike(*before.kind, *behaviour.kind)))
    new_versions_.emplace_back(index, old_.evaluator.sample(other, old_.clock.now).output);
  return std::nullopt;
}

/// Where the program or a rule has changed the old values and the scene gives the values that it gave before, the
/// changed ones stay. Otherwise the old scene changes to the new values.
void HotReload::agree_on_values(Index index, Index other) {
  BehaviourRecord& behaviour = registry_.behaviours[index];
  const BehaviourRecord& before = old_.registry.behaviours[other];
  BehaviourStore& store = registry_.store(behaviour);
  const void* present = old_.registry.store(before).values(before.row);
  const void* given = before.given ? before.given->values.get() : present;
  if (!keeps_changes_ || !changed_fields(behaviour.kind->fields(), store.values(behaviour.row), given).empty())
    return old_values_.set(other, store.values(behaviour.row));
  const auto values = resolved(registry_, behaviour, present);
  Rare<Given> given_again = before.given;
  if (renew(*behaviour.kind, values.get(), store.values(behaviour.row))) {  // a file that they name has changed
    if (given_again) {
      const auto renewed = behaviour.kind->make(given);
      renew(*behaviour.kind, renewed.get(), store.values(behaviour.row));
      given_again->values = renewed;
    }
    old_values_.set(other, values.get());
  }
  registry_.set_dependencies(index, registry_.dependencies_of(*behaviour.kind, values.get()), behaviour.common.reads);
  behaviour.given = std::move(given_again);
  behaviour.own = before.own;
  store.set_values(behaviour.row, values.get());
}

void HotReload::agree_on_common(Index index, Index other) {
  BehaviourRecord& behaviour = registry_.behaviours[index];
  const BehaviourRecord& before = old_.registry.behaviours[other];
  const Common& given = before.given ? before.given->common : before.common;
  if (!keeps_changes_ || !changed_fields(common_fields(), &behaviour.common, &given).empty())
    return old_values_.set_common(other, behaviour.common);
  if (before.given && !behaviour.given)
    behaviour.given.make().values = behaviour.kind->make(registry_.store(behaviour).values(behaviour.row));
  if (behaviour.given) behaviour.given->common = given;
  behaviour.common = before.common;
}

void HotReload::take_state(Index index, Index other) {
  BehaviourRecord& behaviour = registry_.behaviours[index];
  const BehaviourRecord& before = old_.registry.behaviours[other];
  if (behaviour.kind == before.kind)
    registry_.store(behaviour).take_state(behaviour.row, old_.registry.store(before), before.row);
  else if (behaviour.kind->traits().has_memory)
    behaviour.kind->as_runtime()->take_memory(registry_.store(behaviour), behaviour.row, *before.kind->as_runtime(),
                                              old_.registry.store(before), before.row);
  behaviour.run.go_back_to(before.run);
}

// --- rules and events ------------------------------------------------------------------------------------------------

/// Takes the state of rules of the same name, and their pending actions.
void HotReload::take_rules() {
  Rules& rules = next_.rules;
  const Rules& before = old_.rules;
  rules.memory.evaluated_at = before.memory.evaluated_at;
  const auto find = [&](Index number) {
    for (const auto& [of_old, of_next] : added_rules_)
      if (of_old == number) return std::optional{of_next};
    return rules.number_of(before.rule(number).name);
  };
  for (const Index number : before.in_order()) {
    if (const auto found = find(number))
      rules.take_state_from(*found, before, number);
    else if (!keeps_additions_ || number < before.base_count())
      lost_.push_back("rule " + before.rule(number).name + " no longer exists.");
  }
  for (const RuleMemory::Firing& firing : before.memory.firings)
    if (const auto found = find(firing.rule)) rules.memory.firings.push_back({*found, firing.link});
  for (const RuleMemory::ReceivedEvent& received : before.memory.received)
    rules.memory.received.push_back({next_.event_names.intern(received.event), received.subject, received.link});
  for (const RuleMemory::Link& link : before.memory.links) {
    const auto found = link.rule == none ? std::nullopt : find(link.rule);
    rules.memory.links.push_back({found.value_or(none), link.link});
  }
}

void HotReload::take_events() {
  next_.events = std::move(old_.events);
  next_.events.for_each([this](Event& event) {
    const std::string text = describe(old_.registry, event);
    if (event.name != "failed" && text != describe(registry_, event)) event.why = text;
    event.name = next_.event_names.intern(event.name);
    if (!event.rule.empty()) event.rule = next_.event_names.intern(event.rule);
  });
}

}  // namespace hushed::detail
