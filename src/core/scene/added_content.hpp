// SPDX-License-Identifier: MIT
#pragma once

// Hot reload of a scene file: what the program has added to the scene since stays.

#include <string>
#include <utility>
#include <vector>

#include "scene/core.hpp"
#include "scene/presets.hpp"

namespace hushed::detail {

/// Gives the new scene the objects, presets, behaviours and rules that the program has added to the old one, with their
/// handles. What the new scene has under the same name is left as it is.
class AddedContent {
 public:
  /// `lost`: gets a sentence for each addition that the new scene cannot have.
  AddedContent(SceneCore& next, Presets& next_presets, const SceneCore& old, const Presets& old_presets,
               std::vector<std::string>& lost)
      : next_{next},
        registry_{next.registry},
        presets_{next_presets},
        old_{old},
        old_presets_{old_presets},
        lost_{lost} {}

  /// Returns the added rules: their numbers in the old scene and in the new one.
  std::vector<std::pair<Index, Index>> add();

 private:
  void add_object(Index before);
  void add_presets();
  void add_behaviour(Index before);
  /// The new scene's preset from which an added behaviour comes, and the number in it; otherwise none.
  std::pair<Index, Index> preset_of(const BehaviourRecord& before) const;
  void add_rules(std::vector<std::pair<Index, Index>>& added);

  SceneCore& next_;
  Registry& registry_;
  Presets& presets_;
  const SceneCore& old_;
  const Presets& old_presets_;
  std::vector<std::string>& lost_;
};

}  // namespace hushed::detail
