// SPDX-License-Identifier: MIT
#pragma once

// The only file that uses the TOML parser: text in, a value with places out.

#include <string_view>

#include <hushed/value.hpp>

namespace hushed::detail {

/// The document as a table, with keys in the order of the text. Throws a `Diagnostic` where the text is not TOML, or
/// beyond the limits (64 dots a key, and the parser's own on nesting).
Value parse_toml(std::string_view text, int file = 0);

}  // namespace hushed::detail
