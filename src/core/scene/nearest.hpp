// SPDX-License-Identifier: MIT
#pragma once

// The nearest object of a list at the last tick.

#include <optional>
#include <vector>

#include "point_tree.hpp"
#include "scene/registry.hpp"
#include "scene/tick_memory.hpp"

namespace hushed::detail {

class Nearest {
 public:
  Nearest(const Registry& registry, const TickMemory& ticks) : registry_{registry}, ticks_{ticks} {}

  /// Reserves memory for the lists that behaviours read at the last tick. Called after a new layout.
  void plan();

  /// Builds all trees that are out of date, so that several threads can call `find`. `before`: as there.
  void update(bool before) noexcept;

  /// The visible object of a list, other than `owner`, that is nearest to a point of the world; the first of equally
  /// near ones; of generation 0 where there is none. Nothing where the list was not planned. `before`: one tick before
  /// the last.
  std::optional<Object> find(const ObjectList& list, const VecOf<double>& point, Object owner,
                             bool before) const noexcept;

 private:
  struct Known {
    ObjectList list;
    PointTree tree;
    std::uint64_t edition = 0;  ///< of the tick memory, when the tree was built
    std::uint64_t presence_edition = 0;
    bool before = false;
  };

  void update(Known& known, bool before) const noexcept;

  const Registry& registry_;
  const TickMemory& ticks_;
  mutable std::vector<Known> known_;  ///< a tree is built when it is first needed after a tick
};

}  // namespace hushed::detail
