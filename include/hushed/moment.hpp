// SPDX-License-Identifier: MIT
#pragma once

#include <cstdint>
#include <span>

#include <hushed/detail/export.hpp>
#include <hushed/handle.hpp>
#include <hushed/pose.hpp>
#include <hushed/time.hpp>

namespace hushed HUSHED_API {

namespace detail {
class SceneQuery;
struct References;
}

/// The arguments of `apply` of a behaviour that you write.
struct Moment {
  Time time = {};            ///< the object's time: the scene's, unless its pace was set (see `Pace`)
  double since_start = 0.0;  ///< s: the behaviour's own time; 0 when it starts, after its delay
  double step = 0.0;         ///< s of that time since the last tick; 0 at its start. For behaviours with memory
  Pose parent = {};          ///< the parent's world pose; parts that are not inherited are 0, identity or 1

  std::uint64_t seed = 0;  ///< of the behaviour's object: a hash of its name, for `seeded_number`

  /// The world pose of an object that the behaviour names in `dependencies`, at this moment, or at the last tick where
  /// its `reads` says so. Throws `BadValue` for any other object, which may not have been evaluated yet.
  Pose world(Object object) const;

  const detail::SceneQuery* query = nullptr;  ///< used by `world`
  const detail::References* readable = nullptr;
  std::uint32_t behaviour = 0;
  Object owner = {};
};

}  // namespace hushed
