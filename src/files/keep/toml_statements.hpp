// SPDX-License-Identifier: MIT
#pragma once

// The statements of a TOML text: its headers, keys, comments and blank lines, each with its place.

#include <cstddef>
#include <span>
#include <string>
#include <string_view>
#include <vector>

namespace hushed::detail {

struct TomlStatement {
  enum class What { blank, comment, table, item, entry };
  /// A part of a header's path or of a key, as it is written.
  struct Part {
    std::size_t at, size;
    std::string name;  ///< without quotes
  };

  What what = What::blank;
  std::size_t begin = 0, end = 0;  ///< of its lines, with the end of the last one
  std::vector<Part> path = {};     ///< of a header or a key

  bool is_header() const { return what == What::table || what == What::item; }
  /// True where the path is the given one, or begins with it.
  bool is_below(std::span<const std::string> above) const;
};

inline bool is_space_or_tab(char c) { return c == ' ' || c == '\t'; }
/// Past a string that begins at a quote.
std::size_t past_string(std::string_view text, std::size_t at);
/// The end of a list or a table that begins at a bracket or a brace.
std::size_t past_brackets(std::string_view text, std::size_t at);

/// The statements of a valid text, in order; together they are the whole text.
std::vector<TomlStatement> statements_of(std::string_view text);

/// The lines of a header and what stands below it: comments directly above it, its keys, and comments directly below
/// those.
struct TomlBlock {
  std::size_t first, end;  ///< statements
};
TomlBlock block_of(std::span<const TomlStatement> statements, std::size_t header);

}  // namespace hushed::detail
