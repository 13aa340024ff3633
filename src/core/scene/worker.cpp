// SPDX-License-Identifier: MIT
#include "scene/worker.hpp"

#include <algorithm>
#include <string>

#include "scene/bridge.hpp"
#include "scene/event_queue.hpp"

namespace hushed::detail {

void Worker::raise(Event event, bool for_rules) const {
  if (reports_->events.size() < EventQueue::most) reports_->events.push_back({std::move(event), for_rules});
}

Pose Worker::world_of(Object object, std::uint32_t reader) const {
  const Registry& registry = data_.registry;
  if (!registry.alive(object)) return {};
  // An object that is read for the first time is read as it is now.
  const TickMemory& ticks = data_.ticks;
  if (registry.behaviours[reader].common.reads == Reads::last_tick && ticks.knows(object.index)) {
    const Index at = ticks.place_of(object.index);
    return evaluated_at_ <= ticks.at ? ticks.before[at] : ticks.last[at];
  }
  return data_.layout.world(registry.lane_of_world(object.index));
}

PoseLane Worker::place_of(Object object, std::uint32_t reader) const {
  const Registry& registry = data_.registry;
  if (!registry.alive(object) || registry.behaviours[reader].common.reads != Reads::now) return {};
  const Index lane = registry.lane_of_world(object.index);
  return {&data_.layout.worlds[lane / lanes], static_cast<int>(lane % lanes)};
}

void Worker::emit(std::uint32_t behaviour, EventName name, int number, Time at) const {
  const Registry& registry = data_.registry;
  const Index object = registry.behaviours[behaviour].object;
  if (registry.presences[object].ended) return;
  const Time then = std::min(data_.clocks.scene_at(clock_, at), evaluated_at_);
  raise({then, name.text(), registry.handle(object), registry.behaviour_handle(behaviour), {}, {}, number});
}

/// A behaviour that fails at a tick is skipped until it succeeds at a later one. A failure in a frame has no effect but
/// the event: frames must not influence later poses.
void Worker::failed(std::uint32_t index, const BehaviourFailure& failure) const {
  BehaviourRecord& behaviour = data_.registry.behaviours[index];
  if (data_.registry.presences[behaviour.object].ended) return;
  Run& run = behaviour.run;
  if (behaviour.location) {
    const auto bit = static_cast<std::uint8_t>(1U << behaviour.location->lane);
    failed_lanes_ |= bit;
    data_.layout.batches[behaviour.location->batch].bits[behaviour.location->block].in_transition |= bit;
  }
  if (failure.is_at_tick && failure.has_memory && !run.failed) {
    run.failed = true;
    if (failure.last_given) bridge(behaviour, *failure.last_given, failure.in, evaluated_at_);
  }
  if (std::exchange(run.failed_at, evaluated_at_) != Time::min()) return;  // it has been reported
  raise({evaluated_at_,
         "failed",
         data_.registry.handle(behaviour.object),
         data_.registry.behaviour_handle(index),
         {},
         std::string{failure.why}},
        failure.is_at_tick);
}

}  // namespace hushed::detail
