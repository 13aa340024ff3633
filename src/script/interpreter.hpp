// SPDX-License-Identifier: MIT
#pragma once

// One script, loaded and ready to be called. Belongs to one scene, and to one thread at a time.

#include <cstddef>
#include <memory>
#include <span>
#include <string>
#include <string_view>
#include <vector>

#include <hushed/kinds.hpp>
#include <hushed/moment.hpp>
#include <hushed/runtime_kind.hpp>

#include "declared.hpp"

struct lua_State;

namespace hushed::script {

struct Call;
struct LuaMemory;

class Interpreter {
 public:
  /// `name`: of the file, in errors. Runs the script once, for its declarations. Throws `Diagnostic`.
  Interpreter(std::string_view text, const std::string& name, const Outline& outline, const ScriptLimits& limits);
  ~Interpreter();
  Interpreter(const Interpreter&) = delete;
  Interpreter& operator=(const Interpreter&) = delete;

  const Declared& declared() const { return declared_; }
  bool has_begin() const { return has_begin_; }
  /// The most that one call has taken of its steps, 0 to 1. Steps are counted in thousands.
  double share_of_steps() const { return share_of_steps_; }

  /// Calls `apply` or `begin`. `memory`: the numbers of `Declared::memory`, three for a vector. Throws `Error` where
  /// the script fails; pose and memory are unknown then.
  void call(bool is_begin, const RuntimeValues& values, std::span<double> memory, Pose& pose, const Moment& now);

 private:
  struct Close {
    void operator()(lua_State* state) const;
  };
  void begin_budget(bool counts_steps);

  Declared declared_;
  bool has_begin_ = false;
  bool counts_steps_ = true;  ///< false: a call takes fewer steps than the script has characters
  double share_of_steps_ = 0.0;
  std::unique_ptr<LuaMemory> memory_;
  std::unique_ptr<Call> call_;
  std::unique_ptr<lua_State, Close> lua_;
};

}  // namespace hushed::script
