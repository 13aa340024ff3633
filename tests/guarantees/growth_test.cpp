// SPDX-License-Identifier: MIT
// Of twice as many objects, what names them all takes twice the memory and not four times: in bytes that are asked for,
// so that no machine is too slow for it.

#include <gtest/gtest.h>

#include <hushed/hushed.hpp>

#include "support/counting_allocator.hpp"

namespace hushed::tests {
namespace {

/// Bytes to build a crowd of so many, each drawn to the nearest of the others, and to play it for a moment. One after
/// another, or first all objects and then their behaviours.
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

TEST(Growth, OfACrowdThatIsDrawnToItself) {
  for (const bool one_by_one : {false, true})
    EXPECT_LT(bytes_for_crowd(1'000, one_by_one), 2.3 * static_cast<double>(bytes_for_crowd(500, one_by_one)));
}

}  // namespace
}  // namespace hushed::tests
