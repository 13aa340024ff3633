// What a program calls while the scene plays, or a rule does: start, stop, toggle, kick, place, hide, show, end, ...

#include <algorithm>

#include "stage/stage.hpp"

namespace hushed::inside {

void Stage::command(Command command) {
  settle();
  forget_later();
  command.at = now;
  commands_.add(command);
  carry_out(command);
  bound_past();
}

void Stage::carry_out(const Command& command) {
  refresh();
  switch (command.verb) {
    case Action::Verb::start: carry_out_start(command.target); break;
    case Action::Verb::stop: carry_out_stop(command.target); break;
    case Action::Verb::restart: carry_out_restart(command.target); break;
    case Action::Verb::toggle: carry_out_toggle(command.target); break;
    case Action::Verb::kick: carry_out_kick(command.target, command.by); break;
    case Action::Verb::hide: set_hidden(command.target, true); break;
    case Action::Verb::show: set_hidden(command.target, false); break;
    case Action::Verb::end: end_family(command.target); break;
    case Action::Verb::place: carry_out_place(command.target, command.pose); break;
    case Action::Verb::raise: events.push({now, command.event, {}, {}}); break;
    case Action::Verb::set:
    case Action::Verb::retarget: break;  // these are values, which are tuned
  }
  if (now == Time{0}) shown_ = false;  // nothing is bridged before the scene has begun
}

void Stage::carry_out_start(Index index) {
  BehaviourRecord& behaviour = cast.behaviours[index];
  Run& run = behaviour.run;
  const bool comes_back = run.phase == Run::Phase::halted;
  const bool was_wanted = run.is_wanted();
  Pose shown;
  switch (run.phase) {
    case Run::Phase::waiting: return;
    case Run::Phase::idle: wait(index, now, behaviour.common.delay); break;
    case Run::Phase::halted:
      shown = player_.settle(index, now).shown;
      run.clock = now - run.clock;
      run.phase = Run::Phase::running;
      if (run.holding) player_.hold(behaviour, shown, shown);  // what it looks at is still lost
      break;
    case Run::Phase::running: break;
  }
  if (run.phase == Run::Phase::running && run.transition) {
    if (comes_back || !was_wanted) fade_to(behaviour, 1.0);
    if (comes_back && behaviour.kind->has_memory()) bridge_over(index, shown);
  }
  player_.note(index, now);
}

void Stage::carry_out_stop(Index index) {
  BehaviourRecord& behaviour = cast.behaviours[index];
  Run& run = behaviour.run;
  if (run.phase == Run::Phase::waiting || now == Time{0}) {  // it has not begun
    run.phase = Run::Phase::idle;
  } else if (run.phase == Run::Phase::running && behaviour.common.fade > Time{0}) {
    if (run.is_wanted()) fade_to(behaviour, 0.0);
  } else if (run.phase == Run::Phase::running) {
    const Probe before = player_.settle(index, now);
    run.clock = now - run.clock;
    run.phase = Run::Phase::halted;
    if (behaviour.kind->has_memory()) player_.hold(behaviour, before.start.in, before.shown);
  }
  player_.note(index, now);
}

void Stage::carry_out_restart(Index index) {
  BehaviourRecord& behaviour = cast.behaviours[index];
  const Probe before = player_.probe(index, now);
  if (player_.starts_quietly(behaviour)) {  // what does not will begin when it is due
    cast.roster(behaviour).begin(behaviour.row, before.start);
    fill_lane(behaviour);
  }
  behaviour.run.holding = false;
  behaviour.run.failed = false;
  behaviour.run.failed_at = Time::min();
  if (behaviour.run.transition) *behaviour.run.transition = {};
  wait(index, now, behaviour.common.delay);
  bridge_over(index, before.shown);
}

/// A motion between two ends turns back from where it is; any other is stopped, or started.
void Stage::carry_out_toggle(Index index) {
  BehaviourRecord& behaviour = cast.behaviours[index];
  Run& run = behaviour.run;
  if (!run.is_started()) return carry_out_start(index);
  if (run.phase == Run::Phase::waiting) return carry_out_stop(index);
  const Probe before = player_.probe(index, now);
  if (!cast.roster(behaviour).turn_back(behaviour.row, player_.own_time_of(run, now), before.start))
    return carry_out_stop(index);
  run.clock = now;
  fill_lane(behaviour);
  bridge_over(index, before.shown);
}

void Stage::kick(Index index, const Vec3& by) {
  settle();
  const BehaviourRecord& behaviour = cast.behaviours[index];
  if (!behaviour.kind->has_velocity()) refuse(behaviour, "it has no velocity to add to; a spring can be kicked.");
  if (!(by.cwiseAbs().maxCoeff() <= 1e9)) refuse(behaviour, "a kick must be finite and at most 1e9 on each axis.");
  command({.verb = Action::Verb::kick, .target = index, .by = by});
}

/// Only what is under way can be kicked.
void Stage::carry_out_kick(Index index, const Vec3& by) {
  const BehaviourRecord& behaviour = cast.behaviours[index];
  if (!player_.acts(behaviour)) return;
  player_.settle(index, now);
  collect_memory_of(index);
  cast.roster(behaviour).kick(behaviour.row, by);
  fill_lane(behaviour);
}

void Stage::place(Index object, std::string_view pose) {
  const auto& poses = cast.objects[object].poses;
  const auto found = std::find_if(poses.begin(), poses.end(), [&](const PoseParts& each) { return each.name == pose; });
  if (found == poses.end()) {
    std::vector<std::string_view> names;
    for (const PoseParts& each : poses) names.push_back(each.name);
    throw BadValue{cast.name(object) + " has no pose called " + in_quotes(pose) + suggestion(pose, names)};
  }
  command({.verb = Action::Verb::place, .target = object, .pose = static_cast<Index>(found - poses.begin())});
}

/// A jump, and meant.
void Stage::carry_out_place(Index object, Index pose) {
  cast.objects[object].placed = pose;
  show_base(object);
  shown_ = false;
}

void Stage::show_base(Index object) {
  const ObjectRecord& record = cast.objects[object];
  if (!record.location) return;
  const auto [slot, group, member] = *record.location;
  set_lane(layout.rests[layout.groups[group].first_block + member / lanes], static_cast<int>(member % lanes),
           record.base());
  if (record.parent == none) layout.worlds[slot] = record.base();  // parts that no behaviour touches stay so
}

void Stage::raise(std::string_view event) {
  if (event.empty()) throw BadValue{"an event needs a name."};
  command({.verb = Action::Verb::raise, .event = event_called(event)});
}

std::string_view Stage::event_called(std::string_view name) {
  const auto found = event_names_.find(name);
  return found != event_names_.end() ? *found : *event_names_.emplace(name).first;
}

void Stage::fade_to(BehaviourRecord& behaviour, double level) {
  const double present = player_.level(behaviour.run, now);
  Transition& fading = behaviour.run.transition.make();
  fading.level_from = present;
  fading.level_to = level;
  fading.level_since = now;
  fading.level_length = present == level ? Time{0} : behaviour.common.fade;
}

void Stage::bridge_over(Index index, const Pose& shown) {
  player_.note(index, now);
  if (!cast.behaviours[index].kind->bridges()) shown_ = false;  // it jumps
  if (now > Time{0})
    player_.bridge(cast.behaviours[index], shown, player_.probe(index, now).out, now);
  else
    shown_ = false;  // nothing has been seen yet: it may be where it likes
  player_.note(index, now);
}

void Stage::set_hidden(Index object, bool hidden) {
  ObjectRecord& top = cast.objects[object];
  if (top.hidden == hidden) return;
  top.hidden = hidden;
  const auto above = [this](const ObjectRecord& record) {
    return record.parent != none && cast.objects[record.parent].under_hidden;
  };
  if (above(top)) return;  // nothing of it was to be seen before, nor is now

  // One after another in a family, but for all at once: what is advanced on the way sees them all, or none.
  if (hidden)
    cast.for_family(object, [this](Index member) {
      if (!cast.objects[member].under_hidden) hold_watchers(member);
    });
  cast.for_family(object, [&](Index member) {
    ObjectRecord& record = cast.objects[member];
    record.under_hidden = record.hidden || above(record);
  });
  ++cast.comings;
  if (!hidden)
    cast.for_family(object, [this](Index member) {
      if (!cast.objects[member].under_hidden) release_watchers(member);
    });
}

void Stage::end_family(Index object) {
  cast.for_family(object, [this](Index member) { hold_watchers(member); });
  cast.for_family(object, [this](Index member) { cast.end(member); });
}

void Stage::lose(Index index, Object lost, const Pose& shown) {
  BehaviourRecord& behaviour = cast.behaviours[index];
  const bool goes_on = !cast.needs_all(behaviour);
  if (goes_on && !behaviour.kind->misses_each()) return;
  if (!goes_on && (behaviour.run.phase == Run::Phase::running || behaviour.run.phase == Run::Phase::halted)) {
    if (!behaviour.kind->adds() || behaviour.run.phase == Run::Phase::running)
      behaviour.run.transition.make().held = shown;
    behaviour.run.holding = true;
    player_.note(index, now);
  }
  events.push({now, "lost", cast.handle(behaviour.object), cast.behaviour_handle(index), lost});
}

void Stage::hold_watchers(Index lost) {
  const auto hold = [&](Index index) {
    const BehaviourRecord& behaviour = cast.behaviours[index];
    if (cast.objects[behaviour.object].ended || behaviour.run.holding) return;
    lose(index, cast.handle(lost), player_.settle(index, now).shown);  // from where it has come to by now
  };
  for (const Index index : layout.watchers(lost)) hold(index);
  // A behaviour that names a list goes on with the others. At a tick it has just been advanced, so nothing is to be
  // done.
  if (now != player_.last_tick) layout.for_watchers_of_lists(cast, lost, hold);
}

void Stage::release_watchers(Index back) {
  for (const Index index : layout.watchers(back)) {
    BehaviourRecord& behaviour = cast.behaviours[index];
    if (cast.lost_one(behaviour).generation != 0) continue;
    if (behaviour.run.holding) {
      const Pose shown = player_.settle(index, now).shown;
      behaviour.run.holding = false;
      bridge_over(index, shown);
    } else {
      stop_waiting_for_lost(index);
    }
  }
}

void Stage::stop_waiting_for_lost(Index index) {
  const Run& run = cast.behaviours[index].run;
  if (run.phase == Run::Phase::waiting && run.starts_at == when_found) wait(index, now, Time{0});
}

}  // namespace hushed::inside
