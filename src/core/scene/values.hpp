// SPDX-License-Identifier: MIT
#pragma once

// Changes of the values of behaviours while the scene plays.

#include <optional>
#include <string_view>

#include "scene/commands.hpp"
#include "scene/core.hpp"
#include "scene/value_path.hpp"

namespace hushed::detail {

/// Every change takes effect at the present time, and no pose jumps. All functions throw `BadValue` and change nothing
/// where the values are not allowed; `DependencyCycle` where the behaviour would depend on itself.
class Values {
 public:
  Values(SceneCore& core, Commands& commands)
      : core_{core}, registry_{core.registry}, evaluator_{core.evaluator}, commands_{commands}, now_{core.clock.now} {}

  /// Replaces all values of the behaviour's own kind.
  void set(Index behaviour, const void* values);
  /// Replaces the values of the fields that every kind has.
  void set_common(Index behaviour, const Common& common);
  /// Sets one field, or resets it to its default where there is no value. `text` is the path as the caller wrote it.
  void set(const ValuePath& path, std::string_view text, const std::optional<Value>& value);
  /// Sets the field that names the object which the behaviour follows, faces, or orbits.
  void retarget(Index behaviour, Object to);

 private:
  /// Stores a copy of the values as they were given, before the first change.
  void remember_given_values(BehaviourRecord& behaviour);
  /// Returns true where the new values query neighbours of other tags or kinds, which needs a new layout.
  bool update_queries(const BehaviourRecord& behaviour, const void* values);
  /// Writes the values to the store. A behaviour that has started, with `start`, goes on from its present state.
  void replace_in_store(BehaviourRecord& behaviour, const void* values, const Start* start);
  /// Holds `output` where one of the new dependencies is lost, and goes on where none is.
  void hold_or_release(Index behaviour, const Pose& output);
  /// A frozen behaviour also holds the parts of a pose that it did not touch before: as they come in now.
  void hold_newly_touched_parts(BehaviourRecord& behaviour, const Pose& in);

  SceneCore& core_;
  Registry& registry_;
  Evaluator& evaluator_;
  Commands& commands_;
  const Time& now_;
};

}  // namespace hushed::detail
