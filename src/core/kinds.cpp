#include <hushed/kinds.hpp>

#include <array>
#include <utility>

namespace hushed {

std::span<const inside::Kind* const> kinds() {
  static const auto all = []<std::size_t... I>(std::index_sequence<I...>) {
    return std::array{&inside::kind_of<std::tuple_element_t<I, BuiltIn>>()...};
  }
  (std::make_index_sequence<std::tuple_size_v<BuiltIn>>{});
  return all;
}

const inside::Kind* find_kind(std::string_view name) {
  for (const inside::Kind* kind : kinds())
    if (kind->name() == name) return kind;
  return nullptr;
}

}  // namespace hushed
