// SPDX-License-Identifier: MIT
#include "keeping.hpp"

#include <algorithm>
#include <utility>

#include <hushed/error.hpp>

#include "scene_json.hpp"

namespace hushed::detail {

namespace {

/// "2 lines of harbour.toml and kit.toml were written."
std::string what_was_kept(const KeepPlan& plan) {
  std::string files;
  for (const SceneSource::File& file : plan.after)
    files += (files.empty() ? "" : " and ") + file.path.filename().string();
  const std::size_t lines = plan.lines.size();
  return std::to_string(lines) + (lines == 1 ? " line of " : " lines of ") + files + (lines == 1 ? " was" : " were") +
         " written.";
}

}  // namespace

std::vector<Keeping::Target> Keeping::targets_of(const Scene& scene, const Request& request) {
  std::vector<Target> targets;
  for (const Request& each : request.list("values", 1000)) {
    Target target{each.text("path"), each.text("path")};
    if (each.has("for") && each.text("for") == "preset") {
      const std::size_t dot = target.path.rfind('.');
      const auto behaviour = scene.find_behaviour(target.path.substr(0, dot));
      const std::string preset = behaviour ? scene.preset_path(*behaviour) : "";
      if (preset.empty()) throw BadValue{target.path + ": the value does not belong to a preset."};
      target.place = preset + target.path.substr(dot);
    }
    targets.push_back(std::move(target));
  }
  return targets;
}

std::vector<ValueToKeep> Keeping::values_of(const PlayMode& mode, const std::vector<Target>& targets) {
  std::vector<ValueToKeep> values;
  for (const Target& target : targets) {
    values.push_back({target.place, mode.value(target.path)});
    if (target.is_for_all())
      values.push_back({target.path, std::nullopt});  // a value of its own would hide the preset's
  }
  return values;
}

const Json& Keeping::plan(const PlayMode& mode, const Scene& scene, const EditedFile& file, const Request& request) {
  const std::vector<ValueToKeep> values = values_of(mode, targets_of(scene, request));
  return planned_.emplace(plan_in_json(plan_keep(file.on_disk(), file.now(), values)));
}

Keeping::Kept Keeping::keep(PlayMode& mode, const Scene& scene, const EditedFile& file, const Request& request) {
  const std::vector<Target> targets = targets_of(scene, request);
  const KeepPlan plan = plan_keep(file.on_disk(), file.now(), values_of(mode, targets));
  if (plan_in_json(plan) != planned_)
    throw BadValue{"the file or the values have changed since the list was made; make it again before you keep."};
  Kept kept{what_was_kept(plan), {}};
  for (const PlayMode::Changed& change : mode.changed())
    if (std::any_of(targets.begin(), targets.end(), [&](const Target& each) { return each.path == change.path; }))
      kept.values.push_back(change);
  hushed::keep(plan);
  planned_.reset();
  mark_kept(mode, targets, plan);
  return kept;
}

void Keeping::mark_kept(PlayMode& mode, const std::vector<Target>& targets, const KeepPlan& plan) {
  for (const Target& target : targets) {
    const bool is_refused = std::any_of(plan.refusals.begin(), plan.refusals.end(),
                                        [&](const auto& refusal) { return refusal.path == target.place; });
    if (is_refused) continue;
    if (const auto value = mode.value(target.path); value && target.is_for_all()) {  // the value is the preset's now
      mode.set(target.place, *value);
      mode.mark_kept(target.place);
    }
    mode.mark_kept(target.path);
  }
}

}  // namespace hushed::detail
