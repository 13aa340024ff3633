// SPDX-License-Identifier: MIT
#pragma once

// The times of objects whose pace is set. An object and its descendants share a clock. All other objects have clock 0,
// which is the scene's time.

#include <vector>

#include <hushed/time.hpp>

#include "scene/registry.hpp"

namespace hushed::detail {

/// Converts times of the scene to times of its objects. The two rise together, at a pace that may change.
struct ObjectClock {
  Index owner = none;  ///< the object; its descendants share the clock, unless they have one of their own
  double pace = 1.0;   ///< rate of its time since the last change
  Time since = {};     ///< the scene's time at the last change of pace
  Time own = {};       ///< its time at that moment
  Time before = {};    ///< the scene's time at the tick before that
  Time own_before = {};

  bool has_times_of(const ObjectClock& other) const {
    return pace == other.pace && since == other.since && own == other.own && before == other.before &&
           own_before == other.own_before;
  }
  /// Its time at a time of the scene, which must not be before the last tick before a change of pace.
  Time own_at(Time at) const;
  /// The clock that goes on from `now` at another pace.
  ObjectClock at_pace(double next, Time now, Time last_tick) const;
  /// The time of the scene at which its time was `own_time`.
  Time scene_at(Time own_time) const;
};

class ObjectClocks {
 public:
  /// The time of an object's clock at a time of the scene.
  Time own_at(Index clock, Time at) const { return clock == 0 ? at : clocks_[clock - 1].own_at(at); }
  Time scene_at(Index clock, Time own) const { return clock == 0 ? own : clocks_[clock - 1].scene_at(own); }
  /// The clock of that number; 0 is the scene's.
  ObjectClock at(Index clock) const { return clock == 0 ? ObjectClock{} : clocks_[clock - 1]; }
  double pace(Index clock) const { return clock == 0 ? 1.0 : clocks_[clock - 1].pace; }

  /// Gives the object a clock of its own, where it has none, which shows the time of its present one. The object and
  /// the descendants that share it must be put into the layout anew. Returns true where it had none.
  bool make_own(Registry& registry, Index object);
  /// As `make_own`, and sets it to the times of another.
  void set(Registry& registry, Index object, const ObjectClock& times);
  /// Takes over the paces of the scene from `now` on. Calls `before_change(clock)` for each that changes.
  template <class BeforeChange>
  void update(const Registry& registry, Time now, Time last_tick, BeforeChange&& before_change) {
    for (std::size_t i = 0; i < clocks_.size(); ++i) {
      if (clocks_[i].owner == none) continue;
      const double pace = wanted_pace(registry, clocks_[i].owner);
      if (pace == clocks_[i].pace) continue;
      before_change(clocks_[i]);
      clocks_[i] = clocks_[i].at_pace(pace, now, last_tick);
    }
  }
  /// Frees the clocks of objects that were removed for good.
  void remove_unused(const Registry& registry);

  /// All clocks, for the states of the past.
  const std::vector<ObjectClock>& all() const { return clocks_; }
  void restore(const std::vector<ObjectClock>& clocks) { clocks_ = clocks; }

 private:
  /// The product of the paces of an object and its ancestors.
  static double wanted_pace(const Registry& registry, Index object);

  std::vector<ObjectClock> clocks_;  ///< of the numbers from 1 on; free ones have no owner
};

}  // namespace hushed::detail
