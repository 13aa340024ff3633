// SPDX-License-Identifier: MIT
#include "scene/checks.hpp"

#include "scene/names.hpp"

namespace hushed::detail {

namespace {

bool is_given(const Kind& kind, const void* values, std::string_view key) {
  for (const FieldInfo& field : kind.fields())
    if (field.name == key) return field.get(values).has_value();
  return false;
}

}  // namespace

void refuse(const Registry& registry, const BehaviourRecord& behaviour, const std::string& text) {
  const std::string_view name =
      behaviour.common.name.empty() ? behaviour.kind->name() : std::string_view{behaviour.common.name};
  throw BadValue{registry.name(behaviour.object) + '.' + std::string{name} + ": " + text};
}

void check_values(const Registry& registry, const BehaviourRecord& behaviour, const void* values, const Pose* in) {
  for (const FieldInfo& field : behaviour.kind->fields()) {
    if (const auto diagnostic = field.check(values))
      refuse(registry, behaviour, std::string{field.name} + ": " + diagnostic->text);
    if (field.required && !field.entries && !field.get(values))  // a list is always given, if only an empty one
      refuse(registry, behaviour, std::string{field.name} + ": missing; give " + field.form.description + ".");
  }
  for (const OneOf& one_of : behaviour.kind->exactly_one())
    if (const auto diagnostic =
            one_of.check([&](std::string_view key) { return is_given(*behaviour.kind, values, key); }))
      refuse(registry, behaviour, diagnostic->sentence());
  if (const auto diagnostic = behaviour.kind->check(values, in)) refuse(registry, behaviour, diagnostic->sentence());
}

void check_common(const Registry& registry, const BehaviourRecord& behaviour, const Common& common) {
  for (const FieldInfo& field : common_fields())
    if (const auto diagnostic = field.check(&common))
      refuse(registry, behaviour, std::string{field.name} + ": " + diagnostic->text);
}

namespace {

std::shared_ptr<void> resolved_by(const NamesInScene& names, const Registry& registry, const BehaviourRecord& behaviour,
                                  const void* values) {
  auto copy = behaviour.kind->make(values);
  for (const FieldInfo& field : behaviour.kind->fields())
    if (const auto diagnostic = field.resolve(copy.get(), names))
      refuse(registry, behaviour, std::string{field.name} + ": " + diagnostic->text);
  return copy;
}

}  // namespace

std::shared_ptr<void> resolved(const Registry& registry, const BehaviourRecord& behaviour, const void* values) {
  return resolved_by(NamesInScene{registry, behaviour.object, behaviour.common.reads}, registry, behaviour, values);
}

std::shared_ptr<void> resolved_with_lost(const Registry& registry, const BehaviourRecord& behaviour,
                                         const void* values) {
  const auto names = NamesInScene::with_lost(registry, behaviour.object, behaviour.common.reads);
  return resolved_by(names, registry, behaviour, values);
}

std::shared_ptr<void> check_new(const Registry& registry, Index owner, const Kind& kind, const void* values,
                                const Common& common) {
  BehaviourRecord draft;
  draft.kind = &kind;
  draft.object = owner;
  draft.common = common;
  auto found = resolved(registry, draft, values);
  // The incoming pose of the lowest behaviour is the rest pose; that of others is known only when playing.
  const ObjectRecord& object = registry.objects[owner];
  check_values(registry, draft, found.get(), object.first_behaviour == none ? &object.rest : nullptr);
  check_common(registry, draft, common);
  return found;
}

}  // namespace hushed::detail
