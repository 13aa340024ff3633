// SPDX-License-Identifier: MIT
#include "scene/value_path.hpp"

#include <string>
#include <vector>

namespace hushed::detail {

Index find_behaviour(const Registry& registry, std::string_view path) {
  const std::size_t dot = path.find('.');
  if (dot == std::string_view::npos) return none;
  const Index object = registry.find(path.substr(0, dot));
  return object == none ? none : registry.find_behaviour(object, path.substr(dot + 1));
}

ValuePath resolve_path(const Registry& registry, std::string_view path) {
  const std::size_t first = path.find('.');
  const std::size_t second = first == std::string_view::npos ? first : path.find('.', first + 1);
  if (second == std::string_view::npos)
    throw BadValue{in_quotes(path) +
                   " is not the path of a value; give OBJECT.BEHAVIOUR.FIELD, such as lamp.spin.speed."};
  const std::string_view object_name = path.substr(0, first);
  const std::string_view behaviour_name = path.substr(first + 1, second - first - 1);
  const std::string_view field_name = path.substr(second + 1);

  const Index object = registry.find(object_name);
  if (object == none)
    throw BadValue{std::string{path} + ": no object " + in_quotes(object_name) + " in this scene" +
                   suggestion(object_name, registry.names())};
  const Index behaviour = registry.find_behaviour(object, behaviour_name);
  if (behaviour == none) {
    std::vector<std::string_view> names;
    registry.for_stack(object, [&](Index b) { names.push_back(registry.name_of_behaviour(b)); });
    throw BadValue{std::string{path} + ": " + std::string{object_name} + " has no behaviour " +
                   in_quotes(behaviour_name) + suggestion(behaviour_name, names)};
  }
  const Kind& kind = *registry.behaviours[behaviour].kind;
  const FieldFound found = find_field(kind, field_name);
  if (found.field) return {behaviour, found.field, found.is_common};
  throw BadValue{std::string{path} + ": unknown key " + in_quotes(field_name) +
                 suggestion(field_name, field_names(kind))};
}

std::optional<Value> value_at(const Registry& registry, const ValuePath& path) {
  const BehaviourRecord& behaviour = registry.behaviours[path.behaviour];
  if (path.is_common) return path.field->get(&behaviour.common);
  return path.field->get(registry.store(behaviour).values(behaviour.row));
}

}  // namespace hushed::detail
