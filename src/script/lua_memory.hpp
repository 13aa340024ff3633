// SPDX-License-Identifier: MIT
#pragma once

#include <algorithm>
#include <array>
#include <cstddef>
#include <cstring>
#include <memory>
#include <new>
#include <vector>

#include "call.hpp"

namespace hushed::script {

/// Memory for Lua: small pieces come from lists of free ones, which grow and never shrink, so that a script that is
/// called again and again asks the system for nothing.
struct LuaMemory {
  static constexpr std::size_t step = 16, largest = 1024, chunk = 65'536;

  std::size_t used = 0;
  std::size_t allowed = std::size_t{8} << 20U;  ///< until the next call sets it
  bool is_over = false;
  Call* call = nullptr;
  lua_State* lua = nullptr;     ///< once it is there
  lua_Hook on_limit = nullptr;  ///< called by the next step beyond `allowed`

  void* change(void* old, std::size_t old_size, std::size_t size) {
    if (!old) old_size = 0;
    if (size > old_size && used + (size - old_size) > allowed) {
      // The next step of the script says where that is. Much more is refused at once.
      is_over = true;
      if (lua && size > old_size) lua_sethook(lua, on_limit, LUA_MASKCOUNT, 1);
      if (used + (size - old_size) > 4 * allowed) return nullptr;
    }
    used = used + size - old_size;
    if (size == 0) return free(old, old_size), nullptr;
    if (old && class_of(size) == class_of(old_size) && size <= largest) return old;
    void* const made = size > largest ? ::operator new(size, std::nothrow) : small(class_of(size));
    if (!made) return used = used + old_size - size, nullptr;
    if (old) {
      std::memcpy(made, old, std::min(old_size, size));
      free(old, old_size);
    }
    return made;
  }

 private:
  static std::size_t class_of(std::size_t size) { return (size + step - 1) / step; }

  void* small(std::size_t number) {
    if (!free_[number]) {
      chunks_.push_back(std::make_unique<std::byte[]>(chunk));
      for (std::size_t at = 0; at + number * step <= chunk; at += number * step) put(number, chunks_.back().get() + at);
    }
    void* const found = free_[number];
    std::memcpy(&free_[number], found, sizeof(void*));
    return found;
  }
  void put(std::size_t number, void* piece) {
    std::memcpy(piece, &free_[number], sizeof(void*));
    free_[number] = piece;
  }
  void free(void* old, std::size_t size) {
    if (!old) return;
    if (size > largest)
      ::operator delete(old);
    else
      put(class_of(size), old);
  }

  std::array<void*, largest / step + 1> free_ = {};
  std::vector<std::unique_ptr<std::byte[]>> chunks_;
};

}  // namespace hushed::script
