// SPDX-License-Identifier: MIT
#pragma once

// Paths of values: "object.behaviour.field".

#include <optional>
#include <string_view>

#include "scene/registry.hpp"

namespace hushed::detail {

/// A field of a behaviour.
struct ValuePath {
  Index behaviour;
  const FieldInfo* field;
  bool is_common;  ///< the field is one that every kind has
};

/// Finds the field that a path names. Throws `BadValue` with a suggestion.
ValuePath resolve_path(const Registry& registry, std::string_view path);
/// Finds the behaviour that "object.behaviour" names, or none.
Index find_behaviour(const Registry& registry, std::string_view path);
/// The value of the field; nothing where it is not set.
std::optional<Value> value_at(const Registry& registry, const ValuePath& path);

}  // namespace hushed::detail
