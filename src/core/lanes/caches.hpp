// SPDX-License-Identifier: MIT
#pragma once

// Memory for data that is larger than the caches.

#include <algorithm>
#include <cstddef>
#include <new>
#include <vector>

#if defined(__linux__)
#include <sys/mman.h>
#endif

namespace hushed::detail {

/// Prefetches data at scattered addresses.
template <class T>
inline void fetch(const T& soon) {
#if defined(__GNUC__)
  __builtin_prefetch(&soon);
#endif
}

/// Allocates memory in large pages, where the system has them: for scattered access, address translation takes longer
/// than the access itself.
template <class T>
struct LargePages {
  using value_type = T;
  static constexpr std::size_t page = std::size_t{1} << 21;
  static constexpr std::size_t alignment = std::max(alignof(T), alignof(std::max_align_t));

  LargePages() = default;
  template <class U>
  LargePages(const LargePages<U>&) {}

  T* allocate(std::size_t count) {
    if (count > static_cast<std::size_t>(-1) / sizeof(T)) throw std::bad_array_new_length{};
    const std::size_t bytes = count * sizeof(T);
    if (!is_large(bytes)) return static_cast<T*>(::operator new (bytes, std::align_val_t{alignment}));
    const std::size_t whole = (bytes + page - 1) / page * page;
    void* const memory = ::operator new (whole, std::align_val_t{page});
#if defined(__linux__) && defined(MADV_HUGEPAGE)
    madvise(memory, whole, MADV_HUGEPAGE);  // a failure leaves normal pages
#endif
    return static_cast<T*>(memory);
  }
  void deallocate(T* memory, std::size_t count) {
    ::operator delete (memory, std::align_val_t{is_large(count * sizeof(T)) ? page : alignment});
  }
  bool operator==(const LargePages&) const = default;

 private:
  static bool is_large(std::size_t bytes) { return bytes >= page; }
};

template <class T>
using LargeVector = std::vector<T, LargePages<T>>;

}  // namespace hushed::detail
