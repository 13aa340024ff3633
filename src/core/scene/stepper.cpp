// SPDX-License-Identifier: MIT
#include "scene/stepper.hpp"

#include <algorithm>

#include <hushed/behaviour/attract.hpp>

namespace hushed::detail {

void Stepper::advance_to(Time target) noexcept {
  Evaluator& evaluator = core_.evaluator;
  const SceneClock& clock = core_.clock;
  if (clock.now == Time{0} && core_.rules.memory.evaluated_at == Time::min()) evaluate_rules(clock.now);
  if (!core_.layout.any_ticked) evaluator.last_tick = frame_time(clock.ticks_until(target), clock.tick_rate);
  Time next_tick = core_.layout.any_ticked ? clock.tick_after(evaluator.last_tick) : Time::max();
  bool tick_is_current = false;  // the last thing that was done is a tick at `target`
  while (true) {
    const Time next_start = core_.starts.next_time();
    const Time next = std::min(next_tick, next_start);
    if (next > target) break;
    tick_is_current = next_tick <= next_start && next == target;
    if (next_tick <= next_start) {
      tick(next_tick);
      next_tick = clock.tick_after(next_tick);
    }
    if (next_start <= next || evaluator.lag() == Evaluator::most_lag) evaluator.catch_up();
    if (start_due(next)) tick_is_current = false;
  }
  evaluator.catch_up();
  core_.clock.now = target;
  core_.evaluate_all({.now = target, .scope = tick_is_current ? Scope::not_at_ticks : Scope::all, .emit_events = true});
}

bool Stepper::start_due(Time at) noexcept {
  bool any = false;
  while (core_.starts.next_time() <= at) {
    const BehaviourRecord& behaviour = core_.registry.behaviours[core_.starts.take()];
    if (behaviour.run.phase != Run::Phase::waiting || core_.registry.presences[behaviour.object].ended) continue;
    core_.evaluator.add_to_start_set(behaviour.object);
    any = true;
  }
  if (any) core_.evaluator.evaluate_start_set(at);
  return any;
}

void Stepper::tick(Time at) noexcept {
  if (!core_.rules.memory.firings.empty()) rule_actions_.execute_fired(at);
  core_.evaluator.tick(at);
  core_.commit_tick_memory(at);
  core_.inputs.tick(at);
  if (!core_.evaluator.gatherings.empty()) gather(at);
  core_.decide(at);
  if (!core_.rules.empty()) evaluate_rules(at);
}

void Stepper::gather(Time at) noexcept {
  Registry& registry = core_.registry;
  auto& gatherings = core_.evaluator.gatherings;
  std::sort(gatherings.begin(), gatherings.end(), [&](const auto& a, const auto& b) {
    const auto& one = registry.objects[registry.behaviours[a.behaviour].object].name;
    const auto& other = registry.objects[registry.behaviours[b.behaviour].object].name;
    return one != other ? one < other : a.behaviour < b.behaviour;
  });
  core_.enter_tick(at, true);
  for (const auto& [index, by, then] : gatherings) {
    const Index object = registry.behaviours[index].object;
    const int number = registry.alive(by) ? ++registry.presences[by.index].gathered : 0;
    core_.events.push({at, "gathered", registry.handle(object), registry.behaviour_handle(index), by, {}, number});
    if (then == Gathered::hide) commands_.set_hidden(object, true);
    if (then == Gathered::end && !registry.presences[object].ended) commands_.end_subtree(object);
  }
  gatherings.clear();
  core_.leave_tick();
}

void Stepper::evaluate_rules(Time at) noexcept {
  core_.pass_events_to_rules();
  core_.rules.evaluate(at);
}

}  // namespace hushed::detail
