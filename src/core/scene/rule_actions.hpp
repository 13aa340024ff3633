// SPDX-License-Identifier: MIT
#pragma once

// Executes the actions of rules, and knows which values they set.

#include <optional>
#include <span>
#include <vector>

#include "scene/commands.hpp"
#include "scene/core.hpp"
#include "scene/values.hpp"

namespace hushed::detail {

class RuleActions {
 public:
  RuleActions(SceneCore& core, Commands& commands, Values& values)
      : core_{core}, registry_{core.registry}, commands_{commands}, values_{values} {}

  /// Executes the actions of all rules that fired, in the order of the rules' names, at the tick `at` and before its
  /// poses are computed. An action that throws raises a `failed` event.
  void execute_fired(Time at) noexcept;

  /// Finds the values that rules set, after objects, behaviours or rules were added or removed.
  void resolve_names();
  /// The values that rules set, in the order of the rules. They are part of the play: `seek` takes them back.
  std::vector<std::optional<Value>> capture_set_values() const;
  void restore_set_values(std::span<const std::optional<Value>> values);

 private:
  /// Does nothing where the object or behaviour has ended.
  void execute(const RuleMemory::Firing& firing, const Action& action);
  void execute_on_behaviour(const Action& action);
  void execute_on_object(const Action& action);
  /// The visible object that is nearest to `to` now, or an `Object` of generation 0.
  Object nearest(Index to, std::span<const Object> among) const;

  SceneCore& core_;
  Registry& registry_;
  Commands& commands_;
  Values& values_;
  std::vector<ValuePath> set_values_;
};

}  // namespace hushed::detail
