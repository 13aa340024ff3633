// SPDX-License-Identifier: MIT
// A crowd whose members all name the whole crowd: with twice as many objects, memory doubles and does not quadruple.
// Measured in allocated bytes, which do not depend on the speed of the machine.

#include <algorithm>
#include <vector>

#include <gtest/gtest.h>

#include <hushed/hushed.hpp>

#include "support/counting_allocator.hpp"

namespace hushed::tests {
namespace {

/// The bytes allocated to build a crowd, each member attracted by the nearest other, and to play it for a moment. Built
/// object by object, or first all objects and then their behaviours.
long bytes_for_crowd(int count, bool one_by_one) {
  const long before = bytes_allocated();
  Scene harbour;
  std::vector<Object> gulls;
  const auto draw = [&](Object gull) {
    harbour.give(gull, Attract{.to = Tagged{"gull"}, .within = 1.0, .speed = 1.0}, {.reads = Reads::last_tick});
  };
  for (int i = 0; i < count; ++i) {
    gulls.push_back(harbour.add({.tags = {"gull"}}));
    if (one_by_one) draw(gulls.back());
  }
  if (!one_by_one)
    for (const Object gull : gulls) draw(gull);
  harbour.advance(std::chrono::milliseconds{1});
  harbour.hide(gulls[0]);
  return bytes_allocated() - before;
}

TEST(Growth, OfACrowdThatIsAttractedByItself) {
  for (const bool one_by_one : {false, true})
    EXPECT_LT(bytes_for_crowd(1'000, one_by_one), 2.3 * static_cast<double>(bytes_for_crowd(500, one_by_one)));
}

/// The bytes allocated by a frame in which 17 lanterns of a scene end and 17 others are added.
long bytes_for_change(int count) {
  Scene harbour;
  const Object tide = harbour.add({});
  harbour.give(tide, Sway{.amplitude = {0, 1, 0}});
  std::vector<Object> lanterns;
  const auto add = [&] {
    lanterns.push_back(harbour.add({.parent = tide}));
    harbour.give(lanterns.back(), Spin{});
    harbour.give(lanterns.back(), Spring{.frequency = 2.0, .target = Place{Vec3{0, 1, 0}}});
  };
  for (int i = 0; i < count; ++i) add();
  harbour.advance(std::chrono::milliseconds{16});
  long least = bytes_allocated();
  for (std::size_t frame = 0; frame < 20; ++frame) {
    const long before = bytes_allocated();
    for (std::size_t i = 0; i < 17; ++i) {
      harbour.end(lanterns[17 * frame + i]);
      add();
    }
    harbour.advance(std::chrono::milliseconds{16});
    least = std::min(least, bytes_allocated() - before);  // in other frames, lists grow
  }
  return least;
}

TEST(Growth, OfAFrameInWhichObjectsEndAndAreAdded) { EXPECT_LT(bytes_for_change(20'000), 2 * bytes_for_change(5'000)); }

}  // namespace
}  // namespace hushed::tests
