// SPDX-License-Identifier: MIT
#pragma once

// What the functions of Lua see of the present call of a script.

#include <cstddef>
#include <span>

#include <lua.hpp>

#include <hushed/moment.hpp>
#include <hushed/pose.hpp>
#include <hushed/runtime_kind.hpp>

#include "declared.hpp"

namespace hushed::script {

/// What one call may do.
struct Budget {
  int steps = 100'000;            ///< of the interpreter
  std::size_t bytes = 1'048'576;  ///< of new memory
};

struct Call {
  const Declared* declared = nullptr;
  const RuntimeValues* values = nullptr;
  std::span<double> memory;
  Pose* pose = nullptr;
  const Moment* now = nullptr;  ///< nullptr while no behaviour is called
  Budget budget;
  int steps_left = 0;
  bool is_out_of_memory = false;
  std::size_t vectors = 0, rotations = 0;  ///< used of the pools

  static constexpr int steps_between = 1'000;  ///< checks of the budget
};

inline Call& call_of(lua_State* lua) { return **static_cast<Call**>(lua_getextraspace(lua)); }

}  // namespace hushed::script
