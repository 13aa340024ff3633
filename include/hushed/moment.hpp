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
}

/// What a behaviour of your own is told when it is asked for a pose.
struct Moment {
  Time time = {};            ///< of the scene
  double since_start = 0.0;  ///< s, of the behaviour's own time: 0 when it starts, after its delay
  double step = 0.0;         ///< s since the last committed tick; 0 at its start. For motions with memory
  Pose parent = {};          ///< the parent's world pose, what is not inherited replaced by 0, identity, 1

  /// The world pose of an object that the behaviour names in `dependencies`, at this same moment (or at the last
  /// tick, where its `reads` says so). Throws `BadValue` for any other object: the scene could not have put this
  /// one after it.
  Pose world(Object object) const;

  const detail::SceneQuery* query = nullptr;  ///< how the scene answers `world`, for whom, and about whom
  const detail::References* readable = nullptr;
  std::uint32_t behaviour = 0;
  Object owner = {};
};

}  // namespace hushed
