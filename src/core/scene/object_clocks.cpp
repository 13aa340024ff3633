// SPDX-License-Identifier: MIT
#include "scene/object_clocks.hpp"

#include <algorithm>
#include <cmath>

#include <hushed/behaviour/pace.hpp>

#include "archived_time.hpp"

namespace hushed::detail {

namespace {

constexpr auto longest = static_cast<double>(furthest_time.count());

Time scaled(Time length, double by) {
  const double count = std::floor(static_cast<double>(length.count()) * by + 0.5);
  return Time{static_cast<Time::rep>(std::clamp(count, -longest, longest))};
}

/// The pace of an object's own: that of its behaviour `pace`, where it has one that is not stopped.
double own_pace(const Registry& registry, Index object) {
  double pace = 1.0;
  registry.for_stack(object, [&](Index b) {
    const BehaviourRecord& behaviour = registry.behaviours[b];
    if (behaviour.kind == &kind_of<Pace>() && behaviour.run.is_started())
      pace = static_cast<const Pace*>(registry.store(behaviour).values(behaviour.row))->rate;
  });
  return pace;
}

}  // namespace

Time ObjectClock::own_at(Time at) const {
  if (at >= since) return std::min(own + scaled(at - since, pace), furthest_time);
  if (since == before) return own;
  const double rate = static_cast<double>((own - own_before).count()) / static_cast<double>((since - before).count());
  return own_before + scaled(at - before, rate);
}

Time ObjectClock::scene_at(Time own_time) const {
  if (own_time >= own) return pace > 0.0 ? since + scaled(own_time - own, 1.0 / pace) : since;
  if (own == own_before) return since;
  const double rate = static_cast<double>((since - before).count()) / static_cast<double>((own - own_before).count());
  return before + scaled(own_time - own_before, rate);
}

ObjectClock ObjectClock::at_pace(double next, Time now, Time last_tick) const {
  const Time tick = std::min(last_tick, now);
  return {owner, next, now, own_at(now), tick, own_at(tick)};
}

bool ObjectClocks::make_own(Registry& registry, Index object) {
  const Index shared = registry.objects[object].clock;
  if (shared != 0 && clocks_[shared - 1].owner == object) return false;
  ObjectClock clock = shared == 0 ? ObjectClock{} : clocks_[shared - 1];
  clock.owner = object;
  const auto free =
      std::find_if(clocks_.begin(), clocks_.end(), [](const ObjectClock& each) { return each.owner == none; });
  const auto number = static_cast<Index>(free - clocks_.begin() + 1);
  if (free == clocks_.end())
    clocks_.push_back(clock);
  else
    *free = clock;
  registry.for_subtree(object, [&](Index member) {
    if (registry.objects[member].clock == shared) registry.objects[member].clock = number;
  });
  return true;
}

void ObjectClocks::set(Registry& registry, Index object, const ObjectClock& times) {
  make_own(registry, object);
  clocks_[registry.objects[object].clock - 1] = times;
  clocks_[registry.objects[object].clock - 1].owner = object;
}

double ObjectClocks::wanted_pace(const Registry& registry, Index object) {
  double pace = 1.0;
  for (Index at = object; at != none; at = registry.objects[at].parent) pace *= own_pace(registry, at);
  return pace;
}

void ObjectClocks::remove_unused(const Registry& registry) {
  for (std::size_t i = 0; i < clocks_.size(); ++i) {
    const Index owner = clocks_[i].owner;
    if (owner != none && registry.objects[owner].clock != i + 1) clocks_[i] = {};
  }
}

}  // namespace hushed::detail
