// SPDX-License-Identifier: MIT
#include "scene/layout_editor.hpp"

#include <algorithm>

#include "lanes/conversions.hpp"

namespace hushed::detail {

namespace {

constexpr Index largest_chunk = 2048;  ///< objects, of the chunk at the end

}  // namespace

// --- adding ----------------------------------------------------------------------------------------------------------

bool LayoutEditor::add(Index object, Time now) {
  if (registry_.objects[object].location) return true;
  bool dependencies_are_there = true;
  registry_.for_dependencies(object,
                             [&](Index on) { dependencies_are_there = dependencies_are_there && add(on, now); });
  if (!dependencies_are_there || has_readers(object)) return false;
  const auto place = placement_of(object);
  if (!place) return false;
  const Index index = group_for(object, place->key);
  if (index == none) return false;

  layout_.add_member(index, object, place->touched, registry_);
  const Group& group = layout_.groups[index];
  layout_.find_parent_block(group, registry_.objects[object].location->member / lanes);
  layout_.any_ticked = layout_.any_ticked || group.ticked;
  Chunk& chunk = layout_.chunks[group.chunk];
  if (!place->for_any_thread && chunk.for_any_thread) {
    chunk.for_any_thread = false;
    layout_.make_waves();
  }
  fill_lanes(object, now);
  add_to_readers(object);
  evaluator_.add(object);
  layout_.forget_places();
  return true;
}

/// Nothing where more than the object and its group would change.
std::optional<LayoutEditor::Placement> LayoutEditor::placement_of(Index object) {
  const ObjectRecord& record = registry_.objects[object];
  if (flocks_.seek_one_of(record.tags)) return std::nullopt;
  const bool has_parent = record.parent != none;
  const LayoutNeeds needs = layout_needs(registry_, object);
  Placement found{{needs.ticks,
                   needs.ticks && !needs.every_tick,
                   has_parent,
                   false,
                   has_parent ? record.inherit : Inherit{},
                   record.clock,
                   {}},
                  0,
                  needs.for_any_thread};
  if (has_parent)
    found.touched = touched_by_parent(record, layout_.groups[registry_.objects[record.parent].location->group].touched);
  bool is_simple = true;
  registry_.for_stack(object, [&](Index b) {
    const BehaviourRecord& behaviour = registry_.behaviours[b];
    if (asks_for_last_tick(behaviour) || !behaviour.dependencies.lists.empty()) is_simple = false;
    const Index batch = layout_.batch_of(registry_, behaviour);
    found.key.batches.push_back(batch);
    found.touched |= layout_.batches[batch].touches | behaviour.run.once_touched;
  });
  registry_.for_dependencies(object, [&](Index on) {
    const Group& group = layout_.groups[registry_.objects[on].location->group];
    if (group.still) return;
    found.key.independent = false;
    if (needs.ticks && (!group.ticked || group.independent)) is_simple = false;
  });
  if (!is_simple) return std::nullopt;
  found.key.takes_scale = has_parent && (found.touched & part::scale) != 0;
  return found;
}

bool LayoutEditor::asks_for_last_tick(const BehaviourRecord& behaviour) const {
  return behaviour.common.reads != Reads::now ||
         !behaviour.kind->neighbour_queries(registry_.store(behaviour).values(behaviour.row)).empty();
}

bool LayoutEditor::has_readers(Index object) const {
  for (Index child = registry_.objects[object].first_child; child != none;
       child = registry_.objects[child].next_sibling)
    if (registry_.objects[child].location) return true;
  bool any = false;
  const auto find = [&](Index b) { any = any || registry_.behaviours[b].object != object; };
  layout_.for_readers(registry_, object, find);
  layout_.for_readers_of_lists(registry_, object, find);
  return any;
}

/// With one thread as with several.
bool LayoutEditor::stands_before(const ObjectLocation& dependency, Index group) const {
  const Index chunk = layout_.groups[dependency.group].chunk, own = layout_.groups[group].chunk;
  if (chunk == own) return dependency.group < group;
  return chunk < own && layout_.chunks[chunk].wave < layout_.chunks[own].wave;
}

Index LayoutEditor::group_for(Index object, const GroupKey& key) {
  constexpr int most_tries = 64;
  const auto known = layout_.groups_by_key.find(key);
  int tries = 0;
  for (std::size_t i = known == layout_.groups_by_key.end() ? 0 : known->second.size(); i-- > 0 && tries < most_tries;
       ++tries) {
    const Index index = known->second[i];
    if (layout_.groups[index].count == layout_.groups[index].capacity * lanes) continue;
    bool fits = true;
    registry_.for_dependencies(object,
                               [&](Index on) { fits = fits && stands_before(*registry_.objects[on].location, index); });
    if (fits) return index;
  }
  return new_group(object, key);
}

Index LayoutEditor::new_group(Index object, const GroupKey& key) {
  const auto known = layout_.groups_by_key.find(key);
  const Index last = known == layout_.groups_by_key.end() ? 1 : layout_.groups[known->second.back()].capacity;
  const Index capacity = std::clamp<Index>(2 * last, 2, 64);
  // Kernels point to world poses, which must stay where they are.
  if (layout_.worlds.size() + capacity > layout_.worlds.capacity()) return none;

  const auto begins = [this] { return layout_.groups[layout_.chunks.back().first_group].first_block; };
  if (layout_.chunks.empty() || (layout_.rests.size() - begins()) * lanes >= largest_chunk) {
    Chunk& chunk = layout_.chunks.emplace_back();
    chunk.first_group = static_cast<Index>(layout_.groups.size());
    chunk.first_independent = static_cast<Index>(layout_.independent.size());
    chunk.first_deciding = static_cast<Index>(layout_.deciding.size());
    chunk.for_any_thread = true;
  }
  const auto own = static_cast<Index>(layout_.chunks.size() - 1);
  registry_.for_dependencies(object, [&](Index on) {
    const Index chunk = layout_.groups[registry_.objects[on].location->group].chunk;
    Index& wave = layout_.chunks[own].wave;
    if (chunk != own) wave = std::max(wave, layout_.chunks[chunk].wave + 1);
  });
  const Index group = layout_.add_group(key, capacity);
  for (const Index batch : key.batches) layout_.batches[batch].lane_blocks->resize(layout_.batches[batch].blocks());
  layout_.make_waves();
  return group;
}

void LayoutEditor::fill_lanes(Index object, Time now) {
  registry_.for_stack(object, [&](Index b) {
    const BehaviourRecord& behaviour = registry_.behaviours[b];
    const auto [batch, block, lane] = *behaviour.location;
    LaneBlocks& blocks = *layout_.batches[batch].lane_blocks;
    blocks.fill(block, lane, behaviour.row);
    // Unused lanes repeat the first one, so that they compute with finite numbers.
    for (int unused = 1; lane == 0 && unused < lanes; ++unused) blocks.fill(block, unused, behaviour.row);
    evaluator_.update_lane(b, now);
  });
}

void LayoutEditor::add_to_readers(Index object) {
  registry_.for_stack(object, [&](Index b) {
    for (const Object& target : registry_.behaviours[b].dependencies.each) {
      std::vector<Index>& readers = layout_.later_readers[target.index];
      const auto reads = [&](Index reader) {
        return registry_.behaviours[reader].in_use && registry_.behaviours[reader].dependencies.contains_each(target);
      };
      if (readers.size() == readers.capacity()) std::erase_if(readers, [&](Index reader) { return !reads(reader); });
      if (std::find(readers.begin(), readers.end(), b) == readers.end()) readers.push_back(b);
    }
  });
}

// --- removing --------------------------------------------------------------------------------------------------------

bool LayoutEditor::remove(Index object, Time now) {
  ObjectRecord& record = registry_.objects[object];
  if (!record.location) return true;
  if (ticks_.knows(object) || flocks_.place_of_mover(object) != none) return false;
  // What is stored at ticks for it alone must not be known to one that asks for it later.
  bool asks = false;
  registry_.for_stack(object, [&](Index b) { asks = asks || asks_for_last_tick(registry_.behaviours[b]); });
  if (asks) return false;

  evaluator_.remove(object);
  registry_.for_stack(object, [this](Index b) {
    BehaviourRecord& behaviour = registry_.behaviours[b];
    if (!behaviour.location) return;
    const auto [batch, block, lane] = *behaviour.location;
    layout_.batches[batch].lane_blocks->collect(block, lane, behaviour.row);
    behaviour.location.reset();
  });
  const ObjectLocation place = *record.location;
  record.location.reset();
  Group& group = layout_.groups[place.group];
  const Index last = layout_.members[group.lane(group.count - 1)];
  if (last != object) move(last, place, now);
  empty_last_lane(group);
  --layout_.count;
  layout_.find_parent_block(group, place.member / lanes);
  if (group.count % lanes != 0) layout_.find_parent_block(group, group.blocks() - 1);
  refill_readers(object);
  if (last != object) {
    update_children(last);
    refill_readers(last);
  }
  layout_.forget_places();
  return true;
}

void LayoutEditor::move(Index object, const ObjectLocation& to, Time now) {
  ObjectRecord& record = registry_.objects[object];
  const ObjectLocation from = *record.location;
  const Group& group = layout_.groups[from.group];
  record.location = to;
  layout_.members[to.lane] = object;
  const auto copy = [&](LargeVector<PoseBlock>& poses) {
    store(poses[to.lane / lanes], static_cast<int>(to.lane % lanes),
          load<double>(poses[from.lane / lanes], static_cast<int>(from.lane % lanes)));
  };
  copy(layout_.rests);
  copy(layout_.worlds);
  if (group.first_child != none)
    layout_.parents[group.first_child + to.member] = layout_.parents[group.first_child + from.member];

  if (const Index mover = flocks_.place_of_mover(object); mover != none) layout_.lanes_of_movers[mover] = to.lane;

  Index level = group.first_stack_level;
  registry_.for_stack(object, [&](Index b) {
    BehaviourRecord& behaviour = registry_.behaviours[b];
    Batch& batch = layout_.batches[behaviour.location->batch];
    batch.lane_blocks->collect(behaviour.location->block, behaviour.location->lane, behaviour.row);
    const Index block = layout_.stack_levels[level++].first_block + to.member / lanes;
    behaviour.location = {behaviour.location->batch, block, static_cast<int>(to.member % lanes)};
    batch.behaviours[std::size_t{block} * lanes + to.member % lanes] = b;
    batch.lane_blocks->fill(block, behaviour.location->lane, behaviour.row);
    evaluator_.update_lane(b, now);
  });
}

void LayoutEditor::empty_last_lane(Group& group) {
  const Index member = --group.count, block = member / lanes;
  const auto lane = static_cast<int>(member % lanes);
  layout_.members[group.lane(member)] = none;
  for (auto* const poses : {&layout_.rests, &layout_.worlds})
    set_lane((*poses)[group.first_block + block], lane, Pose{});
  const auto others = static_cast<std::uint8_t>(~(1U << lane));
  for (Index level = 0; level < group.stack_levels; ++level) {
    const StackLevel& stack_level = layout_.stack_levels[group.first_stack_level + level];
    Batch& batch = layout_.batches[stack_level.batch];
    const Index place = stack_level.first_block + block;
    Batch::LaneBits& bits = batch.bits[place];
    for (std::uint8_t* const each : {&bits.occupied, &bits.in_transition, &bits.on_own_clock}) *each &= others;
    batch.clocks[place].zero.at[lane] = 0.0;
    batch.clocks[place].pace.at[lane] = 1.0;
    Index* const behaviours = &batch.behaviours[std::size_t{place} * lanes];
    behaviours[lane] = none;
    if (lane > 0) batch.lane_blocks->fill(place, lane, registry_.behaviours[behaviours[0]].row);
  }
}

void LayoutEditor::update_children(Index object) {
  const Index lane = registry_.lane_of_world(object);
  for (Index child = registry_.objects[object].first_child; child != none;
       child = registry_.objects[child].next_sibling) {
    const auto& location = registry_.objects[child].location;
    if (!location) continue;
    const Group& group = layout_.groups[location->group];
    layout_.parents[group.first_child + location->member] = lane;
    layout_.find_parent_block(group, location->member / lanes);
  }
}

void LayoutEditor::refill_readers(Index object) {
  layout_.for_readers(registry_, object, [this](Index b) {
    const BehaviourRecord& behaviour = registry_.behaviours[b];
    LaneBlocks& blocks = layout_.lane_blocks(*behaviour.location);
    blocks.collect(behaviour.location->block, behaviour.location->lane, behaviour.row);
    blocks.fill(behaviour.location->block, behaviour.location->lane, behaviour.row);
  });
}

}  // namespace hushed::detail
