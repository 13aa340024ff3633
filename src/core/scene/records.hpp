// SPDX-License-Identifier: MIT
#pragma once

// The records of objects and behaviours. The frame loop does not use them, except for behaviours in a transition.

#include <cstdint>
#include <memory>
#include <optional>
#include <string>
#include <string_view>
#include <unordered_map>
#include <vector>

#include <hushed/common.hpp>
#include <hushed/detail/kind.hpp>
#include <hushed/handle.hpp>
#include <hushed/pose.hpp>
#include <hushed/pose_parts.hpp>
#include <hushed/scene.hpp>
#include <hushed/shape.hpp>

namespace hushed::detail {

using Index = std::uint32_t;
inline constexpr Index none = ~Index{0};

/// A value on the heap that most owners do not have. It is copied with its owner.
template <class T>
class Rare {
 public:
  Rare() = default;
  Rare(const Rare& other) : value_{other.value_ ? std::make_unique<T>(*other.value_) : nullptr} {}
  Rare(Rare&&) noexcept = default;
  Rare& operator=(const Rare& other) {
    if (this == &other) return *this;
    if (other.value_)
      make() = *other.value_;
    else
      value_.reset();
    return *this;
  }
  Rare& operator=(Rare&&) noexcept = default;

  explicit operator bool() const { return value_ != nullptr; }
  void reset() { value_.reset(); }
  T& operator*() { return *value_; }
  const T& operator*() const { return *value_; }
  T* operator->() { return value_.get(); }
  const T* operator->() const { return value_.get(); }
  /// The value; creates it where it is missing.
  T& make() {
    if (!value_) value_ = std::make_unique<T>();
    return *value_;
  }

 private:
  std::unique_ptr<T> value_;
};

/// The location of an object in the layout.
struct ObjectLocation {
  Index group;   ///< its group
  Index member;  ///< its number in the group
  Index lane;    ///< of all lanes of the world poses: block * lanes + lane in the block
};

/// The location of a behaviour in the layout.
struct BehaviourLocation {
  Index batch;
  Index block;
  int lane;
};

/// What an object of the base had before the program changed it.
struct BaseObject {
  Pose rest;
  /// Its name: a parent that has ended gets another handle in the next scene.
  std::optional<std::string> parent;
  std::vector<std::string> tags;
};

/// The part of an object that each use of a handle reads, and that snapshots store. It is separate from the record, so
/// that many of them fit in a cache.
struct Presence {
  std::uint32_t generation = 1;
  bool in_use = true;
  bool ended = false;
  bool hidden = false;        ///< hidden itself
  bool under_hidden = false;  ///< it or an ancestor is hidden
  Index placed = none;        ///< the index of the pose that has replaced the rest pose
  int gathered = 0;           ///< the number of objects that it has gathered

  bool is_alive() const { return in_use && !ended; }
};

/// The fields that are used most come first, so that they share a cache line.
struct ObjectRecord {
  std::optional<ObjectLocation> location;  ///< nothing while it is not in the layout
  Index parent = none;
  Index first_child = none, next_sibling = none, previous_sibling = none;
  Index first_behaviour = none;   ///< the bottom of the stack
  Index last_behaviour = none;    ///< its top
  Index stack = 0;                ///< the number of its behaviours
  Index clock = 0;                ///< see `ObjectClocks`
  Index dependants = 0;           ///< number of children, and of behaviours that read it as it is now
  bool is_base = false;           ///< see `RegistryContent::has_base`
  bool is_read_by_rules = false;  ///< a rule reads it
  Inherit inherit;
  Pose rest;
  std::string name;                                         ///< empty where the program gave none
  Rare<std::unordered_map<std::string, Index>> behaviours;  ///< by name, where there are many
  std::vector<std::string> tags;
  std::uint64_t number = 0;  ///< the program's
  std::optional<Shape> shape;
  std::vector<PoseParts> poses;
  Rare<BaseObject> in_base;  ///< of an object of the base, once the program has changed it
};

/// The start time of a behaviour that waits for a lost dependency.
inline constexpr Time when_found = Time::max();

/// A fade, a bridge and a held pose. Only behaviours that need one of them have a `Transition`.
struct Transition {
  // The fade: from one level to another, by smoothstep in time.
  double level_from = 1.0, level_to = 1.0;
  Time level_since = {}, level_length = {};

  // The bridge: a difference that is added to the output and fades away by smoothstep in time.
  Vec3 position = Vec3::Zero(), rotation = Vec3::Zero(), scale = Vec3::Zero();
  Time bridge_since = {}, bridge_length = {};

  Pose held = {};  ///< the pose of a frozen behaviour

  /// True where it is as before its first use.
  bool is_unused() const {
    return level_from == 1.0 && level_to == 1.0 && level_length == Time{} && bridge_length == Time{} &&
           position.isZero(0.0) && rotation.isZero(0.0) && scale.isZero(0.0) && held.position.isZero(0.0) &&
           held.rotation.coeffs() == Pose{}.rotation.coeffs() && held.scale == Pose{}.scale;
  }
};

/// The run state of a behaviour.
struct Run {
  enum class Phase : std::uint8_t { idle, waiting, running, halted };

  Phase phase = Phase::idle;
  bool holding = false;          ///< a dependency is lost: it gives its last pose
  bool failed = false;           ///< a user's behaviour that failed at the last tick: the input passes through
  bool uses_transition = false;  ///< its transition matters: see `transition_has_changed`
  Time failed_at = Time::min();  ///< the last failure, while it is not to be reported again
  Time starts_at = {};           ///< while it waits
  Time waits_from = {};          ///< while it waits: the time from which its delay counts
  Time clock = {};               ///< running: the time at which own time was 0; stopped: the own time
  unsigned once_touched = 0;     ///< parts that it changed under other values, which may be bridged
  Rare<Transition> transition;

  /// True where it is not fading away.
  bool is_wanted() const { return !transition || transition->level_to > 0.0; }
  /// True where it was started and not stopped since. Its delay may not be over.
  bool is_started() const { return (phase == Phase::waiting || phase == Phase::running) && is_wanted(); }
  /// To be called after a change of its transition.
  void transition_has_changed() { uses_transition = transition && !transition->is_unused(); }
  /// A copy for a snapshot, without what `go_back_to` need not know.
  Run copy() const {
    Run run{phase, holding, failed, uses_transition, failed_at, starts_at, waits_from, clock, once_touched, {}};
    if (phase != Phase::running || holding || uses_transition) run.transition = transition;
    return run;
  }
  /// Returns to the state of a snapshot. A transition that was created since is reset rather than deleted, so that
  /// playing on does not allocate it again.
  void go_back_to(const Run& then) {
    Rare<Transition> state = std::move(transition);
    *this = then;
    if (transition || !state) return;
    *state = {};
    transition = std::move(state);
  }
};

/// What a behaviour was given, where its values have been changed since.
struct Given {
  std::shared_ptr<const void> values;
  Common common;
  bool values_changed = false;  ///< not only those that every behaviour has
};

/// A behaviour of a preset.
struct PresetBehaviour {
  const Kind* kind;
  std::shared_ptr<const void> values;
  Common common;
  std::shared_ptr<const Kind> owner = {};  ///< of its kind, where that was made at run time
  bool is_base = false;                    ///< see `RegistryContent::has_base`
  Rare<Given> given = {};
};
struct PresetRecord {
  std::string name;
  std::vector<PresetBehaviour> behaviours;
};

/// The fields that are used most come first, as in an `ObjectRecord`.
struct BehaviourRecord {
  const Kind* kind = nullptr;
  Index store = 0;
  Index row = 0;
  Index object = none;
  Index next = none;  ///< the next higher one in the stack
  std::uint32_t generation = 1;
  bool in_use = true;
  bool is_base = false;                       ///< see `RegistryContent::has_base`
  std::optional<BehaviourLocation> location;  ///< nothing while it is not in the layout
  Rare<Given> given;
  Run run;
  Common common;
  References dependencies;
  Index preset = none;  ///< the preset that it comes from
  Index number_in_preset = 0;
  std::vector<std::string_view> own;  ///< fields whose values are not the preset's
};

}  // namespace hushed::detail
