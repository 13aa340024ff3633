// SPDX-License-Identifier: MIT
#include <gtest/gtest.h>

#include <cmath>
#include <random>

#include <hushed/hushed.hpp>

#include "support/refusal.hpp"

namespace hushed {
namespace {

using namespace std::chrono_literals;

/// A swing bridge with a pose called "open": 3 m up and turned by 80 degrees.
struct Bridge {
  Scene harbour;
  Object bridge = harbour.add(
      {.name = "bridge",
       .rest = at(1, 0, 0),
       .poses = {{.name = "open", .position = Vec3{1, 3, 0}, .rotation = rotation(axis::forward, degrees(80))}}});

  double height() const { return harbour.world(bridge).position.y(); }
  double angle() const { return pitch_yaw_roll(harbour.world(bridge).rotation).roll.in_degrees(); }
};

TEST(Glide, BringsAllPartsOfANamedPoseThereTogether) {
  Bridge made;
  const Easing easing = Easing::parse("out-back");
  made.harbour.give(made.bridge, Glide{.to = {{.name = "open"}}, .duration = 2s, .easing = easing});
  for (int i = 0; i <= 30; ++i) {
    const double share = easing(i / 20.0);
    EXPECT_NEAR(made.height(), 3 * share, 1e-14);
    EXPECT_NEAR(made.angle(), 80 * share, 1e-12);
    EXPECT_EQ(made.harbour.world(made.bridge).position.x(), 1.0);
    made.harbour.advance(100ms);
  }
  EXPECT_EQ(made.height(), 3.0);
}

TEST(Glide, IsAPalindromeInTimeWhenItReturnsAlongASymmetricCurve) {
  Bridge made;
  made.harbour.give(made.bridge, Glide{.by = {{.position = Vec3{0, 5, 0}}},
                                       .duration = 700ms,
                                       .easing = Easing::parse("in-out-cubic"),
                                       .ends = GlideEnds::come_back,
                                       .pause = 200ms});
  std::vector<double> heights;
  for (int i = 0; i <= 180; ++i) {  // one period of 1.8 s in hundredths
    heights.push_back(made.height());
    made.harbour.advance(10ms);
  }
  for (int i = 0; i <= 160; ++i)
    EXPECT_NEAR(heights[static_cast<std::size_t>(i)], heights[static_cast<std::size_t>(160 - i)], 1e-13);
  EXPECT_EQ(heights[70], 5.0);
  EXPECT_EQ(heights[90], 5.0);
  EXPECT_NEAR(heights[160], 0.0, 1e-15);
  EXPECT_NEAR(heights[180], 0.0, 1e-15);
  const Vec3 now = made.harbour.world(made.bridge).position;
  made.harbour.advance(1800ms * 1'000'000);  // three weeks later
  EXPECT_LE((made.harbour.world(made.bridge).position - now).norm(), 1e-9);
}

TEST(Glide, RepeatsWithPauses) {
  Bridge made;
  made.harbour.give(made.bridge,
                    Glide{.to = {{.position = Vec3{1, 4, 0}}}, .speed = 2.0, .ends = GlideEnds::repeat, .pause = 1s});
  for (const double expected : {0, 1, 2, 3, 4, 4, 0, 1, 2, 3, 4, 4, 0, 1}) {  // at half seconds; at 3 s anew
    EXPECT_NEAR(made.height(), expected, 1e-12);
    made.harbour.advance(500ms);
  }
}

TEST(Glide, TakesItsDurationFromItsTurnSpeed) {
  Bridge made;
  made.harbour.give(made.bridge, Glide{.to = {{.name = "open"}}, .turn_speed = degrees(20)});
  made.harbour.advance(1s);
  EXPECT_NEAR(made.angle(), 20, 1e-12);
  EXPECT_NEAR(made.height(), 0.75, 1e-13);
}

TEST(Glide, IsAtTheEndAtOnceWhereTheDistanceIsZero) {
  for (const Glide& glide :
       {Glide{.to = {{.rotation = rotation(axis::up, degrees(9))}}, .speed = 3.0},
        Glide{.to = {{.rotation = rotation(axis::up, degrees(9))}}, .duration = 0s},
        Glide{.to = {{.rotation = rotation(axis::up, degrees(9))}}, .duration = 0s, .ends = GlideEnds::repeat}}) {
    Bridge made;
    made.harbour.give(made.bridge, glide);
    EXPECT_NEAR(pitch_yaw_roll(made.harbour.world(made.bridge).rotation).yaw.in_degrees(), 9, 1e-13);
  }
  Bridge still;
  still.harbour.give(still.bridge, Glide{.to = {{.name = "open"}}, .speed = 0.0, .ends = GlideEnds::come_back});
  still.harbour.advance(1h);
  EXPECT_EQ(still.height(), 0.0);
}

TEST(Glide, ReversesFromWhereItIsInTheTimeOfTheRemainingDistance) {
  Bridge made;
  const auto lift = made.harbour.give(made.bridge, Glide{.to = {{.name = "open"}}, .duration = 4s}, {.enabled = false});
  made.harbour.advance(1s);
  EXPECT_EQ(made.height(), 0.0);
  made.harbour.toggle(lift);  // up
  made.harbour.advance(3s);
  EXPECT_NEAR(made.height(), 2.25, 1e-12);
  made.harbour.toggle(lift);  // down, three quarters of the way
  EXPECT_NEAR(made.height(), 2.25, 1e-12);
  made.harbour.advance(2s);
  EXPECT_NEAR(made.height(), 0.75, 1e-12);
  EXPECT_NEAR(made.angle(), 20, 1e-12);
  made.harbour.toggle(lift);  // up again
  made.harbour.advance(1s);
  EXPECT_NEAR(made.height(), 1.5, 1e-12);
  made.harbour.advance(5s);
  EXPECT_NEAR(made.height(), 3.0, 1e-15);
  made.harbour.toggle(lift);
  made.harbour.advance(4s);
  EXPECT_NEAR(made.height(), 0.0, 1e-15);
}

TEST(Glide, ContinuesFromWhereItIsToANewGoal) {
  Bridge made;
  const auto lift = made.harbour.give(made.bridge, Glide{.to = {{.name = "open"}}, .speed = 1.0});
  made.harbour.advance(2s);
  made.harbour.tune(lift)->to = PoseParts{.position = Vec3{1, -2, 0}};
  EXPECT_DOUBLE_EQ(made.height(), 2.0);
  made.harbour.advance(1s);
  EXPECT_DOUBLE_EQ(made.height(), 1.0);
  made.harbour.restart(lift);  // from where it is
  EXPECT_DOUBLE_EQ(made.height(), 1.0);
  made.harbour.advance(3s);
  EXPECT_NEAR(made.height(), -2.0, 1e-12);
}

TEST(Glide, KeepsItsPhaseWhenTheDurationChanges) {
  Bridge made;
  const auto lift = made.harbour.give(
      made.bridge, Glide{.to = {{.name = "open"}}, .duration = 4s, .ends = GlideEnds::come_back, .pause = 1s});
  made.harbour.advance(7s);  // half of the way back
  made.harbour.tune(lift)->duration = 1s;
  EXPECT_NEAR(made.height(), 1.5, 1e-14);
  made.harbour.advance(250ms);
  EXPECT_NEAR(made.height(), 0.75, 1e-13);
  made.harbour.advance(750ms);  // a quarter on the way, half a second of the pause
  EXPECT_NEAR(made.height(), 0.0, 1e-13);
  made.harbour.advance(1s);
  EXPECT_NEAR(made.height(), 1.5, 1e-13);
}

TEST(Glide, RefusesContradictoryValues) {
  Bridge made;
  const auto said = [&](const Glide& glide) { return tests::refusal(made.harbour, made.bridge, glide); };
  const PoseParts high{.position = Vec3{0, 9, 0}};
  EXPECT_EQ(said({.duration = 1s}), "bridge.glide: missing key; give \"to\" or \"by\".");
  EXPECT_EQ(said({.to = high}), "bridge.glide: missing key; give \"duration\", \"speed\" or \"turn_speed\".");
  EXPECT_EQ(said({.to = {{.name = "opn"}}, .duration = 1s}),
            "bridge.glide: to: the object has no pose \"opn\"; did you mean \"open\"?");
  EXPECT_EQ(said({.to = high, .from = {{.name = "open"}}, .duration = 1s}),
            "bridge.glide: from: it has a rotation, and to has none; give both, or neither.");
  EXPECT_EQ(said({.to = PoseParts{}, .duration = 1s}),
            "bridge.glide: to: the pose is empty; give a position, a rotation or a scale.");
  EXPECT_EQ(said({.to = high, .speed = -1.0}),
            "bridge.glide: speed: -1 is out of range; give a number from 0 to 1e9 (m/s).");
}

}  // namespace
}  // namespace hushed
