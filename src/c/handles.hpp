// SPDX-License-Identifier: MIT
#pragma once

// Handles as numbers, and errors instead of exceptions.

#include <array>
#include <atomic>
#include <cstdint>
#include <memory>
#include <mutex>
#include <string_view>
#include <utility>

#include <hushed/hushed.h>
#include <hushed/error.hpp>
#include <hushed/value.hpp>

namespace hushed::c {

/// What a handle stands for; part of the number.
enum class Sort : std::uint64_t { scene = 1, kinds, snapshot, prepared, live };

/// The items of one sort by their handles. Looking one up blocks nobody.
template <class Item, Sort sort>
class HandleTable {
 public:
  /// Throws `Error` where there are too many.
  std::uint64_t add(std::unique_ptr<Item> item) {
    const std::lock_guard lock{changing_};
    for (std::uint64_t i = 0; i < slots_.size(); ++i) {
      Slot& slot = slots_[(next_ + i) % slots_.size()];
      if (slot.item.load(std::memory_order_relaxed)) continue;
      const std::uint64_t number = (next_ + i) % slots_.size();
      next_ = number + 1;
      slot.item.store(item.release(), std::memory_order_release);
      return static_cast<std::uint64_t>(sort) << 60U | std::uint64_t{slot.generation.load()} << 16U | number;
    }
    throw Error{"there are too many of these at once; free some."};
  }

  /// Throws `StaleHandle`.
  Item& at(std::uint64_t handle) {
    Slot* const slot = slot_of(handle);
    Item* const item = slot ? slot->item.load(std::memory_order_acquire) : nullptr;
    if (!item) throw StaleHandle{"the handle is 0, of something else, or of something that was freed."};
    return *item;
  }

  std::unique_ptr<Item> remove(std::uint64_t handle) {
    (void)at(handle);
    const std::lock_guard lock{changing_};
    Slot& slot = *slot_of(handle);
    slot.generation.store(slot.generation.load() + 1);
    return std::unique_ptr<Item>{slot.item.exchange(nullptr)};
  }

 private:
  struct Slot {
    std::atomic<Item*> item{nullptr};
    std::atomic<std::uint32_t> generation{1};
  };
  Slot* slot_of(std::uint64_t handle) {
    Slot& slot = slots_[handle & 0xFFFFU];
    const bool is_this = handle >> 60U == static_cast<std::uint64_t>(sort) &&
                         (handle >> 16U & 0xFFFFFFFFU) == slot.generation.load(std::memory_order_acquire);
    return is_this ? &slot : nullptr;
  }

  std::mutex changing_;
  std::array<Slot, 65'536> slots_;
  std::uint64_t next_ = 0;
};

/// Records the exception that is being handled as the errors of this thread.
hushed_status record_exception() noexcept;
void clear_errors() noexcept;

/// Calls what a function of the interface does. No exception leaves it.
template <class Call>
hushed_status guarded(Call&& call) noexcept {
  clear_errors();
  try {
    call();
    return HUSHED_OK;
  } catch (...) {
    return record_exception();
  }
}

/// The argument, which must not be NULL. Throws `BadValue`.
template <class T>
T& needed(T* pointer, std::string_view what) {
  if (!pointer) throw BadValue{std::string{what} + " is NULL; give a pointer."};
  return *pointer;
}
inline std::string_view text(const char* given, std::string_view what) { return &needed(given, what); }

/// Writes a text as the interface says it.
void write_text(std::string_view text, char* to, std::size_t size, std::size_t* needed);

}  // namespace hushed::c
