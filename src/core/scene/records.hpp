// SPDX-License-Identifier: MIT
#pragma once

// What is written down about each object and behaviour. Nothing here is read or written frame by frame,
// but for behaviours that are starting, stopping, fading or being changed.

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

/// A value on the heap that most owners do without. It is copied with its owner.
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
  T& operator*() { return *value_; }
  const T& operator*() const { return *value_; }
  T* operator->() { return value_.get(); }
  const T* operator->() const { return value_.get(); }
  /// The value, which is made where it is missing.
  T& make() {
    if (!value_) value_ = std::make_unique<T>();
    return *value_;
  }

 private:
  std::unique_ptr<T> value_;
};

/// Where the layout has put an object.
struct ObjectLocation {
  Index slot;    ///< in the world poses
  Index group;   ///< its group
  Index member;  ///< its number in the group
};

/// Where the layout has put a behaviour.
struct BehaviourLocation {
  Index batch;
  Index block;
  int lane;
};

struct ObjectRecord {
  std::string name;  ///< empty where the program gave none
  Pose rest;
  Inherit inherit;
  Index parent = none;
  Index first_child = none, next_sibling = none;
  Index first_behaviour = none;                             ///< the bottom of the stack
  Index last_behaviour = none;                              ///< its top
  Index stack = 0;                                          ///< how many behaviours it has
  Rare<std::unordered_map<std::string, Index>> behaviours;  ///< by their names, where there are many
  Index dependants = 0;                                     ///< children, and behaviours that look at it as it is now
  std::uint32_t generation = 1;
  bool in_use = true;
  bool ended = false;
  bool hidden = false;        ///< by itself
  bool under_hidden = false;  ///< it, or one above it
  std::vector<std::string> tags;
  std::optional<Shape> shape;
  std::vector<PoseParts> poses;
  Index placed = none;  ///< the one of them that has taken the place of the rest pose
  int gathered = 0;     ///< how many it has gathered
  bool judged = false;  ///< a rule reads it

  /// What comes in at the bottom of the stack.
  Pose base() const { return placed == none ? rest : poses[placed].over(rest); }

  std::optional<ObjectLocation> location;  ///< nothing before it is laid out, and after it has left the layout
};

/// The start of what waits for something that is lost.
inline constexpr Time when_found = Time::max();

/// A fade, a bridge and a held pose: only behaviours that fade, jump or hold have one.
struct Transition {
  // The fade: from one level to another, by smoothstep in time.
  double level_from = 1.0, level_to = 1.0;
  Time level_since = {}, level_length = {};

  // The bridge: what is added to what comes out, and taken away by smoothstep in time.
  Vec3 position = Vec3::Zero(), rotation = Vec3::Zero(), scale = Vec3::Zero();
  Time bridge_since = {}, bridge_length = {};

  Pose held = {};  ///< while holding
};

/// How far a behaviour has come.
struct Run {
  enum class Phase : std::uint8_t { idle, waiting, running, halted };

  Phase phase = Phase::idle;
  bool holding = false;          ///< something it looks at is lost: it gives what it last gave
  bool failed = false;           ///< one of the user's own that failed at the last tick: what comes in goes out
  Time failed_at = Time::min();  ///< when it failed last, as long as that need not be said again
  Time starts_at = {};           ///< while it waits
  Time waits_from = {};          ///< while it waits: the moment that its delay counts from
  Time clock = {};               ///< running: when own time was zero; halted: the own time
  Rare<Transition> transition;

  /// It was not told to fade away.
  bool is_wanted() const { return !transition || transition->level_to > 0.0; }
  /// It was started and not stopped since; its delay may not be over.
  bool is_started() const { return (phase == Phase::waiting || phase == Phase::running) && is_wanted(); }
  /// The state of a snapshot. A transition that was made since is reset rather than deleted, so that playing on does
  /// not allocate it again.
  void go_back_to(const Run& then) {
    Rare<Transition> state = std::move(transition);
    *this = then;
    if (transition || !state) return;
    *state = {};
    transition = std::move(state);
  }
};

/// Behaviours that several objects have in common.
struct PresetBehaviour {
  const Kind* kind;
  std::shared_ptr<const void> values;
  Common common;
};
struct PresetRecord {
  std::string name;
  std::vector<PresetBehaviour> behaviours;
};

struct BehaviourRecord {
  const Kind* kind = nullptr;
  Index store = 0;
  Index row = 0;
  Index object = none;
  Index next = none;  ///< the one above it in the stack
  std::uint32_t generation = 1;
  bool in_use = true;
  Common common;
  References dependencies;
  Run run;
  std::shared_ptr<const void> given;  ///< its values as they were given, once they are others
  Common given_common;
  Index preset = none;  ///< that it comes from
  Index number_in_preset = 0;
  std::vector<std::string_view> own;  ///< fields that do not go by the preset
  unsigned once_touched = 0;          ///< parts of the pose that it has changed under other values: they may be bridged

  std::optional<BehaviourLocation> location;  ///< nothing before it is laid out, and after it has left the layout
};

}  // namespace hushed::detail
