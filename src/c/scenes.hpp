// SPDX-License-Identifier: MIT
#pragma once

// Scenes, objects and poses of the interface as those of the library.

#include <string>
#include <vector>

#include <hushed/kinds.hpp>
#include <hushed/scene.hpp>

#include "handles.hpp"

namespace hushed::c {

/// A scene, and what its functions return pointers to.
struct OpenScene {
  Scene scene;
  Kinds kinds;
  std::vector<std::string> lost = {};         ///< of the last reload
  std::vector<std::string> event_texts = {};  ///< of the last event that was read
  int servers = 0;                            ///< the live servers that play it
};

HandleTable<OpenScene, Sort::scene>& scenes();
HandleTable<Kinds, Sort::kinds>& kind_lists();

inline Scene& scene_at(hushed_scene handle) { return scenes().at(handle).scene; }
/// The list of kinds of that handle; the built-in ones for 0.
Kinds kinds_at(hushed_kinds handle);

/// The number of an object: index, generation and scene in 26, 22 and 16 bits. 0 for none.
hushed_object number_of(Object object);
/// Throws `StaleHandle`.
Object object_at(const Scene& scene, hushed_object number);
std::optional<Object> object_or_none(const Scene& scene, hushed_object number);
AnyBehaviour behaviour_at(const Scene& scene, const char* path);

Pose pose_of(const hushed_pose& pose);
hushed_pose pose_of(const Pose& pose);
Time time_of(double seconds, std::string_view what);

}  // namespace hushed::c
