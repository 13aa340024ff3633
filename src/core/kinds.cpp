// SPDX-License-Identifier: MIT
#include <hushed/kinds.hpp>

#include <array>
#include <utility>

#include <hushed/common.hpp>

namespace hushed {

std::span<const detail::Kind* const> kinds() {
  static const auto all = []<std::size_t... I>(std::index_sequence<I...>) {
    return std::array{&detail::kind_of<std::tuple_element_t<I, BuiltIn>>()...};
  }
  (std::make_index_sequence<std::tuple_size_v<BuiltIn>>{});
  return all;
}

namespace detail {

FieldFound find_field(const Kind& kind, std::string_view name) {
  for (const FieldInfo& field : kind.fields())
    if (field.name == name) return {&field, false};
  for (const FieldInfo& field : fields_of<Common>())
    if (field.name == name) return {&field, true};
  return {};
}

std::vector<std::string_view> field_names(const Kind& kind) {
  std::vector<std::string_view> names;
  for (const auto fields : {kind.fields(), fields_of<Common>()})
    for (const FieldInfo& field : fields) names.push_back(field.name);
  return names;
}

}  // namespace detail

const detail::Kind* find_kind(std::string_view name) {
  for (const detail::Kind* kind : kinds())
    if (kind->name() == name) return kind;
  return nullptr;
}

}  // namespace hushed
