// SPDX-License-Identifier: MIT
#include "scene/layout.hpp"

#include <algorithm>
#include <numeric>
#include <tuple>

namespace hushed::detail {

std::strong_ordering GroupKey::operator<=>(const GroupKey& other) const {
  const auto flags = [](const GroupKey& key) {
    return std::tuple{key.ticked,           key.independent,      key.has_parent,    key.takes_scale,
                      key.inherit.position, key.inherit.rotation, key.inherit.scale, key.clock};
  };
  if (const auto order = flags(*this) <=> flags(other); std::is_neq(order)) return order;
  return batches <=> other.batches;
}

LayoutNeeds layout_needs(const Registry& registry, Index object) {
  LayoutNeeds needs;
  needs.ticks = needs.every_tick = registry.objects[object].is_read_by_rules;
  registry.for_stack(object, [&](Index b) {
    const BehaviourRecord& behaviour = registry.behaviours[b];
    const KindTraits& traits = behaviour.kind->traits();
    if (traits.has_memory || behaviour.kind->emits_events_at_ticks(registry.store(behaviour).values(behaviour.row)))
      needs.ticks = true;
    // Rules hear at its tick of a behaviour that starts while a dependency is lost.
    const bool rules_may_hear = registry.has_rules && !behaviour.dependencies.empty();
    if (rules_may_hear || behaviour.common.reads == Reads::last_tick || traits.needs_every_tick)
      needs.every_tick = true;
    if (!traits.thread_safe) needs.for_any_thread = false;
  });
  return needs;
}

unsigned touched_by_parent(const ObjectRecord& child, unsigned touched_of_parent) {
  if (child.parent == none) return 0;
  return part::position | part::rotation | (child.inherit.scale ? touched_of_parent & part::scale : 0U);
}

// --- objects ---------------------------------------------------------------------------------------------------------

void Layout::find_places() const {
  first_places_.clear();
  Index place = 0;
  for (const Group& group : groups) {
    first_places_.push_back(place);
    place += group.count;
  }
  objects_.clear();
  places_are_known_ = true;
}

std::span<const Object> Layout::objects(const Registry& registry) const {
  if (!places_are_known_) find_places();
  if (objects_.size() != count) {
    objects_.reserve(count);
    for (const Group& group : groups)
      for (Index member = 0; member < group.count; ++member)
        objects_.push_back(registry.handle(members[group.lane(member)]));
  }
  return objects_;
}

Index Layout::place_of(const ObjectLocation& location) const {
  if (!places_are_known_) find_places();
  return first_places_[location.group] + location.member;
}

bool Layout::contains(Index list, Object object) const {
  return std::find(lists[list]->begin(), lists[list]->end(), object) != lists[list]->end();
}

bool Layout::names(const Registry& registry, Index behaviour, Index list) const {
  const auto& named = registry.behaviours[behaviour].dependencies.lists;
  return registry.behaviours[behaviour].in_use && std::find(named.begin(), named.end(), lists[list]) != named.end();
}

// --- changes ---------------------------------------------------------------------------------------------------------

Index Layout::batch_of(Registry& registry, const BehaviourRecord& behaviour) {
  const unsigned variant = registry.store(behaviour).variant(behaviour.row);
  const auto [found, is_new] = batch_ids_.try_emplace({behaviour.store, variant}, static_cast<Index>(batches.size()));
  if (is_new) {
    Batch& batch = batches.emplace_back();
    batch.variant = variant;
    batch.touches = behaviour.kind->touches(variant);
    batch.overwrites = behaviour.kind->overwrites(variant);
    batch.decides = behaviour.kind->traits().decides;
    batch.lane_blocks = registry.stores[behaviour.store]->lane_blocks(variant);
  }
  return found->second;
}

Index Layout::add_group(const GroupKey& key, Index capacity) {
  Group group{};
  group.chunk = static_cast<Index>(chunks.size() - 1);
  group.capacity = capacity;
  group.first_block = static_cast<Index>(rests.size());
  group.first_child = key.has_parent ? static_cast<Index>(parents.size()) : none;
  group.first_stack_level = static_cast<Index>(stack_levels.size());
  group.stack_levels = static_cast<Index>(key.batches.size());
  group.inherit = key.inherit;
  group.clock = key.clock;
  group.ticked = key.ticked;
  group.independent = key.independent;
  group.still = !key.has_parent && key.batches.empty();
  group.overwritten = key.batches.empty() ? 0U : batches[key.batches.front()].overwrites;
  group.takes_runs = std::all_of(key.batches.begin(), key.batches.end(),
                                 [this](Index batch) { return batches[batch].lane_blocks->takes_runs(); });
  group.advances_many = group.stack_levels == 1 && !key.has_parent && key.clock == 0 &&
                        batches[key.batches.front()].lane_blocks->advances_many();

  PoseBlock unused;
  for (int lane = 0; lane < lanes; ++lane) set_lane(unused, lane, Pose{});
  const std::size_t blocks = rests.size() + capacity;
  rests.resize(blocks, unused);
  worlds.resize(blocks, unused);
  members.resize(blocks * lanes, none);
  parent_blocks.resize(blocks, none);
  if (key.has_parent) parents.resize(parents.size() + std::size_t{capacity} * lanes, 0);
  const auto index = static_cast<Index>(groups.size());
  for (const Index number : key.batches) {
    Batch& batch = batches[number];
    if (batch.decides) {
      deciding.push_back({index, static_cast<Index>(stack_levels.size())});
      ++chunks.back().deciding;
    }
    stack_levels.push_back({number, static_cast<Index>(batch.blocks())});
    batch.bits.resize(batch.blocks() + capacity);
    batch.behaviours.resize(batch.blocks() * lanes, none);
    batch.clocks.resize(batch.blocks(), Batch::running_clocks());
  }
  if (group.independent) {
    independent.push_back(index);
    ++chunks.back().independent;
  }
  groups.push_back(group);
  groups_by_key[key].push_back(index);
  ++chunks.back().groups;
  return index;
}

void Layout::add_member(Index index, Index object, unsigned touched, Registry& registry) {
  Group& group = groups[index];
  ObjectRecord& record = registry.objects[object];
  const Index member = group.count++, block = member / lanes, place = group.lane(member);
  const auto lane = static_cast<int>(member % lanes);
  group.touched |= touched;
  record.location = {index, member, place};
  members[place] = object;
  ++count;
  set_lane(rests[place / lanes], lane, registry.base(object));
  set_lane(worlds[place / lanes], lane, registry.base(object));
  if (group.first_child != none) {
    const Index parent = registry.lane_of_world(record.parent);
    parents[group.first_child + member] = parent;
    if (group.inherit.scale) {  // it stays so where no scale can change
      const auto outer = load<double>(worlds[parent / lanes].scale, static_cast<int>(parent % lanes));
      Row(&scale)[3] = worlds[place / lanes].scale;
      store(scale, lane, composed_scale(outer, load<double>(scale, lane)));
    }
  }
  Index level = group.first_stack_level;
  registry.for_stack(object, [&](Index b) {
    const StackLevel& stack_level = stack_levels[level++];
    Batch& batch = batches[stack_level.batch];
    const BehaviourLocation location{stack_level.batch, stack_level.first_block + block, lane};
    registry.behaviours[b].location = location;
    batch.behaviours[std::size_t{location.block} * lanes + static_cast<std::size_t>(lane)] = b;
    batch.bits[location.block].occupied |= static_cast<std::uint8_t>(1U << lane);
  });
}

void Layout::find_parent_block(const Group& group, Index block) {
  Index& found = parent_blocks[group.first_block + block];
  found = none;
  if (group.first_child == none || !group.inherit.position || !group.inherit.rotation || !group.inherit.scale) return;
  const Index first = group.first_child + block * lanes, used = std::min<Index>(lanes, group.count - block * lanes);
  const Index first_lane = parents[first];
  bool are_lanes_of_one_block = first_lane % lanes == 0;
  for (Index i = 1; i < used; ++i) are_lanes_of_one_block &= parents[first + i] == first_lane + i;
  if (are_lanes_of_one_block) found = first_lane / lanes;
}

void Layout::make_waves() {
  waves.clear();
  std::vector<Index>& order = chunks_in_waves;
  order.resize(chunks.size());
  std::iota(order.begin(), order.end(), Index{0});
  std::stable_sort(order.begin(), order.end(), [this](Index a, Index b) {
    const Chunk &one = chunks[a], &other = chunks[b];
    return std::pair{one.wave, one.for_any_thread} < std::pair{other.wave, other.for_any_thread};
  });
  for (Index i = 0; i < order.size(); ++i) {
    const Chunk& chunk = chunks[order[i]];
    if (i == 0 || chunk.wave != chunks[order[i - 1]].wave) waves.push_back({i, 0, 0});
    ++waves.back().count;
    if (!chunk.for_any_thread) ++waves.back().for_caller;
  }
}

}  // namespace hushed::detail
