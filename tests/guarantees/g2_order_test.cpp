// SPDX-License-Identifier: MIT
// G2: the order in which objects are declared changes nothing, bit for bit.

#include "support/demo.hpp"
#include "support/random_harbour.hpp"

namespace hushed::tests {
namespace {

RC_GTEST_PROP(G2Order, ChangesNothing, (std::uint64_t seed, std::uint64_t order)) {
  const RandomHarbour made{seed};
  Scene one = made.build(), other = made.build(order | 1U);
  for (int moment = 0; moment < 10; ++moment) {
    RC_ASSERT(same_bits(made.poses(one), made.poses(other)));
    made.call(one, moment);
    made.call(other, moment);
    one.advance(RandomHarbour::moment(1));
    other.advance(RandomHarbour::moment(1));
  }
}

TEST(G2Order, ChangesNothingInALargeScene) {
  const RandomHarbour made{5, 6000};  // several chunks
  Scene one = made.build(), other = made.build(99);
  for (int frame = 0; frame < 4; ++frame) {
    one.advance(std::chrono::milliseconds{70});
    other.advance(std::chrono::milliseconds{70});
  }
  EXPECT_TRUE(same_bits(made.poses(one), made.poses(other)));
}

TEST(G2Order, ChangesNothingInTheDemo) {
  Scene one = demo(), other = demo_backwards();
  ASSERT_GT(one.size(), 4U);
  for (int frame = 0; frame < 300; ++frame) {
    one.advance(std::chrono::milliseconds{33});
    other.advance(std::chrono::milliseconds{33});
    ASSERT_TRUE(same_bits(poses_by_name(one), poses_by_name(other)));
  }
}

}  // namespace
}  // namespace hushed::tests
