// SPDX-License-Identifier: MIT
#pragma once

// Reads a script and refuses what would hide state or make its motion depend on more than its arguments.

#include <functional>
#include <set>
#include <string>
#include <string_view>
#include <vector>

#include <hushed/value.hpp>

namespace hushed::script {

/// What is known of a script before it runs.
struct Outline {
  std::vector<Diagnostic> mistakes;
  std::vector<TextPlace> fields;  ///< the places of the entries of `fields`
  TextPlace memory;               ///< the place of `memory`; 0 where there is none
  /// It has loops, or functions of its own, so that a call may take any number of steps.
  bool may_repeat = false;
  std::set<std::string, std::less<>> fields_read;
  bool reads_any_field = false;  ///< in other ways than `my.radius`, so `fields_read` is not complete
};

/// Parses a script. Its syntax is that of Lua 5.4; the first mistake in it ends the reading.
Outline outline_of(std::string_view text);

/// The words that a script may use without declaring them.
const std::vector<std::string_view>& words();

}  // namespace hushed::script
