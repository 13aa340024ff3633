// A scene becomes another: what is the same in both keeps its time, its state and its handles.

#include <algorithm>

#include "stage/stage.hpp"

namespace hushed::inside {

std::vector<std::string> Stage::take_over(Stage& old) {
  old.settle();
  forget_layout();
  std::vector<std::string> lost;
  now = old.now;
  player_.last_tick = old.player_.last_tick;
  rounding_ = old.rounding_;
  ticks_ = old.ticks_;
  inputs_ = old.inputs_;
  listeners_ = std::move(old.listeners_);
  take_over_objects(old, lost);
  std::vector<Index> kept;
  for (Index index = 0; index < cast.behaviours.size(); ++index) {
    if (!cast.behaviours[index].in_use) continue;
    const auto why = agree(old, index);
    if (!why) {
      kept.push_back(index);
      continue;
    }
    begin_anew(index);
    if (!why->empty()) lost.push_back(cast.path_of(index) + " begins anew: " + *why + ".");
  }
  for (Index index = 0; index < old.cast.behaviours.size(); ++index)
    if (old.cast.behaviours[index].in_use && !old.cast.objects[old.cast.behaviours[index].object].ended &&
        cast.alive(cast.handle(old.cast.behaviours[index].object)) && find_behaviour(old.cast.path_of(index)) == none)
      lost.push_back(old.cast.path_of(index) + " is not there any more.");
  old.settle();
  old.collect_memory();
  for (const Index index : kept) take_over_state(old, index);
  take_over_rules(old, lost);
  cast_changed_ = true;
  laid_out_ = shown_ = false;
  return lost;
}

/// Whatever has been shown so far was another play.
void Stage::forget_layout() {
  layout = {};
  for (ObjectRecord& object : cast.objects) object.location.reset();
  for (BehaviourRecord& behaviour : cast.behaviours) behaviour.location.reset();
  due_.clear();
  events = {};
}

void Stage::take_over_objects(const Stage& old, std::vector<std::string>& lost) {
  for (Index index = 0; index < old.cast.objects.size(); ++index) {
    const ObjectRecord& before = old.cast.objects[index];
    if (!before.in_use || before.ended) continue;
    if (!cast.alive(old.cast.handle(index))) {
      lost.push_back(old.cast.name(index) + " is not there any more.");
      continue;
    }
    ObjectRecord& object = cast.objects[index];
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
    cast.objects[object].under_hidden = above || cast.objects[object].hidden;
    for (Index child = cast.objects[object].first_child; child != none; child = cast.objects[child].next_sibling)
      self(self, child, cast.objects[object].under_hidden);
  };
  for (Index index = 0; index < cast.objects.size(); ++index)
    if (cast.objects[index].in_use && cast.objects[index].parent == none) hide_below(hide_below, index, false);
}

/// Makes the values of a behaviour the same in both, the old one going on without a jump. Otherwise why it cannot go
/// on; an empty text where it is new.
std::optional<std::string> Stage::agree(Stage& old, Index index) {
  BehaviourRecord& behaviour = cast.behaviours[index];
  const Index other = old.find_behaviour(cast.path_of(index));
  if (other == none) return "";
  const BehaviourRecord& before = old.cast.behaviours[other];
  if (before.kind != behaviour.kind) return "it was a " + std::string{before.kind->name()};
  if (before.kind->has_memory() && tick_rate != old.tick_rate) return "the tick rate has changed";
  const auto fields = behaviour.kind->fields();
  Roster& roster = cast.roster(behaviour);
  const void* present = old.cast.roster(before).values(before.row);
  try {
    if (changed_fields(fields, roster.values(behaviour.row), before.given ? before.given.get() : present).empty()) {
      const auto values = resolved(behaviour, present);  // as it has been tuned, or a rule has set it
      cast.set_looks(index, cast.looks_of(*behaviour.kind, values.get()), behaviour.common.reads);
      behaviour.given = before.given;
      behaviour.own = before.own;
      roster.set_values(behaviour.row, values.get());
    } else {
      old.set_values(other, roster.values(behaviour.row));
    }
    const Common& given = before.given ? before.given_common : before.common;
    if (changed_fields(fields_of<Common>(), &behaviour.common, &given).empty()) {
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

void Stage::begin_anew(Index index) {
  BehaviourRecord& behaviour = cast.behaviours[index];
  behaviour.run = {};
  const bool may_jump = !player_.starts_quietly(behaviour) || !behaviour.looks_at.empty();
  if (behaviour.common.fade > Time{0} || !behaviour.common.enabled || may_jump) behaviour.run.transition.make();
  if (behaviour.common.enabled) wait(index, now, behaviour.common.delay);
}

void Stage::take_over_state(const Stage& old, Index index) {
  BehaviourRecord& behaviour = cast.behaviours[index];
  const BehaviourRecord& before = old.cast.behaviours[old.find_behaviour(cast.path_of(index))];
  cast.roster(behaviour).take_state(behaviour.row, old.cast.roster(before), before.row);
  behaviour.run.go_back_to(before.run);
  behaviour.once_touched = before.once_touched;
}

/// What a rule of the same name remembers, what it is about to do, and all that has happened and was not heard yet.
void Stage::take_over_rules(Stage& old, std::vector<std::string>& lost) {
  rules_.memory.judged = old.rules_.memory.judged;
  for (const Index before : old.rules_.in_order()) {
    const std::string& name = old.rules_.rule(before).name;
    if (const auto number = rules_.number_of(name))
      rules_.take_over(*number, old.rules_, before);
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

}  // namespace hushed::inside
