// SPDX-License-Identifier: MIT
#pragma once

// What the functions of Lua see of the present call of a script.

#include <cstddef>
#include <span>
#include <string>
#include <vector>

#include <lua.hpp>

#include <hushed/kinds.hpp>
#include <hushed/moment.hpp>
#include <hushed/pose.hpp>
#include <hushed/runtime_kind.hpp>

#include "declared.hpp"

namespace hushed::script {

/// A field, or a number or vector that is remembered, and where its value is.
struct Part {
  const char* word;  ///< the text in Lua, which holds one copy of each short text
  const std::string* name;
  std::string in_errors;  ///< "kept.height"
  RuntimeField::Type type;
  std::size_t at;  ///< in the numbers, objects or tags, or in the memory
};

struct Call {
  const Declared* declared = nullptr;
  std::vector<Part> fields, remembered;
  const RuntimeValues* values = nullptr;
  std::span<double> memory;
  Pose* pose = nullptr;
  const Moment* now = nullptr;  ///< nullptr while no behaviour is called
  ScriptLimits limits;
  int steps_left = 0;
  bool is_out_of_memory = false;
  /// For each field that is tagged, its objects that are there; once they have been asked for in this call.
  struct Members {
    bool are_known = false;
    std::vector<Object> objects;
  };
  std::vector<Members> members;
  std::size_t vectors = 0, rotations = 0;  ///< used of the pools

  static constexpr int steps_between = 1'000;  ///< checks of the budget

  std::size_t bytes_allowed() const { return static_cast<std::size_t>(limits.memory * 1'048'576.0); }
};

inline Call& call_of(lua_State* lua) { return **static_cast<Call**>(lua_getextraspace(lua)); }

}  // namespace hushed::script
