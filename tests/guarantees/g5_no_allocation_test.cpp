// G5: no allocation in Scene::advance once the scene has been played for one frame.

#include <atomic>
#include <cstdlib>
#include <new>

#include "support/random_harbour.hpp"

namespace {
std::atomic<long> allocations{0};
}

void* operator new(std::size_t size) {
  ++allocations;
  if (void* memory = std::malloc(size)) return memory;
  throw std::bad_alloc{};
}
void* operator new(std::size_t size, std::align_val_t alignment) {
  ++allocations;
  const auto step = static_cast<std::size_t>(alignment);
  if (void* memory = std::aligned_alloc(step, (size + step - 1) / step * step)) return memory;
  throw std::bad_alloc{};
}
void operator delete(void* memory) noexcept { std::free(memory); }
void operator delete(void* memory, std::size_t) noexcept { std::free(memory); }
void operator delete(void* memory, std::align_val_t) noexcept { std::free(memory); }
void operator delete(void* memory, std::size_t, std::align_val_t) noexcept { std::free(memory); }

namespace hushed::tests {
namespace {

TEST(G5NoAllocation, InAdvanceAfterTheFirstFrame) {
  for (const std::uint64_t seed : {1U, 2U, 3U, 4U, 5U}) {
    const RandomHarbour made{seed, 300};
    Scene harbour = made.build();
    harbour.advance(std::chrono::milliseconds{1});
    for (int moment = 0; moment < 12; ++moment) {
      made.call(harbour, moment);
      const long before = allocations;
      for (int frame = 0; frame < 10; ++frame) harbour.advance(std::chrono::milliseconds{16});
      ASSERT_EQ(allocations, before) << "moment " << moment;
    }
  }
}

TEST(G5NoAllocation, IsCountedByThisTest) {
  const long before = allocations;
  Scene harbour;
  harbour.add({});
  EXPECT_GT(allocations, before);
}

}  // namespace
}  // namespace hushed::tests
