// SPDX-License-Identifier: MIT
#include "scene/commands.hpp"

#include "lanes/conversions.hpp"
#include "scene/bridge.hpp"

namespace hushed::detail {

void Commands::execute(const Command& command) {
  core_.refresh();
  switch (command.verb) {
    case Action::Verb::start: start(command.target); break;
    case Action::Verb::stop: stop(command.target); break;
    case Action::Verb::restart: restart(command.target); break;
    case Action::Verb::toggle: toggle(command.target); break;
    case Action::Verb::kick: kick(command.target, command.by); break;
    case Action::Verb::hide: set_hidden(command.target, true); break;
    case Action::Verb::show: set_hidden(command.target, false); break;
    case Action::Verb::end: end_subtree(command.target); break;
    case Action::Verb::place: place(command.target, command.pose); break;
    case Action::Verb::raise: core_.events.push({now_, command.event, {}, {}}); break;
    case Action::Verb::set:
    case Action::Verb::retarget: break;  // these are values, which are tuned
  }
  core_.update_paces();
  if (now_ == Time{0}) core_.invalidate_poses();  // nothing is bridged before the scene has begun
}

void Commands::start(Index index) {
  BehaviourRecord& behaviour = registry_.behaviours[index];
  Run& run = behaviour.run;
  const bool comes_back = run.phase == Run::Phase::halted;
  const bool was_wanted = run.is_wanted();
  // While its weight is still changing, a start without `fade` sets it to full at once. A bridge hides the jump.
  const bool cuts_fade =
      (comes_back || !was_wanted) && behaviour.common.fade == Time{0} && fade_level(run, now_) != 1.0;
  Pose output;
  switch (run.phase) {
    case Run::Phase::waiting: return;
    case Run::Phase::idle: core_.schedule_start(index, now_, behaviour.common.delay); break;
    case Run::Phase::halted:
      output = evaluator_.advance_and_sample(index, now_).output;
      run.clock = evaluator_.object_time(behaviour.object, now_) - run.clock;
      run.phase = Run::Phase::running;
      if (run.holding) evaluator_.hold(behaviour, output, output);  // its dependency is still lost
      break;
    case Run::Phase::running:
      if (cuts_fade) output = evaluator_.advance_and_sample(index, now_).output;
      break;
  }
  if (run.phase == Run::Phase::running && run.transition) {
    if (comes_back || !was_wanted) fade_to(behaviour, 1.0);
    if (cuts_fade || (comes_back && behaviour.kind->traits().holds_when_stopped)) bridge_over(index, output);
  }
  evaluator_.update_lane(index, now_);
}

void Commands::stop(Index index) {
  BehaviourRecord& behaviour = registry_.behaviours[index];
  Run& run = behaviour.run;
  if (run.phase == Run::Phase::waiting || now_ == Time{0}) {  // it has not begun
    run.phase = Run::Phase::idle;
  } else if (run.phase == Run::Phase::running && behaviour.common.fade > Time{0}) {
    if (run.is_wanted()) fade_to(behaviour, 0.0);
  } else if (run.phase == Run::Phase::running) {
    const BehaviourSample before = evaluator_.advance_and_sample(index, now_);
    run.clock = evaluator_.object_time(behaviour.object, now_) - run.clock;
    run.phase = Run::Phase::halted;
    if (behaviour.kind->traits().holds_when_stopped) evaluator_.hold(behaviour, before.start.in, before.output);
  }
  evaluator_.update_lane(index, now_);
}

void Commands::restart(Index index) {
  BehaviourRecord& behaviour = registry_.behaviours[index];
  const BehaviourSample before = evaluator_.sample(index, now_);
  if (evaluator_.starts_without_bridge(behaviour)) {  // others begin when they are due
    registry_.store(behaviour).begin(behaviour.row, before.start);
    core_.fill_lane(behaviour);
  }
  behaviour.run.holding = false;
  behaviour.run.failed = false;
  behaviour.run.failed_at = Time::min();
  if (behaviour.run.transition) *behaviour.run.transition = {};
  behaviour.run.uses_transition = false;
  core_.schedule_start(index, now_, behaviour.common.delay);
  bridge_over(index, before.output);
}

/// Reverses a motion between two ends; stops or starts any other.
void Commands::toggle(Index index) {
  BehaviourRecord& behaviour = registry_.behaviours[index];
  Run& run = behaviour.run;
  if (!run.is_started()) return start(index);
  if (run.phase == Run::Phase::waiting) return stop(index);
  const BehaviourSample before = evaluator_.sample(index, now_);
  if (!registry_.store(behaviour).turn_back(behaviour.row, evaluator_.own_time_of(behaviour, now_), before.start))
    return stop(index);
  run.clock = evaluator_.object_time(behaviour.object, now_);
  core_.fill_lane(behaviour);
  bridge_over(index, before.output);
}

/// Kicks a behaviour that is running.
void Commands::kick(Index index, const Vec3& by) {
  const BehaviourRecord& behaviour = registry_.behaviours[index];
  if (!evaluator_.is_active(behaviour)) return;
  evaluator_.advance_and_sample(index, now_);
  core_.collect_state_of(index);
  registry_.store(behaviour).kick(behaviour.row, by);
  core_.fill_lane(behaviour);
}

/// The object jumps, as intended: to a named pose, or where `pose` is none, to the pose that it is teleported to.
void Commands::place(Index object, Index pose) {
  if (pose == none) {
    core_.feeds.show_next_jump();
  } else {
    registry_.presences[object].placed = pose;
    update_base(object);
  }
  if (!core_.is_laid_out()) core_.lay_out_again();
  core_.invalidate_poses();
}

void Commands::update_base(Index object) {
  const ObjectRecord& record = registry_.objects[object];
  if (!record.location) return;
  const Index lane = record.location->lane;
  const auto scale = load<double>(core_.layout.rests[lane / lanes].scale, static_cast<int>(lane % lanes));
  const Pose base = registry_.base(object);
  if (vector(scale) != base.scale) core_.invalidate_layout();  // it has constant scales
  const auto set = [&](LargeVector<PoseBlock>& poses) {
    set_lane(poses[lane / lanes], static_cast<int>(lane % lanes), base);
  };
  set(core_.layout.rests);
  if (record.parent == none) set(core_.layout.worlds);  // parts that no behaviour touches stay so
}

void Commands::fade_to(BehaviourRecord& behaviour, double level) {
  const double present = fade_level(behaviour.run, now_);
  Transition& fading = behaviour.run.transition.make();
  fading.level_from = present;
  fading.level_to = level;
  fading.level_since = now_;
  fading.level_length = present == level ? Time{0} : behaviour.common.fade;
  behaviour.run.transition_has_changed();
}

void Commands::bridge_over(Index index, const Pose& output) {
  evaluator_.update_lane(index, now_);
  if (!registry_.behaviours[index].kind->traits().bridges) core_.invalidate_poses();  // it jumps
  if (now_ > Time{0})
    bridge(registry_.behaviours[index], output, evaluator_.sample(index, now_).out, now_);
  else
    core_.invalidate_poses();  // nothing has been displayed yet
  evaluator_.update_lane(index, now_);
}

void Commands::set_hidden(Index object, bool hidden) {
  registry_.presences[object].hidden = hidden;
  update_hidden_below(object);
}

void Commands::update_hidden_below(Index object) {
  const bool hidden = registry_.should_hide(object);
  if (registry_.presences[object].under_hidden == hidden) return;

  // Readers are held one by one before any object is hidden, so that behaviours advanced here see all of them or none.
  if (hidden)
    registry_.for_subtree(object, [this](Index member) {
      if (!registry_.presences[member].under_hidden) hold_readers(member);
    });
  registry_.for_subtree(
      object, [&](Index member) { registry_.presences[member].under_hidden = registry_.should_hide(member); });
  ++registry_.presence_edition;
  if (!hidden)
    registry_.for_subtree(object, [this](Index member) {
      if (!registry_.presences[member].under_hidden) release_readers(member);
    });
}

void Commands::end_subtree(Index object) {
  registry_.for_subtree(object, [this](Index member) { hold_readers(member); });
  registry_.for_subtree(object, [this](Index member) { registry_.end(member); });
}

void Commands::lose(Index index, Object lost, const Pose& output) {
  BehaviourRecord& behaviour = registry_.behaviours[index];
  const bool goes_on = !registry_.needs_all_dependencies(behaviour) || !behaviour.dependencies.contains_each(lost);
  if (goes_on && !behaviour.kind->traits().reports_each_lost) return;
  if (!goes_on && (behaviour.run.phase == Run::Phase::running || behaviour.run.phase == Run::Phase::halted)) {
    if (!behaviour.kind->traits().is_additive || behaviour.run.phase == Run::Phase::running)
      behaviour.run.transition.make().held = output;
    behaviour.run.transition_has_changed();
    behaviour.run.holding = true;
    evaluator_.update_lane(index, now_);
  }
  core_.events.push({now_, "lost", registry_.handle(behaviour.object), registry_.behaviour_handle(index), lost});
}

void Commands::hold_readers(Index lost) {
  const auto hold = [&](Index index) {
    const BehaviourRecord& behaviour = registry_.behaviours[index];
    if (registry_.presences[behaviour.object].ended || behaviour.run.holding) return;
    lose(index, registry_.handle(lost),
         evaluator_.advance_and_sample(index, now_).output);  // from its pose at this moment
  };
  core_.layout.for_readers(registry_, lost, hold);
  // A behaviour that names a list goes on with the other objects. At a tick it has just been advanced.
  if (now_ != evaluator_.last_tick) core_.layout.for_readers_of_lists(registry_, lost, hold);
}

void Commands::release_readers(Index back) {
  core_.layout.for_readers(registry_, back, [this](Index index) {
    BehaviourRecord& behaviour = registry_.behaviours[index];
    if (registry_.first_lost(behaviour).generation != 0) return;
    if (behaviour.run.holding) {
      const Pose output = evaluator_.advance_and_sample(index, now_).output;
      behaviour.run.holding = false;
      bridge_over(index, output);
    } else {
      stop_waiting_for_lost(index);
    }
  });
}

void Commands::stop_waiting_for_lost(Index index) {
  const Run& run = registry_.behaviours[index].run;
  if (run.phase == Run::Phase::waiting && run.starts_at == when_found) core_.schedule_start(index, now_, Time{0});
}

}  // namespace hushed::detail
