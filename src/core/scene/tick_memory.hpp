// SPDX-License-Identifier: MIT
#pragma once

// Poses and movements at the last tick, for behaviours, rules and queries that read them.

#include <cstdint>
#include <functional>
#include <memory>
#include <vector>

#include <hushed/archive.hpp>

#include "lanes/caches.hpp"
#include "neighbours.hpp"
#include "scene/layout.hpp"
#include "scene/registry.hpp"

namespace hushed::detail {

/// A reader sees the poses of a tick during the whole step that follows it, the end included. So there are two of each:
/// of the last tick, and of the one before.
struct TickMemory {
  Time at = {};
  double step = 0.0;          ///< s between the two; 0 before there are two
  std::uint64_t edition = 0;  ///< equal editions have equal content; 0: nothing has been committed

  std::vector<Index> objects;  ///< whose poses are read; sorted
  std::vector<Pose> before, last;

  std::vector<Index> movers;           ///< whose movements are read by neighbour queries; in the order of names
  LargeVector<Move> moves;             ///< of the movers, over the last step
  std::vector<std::uint8_t> is_there;  ///< of each mover: neither ended nor hidden

  bool knows(Index object) const { return places_ && object < places_->size() && (*places_)[object] != none; }
  /// Index of an object in `before` and `last`. The object must be one whose poses are read.
  Index place_of(Index object) const { return (*places_)[object]; }

  /// Adapts to the objects of a layout. `pose_of_new` gives the pose of an object that was not remembered before.
  void turn_to(Time last_tick, const Layout& layout, const Registry& registry,
               const std::function<Pose(Index)>& pose_of_new);
  void commit(Time tick, const Layout& layout, const Registry& registry) noexcept;
  /// `objects`: their number in the scene. Throws `BadValue` where the bytes are not those of such a scene.
  void archive(Archive& archive, Index objects);
  /// Updates `is_there` where objects were hidden, shown or ended since.
  void update_presence(const Registry& registry) noexcept;

 private:
  std::shared_ptr<const std::vector<Index>> places_;  ///< by object: its index in `objects`, or none
  std::uint64_t presence_edition_ = 0;                ///< of the registry, when `is_there` was last updated
};

}  // namespace hushed::detail
