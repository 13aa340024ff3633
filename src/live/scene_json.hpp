// SPDX-License-Identifier: MIT
#pragma once

// A scene and what can be tuned in it, in JSON.

#include <string>

#include <nlohmann/json.hpp>

#include <hushed/keep.hpp>
#include <hushed/load.hpp>
#include <hushed/play_mode.hpp>

namespace hushed::detail {

using Json = nlohmann::json;

/// Objects with parents, shapes and tags, in the order in which frames have them; keys, easings, what is watched.
Json scene_in_json(const PlayMode& mode, const Scene& scene);
/// Watches with their columns and units.
Json watches_in_json(const std::vector<Watch>& watches);
/// An object's stack, with every value of each behaviour.
Json object_in_json(const Scene& scene, Object object);
/// What the urges of an agent want in the frame that is shown.
Json urges_in_json(PlayMode& mode, const Scene& scene, const std::string& name);
/// What happened, from the number `from` on.
Json marks_in_json(const Recording& past, std::size_t from);
Json changes_in_json(const std::vector<PlayMode::Changed>& changes, const Scene& scene);
Json plan_in_json(const KeepPlan& plan);
Json diagnostics_in_json(const LoadError& error);

}  // namespace hushed::detail
