// SPDX-License-Identifier: MIT
#pragma once

// What is remembered of the last tick, for who reads it.

#include <cstdint>
#include <functional>
#include <memory>
#include <vector>

#include "lanes/caches.hpp"
#include "neighbours.hpp"
#include "scene/layout.hpp"
#include "scene/registry.hpp"

namespace hushed::detail {

/// Held for the whole step from a tick, its end included, so there are two of each: of the last tick, and of the one
/// before.
struct TickMemory {
  Time at = {};
  double step = 0.0;          ///< s between the two; 0 before there are two
  std::uint64_t edition = 0;  ///< no two differ that have the same; 0: nothing is remembered yet

  std::vector<Index> objects;  ///< whose poses somebody reads; sorted
  std::vector<Pose> before, last;

  std::vector<Index> movers;           ///< whose places and ways somebody goes by; in the order of their names
  LargeVector<Move> moves;             ///< theirs, over the last step
  std::vector<std::uint8_t> is_there;  ///< of each mover: not ended, and not hidden

  bool knows(Index object) const { return places_ && object < places_->size() && (*places_)[object] != none; }
  /// Index of an object in `before` and `last`. The object must be one whose poses are read.
  Index place_of(Index object) const { return (*places_)[object]; }

  /// For the objects of a layout; for those that are new here, `pose_of_new` is asked.
  void turn_to(Time last_tick, const Layout& layout, const Registry& registry,
               const std::function<Pose(Index)>& pose_of_new);
  void commit(Time tick, const Layout& layout, const Registry& registry) noexcept;
  /// Who has come or gone since is there, or not.
  void update_presence(const Registry& registry) noexcept;

 private:
  std::shared_ptr<const std::vector<Index>> places_;  ///< by object: its index in `objects`, or none
  std::uint64_t presence_edition_ = 0;                ///< of the cast, when it was last noted who is there
};

}  // namespace hushed::detail
