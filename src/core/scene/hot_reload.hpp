// SPDX-License-Identifier: MIT
#pragma once

// Hot reload: a new scene takes over the time and the state of a playing one.

#include <optional>
#include <string>
#include <utility>
#include <vector>

#include "scene/core.hpp"
#include "scene/presets.hpp"
#include "scene/values.hpp"

namespace hushed::detail {

/// Moves the state of everything that both scenes have in common from `old` to `next`, with its handles. `old` must not
/// be used afterwards.
class HotReload {
 public:
  HotReload(SceneCore& next, Presets& next_presets, SceneCore& old, const Presets& old_presets, Values& old_values,
            ProgramChanges changes)
      : next_{next},
        registry_{next.registry},
        next_presets_{next_presets},
        old_{old},
        old_presets_{old_presets},
        old_values_{old_values},
        keeps_changes_{changes == ProgramChanges::keep} {}

  /// Layout and poses of the old scene must be current. Returns a sentence for each state that is lost. The layout of
  /// the new scene is invalid afterwards.
  std::vector<std::string> run();
  /// Behaviours whose kind has a new version, and the poses that they gave last.
  const std::vector<std::pair<Index, Pose>>& new_versions() const { return new_versions_; }

 private:
  void take_time_and_input();
  void end_what_has_ended();
  void take_objects();
  void take_changes(Index object);
  void take_pose(Index object);
  /// Updates `under_hidden` of an object without a parent and of all its descendants.
  void update_hidden_below(Index top);
  void take_parents();
  void take_clocks();
  void agree_on_behaviours();
  void take_behaviours();
  /// Makes the values of a behaviour equal in both scenes; the old one changes without a jump. Returns the reason where
  /// the behaviour cannot continue.
  std::optional<std::string> agree(Index behaviour, Index before);
  /// As `agree`, for a kind that was made at run time and has a new version: what has the same name is taken over.
  std::optional<std::string> agree_on_version(Index behaviour, Index before);
  void agree_on_values(Index behaviour, Index before);
  void agree_on_common(Index behaviour, Index before);
  void take_state(Index behaviour, Index before);
  void take_rules();
  void take_events();

  SceneCore& next_;
  Registry& registry_;
  Presets& next_presets_;
  SceneCore& old_;
  const Presets& old_presets_;
  Values& old_values_;
  bool keeps_changes_;
  bool keeps_additions_ = false;
  /// A parent that the program gave an object; nothing is of generation 0.
  struct NewParent {
    Index object;
    Object parent;
    std::optional<std::string> in_file;  ///< the name of its parent there
  };
  std::vector<NewParent> parents_;
  std::vector<Index> beginning_;                 ///< behaviours that begin now
  std::vector<std::pair<Index, Index>> common_;  ///< those that go on, and their indices in the old scene
  std::vector<std::pair<Index, Pose>> new_versions_;
  std::vector<std::pair<Index, Index>> added_rules_;  ///< numbers in the old scene and in the new one
  std::vector<std::string> lost_;
};

/// Calls the new versions of kinds that `next` has with copies of the present state of `playing`, whose poses must be
/// current. Throws `VersionFails`.
void try_new_versions(SceneCore& playing, const SceneCore& next);

}  // namespace hushed::detail
