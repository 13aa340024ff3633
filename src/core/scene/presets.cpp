// SPDX-License-Identifier: MIT
// Presets: behaviours shared by several objects, each of which may have values of its own.

#include <algorithm>

#include <hushed/name.hpp>

#include "scene/scene_impl.hpp"

namespace hushed::detail {

namespace {

std::string_view name_of(const PresetBehaviour& behaviour) {
  return behaviour.common.name.empty() ? behaviour.kind->name() : std::string_view{behaviour.common.name};
}

FieldFound field_called(std::string_view name, const Kind& kind, const std::string& path) {
  const FieldFound found = find_field(kind, name);
  if (found.field) return found;
  throw BadValue{path + ": there is no " + in_quotes(name) + " here" + suggestion(name, field_names(kind))};
}

void set_field(const FieldFound& found, void* values, Common& common, const std::optional<Value>& value,
               const std::string& path) {
  if (const auto diagnostic = found.field->put(found.is_common ? static_cast<void*>(&common) : values, value))
    throw BadValue{path + ": " + diagnostic->text};
}

}  // namespace

PresetRecord& SceneImpl::preset_called(std::string_view name) {
  std::vector<std::string_view> names;
  for (PresetRecord& preset : presets_) {
    if (preset.name == name) return preset;
    names.push_back(preset.name);
  }
  throw BadValue{"there is no preset " + in_quotes(name) + " in this scene" + suggestion(name, names)};
}

void SceneImpl::add_to_preset(std::string_view name, const Kind& kind, const void* values, const Common& common) {
  if (const auto wrong = wrong_with_name(name, "a preset")) throw BadValue{*wrong};
  const PresetBehaviour made{&kind, kind.make(values), common};
  auto preset =
      std::find_if(presets_.begin(), presets_.end(), [&](const PresetRecord& each) { return each.name == name; });
  if (preset == presets_.end()) preset = presets_.insert(presets_.end(), {std::string{name}, {}});
  for (const PresetBehaviour& each : preset->behaviours)
    if (name_of(each) == name_of(made))
      throw BadValue{std::string{name} + " has a behaviour called " + in_quotes(name_of(made)) +
                     " already; give this one a name of its own."};
  preset->behaviours.push_back(made);
}

void SceneImpl::use(Object object, std::string_view name, std::span<const OwnValue> own) {
  const PresetRecord& preset = preset_called(name);
  const Index owner = registry.index(object);
  const std::string whose = registry.name(owner) + '.';
  struct Gift {
    std::shared_ptr<void> values;
    Common common;
    std::vector<std::string_view> own;
  };
  std::vector<Gift> gifts;
  std::vector<std::string_view> names;
  for (const PresetBehaviour& behaviour : preset.behaviours) {
    gifts.push_back({behaviour.kind->make(behaviour.values.get()), behaviour.common, {}});
    names.push_back(name_of(behaviour));
  }
  for (const OwnValue& each : own) {
    const std::size_t dot = each.path.find('.');
    const std::string_view of = std::string_view{each.path}.substr(0, dot);
    const auto found = std::find(names.begin(), names.end(), of);
    if (found == names.end() || dot == std::string::npos)
      throw BadValue{whose + each.path + ": " + preset.name + " has no behaviour " + in_quotes(of) +
                     suggestion(of, names)};
    const auto number = static_cast<std::size_t>(found - names.begin());
    Gift& gift = gifts[number];
    const Kind& kind = *preset.behaviours[number].kind;
    const FieldFound field = field_called(std::string_view{each.path}.substr(dot + 1), kind, whose + each.path);
    set_field(field, gift.values.get(), gift.common, each.value, whose + each.path);
    gift.own.push_back(field.field->name);
  }
  // Either all of them can be given, or none is given.
  for (std::size_t i = 0; i < gifts.size(); ++i) {
    const Kind& kind = *preset.behaviours[i].kind;
    registry.check_new(owner, kind, check_new(owner, kind, gifts[i].values.get(), gifts[i].common).get(),
                       gifts[i].common);
  }
  for (std::size_t i = 0; i < gifts.size(); ++i) {
    const AnyBehaviour given = give(object, *preset.behaviours[i].kind, gifts[i].values.get(), gifts[i].common);
    BehaviourRecord& record = registry.behaviours[given.index];
    record.preset = static_cast<Index>(&preset - presets_.data());
    record.number_in_preset = static_cast<Index>(i);
    record.own = std::move(gifts[i].own);
  }
}

/// "preset.bobbing.sway.frequency": the preset's behaviour, and the name of the field.
std::optional<SceneImpl::PresetPath> SceneImpl::preset_path(std::string_view path) {
  constexpr std::string_view prefix = "preset.";
  if (!path.starts_with(prefix) || std::count(path.begin(), path.end(), '.') != 3) return std::nullopt;
  path.remove_prefix(prefix.size());
  const std::size_t first = path.find('.'), second = path.rfind('.');
  PresetRecord& preset = preset_called(path.substr(0, first));
  const std::string_view name = path.substr(first + 1, second - first - 1);
  std::vector<std::string_view> names;
  for (PresetBehaviour& behaviour : preset.behaviours) {
    if (name_of(behaviour) == name) return PresetPath{&preset, &behaviour, path.substr(second + 1)};
    names.push_back(name_of(behaviour));
  }
  throw BadValue{preset.name + " has no behaviour " + in_quotes(name) + suggestion(name, names)};
}

/// Changes all objects that use the preset, except those with a value of their own; changes none where one of them
/// refuses the value.
void SceneImpl::set_in_preset(const PresetPath& path, const std::optional<Value>& value) {
  PresetBehaviour& behaviour = *path.behaviour;
  const std::string whose = "preset." + path.preset->name + '.' + std::string{name_of(behaviour)};
  const FieldFound found = field_called(path.field, *behaviour.kind, whose);
  const auto values = behaviour.kind->make(behaviour.values.get());
  Common common = behaviour.common;
  set_field(found, values.get(), common, value, whose + '.' + std::string{path.field});

  struct Change {
    Index index;
    std::shared_ptr<void> values;
    Common common;
  };
  std::vector<Change> changes;
  for (Index index = 0; index < registry.behaviours.size(); ++index) {
    const BehaviourRecord& user = registry.behaviours[index];
    if (!user.in_use || registry.objects[user.object].ended || user.preset == none) continue;
    if (&presets_[user.preset].behaviours[user.number_in_preset] != &behaviour) continue;
    if (std::find(user.own.begin(), user.own.end(), found.field->name) != user.own.end()) continue;
    Change change{index, user.kind->make(registry.store(user).values(user.row)), user.common};
    set_field(found, change.values.get(), change.common, value, registry.path_of(index));
    check_values(user, resolved(user, change.values.get()).get(), nullptr);
    check_common(user, change.common);
    changes.push_back(std::move(change));
  }
  for (const Change& change : changes) {
    const bool was_enabled = registry.behaviours[change.index].common.enabled;
    found.is_common ? set_common(change.index, change.common) : set_values(change.index, change.values.get());
    log_enabled(change.index, was_enabled);
  }
  if (flocks_.is_stale()) flocks_.update();
  behaviour.values = values;
  behaviour.common = common;
}

std::optional<Value> SceneImpl::get_from_preset(const PresetPath& path) const {
  const PresetBehaviour& behaviour = *path.behaviour;
  const FieldFound found = field_called(path.field, *behaviour.kind, path.preset->name);
  return found.field->get(found.is_common ? static_cast<const void*>(&behaviour.common) : behaviour.values.get());
}

void SceneImpl::tune_values(Index index, const void* values) {
  const BehaviourRecord& behaviour = registry.behaviours[index];
  std::vector<std::string_view> changed;
  if (behaviour.preset != none) {
    const void* before = registry.store(behaviour).values(behaviour.row);
    changed = changed_fields(behaviour.kind->fields(), before, values);
  }
  set_values(index, values);
  if (flocks_.is_stale()) flocks_.update();
  for (const std::string_view field : changed) mark_own(index, field);
  drop_past_states();
}

void SceneImpl::mark_own(Index index, std::string_view field) {
  BehaviourRecord& behaviour = registry.behaviours[index];
  if (behaviour.preset != none && std::find(behaviour.own.begin(), behaviour.own.end(), field) == behaviour.own.end())
    behaviour.own.push_back(field);
}

std::string SceneImpl::preset_path_of(Index index) const {
  const BehaviourRecord& behaviour = registry.behaviours[index];
  if (behaviour.preset == none) return "";
  const PresetRecord& preset = presets_[behaviour.preset];
  return "preset." + preset.name + '.' + std::string{name_of(preset.behaviours[behaviour.number_in_preset])};
}

bool SceneImpl::is_own(std::string_view path) const {
  const auto [index, field, is_common] = resolve(path);
  const BehaviourRecord& behaviour = registry.behaviours[index];
  return behaviour.preset != none &&
         std::find(behaviour.own.begin(), behaviour.own.end(), field->name) != behaviour.own.end();
}

}  // namespace hushed::detail
