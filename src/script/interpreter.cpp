// SPDX-License-Identifier: MIT
#include "interpreter.hpp"

#include <algorithm>
#include <new>

#include <lua.hpp>

#include <hushed/error.hpp>
#include <hushed/value.hpp>

#include "arguments.hpp"
#include "call.hpp"
#include "locale.hpp"
#include "lua_memory.hpp"
#include "lua_values.hpp"
#include "words.hpp"

namespace hushed::script {

namespace {

// The stack of the state, from the bottom: what is called, and what it is given.
enum Slot { apply_slot = 1, begin_slot, pose_slot, now_slot, my_slot, kept_slot };

/// As `fail`, from a hook, which has no place of its own.
[[noreturn]] void fail_in_hook(lua_State* lua, lua_Debug* there, const std::string& text) {
  lua_getinfo(lua, "Sl", there);
  lua_pushfstring(lua, "%s:%d: %s", there->short_src, there->currentline, text.c_str());
  lua_error(lua);
  std::abort();  // unreachable
}

void check_budget(lua_State* lua, lua_Debug* there) {
  Call& call = call_of(lua);
  if (call.is_out_of_memory)
    fail_in_hook(lua, there,
                 "it needed more than " + as_text(call.limits.memory) + " MB of memory; keep tables and texts small");
  call.steps_left -= Call::steps_between;
  if (call.steps_left >= 0) return;
  fail_in_hook(lua, there, "it took more than " + std::to_string(call.limits.steps) + " steps; end the loop earlier");
}

/// The place in an error of Lua, "circling.lua:12: text", and the text.
Diagnostic diagnostic_of(std::string_view message, const std::string& name) {
  Diagnostic found{{1, 1}, std::string{message}};
  if (!message.starts_with(name + ':')) return found;
  message.remove_prefix(name.size() + 1);
  int line = 0;
  std::size_t digits = 0;
  for (; digits < message.size() && message[digits] >= '0' && message[digits] <= '9'; ++digits)
    line = line * 10 + (message[digits] - '0');
  if (digits == 0 || !message.substr(digits).starts_with(": ")) return found;
  return {{line, 1}, std::string{message.substr(digits + 2)} + '.'};
}

}  // namespace

// --- loading ---------------------------------------------------------------------------------------------------------

void Interpreter::Close::operator()(lua_State* state) const { lua_close(state); }

Interpreter::Interpreter(std::string_view text, const std::string& name, const Outline& outline,
                         const ScriptLimits& limits)
    : counts_steps_{outline.may_repeat || text.size() >= static_cast<std::size_t>(limits.steps)},
      memory_{std::make_unique<LuaMemory>()},
      call_{std::make_unique<Call>()} {
  const PlainLocale plain;
  lua_.reset(lua_newstate(
      [](void* memory, void* old, std::size_t old_size, std::size_t size) {
        auto& of = *static_cast<LuaMemory*>(memory);
        void* const made = of.change(old, old_size, size);
        if (of.is_over && of.call) of.call->is_out_of_memory = true;
        return made;
      },
      memory_.get()));
  if (!lua_) throw std::bad_alloc{};
  lua_State* const lua = lua_.get();
  *static_cast<Call**>(lua_getextraspace(lua)) = call_.get();
  call_->declared = &declared_;
  memory_->call = call_.get();
  memory_->on_limit = check_budget;

  const auto check = [&](int status) {
    if (status == LUA_OK) return;
    const std::string message{text_at(lua, -1)};
    throw diagnostic_of(message.empty() ? "it failed with something that is no text" : message, name);
  };
  call_->limits = limits;
  add_words(lua);
  begin_budget(true);
  check(luaL_loadbufferx(lua, text.data(), text.size(), ('@' + name).c_str(), "t"));
  check(lua_pcall(lua, 0, 0, 0));
  lua_settop(lua, 0);
  declared_ = read_declarations(lua, outline);

  lua_getglobal(lua, "apply");
  lua_getglobal(lua, "begin");
  has_begin_ = lua_isfunction(lua, begin_slot);
  push_arguments(lua);
  find_parts(lua);
  lua_gc(lua, LUA_GCCOLLECT, 0);
}

Interpreter::~Interpreter() = default;

// --- calling ---------------------------------------------------------------------------------------------------------

void Interpreter::begin_budget(bool counts_steps) {
  call_->steps_left = call_->limits.steps;
  call_->vectors = call_->rotations = 0;
  for (Call::Members& members : call_->members) members.are_known = false;
  call_->is_out_of_memory = memory_->is_over = false;
  memory_->allowed = memory_->used + call_->bytes_allowed();
  memory_->lua = lua_.get();
  // A hook makes every step slower.
  lua_sethook(lua_.get(), counts_steps ? check_budget : nullptr, counts_steps ? LUA_MASKCOUNT : 0, Call::steps_between);
}

void Interpreter::call(bool is_begin, const RuntimeValues& values, std::span<double> memory, Pose& pose,
                       const Moment& now) {
  const PlainLocale plain;
  lua_State* const lua = lua_.get();
  call_->values = &values;
  call_->memory = memory;
  call_->pose = &pose;
  call_->now = &now;
  begin_budget(counts_steps_);
  lua_pushvalue(lua, is_begin ? begin_slot : apply_slot);
  for (const int argument : {pose_slot, now_slot, my_slot, kept_slot}) lua_pushvalue(lua, argument);
  const int status = lua_pcall(lua, 4, 0, 0);
  call_->now = nullptr;
  const double steps = call_->limits.steps;
  share_of_steps_ = std::max(share_of_steps_, std::min((steps - call_->steps_left) / steps, 1.0));
  if (status == LUA_OK) return;
  std::string message{text_at(lua, -1)};
  if (status == LUA_ERRMEM) message = "it needed far more memory than it may have";
  lua_settop(lua, kept_slot);
  throw Error{message.empty() ? "it failed with something that is no text" : message};
}

}  // namespace hushed::script
