// SPDX-License-Identifier: MIT
// G5: no allocation in Scene::advance once the scene has been played for one frame.

#include <hushed/load.hpp>
#include <hushed/script.hpp>

#include "support/counting_allocator.hpp"
#include "support/demo.hpp"
#include "support/random_harbour.hpp"

namespace hushed::tests {
namespace {

TEST(G5NoAllocation, InAdvanceAfterTheFirstFrame) {
  for (const std::uint64_t seed : {1U, 2U, 3U, 4U, 5U}) {
    const RandomHarbour made{seed, 300, false};
    Scene harbour = made.build();
    harbour.advance(std::chrono::milliseconds{1});
    for (int moment = 0; moment < 12; ++moment) {
      made.call(harbour, moment);
      const long before = allocations();
      for (int frame = 0; frame < 10; ++frame) harbour.advance(std::chrono::milliseconds{16});
      ASSERT_EQ(allocations(), before) << "moment " << moment;
    }
  }
}

TEST(G5NoAllocation, WhereObjectsAreFed) {
  Scene harbour;
  std::vector<Object> buoys;
  for (int i = 0; i < 300; ++i) buoys.push_back(harbour.add({}));
  for (const Object buoy : buoys) harbour.give(buoy, Fed{});
  harbour.advance(std::chrono::milliseconds{1});
  for (int frame = 0; frame < 500; ++frame) {
    for (const Object buoy : buoys) harbour.feed(buoy, at(frame, 0, 0));
    if (frame % 50 == 0) harbour.restore(harbour.snapshot());
    const long before = allocations();
    harbour.advance(std::chrono::milliseconds{7});
    ASSERT_EQ(allocations(), before) << frame;
    ASSERT_EQ(harbour.world(buoys[17]).position.x(), frame);
  }
}

TEST(G5NoAllocation, InScripts) {
  Kinds kinds;
  add_scripts(kinds);
  Scene harbour = std::move(read_scene_file(SCRIPTS "/scripts.toml", {.kinds = &kinds}).scene);
  harbour.advance(std::chrono::milliseconds{20});  // its first tick
  const long before = allocations();
  for (int frame = 0; frame < 300; ++frame) harbour.advance(std::chrono::milliseconds{16});  // until a rule fires
  EXPECT_EQ(allocations(), before);
}

TEST(G5NoAllocation, OnSeveralThreads) {
  const RandomHarbour made{3, 1000, false, 16};
  Scene harbour = made.build();
  harbour.set_threads(3);
  for (int frame = 0; frame < 20; ++frame) harbour.advance(std::chrono::milliseconds{16});  // the pool fills its caches
  const long before = allocations();
  for (int frame = 0; frame < 50; ++frame) harbour.advance(std::chrono::milliseconds{16});
  EXPECT_EQ(allocations(), before);
}

TEST(G5NoAllocation, IsCountedByThisTest) {
  const long before = allocations();
  Scene harbour;
  harbour.add({});
  EXPECT_GT(allocations(), before);
}

TEST(G5NoAllocation, InTheDemo) {
  Scene harbour = demo();
  harbour.advance(std::chrono::milliseconds{1});
  const long before = allocations();
  for (int frame = 0; frame < 600; ++frame) harbour.advance(std::chrono::milliseconds{16});
  EXPECT_EQ(allocations(), before);
}

}  // namespace
}  // namespace hushed::tests
