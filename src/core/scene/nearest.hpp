// SPDX-License-Identifier: MIT
#pragma once

// Who of a list is nearest, as all were at the last tick.

#include <optional>
#include <vector>

#include "point_tree.hpp"
#include "scene/registry.hpp"
#include "scene/tick_memory.hpp"

namespace hushed::detail {

class Nearest {
 public:
  Nearest(const Registry& registry, const TickMemory& ticks) : registry_{registry}, ticks_{ticks} {}

  /// Makes room for the lists that behaviours which read the last tick name, once it is known who is seen at ticks.
  void plan();

  /// Of those of a list that are there, but for `owner`, whoever is nearest to a point of the world; of equally near
  /// ones the first. An `Object` of generation 0 where there is nobody; nothing where the list was not planned for.
  /// `before`: as it was one tick before the last.
  std::optional<Object> find(const ObjectList& list, const VecOf<double>& point, Object owner,
                             bool before) const noexcept;

 private:
  struct Known {
    ObjectList list;
    PointTree tree;
    std::uint64_t edition = 0;  ///< of the ticks, when the tree was made
    std::uint64_t presence_edition = 0;
    bool before = false;
  };

  void make_tree(Known& known, bool before) const noexcept;

  const Registry& registry_;
  const TickMemory& ticks_;
  mutable std::vector<Known> known_;  ///< a tree is made when it is first asked for after a tick
};

}  // namespace hushed::detail
