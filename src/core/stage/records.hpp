#pragma once

// What is written down about each object and behaviour. Nothing here is read or written frame by frame,
// but for behaviours that are starting, stopping, fading or being changed.

#include <cstdint>
#include <memory>
#include <optional>
#include <string>
#include <string_view>
#include <vector>

#include <hushed/common.hpp>
#include <hushed/handle.hpp>
#include <hushed/inside/kind.hpp>
#include <hushed/pose.hpp>
#include <hushed/pose_parts.hpp>
#include <hushed/scene.hpp>
#include <hushed/shape.hpp>

namespace hushed::inside {

using Index = std::uint32_t;
inline constexpr Index none = ~Index{0};

struct ObjectRecord {
  std::string name;  ///< empty where the program gave none
  Pose rest;
  Inherit inherit;
  Index parent = none;
  Index first_child = none, next_sibling = none;
  Index first_behaviour = none;  ///< the bottom of the stack
  Index dependants = 0;          ///< children, and behaviours that look at it as it is now
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

  // Where the layout has put it.
  Index slot = none;  ///< in the world poses
  Index group = none;
  Index member = 0;  ///< its number in the group
};

/// The start of what waits for something that is lost.
inline constexpr Time when_found = Time::max();

/// How far a behaviour has come.
struct Run {
  enum class Phase : std::uint8_t { idle, waiting, running, halted };

  Phase phase = Phase::idle;
  bool holding = false;  ///< something it looks at is lost: it gives what it last gave
  bool failed = false;   ///< one of the user's own that has thrown: what comes in goes out
  Index aside = none;    ///< where its `Aside` is, once it has needed one
  Time starts_at = {};   ///< while it waits
  Time clock = {};       ///< running: when own time was zero; halted: the own time
};

/// What only those behaviours need that fade, jump or hold: most never do.
struct Aside {
  // The fade: from one level to another, by smoothstep in time.
  double level_from = 1.0, level_to = 1.0;
  Time level_since = {}, level_length = {};

  // The bridge: what is added to what comes out, and taken away by smoothstep in time.
  Vec3 position = Vec3::Zero(), rotation = Vec3::Zero(), scale = Vec3::Zero();
  Time bridge_since = {}, bridge_length = {};

  Pose held = {};  ///< while holding
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
  Index roster = 0;
  Index row = 0;
  Index object = none;
  Index next = none;  ///< the one above it in the stack
  std::uint32_t generation = 1;
  bool in_use = true;
  Common common;
  std::vector<Object> looks_at;
  Run run;
  std::shared_ptr<const void> given;  ///< its values as they were given, once they are others
  Common given_common;
  Index preset = none;  ///< that it comes from
  Index number_in_preset = 0;
  std::vector<std::string_view> own;  ///< fields that do not go by the preset
  unsigned once_touched = 0;          ///< parts of the pose that it has changed under other values: they may be bridged

  // Where the layout has put it.
  Index batch = none;
  Index block = 0;
  int lane = 0;
};

}  // namespace hushed::inside
