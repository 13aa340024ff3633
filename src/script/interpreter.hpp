// SPDX-License-Identifier: MIT
#pragma once

// One script, loaded and ready to be called. Belongs to one scene, and to one thread at a time.

#include <cstddef>
#include <memory>
#include <span>
#include <string>
#include <string_view>
#include <vector>

#include <hushed/moment.hpp>
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

/// What one call may do.
struct Budget {
  int steps = 100'000;            ///< of the interpreter
  std::size_t bytes = 1'048'576;  ///< of new memory
};

class Interpreter {
 public:
  /// `name`: of the file, in errors. Runs the script once, for its declarations. Throws `Diagnostic`.
  Interpreter(std::string_view text, const std::string& name, const Outline& outline);
  ~Interpreter();
  Interpreter(const Interpreter&) = delete;
  Interpreter& operator=(const Interpreter&) = delete;

  const Declared& declared() const { return declared_; }
  bool has_begin() const { return has_begin_; }

  /// Calls `apply` or `begin`. `memory`: the numbers of `Declared::memory`, three for a vector. Throws `Error` where
  /// the script fails; pose and memory are unknown then.
  void call(bool is_begin, const RuntimeValues& values, std::span<double> memory, Pose& pose, const Moment& now);

  /// What Lua's functions see of the present call.
  struct Call;

 private:
  struct Memory;
  struct Close {
    void operator()(lua_State* state) const;
  };
  void begin_budget();

  Declared declared_;
  bool has_begin_ = false;
  std::unique_ptr<Memory> memory_;
  std::unique_ptr<Call> call_;
  std::unique_ptr<lua_State, Close> lua_;
};

}  // namespace hushed::script
