// SPDX-License-Identifier: MIT
#pragma once

// Changes a layout for a few objects, so that adding and ending objects costs the same in small and large scenes.
//
// An object that is added becomes the last member of a group of its key that stands behind all its dependencies, or of
// a new group at the end. Where an object is removed, the last member of its group moves into its lane, so there are no
// gaps. What depends on more than the object and its dependencies (neighbour queries, lists of tagged objects, poses at
// the last tick) is left to `lay_out`.

#include <optional>
#include <vector>

#include "scene/evaluator.hpp"
#include "scene/flocks.hpp"
#include "scene/layout.hpp"
#include "scene/registry.hpp"
#include "scene/tick_memory.hpp"

namespace hushed::detail {

class LayoutEditor {
 public:
  LayoutEditor(Registry& registry, Layout& layout, const TickMemory& ticks, const Flocks& flocks, Evaluator& evaluator)
      : registry_{registry}, layout_{layout}, ticks_{ticks}, flocks_{flocks}, evaluator_{evaluator} {}

  /// Adds an object without a location to the layout, after its dependencies. Returns false where a whole new layout is
  /// needed; objects that were added before stay in this one.
  bool add(Index object, Time now);
  /// Removes an object, whose state is then in the stores. Returns false, and changes nothing, where a whole new layout
  /// is needed.
  bool remove(Index object, Time now);
  /// True where an object of the layout is its child, or reads it.
  bool has_readers(Index object) const;

 private:
  /// The group in which an object belongs, and what that group must do for it.
  struct Placement {
    GroupKey key;
    unsigned touched;
    bool for_any_thread;
  };
  std::optional<Placement> placement_of(Index object);
  /// It reads poses of the last tick, or asks for neighbours then.
  bool asks_for_last_tick(const BehaviourRecord& behaviour) const;
  bool stands_before(const ObjectLocation& dependency, Index group) const;
  /// A group with a free lane behind all dependencies of the object; none where there is no room for one.
  Index group_for(Index object, const GroupKey& key);
  Index new_group(Index object, const GroupKey& key);
  void fill_lanes(Index object, Time now);
  void add_to_readers(Index object);

  void move(Index object, const ObjectLocation& to, Time now);
  void empty_last_lane(Group& group);
  void update_children(Index object);
  /// Lets the behaviours that read an object look up its lane anew.
  void refill_readers(Index object);

  Registry& registry_;
  Layout& layout_;
  const TickMemory& ticks_;
  const Flocks& flocks_;
  Evaluator& evaluator_;
};

}  // namespace hushed::detail
