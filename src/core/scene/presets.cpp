// SPDX-License-Identifier: MIT
#include "scene/presets.hpp"

#include <algorithm>

#include <hushed/name.hpp>

#include "scene/checks.hpp"

namespace hushed::detail {

namespace {

/// The number of the behaviour with a name; throws `BadValue` with a suggestion. `path` begins the message.
Index find_behaviour(const PresetRecord& preset, std::string_view name, const std::string& path) {
  std::vector<std::string_view> names;
  for (const PresetBehaviour& behaviour : preset.behaviours) names.push_back(name_of(behaviour));
  const auto found = std::find(names.begin(), names.end(), name);
  if (found != names.end()) return static_cast<Index>(found - names.begin());
  throw BadValue{path + preset.name + " has no behaviour " + in_quotes(name) + suggestion(name, names)};
}

FieldFound field_called(std::string_view name, const Kind& kind, const std::string& path) {
  const FieldFound found = find_field(kind, name);
  if (found.field) return found;
  throw BadValue{path + ": unknown key " + in_quotes(name) + suggestion(name, field_names(kind))};
}

void set_field(const FieldFound& found, void* values, Common& common, const std::optional<Value>& value,
               const std::string& path) {
  if (const auto diagnostic = found.field->put(found.is_common ? static_cast<void*>(&common) : values, value))
    throw BadValue{path + ": " + diagnostic->text};
}

}  // namespace

// --- presets and their users -----------------------------------------------------------------------------------------

Index Presets::find(std::string_view name) const {
  std::vector<std::string_view> names;
  for (const PresetRecord& preset : presets_) names.push_back(preset.name);
  const auto found = std::find(names.begin(), names.end(), name);
  if (found != names.end()) return static_cast<Index>(found - names.begin());
  throw BadValue{"no preset " + in_quotes(name) + " in this scene" + suggestion(name, names)};
}

void Presets::add(std::string_view name, const Kind& kind, const void* values, const Common& common) {
  if (const auto wrong = wrong_with_name(name, "a preset")) throw BadValue{*wrong};
  const PresetBehaviour made{
      .kind = &kind, .values = kind.make(values), .common = common, .owner = kind.weak_from_this().lock()};
  auto preset =
      std::find_if(presets_.begin(), presets_.end(), [&](const PresetRecord& each) { return each.name == name; });
  if (preset == presets_.end()) preset = presets_.insert(presets_.end(), {std::string{name}, {}});
  for (const PresetBehaviour& each : preset->behaviours)
    if (name_of(each) == name_of(made))
      throw BadValue{std::string{name} + " has a behaviour called " + in_quotes(name_of(made)) +
                     " already; give this one another name."};
  preset->behaviours.push_back(made);
}

void Presets::mark_base() {
  for (PresetRecord& preset : presets_)
    for (PresetBehaviour& behaviour : preset.behaviours) behaviour.is_base = true;
}

void Presets::take_changed_values(const Presets& other) {
  for (PresetRecord& preset : presets_)
    for (PresetBehaviour& behaviour : preset.behaviours) {
      const PresetBehaviour* before = other.find_if(preset.name, name_of(behaviour));
      if (!before || before->kind != behaviour.kind || !before->given) continue;
      if (!changed_fields(behaviour.kind->fields(), behaviour.values.get(), before->given->values.get()).empty())
        continue;
      if (!changed_fields(common_fields(), &behaviour.common, &before->given->common).empty()) continue;
      behaviour.values = before->values;
      behaviour.common = before->common;
      behaviour.given = before->given;
    }
}

const PresetBehaviour* Presets::find_if(std::string_view preset, std::string_view name) const {
  for (const PresetRecord& each : presets_)
    for (const PresetBehaviour& behaviour : each.behaviours)
      if (each.name == preset && name_of(behaviour) == name) return &behaviour;
  return nullptr;
}

void Presets::use(Index object, std::string_view name, std::span<const OwnValue> own) {
  const Index number = find(name);
  const PresetRecord& preset = presets_[number];
  std::vector<Gift> gifts = this->gifts(object, preset, own);
  for (std::size_t i = 0; i < gifts.size(); ++i) {  // all are checked before the first is given
    const Kind& kind = *preset.behaviours[i].kind;
    const auto values = check_new(registry_, object, kind, gifts[i].values.get(), gifts[i].common);
    registry_.check_new(object, kind, values.get(), gifts[i].common);
  }
  for (std::size_t i = 0; i < gifts.size(); ++i) {
    const Index given = core_.give(object, *preset.behaviours[i].kind, gifts[i].values.get(), gifts[i].common);
    BehaviourRecord& record = registry_.behaviours[given];
    record.preset = number;
    record.number_in_preset = static_cast<Index>(i);
    record.own = std::move(gifts[i].own);
  }
}

std::vector<Presets::Gift> Presets::gifts(Index object, const PresetRecord& preset,
                                          std::span<const OwnValue> own) const {
  std::vector<Gift> gifts;
  for (const PresetBehaviour& behaviour : preset.behaviours)
    gifts.push_back({behaviour.kind->make(behaviour.values.get()), behaviour.common, {}});
  for (const OwnValue& each : own) {
    const std::string whole_path = registry_.name(object) + '.' + each.path;
    const std::string_view path = each.path;
    const std::size_t dot = path.find('.');
    const Index number = find_behaviour(preset, path.substr(0, dot), whole_path + ": ");
    if (dot == std::string_view::npos)
      throw BadValue{whole_path + ": the field is missing; give BEHAVIOUR.FIELD, such as spin.speed."};
    const FieldFound field = field_called(path.substr(dot + 1), *preset.behaviours[number].kind, whole_path);
    set_field(field, gifts[number].values.get(), gifts[number].common, each.value, whole_path);
    gifts[number].own.push_back(field.field->name);
  }
  return gifts;
}

// --- values at paths -------------------------------------------------------------------------------------------------

std::optional<Presets::PresetPath> Presets::resolve(std::string_view path) const {
  constexpr std::string_view prefix = "preset.";
  if (!path.starts_with(prefix) || std::count(path.begin(), path.end(), '.') != 3) return std::nullopt;
  const std::string_view behaviour_path = path.substr(0, path.rfind('.'));
  path.remove_prefix(prefix.size());
  const std::size_t first = path.find('.'), second = path.rfind('.');
  const Index preset = find(path.substr(0, first));
  const Index behaviour = find_behaviour(presets_[preset], path.substr(first + 1, second - first - 1), "");
  const Kind& kind = *presets_[preset].behaviours[behaviour].kind;
  return PresetPath{preset, behaviour, field_called(path.substr(second + 1), kind, std::string{behaviour_path})};
}

void Presets::tune(std::string_view path, const std::optional<Value>& value) {
  if (const auto preset = resolve(path)) return set(*preset, path, value);
  const ValuePath found = resolve_path(registry_, path);
  const bool was_enabled = registry_.behaviours[found.behaviour].common.enabled;
  values_.set(found, path, value);
  log_enabled(found.behaviour, was_enabled);
  mark_own(found.behaviour, found.field->name);
}

std::optional<Value> Presets::get(std::string_view path) const {
  const auto preset = resolve(path);
  if (!preset) return value_at(registry_, resolve_path(registry_, path));
  const PresetBehaviour& behaviour = behaviour_at(*preset);
  const auto& [field, is_common] = preset->field;
  return field->get(is_common ? static_cast<const void*>(&behaviour.common) : behaviour.values.get());
}

/// Changes all objects that use the preset, except those with a value of their own; changes none where one of them
/// refuses the value.
void Presets::set(const PresetPath& path, std::string_view text, const std::optional<Value>& value) {
  PresetBehaviour& behaviour = presets_[path.preset].behaviours[path.behaviour];
  const auto values = behaviour.kind->make(behaviour.values.get());
  Common common = behaviour.common;
  set_field(path.field, values.get(), common, value, std::string{text});
  for (const Change& change : changes_of_users(path, value)) {
    const bool was_enabled = registry_.behaviours[change.behaviour].common.enabled;
    if (path.field.is_common)
      values_.set_common(change.behaviour, change.common);
    else
      values_.set(change.behaviour, change.values.get());
    log_enabled(change.behaviour, was_enabled);
  }
  if (core_.flocks.is_stale()) core_.flocks.update();
  if (!behaviour.given) behaviour.given.make() = {behaviour.values, behaviour.common};
  behaviour.values = values;
  behaviour.common = common;
}

std::vector<Presets::Change> Presets::changes_of_users(const PresetPath& path,
                                                       const std::optional<Value>& value) const {
  std::vector<Change> changes;
  for (Index index = 0; index < registry_.behaviours.size(); ++index) {
    const BehaviourRecord& user = registry_.behaviours[index];
    if (!user.in_use || user.preset != path.preset || user.number_in_preset != path.behaviour) continue;
    if (registry_.presences[user.object].ended) continue;
    if (std::find(user.own.begin(), user.own.end(), path.field.field->name) != user.own.end()) continue;
    Change change{index, user.kind->make(registry_.store(user).values(user.row)), user.common};
    set_field(path.field, change.values.get(), change.common, value, registry_.path_of(index));
    check_values(registry_, user, resolved(registry_, user, change.values.get()).get(), nullptr);
    check_common(registry_, user, change.common);
    changes.push_back(std::move(change));
  }
  return changes;
}

// --- values of one object --------------------------------------------------------------------------------------------

void Presets::tune_values(Index index, const void* values) {
  const BehaviourRecord& behaviour = registry_.behaviours[index];
  std::vector<std::string_view> changed;
  if (behaviour.preset != none)
    changed = changed_fields(behaviour.kind->fields(), registry_.store(behaviour).values(behaviour.row), values);
  values_.set(index, values);
  if (core_.flocks.is_stale()) core_.flocks.update();
  for (const std::string_view field : changed) mark_own(index, field);
}

void Presets::tune_common(Index index, const Common& common) {
  const Common old = registry_.behaviours[index].common;
  values_.set_common(index, common);
  log_enabled(index, old.enabled);
  for (const std::string_view field : changed_fields(common_fields(), &old, &common)) mark_own(index, field);
}

void Presets::log_enabled(Index index, bool was_enabled) {
  const bool is_enabled = registry_.behaviours[index].common.enabled;
  if (is_enabled == was_enabled) return;
  log_.add({.verb = is_enabled ? Action::Verb::start : Action::Verb::stop, .target = index, .at = core_.clock.now});
}

void Presets::mark_own(Index index, std::string_view field) {
  BehaviourRecord& behaviour = registry_.behaviours[index];
  if (behaviour.preset != none && std::find(behaviour.own.begin(), behaviour.own.end(), field) == behaviour.own.end())
    behaviour.own.push_back(field);
}

std::string Presets::path_of(Index index) const {
  const BehaviourRecord& behaviour = registry_.behaviours[index];
  if (behaviour.preset == none) return "";
  const PresetRecord& preset = presets_[behaviour.preset];
  return "preset." + preset.name + '.' + std::string{name_of(preset.behaviours[behaviour.number_in_preset])};
}

bool Presets::is_own(std::string_view path) const {
  const ValuePath found = resolve_path(registry_, path);
  const BehaviourRecord& behaviour = registry_.behaviours[found.behaviour];
  return behaviour.preset != none &&
         std::find(behaviour.own.begin(), behaviour.own.end(), found.field->name) != behaviour.own.end();
}

}  // namespace hushed::detail
