// SPDX-License-Identifier: MIT
#pragma once

// Executes the commands that change a playing scene: start, stop, toggle, kick, place, hide, show, end, ...

#include "scene/command_log.hpp"
#include "scene/core.hpp"

namespace hushed::detail {

/// Every change takes effect at the present time, and no pose jumps, except where a kind does not bridge.
class Commands {
 public:
  explicit Commands(SceneCore& core)
      : core_{core}, registry_{core.registry}, evaluator_{core.evaluator}, now_{core.clock.now} {}

  void execute(const Command& command);
  void set_hidden(Index object, bool hidden);
  /// Hides or shows an object and its descendants as it and its ancestors say, after its parent has changed.
  void update_hidden_below(Index object);
  void end_subtree(Index object);

  /// A dependency of the behaviour is lost: it holds `output`, unless its kind goes on without that dependency.
  void lose(Index behaviour, Object lost, const Pose& output);
  /// A behaviour that waits for a lost dependency starts now.
  void stop_waiting_for_lost(Index behaviour);
  /// Starts a bridge from `output`, the pose before a change, to the pose that the behaviour gives now.
  void bridge_over(Index behaviour, const Pose& output);
  /// Sets the object to its rest pose or to the pose that has replaced it, where no behaviour moves it.
  void update_base(Index object);

 private:
  void start(Index behaviour);
  void stop(Index behaviour);
  void restart(Index behaviour);
  void toggle(Index behaviour);
  void kick(Index behaviour, const Vec3& by);
  void place(Index object, Index pose);
  void fade_to(BehaviourRecord& behaviour, double level);
  void hold_readers(Index lost);
  void release_readers(Index back);

  SceneCore& core_;
  Registry& registry_;
  Evaluator& evaluator_;
  const Time& now_;
};

}  // namespace hushed::detail
