// SPDX-License-Identifier: MIT
#include "scene/rule_actions.hpp"

#include <algorithm>
#include <exception>

#include "lanes/conversions.hpp"
#include "scene/checks.hpp"

namespace hushed::detail {

void RuleActions::execute_fired(Time at) noexcept {
  core_.enter_tick(at, false);
  for (const RuleMemory::Firing& firing : core_.rules.memory.firings) {
    const Rule& rule = core_.rules.rule(firing.rule);
    if (rule.fires != Fires::always) core_.events.push({at, "fired", {}, {}, {}, {}, 0, rule.name});
    for (const Action& action : rule.then) {
      try {
        execute(firing, action);
      } catch (const std::exception& error) {
        core_.events.push({at, "failed", {}, {}, {}, "rule " + rule.name + ": " + error.what(), 0});
      }
    }
  }
  core_.rules.memory.firings.clear();
  core_.leave_tick();
}

void RuleActions::execute(const RuleMemory::Firing& firing, const Action& action) {
  if (action.verb == Action::Verb::raise) {
    core_.pass_events_to_rules();
    const std::string_view name = core_.event_names.intern(action.word);
    core_.events.push({core_.clock.now, name, {}, {}, {}, {}, 0, core_.rules.rule(firing.rule).name});
    core_.pass_events_to_rules();
    core_.rules.raised(firing);
  } else if (!action.behaviour.path.empty()) {
    if (registry_.alive(action.behaviour.handle)) execute_on_behaviour(action);
  } else if (registry_.alive(action.object.object)) {
    execute_on_object(action);
  }
}

void RuleActions::execute_on_behaviour(const Action& action) {
  const Index behaviour = action.behaviour.handle.index;
  if (action.verb == Action::Verb::set) {
    const std::string path = registry_.path_of(behaviour) + '.' + action.field;
    values_.set(resolve_path(registry_, path), path, action.value);
  } else if (action.verb == Action::Verb::retarget) {
    const Object to = action.to.is_one() ? action.to.target.object
                                         : nearest(registry_.behaviours[behaviour].object, action.to.tagged.members());
    if (registry_.alive(to)) values_.retarget(behaviour, to);
  } else {
    commands_.execute({.verb = action.verb, .target = behaviour, .by = action.by});
  }
}

void RuleActions::execute_on_object(const Action& action) {
  const Index object = action.object.object.index;
  Index pose = 0;
  if (action.verb == Action::Verb::place) {
    const auto& poses = registry_.objects[object].poses;
    const auto found =
        std::find_if(poses.begin(), poses.end(), [&](const PoseParts& each) { return each.name == action.word; });
    pose = static_cast<Index>(found - poses.begin());
  }
  commands_.execute({.verb = action.verb, .target = object, .pose = pose});
}

Object RuleActions::nearest(Index to, std::span<const Object> among) const {
  const auto position = [this](Index object) {
    return vector(core_.layout.world_position(registry_.lane_of_world(object)));
  };
  Object found;
  double least = 0.0;
  for (const Object object : among) {
    if (object.index == to || !registry_.is_there(object)) continue;
    const double distance = (position(object.index) - position(to)).stableNorm();
    if (found.generation != 0 && distance >= least) continue;
    least = distance;
    found = object;
  }
  return found;
}

// --- values that rules set -------------------------------------------------------------------------------------------

void RuleActions::resolve_names() {
  if (core_.rules.resolve_names()) core_.invalidate_layout();
  set_values_.clear();
  for (Index number = 0; number < core_.rules.size(); ++number) {
    for (const Action& action : core_.rules.rule(number).then) {
      if (!registry_.alive(action.behaviour.handle)) continue;
      const Index behaviour = action.behaviour.handle.index;
      if (action.verb == Action::Verb::retarget)
        set_values_.push_back({behaviour, aim_of(*registry_.behaviours[behaviour].kind), false});
      else if (action.verb == Action::Verb::set)
        set_values_.push_back(resolve_path(registry_, action.behaviour.path + '.' + action.field));
    }
  }
}

std::vector<std::optional<Value>> RuleActions::capture_set_values() const {
  std::vector<std::optional<Value>> values;
  for (const ValuePath& path : set_values_) values.push_back(value_at(registry_, path));
  return values;
}

void RuleActions::restore_set_values(std::span<const std::optional<Value>> captured) {
  for (std::size_t i = 0; i < set_values_.size(); ++i) {
    const auto& [index, field, is_common] = set_values_[i];
    BehaviourRecord& behaviour = registry_.behaviours[index];
    if (is_common) {
      (void)field->put(&behaviour.common, captured[i]);
      continue;
    }
    BehaviourStore& store = registry_.store(behaviour);
    const auto values = behaviour.kind->make(store.values(behaviour.row));
    (void)field->put(values.get(), captured[i]);
    store.set_values(behaviour.row, resolved_with_lost(registry_, behaviour, values.get()).get());
  }
}

}  // namespace hushed::detail
