// SPDX-License-Identifier: MIT
#pragma once

// Where everything stands for the frame loop.
//
// Objects are taken in an order in which each comes after all that it depends on, depth first, so that
// families stay together; slices of about two thousand are chunks, which fit the second-level cache. Inside a
// chunk, objects with the same level, inheritance and stack of kinds form a group, and go up their stack
// eight at a time. Nothing refers to a later chunk.

#include <memory>
#include <span>
#include <vector>

#include <hushed/detail/block.hpp>
#include <hushed/detail/kind.hpp>

#include "lanes/caches.hpp"
#include "scene/registry.hpp"

namespace hushed::detail {

/// All behaviours of one kind and variant, eight to a block, in the order of the groups.
struct Batch {
  struct Clocks {
    Row zero;  ///< in time units; where the lane has halted, minus its own time
    Row pace;  ///< 1, or 0 where it has halted
  };

  /// Which lanes of a block are what: a bit a lane.
  struct LaneBits {
    std::uint8_t occupied = 0;
    std::uint8_t in_transition = 0;  ///< they wait, fade, are bridged, weighted or held
    std::uint8_t on_own_clock = 0;   ///< their own time is not the scene's
  };

  std::unique_ptr<LaneBlocks> lane_blocks;
  unsigned variant = 0;
  unsigned touches = part::all;   ///< which parts of a pose it may change
  bool decides = false;           ///< at ticks
  std::vector<Index> behaviours;  ///< a lane each; none in the lanes that fill up a block
  std::vector<LaneBits> bits;     ///< of each block
  std::vector<Clocks> clocks;

  std::size_t blocks() const { return bits.size(); }
};

/// One behaviour of the stack that the objects of a group share.
struct StackLevel {
  Index batch;
  Index first_block;
};

/// Objects of one chunk that go through the same.
struct Group {
  Index count;        ///< objects
  Index first_slot;   ///< in the world poses, one after another
  Index first_block;  ///< in the rest poses
  Index first_child;  ///< in `parents`; none where they have no parent
  Index first_stack_level, stack_levels;
  Inherit inherit;
  unsigned touched;  ///< which parts of the world poses may ever differ from the rest poses
  bool ticked;       ///< evaluated at ticks: it has memory, or something with memory reads it
  bool independent;  ///< ticked, but nothing else at ticks depends on it, nor it on anything that moves
  bool still;        ///< no behaviour and no parent: it never moves

  Index blocks() const { return (count + lanes - 1) / lanes; }
};

struct Chunk {
  Index first_group, groups;
};

/// Lists of indices, one after another: list i is items[first[i]] to items[first[i + 1]].
struct Lists {
  std::vector<Index> first, items;
  std::size_t size() const { return first.empty() ? 0 : first.size() - 1; }
  std::span<const Index> of(Index i) const { return {items.data() + first[i], items.data() + first[i + 1]}; }
};

struct Layout {
  std::vector<Chunk> chunks;
  std::vector<Group> groups;
  std::vector<StackLevel> stack_levels;
  std::vector<Batch> batches;

  LargeVector<PoseBlock> rests;
  std::vector<Index> parents;   ///< slots
  LargeVector<Pose> worlds;     ///< by slot
  std::vector<Object> objects;  ///< by slot

  bool any_ticked = false;
  struct Deciding {
    Index group, stack_level;
  };
  std::vector<Deciding> deciding;      ///< groups with behaviours that decide at ticks
  std::vector<Index> independent;      ///< the groups that are
  std::vector<Index> read_at_ticks;    ///< objects whose last tick somebody reads
  std::vector<Index> movers_at_ticks;  ///< objects whose place and way then somebody goes by; by their names
  std::vector<Index> slots_of_movers;

  LaneBlocks& lane_blocks(const BehaviourLocation& location) { return *batches[location.batch].lane_blocks; }

  /// The behaviours that name an object one by one, however they read.
  std::span<const Index> readers(Index object) const {
    return object < readers_of.size() ? readers_of.of(object) : std::span<const Index>{};
  }
  /// Visits the behaviours that name a list which the object is in, but for its own.
  template <class Visit>
  void for_readers_of_lists(const Registry& registry, Index object, Visit&& visit) const {
    if (object >= lists_with.size()) return;  // it has come since
    for (const Index list : lists_with.of(object))
      for (const Index behaviour : readers_of_list.of(list))
        if (registry.behaviours[behaviour].object != object) visit(behaviour);
  }
  Lists readers_of;       ///< by object
  Lists lists_with;       ///< by object: the lists that it is in, by number
  Lists readers_of_list;  ///< by the number of a list
};

/// Lays the cast out anew, and writes in its records where everything is.
Layout lay_out(Registry& registry);

}  // namespace hushed::detail
