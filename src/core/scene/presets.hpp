// SPDX-License-Identifier: MIT
#pragma once

// Presets: behaviours shared by several objects, each of which may have values of its own. A value that the program
// changes is the object's own from then on; a value of the preset changes all objects without a value of their own.

#include <memory>
#include <optional>
#include <span>
#include <string>
#include <string_view>
#include <vector>

#include "scene/command_log.hpp"
#include "scene/core.hpp"
#include "scene/values.hpp"

namespace hushed::detail {

inline std::string_view name_of(const PresetBehaviour& behaviour) {
  return behaviour.common.name.empty() ? behaviour.kind->name() : std::string_view{behaviour.common.name};
}

class Presets {
 public:
  Presets(SceneCore& core, Values& values, CommandLog& log)
      : core_{core}, registry_{core.registry}, values_{values}, log_{log} {}

  const std::vector<PresetRecord>& all() const { return presets_; }
  /// Replaces all presets by those of a snapshot of this scene.
  void restore(const std::vector<PresetRecord>& presets) { presets_ = presets; }
  /// Everything that there is becomes the base.
  void mark_base();
  /// Takes the values that the program has changed since they were given, where this scene gives the values that the
  /// other one gave before.
  void take_changed_values(const Presets& other);

  void add(std::string_view preset, const Kind& kind, const void* values, const Common& common);
  /// Gives an object all behaviours of a preset, or none where one of them cannot be given. `own`: values that differ
  /// from the preset's.
  void use(Index object, std::string_view preset, std::span<const OwnValue> own);

  /// Changes the values of one behaviour on behalf of the program.
  void tune_values(Index behaviour, const void* values);
  void tune_common(Index behaviour, const Common& common);
  /// Sets the value at a path of an object or a preset on behalf of the program, or resets it to its default where
  /// there is no value.
  void tune(std::string_view path, const std::optional<Value>& value);
  std::optional<Value> get(std::string_view path) const;

  /// "preset.bobbing.sway" for a behaviour that comes from a preset; otherwise empty.
  std::string path_of(Index behaviour) const;
  /// True where the behaviour comes from a preset and the value at the path is the object's own.
  bool is_own(std::string_view path) const;

 private:
  struct PresetPath {
    Index preset;
    Index behaviour;  ///< its number in the preset
    FieldFound field;
  };
  /// The values of a behaviour that an object is to get from a preset.
  struct Gift {
    std::shared_ptr<void> values;
    Common common;
    std::vector<std::string_view> own;  ///< fields whose values are not the preset's
  };
  /// New values for a behaviour that comes from a preset.
  struct Change {
    Index behaviour;
    std::shared_ptr<void> values;
    Common common;
  };
  Index find(std::string_view name) const;  ///< throws `BadValue` with a suggestion
  /// The behaviour of a preset, or nullptr.
  const PresetBehaviour* find_if(std::string_view preset, std::string_view name) const;
  std::vector<Gift> gifts(Index object, const PresetRecord& preset, std::span<const OwnValue> own) const;
  /// Finds the field that "preset.bobbing.sway.frequency" names; nothing for another kind of path. Throws `BadValue`.
  std::optional<PresetPath> resolve(std::string_view path) const;
  void set(const PresetPath& path, std::string_view text, const std::optional<Value>& value);
  std::vector<Change> changes_of_users(const PresetPath& path, const std::optional<Value>& value) const;
  const PresetBehaviour& behaviour_at(const PresetPath& path) const {
    return presets_[path.preset].behaviours[path.behaviour];
  }
  void mark_own(Index behaviour, std::string_view field);
  /// Records a change of `enabled` as a start or stop, which `seek` repeats.
  void log_enabled(Index behaviour, bool was_enabled);

  SceneCore& core_;
  Registry& registry_;
  Values& values_;
  CommandLog& log_;
  std::vector<PresetRecord> presets_;
};

}  // namespace hushed::detail
