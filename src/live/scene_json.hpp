// SPDX-License-Identifier: MIT
#pragma once

// Descriptions of a scene and its values in JSON.

#include <string>

#include <nlohmann/json.hpp>

#include <hushed/keep.hpp>
#include <hushed/load.hpp>
#include <hushed/play_mode.hpp>

namespace hushed::detail {

using Json = nlohmann::json;

/// The objects with parents, shapes and tags, in the order of frames; keys, easings and watches.
/// By which a page asks for a model: sixteen hexadecimal digits.
std::string name_of_model(const Model& model);

Json scene_in_json(const PlayMode& mode, const Scene& scene);
/// The watches with their columns and units.
Json watches_in_json(const std::vector<Watch>& watches);
/// The stack of an object, with all values of each behaviour.
Json object_in_json(const Scene& scene, Object object);
/// What the urges of an agent want in the current frame.
Json urges_in_json(PlayMode& mode, const Scene& scene, const std::string& name);
/// The events from the number `from` on.
Json marks_in_json(const Recording& past, std::size_t from);
Json changes_in_json(const std::vector<PlayMode::Changed>& changes, const Scene& scene);
/// All rules: how often each has fired, and which conditions held at the last tick before the current frame. `source`:
/// the texts in which they are written, if any.
Json rules_in_json(PlayMode& mode, const Scene& scene, const SceneSource* source);
Json plan_in_json(const KeepPlan& plan);
Json diagnostics_in_json(const LoadError& error);

}  // namespace hushed::detail
