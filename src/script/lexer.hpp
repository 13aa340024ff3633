// SPDX-License-Identifier: MIT
#pragma once

// The words of a script in Lua 5.4, with their places.

#include <string>
#include <string_view>
#include <vector>

#include <hushed/value.hpp>

namespace hushed::script {

struct Token {
  enum class Kind { name, keyword, number, text, sign, end };

  Kind kind = Kind::end;
  std::string_view word;  ///< as it is written
  TextPlace place;

  bool is(std::string_view what) const { return (kind == Kind::keyword || kind == Kind::sign) && word == what; }
};

/// Throws `Diagnostic` for text that is none in Lua. The tokens refer to `text`; the last is of kind `end`.
std::vector<Token> tokens_of(std::string_view text);

}  // namespace hushed::script
