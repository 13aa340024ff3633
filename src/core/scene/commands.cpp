// SPDX-License-Identifier: MIT
// The commands that change a playing scene: start, stop, toggle, kick, place, hide, show, end, ...

#include <algorithm>

#include "scene/scene_impl.hpp"

namespace hushed::detail {

void SceneImpl::command(Command command) {
  settle();
  drop_later_commands();
  command.at = now;
  commands_.add(command);
  execute(command);
  limit_past();
}

void SceneImpl::execute(const Command& command) {
  refresh();
  switch (command.verb) {
    case Action::Verb::start: execute_start(command.target); break;
    case Action::Verb::stop: execute_stop(command.target); break;
    case Action::Verb::restart: execute_restart(command.target); break;
    case Action::Verb::toggle: execute_toggle(command.target); break;
    case Action::Verb::kick: execute_kick(command.target, command.by); break;
    case Action::Verb::hide: set_hidden(command.target, true); break;
    case Action::Verb::show: set_hidden(command.target, false); break;
    case Action::Verb::end: end_subtree(command.target); break;
    case Action::Verb::place: execute_place(command.target, command.pose); break;
    case Action::Verb::raise: events.push({now, command.event, {}, {}}); break;
    case Action::Verb::set:
    case Action::Verb::retarget: break;  // these are values, which are tuned
  }
  if (now == Time{0}) poses_are_current_ = false;  // nothing is bridged before the scene has begun
}

void SceneImpl::execute_start(Index index) {
  BehaviourRecord& behaviour = registry.behaviours[index];
  Run& run = behaviour.run;
  const bool comes_back = run.phase == Run::Phase::halted;
  const bool was_wanted = run.is_wanted();
  Pose output;
  switch (run.phase) {
    case Run::Phase::waiting: return;
    case Run::Phase::idle: wait(index, now, behaviour.common.delay); break;
    case Run::Phase::halted:
      output = evaluator_.advance_and_sample(index, now).output;
      run.clock = now - run.clock;
      run.phase = Run::Phase::running;
      if (run.holding) evaluator_.hold(behaviour, output, output);  // its dependency is still lost
      break;
    case Run::Phase::running: break;
  }
  if (run.phase == Run::Phase::running && run.transition) {
    if (comes_back || !was_wanted) fade_to(behaviour, 1.0);
    if (comes_back && behaviour.kind->traits().has_memory) bridge_over(index, output);
  }
  evaluator_.update_lane(index, now);
}

void SceneImpl::execute_stop(Index index) {
  BehaviourRecord& behaviour = registry.behaviours[index];
  Run& run = behaviour.run;
  if (run.phase == Run::Phase::waiting || now == Time{0}) {  // it has not begun
    run.phase = Run::Phase::idle;
  } else if (run.phase == Run::Phase::running && behaviour.common.fade > Time{0}) {
    if (run.is_wanted()) fade_to(behaviour, 0.0);
  } else if (run.phase == Run::Phase::running) {
    const BehaviourSample before = evaluator_.advance_and_sample(index, now);
    run.clock = now - run.clock;
    run.phase = Run::Phase::halted;
    if (behaviour.kind->traits().has_memory) evaluator_.hold(behaviour, before.start.in, before.output);
  }
  evaluator_.update_lane(index, now);
}

void SceneImpl::execute_restart(Index index) {
  BehaviourRecord& behaviour = registry.behaviours[index];
  const BehaviourSample before = evaluator_.sample(index, now);
  if (evaluator_.starts_without_bridge(behaviour)) {  // others begin when they are due
    registry.store(behaviour).begin(behaviour.row, before.start);
    fill_lane(behaviour);
  }
  behaviour.run.holding = false;
  behaviour.run.failed = false;
  behaviour.run.failed_at = Time::min();
  if (behaviour.run.transition) *behaviour.run.transition = {};
  wait(index, now, behaviour.common.delay);
  bridge_over(index, before.output);
}

/// Reverses a motion between two ends; stops or starts any other.
void SceneImpl::execute_toggle(Index index) {
  BehaviourRecord& behaviour = registry.behaviours[index];
  Run& run = behaviour.run;
  if (!run.is_started()) return execute_start(index);
  if (run.phase == Run::Phase::waiting) return execute_stop(index);
  const BehaviourSample before = evaluator_.sample(index, now);
  if (!registry.store(behaviour).turn_back(behaviour.row, evaluator_.own_time_of(run, now), before.start))
    return execute_stop(index);
  run.clock = now;
  fill_lane(behaviour);
  bridge_over(index, before.output);
}

void SceneImpl::kick(Index index, const Vec3& by) {
  settle();
  const BehaviourRecord& behaviour = registry.behaviours[index];
  if (!behaviour.kind->traits().has_velocity)
    refuse(behaviour, "it has no velocity to add to; a spring can be kicked.");
  if (!(by.cwiseAbs().maxCoeff() <= 1e9)) refuse(behaviour, "a kick must be finite and at most 1e9 on each axis.");
  command({.verb = Action::Verb::kick, .target = index, .by = by});
}

/// Kicks a behaviour that is running.
void SceneImpl::execute_kick(Index index, const Vec3& by) {
  const BehaviourRecord& behaviour = registry.behaviours[index];
  if (!evaluator_.is_active_behaviour(behaviour)) return;
  evaluator_.advance_and_sample(index, now);
  collect_memory_of(index);
  registry.store(behaviour).kick(behaviour.row, by);
  fill_lane(behaviour);
}

void SceneImpl::place(Index object, std::string_view pose) {
  const auto& poses = registry.objects[object].poses;
  const auto found = std::find_if(poses.begin(), poses.end(), [&](const PoseParts& each) { return each.name == pose; });
  if (found == poses.end()) {
    std::vector<std::string_view> names;
    for (const PoseParts& each : poses) names.push_back(each.name);
    throw BadValue{registry.name(object) + " has no pose called " + in_quotes(pose) + suggestion(pose, names)};
  }
  command({.verb = Action::Verb::place, .target = object, .pose = static_cast<Index>(found - poses.begin())});
}

/// The object jumps, as intended.
void SceneImpl::execute_place(Index object, Index pose) {
  registry.objects[object].placed = pose;
  show_base(object);
  poses_are_current_ = false;
}

void SceneImpl::show_base(Index object) {
  const ObjectRecord& record = registry.objects[object];
  if (!record.location) return;
  const auto [slot, group, member] = *record.location;
  set_lane(layout.rests[layout.groups[group].first_block + member / lanes], static_cast<int>(member % lanes),
           record.base());
  if (record.parent == none) layout.worlds[slot] = record.base();  // parts that no behaviour touches stay so
}

void SceneImpl::raise(std::string_view event) {
  if (event.empty()) throw BadValue{"an event needs a name."};
  command({.verb = Action::Verb::raise, .event = event_called(event)});
}

std::string_view SceneImpl::event_called(std::string_view name) {
  const auto found = event_names_.find(name);
  return found != event_names_.end() ? *found : *event_names_.emplace(name).first;
}

void SceneImpl::fade_to(BehaviourRecord& behaviour, double level) {
  const double present = evaluator_.level(behaviour.run, now);
  Transition& fading = behaviour.run.transition.make();
  fading.level_from = present;
  fading.level_to = level;
  fading.level_since = now;
  fading.level_length = present == level ? Time{0} : behaviour.common.fade;
}

void SceneImpl::bridge_over(Index index, const Pose& output) {
  evaluator_.update_lane(index, now);
  if (!registry.behaviours[index].kind->traits().bridges) poses_are_current_ = false;  // it jumps
  if (now > Time{0})
    evaluator_.bridge(registry.behaviours[index], output, evaluator_.sample(index, now).out, now);
  else
    poses_are_current_ = false;  // nothing has been displayed yet
  evaluator_.update_lane(index, now);
}

void SceneImpl::set_hidden(Index object, bool hidden) {
  ObjectRecord& top = registry.objects[object];
  if (top.hidden == hidden) return;
  top.hidden = hidden;
  const auto above = [this](const ObjectRecord& record) {
    return record.parent != none && registry.objects[record.parent].under_hidden;
  };
  if (above(top)) return;  // it was hidden before, and still is

  // Readers are held one by one before any object is hidden, so that behaviours advanced here see all of them or none.
  if (hidden)
    registry.for_subtree(object, [this](Index member) {
      if (!registry.objects[member].under_hidden) hold_readers(member);
    });
  registry.for_subtree(object, [&](Index member) {
    ObjectRecord& record = registry.objects[member];
    record.under_hidden = record.hidden || above(record);
  });
  ++registry.presence_edition;
  if (!hidden)
    registry.for_subtree(object, [this](Index member) {
      if (!registry.objects[member].under_hidden) release_readers(member);
    });
}

void SceneImpl::end_subtree(Index object) {
  registry.for_subtree(object, [this](Index member) { hold_readers(member); });
  registry.for_subtree(object, [this](Index member) { registry.end(member); });
}

void SceneImpl::lose(Index index, Object lost, const Pose& output) {
  BehaviourRecord& behaviour = registry.behaviours[index];
  const bool goes_on = !registry.needs_all_dependencies(behaviour);
  if (goes_on && !behaviour.kind->traits().reports_each_lost) return;
  if (!goes_on && (behaviour.run.phase == Run::Phase::running || behaviour.run.phase == Run::Phase::halted)) {
    if (!behaviour.kind->traits().is_additive || behaviour.run.phase == Run::Phase::running)
      behaviour.run.transition.make().held = output;
    behaviour.run.holding = true;
    evaluator_.update_lane(index, now);
  }
  events.push({now, "lost", registry.handle(behaviour.object), registry.behaviour_handle(index), lost});
}

void SceneImpl::hold_readers(Index lost) {
  const auto hold = [&](Index index) {
    const BehaviourRecord& behaviour = registry.behaviours[index];
    if (registry.objects[behaviour.object].ended || behaviour.run.holding) return;
    lose(index, registry.handle(lost),
         evaluator_.advance_and_sample(index, now).output);  // from its pose at this moment
  };
  for (const Index index : layout.readers(lost)) hold(index);
  // A behaviour that names a list goes on with the other objects. At a tick it has just been advanced.
  if (now != evaluator_.last_tick) layout.for_readers_of_lists(registry, lost, hold);
}

void SceneImpl::release_readers(Index back) {
  for (const Index index : layout.readers(back)) {
    BehaviourRecord& behaviour = registry.behaviours[index];
    if (registry.first_lost(behaviour).generation != 0) continue;
    if (behaviour.run.holding) {
      const Pose output = evaluator_.advance_and_sample(index, now).output;
      behaviour.run.holding = false;
      bridge_over(index, output);
    } else {
      stop_waiting_for_lost(index);
    }
  }
}

void SceneImpl::stop_waiting_for_lost(Index index) {
  const Run& run = registry.behaviours[index].run;
  if (run.phase == Run::Phase::waiting && run.starts_at == when_found) wait(index, now, Time{0});
}

}  // namespace hushed::detail
