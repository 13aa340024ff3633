// SPDX-License-Identifier: MIT
#pragma once

// Advances time: ticks, starts between ticks, and the frame.

#include "scene/commands.hpp"
#include "scene/core.hpp"
#include "scene/rule_actions.hpp"

namespace hushed::detail {

class Stepper {
 public:
  Stepper(SceneCore& core, Commands& commands, RuleActions& rule_actions)
      : core_{core}, commands_{commands}, rule_actions_{rule_actions} {}

  /// Executes all ticks and starts up to `target` in the order of their times, then evaluates the frame at `target`.
  void advance_to(Time target) noexcept;

 private:
  /// What happens at a tick, in this order: actions of rules that fired, state, input, gathered objects, decisions of
  /// agents, conditions of rules.
  void tick(Time at) noexcept;
  /// Hides or ends the objects that were gathered at this tick, in the order of their names.
  void gather(Time at) noexcept;
  void evaluate_rules(Time at) noexcept;
  /// Starts all behaviours that are due by `at`. Returns true where there were any.
  bool start_due(Time at) noexcept;

  SceneCore& core_;
  Commands& commands_;
  RuleActions& rule_actions_;
};

}  // namespace hushed::detail
