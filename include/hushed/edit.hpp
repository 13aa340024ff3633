// SPDX-License-Identifier: MIT
#pragma once

// Editing the structure of a scene file: objects, behaviours and rules. In the library HushedOrbit::files.

#include <optional>
#include <span>
#include <string>
#include <variant>

#include <hushed/detail/export.hpp>
#include <hushed/keep.hpp>
#include <hushed/load.hpp>
#include <hushed/value.hpp>

namespace hushed HUSHED_API {

/// Adds an object. `keys` is its table, such as `{ position = [0, 2, 0] }`.
struct AddObject {
  std::string name;
  Value keys;
};
/// Adds an object that has all that another has: its keys, poses and behaviours.
struct CopyObject {
  std::string object, name;
};
/// Renames an object, also wherever another object, a rule or a watch names it.
struct RenameObject {
  std::string object, name;
};
/// Removes an object, and watches of it. Refused where an expectation names it; where another object or a rule does,
/// the result is no sound scene.
struct RemoveObject {
  std::string object;
};
/// Sets a key of an object, such as `position`, `parent` or `tags`; no value removes it. For an object of a crowd, it
/// sets the key of the crowd.
struct SetObjectKey {
  std::string object, key;
  std::optional<Value> value;
};
/// Adds a behaviour to an object. `keys` is its table, such as `{ kind = "spin", speed = 40 }`.
struct AddBehaviour {
  std::string object;
  Value keys;
  std::string before = {};  ///< the name of the behaviour above it; empty: on top of the stack
};
struct RemoveBehaviour {
  std::string path;  ///< "lamp.spin"
};
/// Moves a behaviour within the stack of its object.
struct MoveBehaviour {
  std::string path;         ///< "lamp.spin"
  std::string before = {};  ///< the name of the behaviour above it; empty: on top of the stack
};
/// Sets a value of a behaviour in the file; no value removes it. It is meant for several values that must change
/// together; a single value is tuned and kept.
struct SetBehaviourKey {
  std::string path, key;
  std::optional<Value> value;
};
struct AddRule {
  Value keys;
};
struct RemoveRule {
  std::string name;
};
/// Sets a key of a rule, such as `enabled`; no value removes it.
struct SetRuleKey {
  std::string rule, key;
  std::optional<Value> value;
};

/// One change of the structure of a scene file.
using SceneEdit = std::variant<AddObject, CopyObject, RenameObject, RemoveObject, SetObjectKey, AddBehaviour,
                               RemoveBehaviour, MoveBehaviour, SetBehaviourKey, AddRule, RemoveRule, SetRuleKey>;

/// The edit in a few words: "lamp.spin is removed".
std::string describe(const SceneEdit& edit);

/// The texts of a scene with an edit; nothing is written. Only the scene file itself changes, and in it only what the
/// edit is about. A table that is removed or moved takes along the comments directly above and below it. The result is
/// read back and compared with what the edit means. Throws `BadValue` where the file has no such object, behaviour or
/// rule, or is written in a way that cannot be edited automatically. It does not test whether the result is a sound
/// scene: `read_scene_source` does.
SceneSource edited(const SceneSource& source, const SceneEdit& edit, const LoadOptions& options = {});

/// All that the text of the scene file itself says. Throws `LoadError`.
Value document_of(const SceneSource& source);

/// Reads a scene from texts as `read_scene_file` does from files; only the scene file's own text is used, included
/// files and scripts are read from disk. Throws `LoadError`.
SceneFile read_scene_source(const SceneSource& source, const LoadOptions& options = {});

/// The plan that writes edited texts and tuned values into the files that `source` was read from; see `plan_keep`.
KeepPlan plan_keep(const SceneSource& source, const SceneSource& edited, std::span<const ValueToKeep> values);

}  // namespace hushed
