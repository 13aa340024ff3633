// SPDX-License-Identifier: MIT
#pragma once

// What stands where in the document of a scene file.

#include <cstddef>
#include <optional>
#include <string>
#include <string_view>
#include <vector>

#include <hushed/value.hpp>

namespace hushed::detail {

/// "lamp.spin.speed" in its parts.
std::vector<std::string> parts_of(std::string_view path);

/// The value of a key; nullptr where there is none.
const Value* inner(const Value& table, std::string_view key);
/// A table inside tables, such as {"object", "lamp"}; nullptr where there is none.
const Value* inner(const Value& table, const std::vector<std::string>& path);

/// The name that a table gives: its `name`, or of a behaviour without one its `kind` or that of its script.
std::string name_in(const Value& table);
/// The index of the table with a name in a list of behaviours or rules.
std::optional<std::size_t> index_of_name(const Value& list, std::string_view name);

/// Where an object is described: {"object", "lamp"}, or {"crowd", "gull"} for gull-7. Empty where it is not.
std::vector<std::string> owner_of(const Value& document, const std::string& object);

}  // namespace hushed::detail
