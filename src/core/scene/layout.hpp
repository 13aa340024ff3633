// SPDX-License-Identifier: MIT
#pragma once

// The evaluation order and memory layout of the frame loop.
//
// Each object comes after all its dependencies, depth first, so that families stay together. Slices of about two
// thousand objects are chunks, which fit the second-level cache. Within a chunk, objects with the same level,
// inheritance and stack of kinds form a group and are evaluated eight at a time. Nothing refers to a later chunk.

#include <memory>
#include <span>
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

/// Objects of one chunk with the same level, inheritance and stack of kinds.
struct Group {
  Index chunk;
  Index count;        ///< objects
  Index first_slot;   ///< of its objects, whose slots are contiguous
  Index first_block;  ///< in the rest poses and the world poses
  Index first_child;  ///< in `parents`; none where they have no parent
  Index first_stack_level, stack_levels;
  Inherit inherit;
  unsigned touched;  ///< the parts of world poses that are evaluated; the others never change
  bool ticked;       ///< evaluated at ticks: has state, or is read by something with state
  bool independent;  ///< ticked, without readers at ticks and without moving dependencies
  bool still;        ///< without behaviours and parent: never moves
  bool takes_runs;   ///< several of its blocks may be evaluated at once

  Index blocks() const { return (count + lanes - 1) / lanes; }
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
  std::vector<StackLevel> stack_levels;
  std::vector<Batch> batches;

  LargeVector<PoseBlock> rests;
  /// World poses, in the order of the rest poses. Parts that a group never changes are those of the rest poses.
  LargeVector<PoseBlock> worlds;
  std::vector<Index> parents;        ///< lanes of the world poses
  std::vector<Index> parent_blocks;  ///< of each block of children: see `Evaluator::frame_of`
  std::vector<Object> objects;       ///< by slot

  /// The world pose in a lane of all lanes.
  Pose world(Index lane) const { return lane_of(worlds[lane / lanes], static_cast<int>(lane % lanes)); }
  /// Calls `visit` with each world pose, in the order of slots.
  template <class Visit>
  void for_worlds(Visit&& visit) const {
    for (const Group& group : groups)
      for (Index member = 0; member < group.count; ++member) visit(world(group.first_block * lanes + member));
  }
  VecOf<double> world_position(Index lane) const {
    return load<double>(worlds[lane / lanes].position, static_cast<int>(lane % lanes));
  }

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

  /// The behaviours that name the object itself as a dependency, whether they read it now or at the last tick.
  std::span<const Index> readers(Index object) const {
    return object < readers_of.size() ? readers_of.of(object) : std::span<const Index>{};
  }
  /// Visits the behaviours of other objects that name a list with this object.
  template <class Visit>
  void for_readers_of_lists(const Registry& registry, Index object, Visit&& visit) const {
    if (object >= lists_with.size()) return;  // it was added since
    for (const Index list : lists_with.of(object))
      for (const Index behaviour : readers_of_list.of(list))
        if (registry.behaviours[behaviour].object != object) visit(behaviour);
  }
  Lists readers_of;       ///< by object
  Lists lists_with;       ///< by object: the numbers of the lists that contain it
  Lists readers_of_list;  ///< by the number of a list
};

/// Computes a new layout for a number of threads, and stores the location of every object and behaviour in its record.
Layout lay_out(Registry& registry, int threads);

}  // namespace hushed::detail
