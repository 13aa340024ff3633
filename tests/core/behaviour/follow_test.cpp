// SPDX-License-Identifier: MIT
#include <gtest/gtest.h>

#include <cmath>

#include <hushed/hushed.hpp>

#include "support/refusal.hpp"

namespace hushed {
namespace {

using namespace std::chrono_literals;

/// A parent that moves, turns and is scaled.
Object restless(Scene& harbour) {
  const Object ship = harbour.add({.rest = {{1, 2, 3}, rotation(axis::right, degrees(25)), {2, 1.5, 0.5}}});
  harbour.give(ship, Orbit{.centre = {0, 0, 0}, .radius = 5.0, .speed = degrees(70), .face = OrbitFacing::travel});
  harbour.give(ship, Sway{.channel = Channel::scale, .amplitude = {0.3, 0.1, 0.2}, .frequency = 0.7});
  return ship;
}

TEST(Follow, ReachesItsGoalInTheWorldUnderAnyParent) {
  Scene harbour;
  const Object tug = harbour.add({.parent = restless(harbour)}), boat = harbour.add({.parent = tug});
  const Object ferry = harbour.add({.rest = at(3, 1, 4)});  // declared after its followers
  harbour.give(ferry, Orbit{.centre = {0, 1, 0}, .radius = 9.0, .speed = degrees(130), .face = OrbitFacing::travel});
  const Vec3 offset{1, 2, -3};
  harbour.give(tug, Follow{.target = ferry, .offset = offset});
  harbour.give(boat, Follow{.target = ferry,
                            .offset = offset,
                            .offset_space = Space::target,
                            .channels = {Channel::position, Channel::rotation}});
  for (int i = 0; i < 50; ++i) {
    const Pose leader = harbour.world(ferry);
    EXPECT_LE((harbour.world(tug).position - (leader.position + offset)).norm(), 1e-12);
    EXPECT_LE((harbour.world(boat).position - (leader.position + leader.rotation * offset)).norm(), 1e-12);
    EXPECT_NEAR(std::abs(harbour.world(boat).rotation.dot(leader.rotation)), 1, 1e-12);
    harbour.advance(47ms);
  }
}

TEST(Follow, KeepsTheOffsetThatItHasWhenItStarts) {
  Scene harbour;
  const Object ferry = harbour.add({.rest = at(1, 0, 0)}), tug = harbour.add({.rest = at(4, 5, 6)});
  harbour.give(ferry, Travel{.velocity = {2, 0, 0}});
  harbour.give(tug, Follow{.target = ferry}, {.delay = 1s});
  harbour.advance(7s);
  EXPECT_NEAR((harbour.world(tug).position - harbour.world(ferry).position - Vec3{1, 5, 6}).norm(), 0, 1e-12);
}

TEST(Follow, IsNeverAFrameLateInAChainOfAThousand) {
  Scene harbour;
  const Object first = harbour.add({});
  harbour.give(first, Orbit{.radius = 30.0, .speed = degrees(200)});
  Object last = first;
  for (int i = 0; i < 1000; ++i) {
    const Object next = harbour.add({});
    harbour.give(next, Follow{.target = last, .offset = Vec3{0, 0.5, 0}});
    last = next;
  }
  for (int i = 0; i < 5; ++i) {
    harbour.advance(61ms);
    EXPECT_LE((harbour.world(last).position - harbour.world(first).position - Vec3{0, 500, 0}).norm(), 1e-9);
  }
}

TEST(Follow, RefusesACycleUnlessAMemberReadsTheLastTick) {
  Scene harbour;
  const Object a = harbour.add({.name = "a"}), b = harbour.add({.name = "b", .rest = at(1, 0, 0)});
  const Object c = harbour.add({.name = "c", .rest = at(2, 0, 0)});
  harbour.give(b, Follow{.target = a});
  harbour.give(c, Follow{.target = b});
  try {
    harbour.give(a, Follow{.target = c});
    ADD_FAILURE() << "a circle was accepted";
  } catch (const DependencyCycle& circle) {
    const std::string text = circle.what();
    for (const char* name : {"a", "b", "c"}) EXPECT_NE(text.find(name), text.npos);
  }
  harbour.give(a, Follow{.target = c}, {.reads = Reads::last_tick});
  harbour.give(a, Travel{.velocity = {1, 0, 0}});
  harbour.advance(100ms);
  EXPECT_NEAR(harbour.world(c).position.x() - harbour.world(a).position.x(), 2, 1e-12);
}

TEST(Follow, HalvesItsDistanceAfterEachHalfLifeAndTrailsByItsSpeed) {
  Scene harbour;
  const Object ferry = harbour.add({}), tug = harbour.add({.rest = at(8, 0, 0)});
  harbour.give(tug, Follow{.target = ferry, .offset = Vec3{0, 0, 0}, .half_life = 700ms});
  for (double expected = 8; expected > 0.01; expected /= 2, harbour.advance(700ms))
    EXPECT_NEAR(harbour.world(tug).position.x(), expected, 1e-12);
  harbour.give(ferry, Travel{.velocity = {0, 0, 3}});
  harbour.advance(30s);
  EXPECT_NEAR(harbour.world(ferry).position.z() - harbour.world(tug).position.z(), 3 * 0.7 / std::log(2.0), 1e-9);
}

TEST(Follow, IsNotFasterThanItsLimit) {
  Scene harbour;
  const Object ferry = harbour.add({.rest = at(10, 0, 0)}), tug = harbour.add({});
  harbour.give(tug, Follow{.target = ferry, .offset = Vec3{0, 0, 0}, .max_speed = 2});
  harbour.advance(4100ms);
  EXPECT_NEAR(harbour.world(tug).position.x(), 8.2, 1e-12);
  harbour.advance(2s);
  EXPECT_EQ(harbour.world(tug).position.x(), 10);
}

TEST(Follow, StaysInItsBandAndBacksAway) {
  Scene harbour;
  const Object ferry = harbour.add({}), tug = harbour.add({.rest = at(6, 0, 0)});
  const auto going = harbour.give(ferry, Travel{.velocity = {1, 0, 0}});
  harbour.give(tug, Follow{.target = ferry, .min_distance = 4, .max_distance = 9});
  harbour.advance(1s);
  EXPECT_EQ(harbour.world(tug).position, Vec3(6, 0, 0));  // between the two it stays
  harbour.advance(9s);
  EXPECT_NEAR(harbour.world(tug).position.x(), 14, 1e-12);  // pushed before it
  harbour.tune(going)->velocity = {-2, 0, 0};
  harbour.advance(10s);
  EXPECT_NEAR(harbour.world(tug).position.x() - harbour.world(ferry).position.x(), 9, 1e-9);
  EXPECT_LT(harbour.world(tug).position.x(), 1);

  Scene other;  // right on top of it: behind it, then
  const Object whale = other.add({.rest = at(0, 0, 0).with_rotation(rotation(axis::up, degrees(90)))}),
               calf = other.add({});
  other.give(calf, Follow{.target = whale, .min_distance = 2});
  EXPECT_LE((other.world(calf).position - Vec3{-2, 0, 0}).norm(), 1e-12);
}

TEST(Follow, GoesWhereTheTargetWasBefore) {
  Scene harbour;
  const Object ferry = harbour.add({}), tug = harbour.add({}), ghost = harbour.add({});
  harbour.give(ferry, Orbit{.radius = 10.0, .speed = degrees(20)});
  harbour.give(ghost, Orbit{.radius = 10.0, .speed = degrees(20), .start = degrees(-20 * 1.5)});
  harbour.give(tug, Follow{.target = ferry, .offset = Vec3{0, 0, 0}, .trail = 1500ms});
  harbour.advance(1s);
  EXPECT_LE((harbour.world(tug).position - Vec3{10, 0, 0}).norm(), 1e-12);  // it was nowhere else before
  for (int i = 0; i < 20; ++i) {
    harbour.advance(533ms);  // between ticks it is on the chord: r (1 - cos(angle of half a tick))
    EXPECT_LE((harbour.world(tug).position - harbour.world(ghost).position).norm(), 1.1e-5);
  }
}

TEST(Follow, LetsTheTargetMoveWithinItsDeadZone) {
  Scene harbour;
  const Object ferry = harbour.add({}), tug = harbour.add({});
  harbour.give(ferry, Travel{.velocity = {1, 0, 0}});
  harbour.give(tug, Follow{.target = ferry, .deadzone = 1.5});
  harbour.advance(1400ms);
  EXPECT_EQ(harbour.world(tug).position.x(), 0);
  harbour.advance(3s);
  EXPECT_NEAR(harbour.world(tug).position.x(), 4.4 - 1.5, 1e-12);
}

TEST(Follow, HoldsItsPoseWhenTheTargetIsLostAndContinuesWithoutAJump) {
  Scene harbour;
  const Object ferry = harbour.add({.name = "ferry"}), tug = harbour.add({.name = "tug", .rest = at(0, 0, 5)});
  const Object barge = harbour.add({.name = "barge", .rest = at(-4, 0, 0)});
  harbour.give(ferry, Travel{.velocity = {2, 0, 0}});
  const auto following = harbour.give(tug, Follow{.target = ferry, .half_life = 400ms});
  harbour.advance(3s);
  harbour.hide(ferry);
  const Vec3 held = harbour.world(tug).position;
  harbour.advance(2s);
  EXPECT_EQ(harbour.world(tug).position, held);
  ASSERT_EQ(harbour.events().size(), 1u);
  EXPECT_EQ(harbour.describe(harbour.events()[0]), "tug.follow lost ferry");
  const auto goes_on = [&] {
    EXPECT_EQ(harbour.world(tug).position, held);
    harbour.advance(1ms);
    EXPECT_LE((harbour.world(tug).position - held).norm(), 0.1);
  };
  harbour.show(ferry);
  goes_on();
  harbour.advance(60s);
  EXPECT_NEAR(harbour.world(ferry).position.x() - harbour.world(tug).position.x(), 2 * 0.4 / std::log(2.0), 1e-9);
  harbour.end(ferry);
  const Vec3 end = harbour.world(tug).position;
  harbour.advance(1s);
  EXPECT_EQ(harbour.world(tug).position, end);
  harbour.tune(following)->target = barge;
  EXPECT_EQ(harbour.world(tug).position, end);
  harbour.advance(30s);
  EXPECT_LE((harbour.world(tug).position - Vec3{-4, 0, 5}).norm(), 1e-12);
}

TEST(Follow, RefusesContradictoryValues) {
  Scene harbour;
  const Object tug = harbour.add({.name = "tug"}), ferry = harbour.add({.name = "ferry"});
  const auto refused = [&](const Follow& follow) { return tests::refusal(harbour, tug, follow); };
  EXPECT_EQ(refused({}), "tug.follow: target: missing; give the name of an object.");
  EXPECT_EQ(refused({.target = ferry, .min_distance = 5, .max_distance = 4}),
            "tug.follow: min_distance: 5 is greater than max_distance, 4; give the smaller one as min_distance.");
  EXPECT_EQ(refused({.target = ferry, .trail = 61s}), "tug.follow: trail: more than a minute; give 60 s or less.");
  EXPECT_EQ(refused({.target = ferry, .channels = {}}),
            "tug.follow: channels: the list is empty; give one or more of \"position\", \"rotation\" and \"scale\".");
}

TEST(Follow, HoldsItsPoseAndReportsWhereItsNewTargetIsHidden) {
  Scene harbour;
  const Object ferry = harbour.add({.name = "ferry"}), ghost = harbour.add({.name = "ghost", .rest = at(0, 0, 30)});
  const Object tug = harbour.add({.name = "tug", .rest = at(0, 0, -5)});
  const auto following = harbour.give(tug, Follow{.target = ferry, .half_life = 200ms});
  harbour.advance(1s);
  harbour.hide(ghost);
  const Vec3 before = harbour.world(tug).position;
  harbour.retarget(following, ghost);
  harbour.advance(1s);
  EXPECT_EQ(harbour.world(tug).position, before);
  ASSERT_EQ(harbour.events().size(), 1U);
  EXPECT_EQ(harbour.events()[0].name, "lost");
  EXPECT_EQ(harbour.events()[0].other, ghost);
  harbour.show(ghost);
  harbour.advance(Time{1});
  EXPECT_NEAR((harbour.world(tug).position - before).norm(), 0.0, 1e-6);
  harbour.advance(5s);
  EXPECT_GT(harbour.world(tug).position.z(), 20.0);
}

}  // namespace
}  // namespace hushed
