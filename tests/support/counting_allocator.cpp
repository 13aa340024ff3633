// SPDX-License-Identifier: MIT
#include "support/counting_allocator.hpp"

#include <atomic>
#include <cstdlib>
#include <new>

namespace {
std::atomic<long> count{0}, bytes{0};
}

namespace hushed::tests {
long allocations() { return count; }
long bytes_allocated() { return bytes; }
}  // namespace hushed::tests

void* operator new(std::size_t size, const std::nothrow_t&) noexcept {
  ++count;
  bytes += static_cast<long>(size);
  return std::malloc(size);
}
void* operator new(std::size_t size) {
  if (void* memory = operator new(size, std::nothrow)) return memory;
  throw std::bad_alloc{};
}
void* operator new[](std::size_t size) { return operator new(size); }
void* operator new(std::size_t size, std::align_val_t alignment) {
  ++count;
  bytes += static_cast<long>(size);
  const auto step = static_cast<std::size_t>(alignment);
  if (void* memory = std::aligned_alloc(step, (size + step - 1) / step * step)) return memory;
  throw std::bad_alloc{};
}
void operator delete(void* memory) noexcept { std::free(memory); }
void operator delete[](void* memory) noexcept { std::free(memory); }
void operator delete[](void* memory, std::size_t) noexcept { std::free(memory); }
void operator delete(void* memory, std::size_t) noexcept { std::free(memory); }
void operator delete(void* memory, std::align_val_t) noexcept { std::free(memory); }
void operator delete(void* memory, std::size_t, std::align_val_t) noexcept { std::free(memory); }
