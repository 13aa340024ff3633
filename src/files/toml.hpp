// SPDX-License-Identifier: MIT
#pragma once

// Reads TOML: text to a value with places. No other file uses the TOML parser.

#include <string_view>

#include <hushed/value.hpp>

namespace hushed::detail {

/// Returns the document as a table, with keys in the order of the text. Throws a `Diagnostic` where the text is not
/// TOML or exceeds a limit: 64 dots in a key, and the parser's limit of nesting.
Value parse_toml(std::string_view text, int file = 0);

}  // namespace hushed::detail
