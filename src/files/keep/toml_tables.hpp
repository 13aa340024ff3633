// SPDX-License-Identifier: MIT
#pragma once

// Changes of the tables of a TOML text that stand under headers, [a.b] and [[a.b]]. All else stays as it is, to the
// byte. A table has as its own: comments directly above its header or below its last key, and the tables inside it.

#include <cstddef>
#include <optional>
#include <span>
#include <string>
#include <string_view>

#include <hushed/value.hpp>

namespace hushed::detail {

using TomlPath = std::span<const std::string>;

/// True where a header has this path, or one that begins with it.
bool has_header(std::string_view text, TomlPath path);

// Each returns the text with the change, or nothing where there are no headers to change.

/// A new item of a list of tables, before the one with that index.
std::optional<std::string> with_item(std::string_view text, TomlPath path, std::size_t index, const Value& keys);
std::optional<std::string> without_item(std::string_view text, TomlPath path, std::size_t index);
/// The item with index `from` has the index `to` afterwards.
std::optional<std::string> with_item_moved(std::string_view text, TomlPath path, std::size_t from, std::size_t to);

/// A new table, after the last one that has all but the last part of its path in common with it, or at the end.
std::string with_table(std::string_view text, TomlPath path, const Value& keys);
/// The header of a table whose insides alone have headers so far, before the first of these.
std::optional<std::string> with_header(std::string_view text, TomlPath path);
std::optional<std::string> without_table(std::string_view text, TomlPath path);
std::optional<std::string> with_table_renamed(std::string_view text, TomlPath path, const std::string& name);
/// A copy under another name, directly after the table.
std::optional<std::string> with_table_copied(std::string_view text, TomlPath path, const std::string& name);

}  // namespace hushed::detail
