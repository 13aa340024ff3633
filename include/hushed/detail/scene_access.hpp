// SPDX-License-Identifier: MIT
#pragma once

// Access to a scene for frames and play mode: playing without callbacks, and repeating the calls of callbacks.

#include <functional>
#include <memory>
#include <optional>
#include <string>
#include <utility>
#include <vector>

#include <hushed/detail/export.hpp>
#include <hushed/scene.hpp>

namespace hushed HUSHED_API {
class Kinds;
namespace detail {

class Kind;

/// The calls of a scene that callbacks have made, in order. Each can be repeated.
using Journal = std::vector<std::function<void(Scene&)>>;

struct SceneAccess {
  /// Everything in the scene becomes its base, which hot reload replaces. What comes later is the program's. `kinds`
  /// are those that its file may name.
  static void mark_base(Scene& scene, std::shared_ptr<const Kinds> kinds);
  /// As given there; nullptr for a scene that was not read from a file.
  static std::shared_ptr<const Kinds> kinds(const Scene& scene);
  static const Kind& kind(const Scene& scene, AnyBehaviour behaviour);
  /// The handle of the object of an index, unless it has ended.
  static std::optional<Object> handle_at(const Scene& scene, std::uint32_t index);
  static Inherit inherit(const Scene& scene, Object object);
  /// Gives an object another name. Names in rules and watches stay as they are written. Throws `BadValue`.
  static void rename(Scene& scene, Object object, const std::string& name);
  /// Poses in the scene's own coordinates, whatever the origin of the world is.
  static Pose world(const Scene& scene, Object object);
  static Pose local(const Scene& scene, Object object);
  /// Advances time. Events wait for the next `Scene::advance` to be delivered.
  static void play_on(Scene& scene, Time step) noexcept;
  /// Advances time without callbacks: for predictions, and for repeating the past.
  static void advance_silently(Scene& scene, Time step) noexcept;
  /// As `Scene::restore`, but what was fed until a time stays, also what was fed after the snapshot.
  static void restore(Scene& scene, const Snapshot& snapshot, Time fed_until);
  /// A copy of a scene with all its state. `copy` was made by the same calls, with the handles of the original.
  static void make_copy_of(Scene& copy, const Scene& original);
  /// Calls `Scene::advance`. Returns the calls of its callbacks.
  static Journal advance(Scene& scene, Time step);
};

/// During its lifetime, the scene calls no callbacks.
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
