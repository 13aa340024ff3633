// SPDX-License-Identifier: MIT
#pragma once

// What frames and play mode need of a scene beyond its public calls: playing without telling, and repeating what
// callbacks have called.

#include <functional>
#include <utility>
#include <vector>

#include <hushed/detail/export.hpp>
#include <hushed/scene.hpp>

namespace hushed HUSHED_API {
namespace detail {

/// Calls of a scene in the order in which callbacks made them. Each can be made again.
using Journal = std::vector<std::function<void(Scene&)>>;

struct SceneAccess {
  /// Moves time on. Its events wait for the next `advance`, which delivers them.
  static void play_on(Scene& scene, Time step) noexcept;
  /// Moves time on without calling back: to look ahead, or to go again where the scene has been.
  static void advance_silently(Scene& scene, Time step) noexcept;
  /// `Scene::advance`, and what its callbacks have called on the scene.
  static Journal advance(Scene& scene, Time step);
};

/// While it lives, the scene calls nobody back.
class MutedCallbacks {
 public:
  explicit MutedCallbacks(Scene& scene);
  ~MutedCallbacks();
  MutedCallbacks(const MutedCallbacks&) = delete;
  MutedCallbacks& operator=(const MutedCallbacks&) = delete;

 private:
  Scene& scene_;
};

}  // namespace detail
}  // namespace hushed
