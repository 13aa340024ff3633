// SPDX-License-Identifier: MIT
#pragma once

// The evaluation order and memory layout of the frame loop.
//
// Each object comes after all its dependencies, depth first, so that families stay together. Slices of about two
// thousand objects are chunks, which fit the second-level cache. Within a chunk, objects with the same level,
// inheritance and stack of kinds form a group and are evaluated eight at a time. Nothing refers to a later chunk.
//
// `lay_out` (layout_builder.cpp) computes it from the registry. `LayoutEditor` (layout_editor.hpp) changes it for a few
// objects.

#include <algorithm>
#include <compare>
#include <map>
#include <memory>
#include <span>
#include <unordered_map>
#include <utility>
#include <vector>

#include <hushed/detail/block.hpp>
#include <hushed/detail/kind.hpp>

#include "lanes/caches.hpp"
#include "lanes/geometry.hpp"
#include "scene/registry.hpp"

namespace hushed::detail {

/// All behaviours of one kind and variant, eight to a block, in the order of the groups.
struct Batch {
  struct Clocks {
    Row zero;  ///< time units; where the lane is stopped, minus its own time
    Row pace;  ///< 1, or 0 where it is stopped
  };
  /// Those of behaviours that started with the scene.
  static constexpr Clocks running_clocks() {
    Clocks clocks{};
    for (double& pace : clocks.pace.at) pace = 1.0;
    return clocks;
  }

  /// Properties of the lanes of a block, one bit a lane.
  struct LaneBits {
    std::uint8_t occupied = 0;
    std::uint8_t in_transition = 0;  ///< the behaviour waits, fades, is bridged, weighted or frozen
    std::uint8_t on_own_clock = 0;   ///< its own time is not the scene's time

    /// True where no lane needs anything of its own.
    bool are_plain() const { return (in_transition | on_own_clock) == 0; }
  };

  std::unique_ptr<LaneBlocks> lane_blocks;
  unsigned variant = 0;
  unsigned touches = part::all;   ///< the parts of a pose that it may change
  unsigned overwrites = 0;        ///< those of them that do not depend on the incoming pose
  bool decides = false;           ///< `lane_blocks` is an `AgentBlocks`
  std::vector<Index> behaviours;  ///< one a lane; none in unused lanes
  std::vector<LaneBits> bits;     ///< of each block
  std::vector<Clocks> clocks;

  std::size_t blocks() const { return bits.size(); }
};

/// One level of the stack that the objects of a group share.
struct StackLevel {
  Index batch;
  Index first_block;
};

/// What the objects of a group have in common beside their place in the order.
struct GroupKey {
  bool ticked;       ///< evaluated at ticks: has state, or is read by something with state
  bool independent;  ///< ticked, without readers at ticks and without moving dependencies
  bool has_parent;
  bool takes_scale;            ///< of its parent, and that may change
  Inherit inherit;             ///< of those with a parent
  Index clock;                 ///< see `ObjectClocks`
  std::vector<Index> batches;  ///< of each level of the stack
  std::strong_ordering operator<=>(const GroupKey& other) const;
  bool operator==(const GroupKey&) const = default;
};

/// What the behaviours of an object, and the rules that read it, ask of the layout.
struct LayoutNeeds {
  bool ticks = false;          ///< evaluated at ticks
  bool every_tick = false;     ///< each tick in its turn: never independent
  bool for_any_thread = true;  ///< no code of the user that is not known to be thread-safe
};
LayoutNeeds layout_needs(const Registry& registry, Index object);
/// The parts of the world pose that a child takes from its parent, of those that change. Children move and turn with
/// their parents; nearly none is scaled.
unsigned touched_by_parent(const ObjectRecord& child, unsigned touched_of_parent);

/// Objects of one chunk with the same level, inheritance and stack of kinds.
struct Group {
  Index chunk;
  Index count;        ///< objects
  Index capacity;     ///< blocks; those behind the objects are unused
  Index first_block;  ///< in the rest poses and the world poses
  Index first_child;  ///< in `parents`; none where they have no parent
  Index first_stack_level, stack_levels;
  Inherit inherit;
  Index clock;           ///< see `ObjectClocks`
  unsigned touched;      ///< the parts of world poses that are evaluated; the others never change
  unsigned overwritten;  ///< the parts that do not depend on the rest poses while all behaviours are active
  bool ticked;           ///< evaluated at ticks: has state, or is read by something with state
  bool independent;      ///< ticked, without readers at ticks and without moving dependencies
  bool still;            ///< without behaviours and parent: never moves
  bool takes_runs;       ///< several of its blocks may be evaluated at once
  bool advances_many;    ///< they may also be advanced by several ticks at once

  Index blocks() const { return (count + lanes - 1) / lanes; }
  /// The lane of a member among all lanes of the world poses.
  Index lane(Index member) const { return first_block * lanes + member; }
};

/// A slice of the objects. A chunk depends on earlier ones only.
struct Chunk {
  Index first_group, groups;
  Index first_independent, independent;  ///< in `Layout::independent`
  Index first_deciding, deciding;        ///< in `Layout::deciding`
  Index wave;           ///< 0 where it depends on no other chunk, otherwise 1 more than the largest of those
  bool for_any_thread;  ///< no code of the user that is not known to be thread-safe
};

/// Contiguous lists of indices: list i is items[first[i]] to items[first[i + 1]], the latter excluded.
struct Lists {
  std::vector<Index> first, items;
  std::size_t size() const { return first.empty() ? 0 : first.size() - 1; }
  std::span<const Index> of(Index i) const { return {items.data() + first[i], items.data() + first[i + 1]}; }
};

/// A layout. The functions that change it are for `lay_out` and `LayoutEditor`.
struct Layout {
  std::vector<Chunk> chunks;
  /// Chunks that do not depend on each other, only on chunks of earlier waves.
  struct Wave {
    Index first, count;  ///< in `chunks_in_waves`
    Index for_caller;    ///< the number of those, the first of the wave, that only the calling thread may evaluate
  };
  std::vector<Wave> waves;
  std::vector<Index> chunks_in_waves;
  std::vector<Group> groups;
  std::map<GroupKey, std::vector<Index>> groups_by_key;
  std::vector<StackLevel> stack_levels;
  std::vector<Batch> batches;

  LargeVector<PoseBlock> rests;
  /// World poses, in the order of the rest poses. Parts that a group never changes are those of the rest poses.
  LargeVector<PoseBlock> worlds;
  std::vector<Index> members;        ///< by lane of the world poses: the object, or none
  std::vector<Index> parents;        ///< lanes of the world poses
  std::vector<Index> parent_blocks;  ///< of each block of children: see `Evaluator::frame_of`
  Index count = 0;                   ///< objects

  /// The world pose in a lane of all lanes.
  Pose world(Index lane) const { return lane_of(worlds[lane / lanes], static_cast<int>(lane % lanes)); }
  /// Calls `visit` with each world pose, in the order of evaluation.
  template <class Visit>
  void for_worlds(Visit&& visit) const {
    for (const Group& group : groups)
      for (Index member = 0; member < group.count; ++member) visit(world(group.lane(member)));
  }
  VecOf<double> world_position(Index lane) const {
    return load<double>(worlds[lane / lanes].position, static_cast<int>(lane % lanes));
  }
  /// All objects, in the order of evaluation. Valid until the layout changes.
  std::span<const Object> objects(const Registry& registry) const;
  /// The place of an object in `objects`.
  Index place_of(const ObjectLocation& location) const;

  bool any_ticked = false;
  struct Deciding {
    Index group, stack_level;
  };
  std::vector<Deciding> deciding;      ///< stack levels with behaviours that decide at ticks
  std::vector<Index> independent;      ///< indices of the independent groups
  std::vector<Index> read_at_ticks;    ///< objects whose pose at the last tick is read
  std::vector<Index> movers_at_ticks;  ///< objects whose movement at ticks is queried; in the order of names
  std::vector<Index> lanes_of_movers;  ///< of the world poses

  LaneBlocks& lane_blocks(const BehaviourLocation& location) { return *batches[location.batch].lane_blocks; }

  // --- changes ---
  /// The batch of a behaviour's kind and variant. Creates it where it is new.
  Index batch_of(Registry& registry, const BehaviourRecord& behaviour);
  /// Adds a group without members at the end of the last chunk. `capacity` in blocks.
  Index add_group(const GroupKey& key, Index capacity);
  /// Gives an object, and the behaviours of its stack, the next lane of a group. Its parent must have a location.
  void add_member(Index group, Index object, unsigned touched, Registry& registry);
  /// Recomputes which block the parents of a block of children are.
  void find_parent_block(const Group& group, Index block);
  /// Recomputes the waves from those of the chunks.
  void make_waves();
  /// Must be called after objects were added, removed or moved.
  void forget_places() { places_are_known_ = false; }

  // --- readers ---
  /// Visits the behaviours that name the object itself as a dependency, whether they read it now or at the last tick.
  template <class Visit>
  void for_readers(const Registry& registry, Index object, Visit&& visit) const {
    const auto reads = [&](Index behaviour) {  // its number, or that of the object, may be another's since
      return registry.behaviours[behaviour].in_use && registry.behaviours[behaviour].location &&
             registry.behaviours[behaviour].dependencies.contains_each(registry.handle(object));
    };
    std::span<const Index> first;
    if (object < readers_of.size()) first = readers_of.of(object);
    for (const Index behaviour : first)
      if (reads(behaviour)) visit(behaviour);
    const auto later = later_readers.find(object);
    if (later == later_readers.end()) return;
    for (const Index behaviour : later->second)
      if (reads(behaviour) && std::find(first.begin(), first.end(), behaviour) == first.end()) visit(behaviour);
  }
  /// Visits the behaviours of other objects that name a list with this object.
  template <class Visit>
  void for_readers_of_lists(const Registry& registry, Index object, Visit&& visit) const {
    if (object >= lists_with.size()) return;  // it was added since
    for (const Index list : lists_with.of(object)) {
      if (!contains(list, registry.handle(object))) continue;  // the number is another object's since
      for (const Index behaviour : readers_of_list.of(list))
        if (names(registry, behaviour, list) && registry.behaviours[behaviour].object != object) visit(behaviour);
    }
  }
  Lists readers_of;       ///< by object
  Lists lists_with;       ///< by object: the numbers of the lists that contain it
  Lists readers_of_list;  ///< by the number of a list
  std::vector<ObjectList> lists;
  std::unordered_map<Index, std::vector<Index>> later_readers;  ///< by object: those that were added since

 private:
  void find_places() const;
  bool contains(Index list, Object object) const;
  bool names(const Registry& registry, Index behaviour, Index list) const;

  std::map<std::pair<Index, unsigned>, Index> batch_ids_;  ///< by store and variant
  mutable std::vector<Object> objects_;
  mutable std::vector<Index> first_places_;  ///< of each group: the place of its first object
  mutable bool places_are_known_ = false;
};

/// Computes a new layout for a number of threads, and stores the location of every object and behaviour in its record.
Layout lay_out(Registry& registry, int threads);

}  // namespace hushed::detail
