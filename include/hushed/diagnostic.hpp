// SPDX-License-Identifier: MIT
#pragma once

#include <string>
#include <string_view>
#include <utility>

#include <hushed/detail/export.hpp>

namespace hushed HUSHED_API {

/// A position in a text: line and column from 1, in characters; 0 where there is no text.
struct TextPlace {
  int line = 0;
  int column = 0;
  int file = 0;  ///< 0: the file itself; others are included files
};

/// A problem found in input: where it is, what is wrong, and what is allowed.
struct Diagnostic {
  TextPlace place = {};
  std::string text;
  std::string key = {};  ///< the key that the problem is about; empty for none in particular

  /// `key: text`, or the text alone where there is no key.
  std::string sentence() const { return key.empty() ? text : key + ": " + text; }
};

/// A problem with the value of one key, whose place in a text is not known yet.
inline Diagnostic about(std::string_view key, std::string text) { return {{}, std::move(text), std::string{key}}; }

}  // namespace hushed
