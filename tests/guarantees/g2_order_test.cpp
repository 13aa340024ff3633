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

/// One scene takes every change into its layout; the other's layout is computed anew after each.
RC_GTEST_PROP(G2Order, IsNotChangedByObjectsThatComeAndGo, (std::uint64_t seed, bool with_rules)) {
  const RandomHarbour made{seed, 12, with_rules};
  Scene one = made.build(), other = made.build();
  one.set_threads(1 + static_cast<int>(seed % 2));
  std::mt19937_64 random{seed}, random_of_other{seed};
  std::vector<Snapshot> snapshots, snapshots_of_other;
  for (int i = 0; i < 80; ++i) {
    made.upset(one, random, snapshots);
    made.upset(other, random_of_other, snapshots_of_other);
    other.set_threads(2 - i % 2);
    const std::chrono::milliseconds step{1 + random() % 30};
    random_of_other();
    one.advance(step);
    other.advance(step);
    RC_ASSERT(same_bits(made.poses_in_order_of_handles(one), made.poses_in_order_of_handles(other)));
    RC_ASSERT(one.events().size() == other.events().size());
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
