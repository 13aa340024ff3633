// SPDX-License-Identifier: MIT
// Rules process each event once and the program sees it once, wherever time goes in between.

#include <gtest/gtest.h>
#include <hushed/hushed.hpp>

namespace hushed {
namespace {

using namespace std::chrono_literals;

/// A scene whose rule "horn" fires for each "fog".
Scene harbour_with_a_horn() {
  Scene harbour;
  harbour.add({.name = "pier"});
  harbour.when(happened("fog")).called("horn").then(raise("blast"));
  harbour.advance(1s);
  return harbour;
}

std::int64_t blasts(const Scene& harbour) { return harbour.report("horn").fired; }

TEST(EventQueue, IsProcessedByRulesOnceWhereTimeGoesForward) {
  Scene harbour = harbour_with_a_horn();
  harbour.raise("fog");
  harbour.seek(seconds(2));
  harbour.advance(1s);
  EXPECT_EQ(blasts(harbour), 1);
}

TEST(EventQueue, IsNotProcessedBeforeItIsRaised) {
  Scene harbour = harbour_with_a_horn();
  harbour.advance(4s);
  harbour.raise("fog");
  harbour.seek(seconds(3));
  harbour.advance(1s);
  EXPECT_EQ(blasts(harbour), 0);
  EXPECT_TRUE(harbour.events().empty());
}

TEST(EventQueue, IsPartOfASnapshot) {
  Scene harbour = harbour_with_a_horn();
  const Snapshot before = harbour.snapshot();
  harbour.raise("fog");
  const Snapshot raised = harbour.snapshot();
  harbour.restore(before);
  harbour.advance(1s);
  EXPECT_EQ(blasts(harbour), 0);
  for (int i = 0; i < 2; ++i) {
    harbour.restore(raised);
    EXPECT_EQ(blasts(harbour), 0);
    harbour.advance(1s);
    EXPECT_EQ(blasts(harbour), 1);
    ASSERT_EQ(harbour.events().size(), 3U);  // fog, fired, blast
    EXPECT_EQ(harbour.events()[0].name, "fog");
  }
}

TEST(EventQueue, IsReplayedAsItWasPlayedWhereRulesRaise) {
  Scene harbour = harbour_with_a_horn();
  harbour.when(after(seconds(0.1))).at_every_tick().then(raise("fog"));
  harbour.advance(1s);
  const auto at_two = blasts(harbour);
  EXPECT_GT(at_two, 100);
  for (int i = 0; i < 20; ++i) {
    harbour.seek(seconds(1.2));
    harbour.seek(seconds(2.0));
    EXPECT_EQ(blasts(harbour), at_two);
  }
}

TEST(EventQueue, IsDeliveredToTheProgramOnceThoughTimeHasAdvanced) {
  Scene harbour = harbour_with_a_horn();
  int seen = 0;
  harbour.on("fog", [&](const Event&) { ++seen; });
  harbour.raise("fog");
  harbour.seek(seconds(2));
  EXPECT_EQ(seen, 0);
  harbour.advance(1s);
  harbour.advance(1s);
  EXPECT_EQ(seen, 1);
}

}  // namespace
}  // namespace hushed
