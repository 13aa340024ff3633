// SPDX-License-Identifier: MIT
// A crowd whose members all name the whole crowd: with twice as many objects, memory doubles and does not quadruple.
// Measured in allocated bytes, which do not depend on the speed of the machine.

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

}  // namespace
}  // namespace hushed::tests
