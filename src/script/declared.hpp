// SPDX-License-Identifier: MIT
#pragma once

#include <string>
#include <vector>

#include <hushed/runtime_kind.hpp>

#include "checker.hpp"

struct lua_State;

namespace hushed::script {

/// A number or three that a script remembers.
struct Remembered {
  std::string name;
  bool is_vector = false;
  double first[3] = {};  ///< before `begin`
};

/// What a script says of itself.
struct Declared {
  std::string about;
  std::vector<RuntimeField> fields;
  std::vector<Remembered> memory;
};

/// Reads it from the global variables of a script that has been run. Throws `Diagnostic`.
Declared read_declarations(lua_State* lua, const Outline& outline);

}  // namespace hushed::script
