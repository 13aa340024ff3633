// SPDX-License-Identifier: MIT
// Starting, stopping, fading and changing, compared with the documentation.

#include <hushed/hushed.hpp>

#include <gtest/gtest.h>

#include <cmath>

#include "support/own_behaviours.hpp"

namespace hushed {
namespace {

using namespace std::chrono_literals;
using tests::Above;
using tests::Bob;
using tests::Chase;

const Travel to_the_east{.velocity = {1, 0, 0}};

TEST(Starting, WaitsUntilItIsStartedAndThenForItsDelay) {
  Scene harbour;
  const Object boat = harbour.add({});
  const auto sailing = harbour.give(boat, to_the_east, {.enabled = false, .delay = 500ms});
  harbour.advance(3s);
  EXPECT_EQ(harbour.world(boat).position.x(), 0.0);
  EXPECT_FALSE(harbour.running(sailing));
  harbour.start(sailing);
  EXPECT_TRUE(harbour.running(sailing));
  harbour.advance(2s);
  EXPECT_EQ(harbour.world(boat).position.x(), 1.5);
}

TEST(Starting, CountsAsRunningDuringItsDelaySoThatAToggleStopsIt) {
  Scene harbour;
  const Object boat = harbour.add({.name = "boat"});
  const auto sailing = harbour.give(boat, to_the_east, {.delay = 1s});
  harbour.when(running("boat.travel")).called("sails").then(raise("sails"));
  harbour.advance(500ms);
  EXPECT_EQ(harbour.report("sails").fired, 1);
  harbour.toggle(sailing);
  EXPECT_FALSE(harbour.running(sailing));
  harbour.advance(5s);
  EXPECT_EQ(harbour.world(boat).position.x(), 0.0);
}

TEST(Starting, KeepsItsFadeWhereItIsStartedOrStoppedTwice) {
  Scene once, twice;
  for (Scene* const harbour : {&once, &twice}) {
    const Object boat = harbour->add({});
    const auto sailing = harbour->give(boat, to_the_east, {.fade = 1s});
    harbour->advance(3s);
    harbour->stop(sailing);
    for (int i = 0; i < 8; ++i) {
      harbour->advance(100ms);
      if (harbour == &twice) harbour->stop(sailing);
    }
    harbour->advance(1s);
    EXPECT_EQ(harbour->world(boat).position.x(), 0.0);
    harbour->start(sailing);
    harbour->advance(400ms);
    if (harbour == &twice) harbour->start(sailing);
    harbour->advance(400ms);
  }
  EXPECT_EQ(once.world(once.objects()[0]).position, twice.world(twice.objects()[0]).position);
}

TEST(Starting, CountsATunedDelayFromItsBeginning) {
  for (const bool is_tuned : {false, true}) {
    Scene harbour;
    const Object hook = harbour.add({.rest = at(1, 0, 0)});
    const auto swing = harbour.give(hook, Spring{.target = Vec3{0, 0, 0}}, {.delay = is_tuned ? 1ms : 2ms});
    harbour.advance(Time{1});
    harbour.tune_common(swing)->delay = 2ms;
    harbour.advance(8ms);  // within the first tick
    EXPECT_EQ(harbour.world(hook).position.x(), 1.0);
    harbour.advance(3ms);
    EXPECT_LT(harbour.world(hook).position.x(), 1.0) << is_tuned;
  }
}

TEST(Starting, CancelsAStartThatIsStoppedDuringItsDelay) {
  Scene harbour;
  const Object boat = harbour.add({});
  const auto sailing = harbour.give(boat, to_the_east, {.delay = 1s});
  harbour.advance(500ms);
  harbour.stop(sailing);
  harbour.advance(5s);
  EXPECT_EQ(harbour.world(boat).position.x(), 0.0);
}

TEST(Starting, HasNotBegunWhereItIsStoppedBeforeTheFirstFrame) {
  Scene harbour;
  const Object boat = harbour.add({.name = "boat"});
  harbour.give(boat, Bob{2.0});
  harbour.set("boat.bob.enabled", Value{false});
  harbour.advance(1s);
  EXPECT_EQ(harbour.world(boat).position.y(), 0.0);
}

TEST(Starting, StartsAtOnceWhereItsDelayIsCutShort) {
  for (const double delay : {0.0, 1.0, 3.0}) {
    Scene harbour;
    const Object boat = harbour.add({});
    const auto sailing = harbour.give(boat, to_the_east, {.delay = 5s});
    const auto bobbing = harbour.give(boat, Bob{2.0}, {.delay = 5s});
    harbour.advance(2s);
    harbour.tune_common(sailing)->delay = seconds(delay);
    harbour.tune_common(bobbing)->delay = seconds(delay);
    EXPECT_EQ(harbour.world(boat).position, Vec3(0, 0, 0));
    harbour.advance(4s);
    const double since = 6.0 - std::max(delay, 2.0);
    EXPECT_NEAR((harbour.world(boat).position - Vec3(since, 2 * std::cos(3 * since), 0)).norm(), 0.0, 1e-12);
  }
}

TEST(Starting, BeginsAtTheFirstTickForBehavioursWithState) {
  Scene harbour{10.0};
  const Object mark = harbour.add({.rest = at(8, 0, 0)}), tug = harbour.add({});
  harbour.give(tug, Chase{mark, 0.1}, {.delay = 250ms});  // between the ticks at 0.2 and 0.3 s
  harbour.advance(300ms);
  EXPECT_EQ(harbour.world(tug).position.x(), 0.0);
  harbour.advance(100ms);
  EXPECT_NEAR(harbour.world(tug).position.x(), 4.0, 1e-15);
}

TEST(Starting, StartsAtTheMomentItIsGivenTo) {
  Scene harbour;
  const Object boat = harbour.add({});
  harbour.advance(2s);
  harbour.give(boat, to_the_east);
  harbour.give(boat, Spin{.speed = degrees(10)}, {.name = "turning"});
  harbour.advance(3s);
  EXPECT_EQ(harbour.world(boat).position.x(), 3.0);
  EXPECT_NEAR(pitch_yaw_roll(harbour.world(boat).rotation).yaw.in_degrees(), 30.0, 1e-13);
}

TEST(Starting, BridgesADifferenceBySmoothstepInAQuarterOfASecond) {
  Scene harbour;
  const Object boat = harbour.add({});
  harbour.give(boat, Bob{1.0}, {.delay = 1s});  // starts 1 m up
  harbour.advance(1s);
  for (const double part : {0.25, 0.5, 0.75, 1.0, 2.0}) {
    harbour.advance(seconds(1.0 + 0.25 * part) - harbour.time());
    const double x = std::min(part, 1.0);
    const double left = 1.0 - x * x * (3.0 - 2.0 * x);
    EXPECT_NEAR(harbour.world(boat).position.y(), std::cos(3.0 * 0.25 * part) - left, 1e-15) << part;
  }
}

TEST(Starting, BridgesARotationTheShortestWay) {
  Scene harbour;
  const Object lamp = harbour.add({});
  const auto turning = harbour.give(lamp, Spin{.speed = degrees(0)});
  harbour.advance(1s);
  harbour.tune(turning)->velocity = Vec3{0, 0, 0};
  harbour.restart(turning);
  harbour.tune_common(turning)->weight = 0.5;
  EXPECT_NEAR(harbour.world(lamp).rotation.angularDistance(Quat::Identity()), 0.0, 1e-12);

  Scene quay;
  const Object crane = quay.add({});
  const auto swinging = quay.give(crane, Spin{.speed = degrees(100)});
  quay.advance(3s);  // 300 degrees: 60 the other way
  quay.restart(swinging);
  quay.advance(125ms);  // half of the bridge, and 12.5 degrees of the turn
  EXPECT_NEAR(pitch_yaw_roll(quay.world(crane).rotation).yaw.in_degrees(), 12.5 - 30.0, 1e-12);
}

TEST(Starting, HoldsABehaviourWithStateWhereItIs) {
  Scene harbour;
  const Object ferry = harbour.add({}), tug = harbour.add({.rest = at(-5, 0, 0)});
  harbour.give(ferry, to_the_east);
  const auto chasing = harbour.give(tug, Chase{ferry});
  harbour.advance(2s);
  const Vec3 place = harbour.world(tug).position;
  harbour.stop(chasing);
  harbour.advance(1234ms);
  EXPECT_EQ(harbour.world(tug).position, place);
  harbour.start(chasing);
  EXPECT_NEAR((harbour.world(tug).position - place).norm(), 0.0, 1e-12);
  harbour.advance(20s);
  // A chase trails its leader by speed * half-life / ln 2, on average over a tick.
  EXPECT_NEAR(harbour.world(ferry).position.x() - harbour.world(tug).position.x(), 0.3 / std::log(2.0), 0.01);
}

TEST(Changing, MixesRotationsAlongTheShortestArc) {
  Scene harbour;
  const Object lamp = harbour.add({});
  const auto turning = harbour.give(lamp, Spin{.speed = degrees(80)}, {.weight = 0.25});
  harbour.advance(1s);
  EXPECT_NEAR(pitch_yaw_roll(harbour.world(lamp).rotation).yaw.in_degrees(), 20.0, 1e-12);
  harbour.advance(2s);  // 240 degrees is 120 the other way
  EXPECT_NEAR(pitch_yaw_roll(harbour.world(lamp).rotation).yaw.in_degrees(), -30.0, 1e-12);
  harbour.tune_common(turning)->weight = 1.0;
  EXPECT_NEAR(pitch_yaw_roll(harbour.world(lamp).rotation).yaw.in_degrees(), -30.0, 1e-9);
  harbour.advance(1s);
  EXPECT_NEAR(pitch_yaw_roll(harbour.world(lamp).rotation).yaw.in_degrees(), -40.0, 1e-12);
}

TEST(Changing, ChangesNothingWhereAValueIsRefused) {
  Scene harbour;
  const Object lamp = harbour.add({.name = "lamp"});
  const auto turning = harbour.give(lamp, Spin{.speed = degrees(40)});
  harbour.advance(1s);
  EXPECT_THROW(harbour.tune(turning)->axis = Vec3{Vec3::Zero()}, BadValue);
  EXPECT_THROW(harbour.tune_common(turning)->weight = 1.5, BadValue);
  EXPECT_THROW(harbour.tune_common(turning)->name = "other", BadValue);
  EXPECT_THROW(
      {
        auto changing = harbour.tune(turning);  // both together, at the end of the scope
        changing->speed = degrees(10);
        changing->axis = Vec3::Zero();
      },
      BadValue);
  EXPECT_EQ(harbour.values(turning).speed.in_degrees(), 40.0);
  EXPECT_EQ(harbour.common(turning).weight, 1.0);
  harbour.advance(1s);
  EXPECT_NEAR(pitch_yaw_roll(harbour.world(lamp).rotation).yaw.in_degrees(), 80.0, 1e-12);
}

TEST(Changing, StartsAndStopsByItsEnabledValue) {
  Scene harbour;
  const Object boat = harbour.add({.name = "boat"});
  harbour.give(boat, to_the_east);
  harbour.advance(1s);
  harbour.set("boat.travel.enabled", Value{false});
  harbour.advance(1s);
  EXPECT_EQ(harbour.world(boat).position.x(), 1.0);
  harbour.set("boat.travel.enabled", Value{true});
  harbour.advance(1s);
  EXPECT_EQ(harbour.world(boat).position.x(), 2.0);
}

TEST(Changing, ReadsAnotherTargetWithoutAJumpAndRefusesACycle) {
  Scene harbour;
  const Object ferry = harbour.add({.name = "ferry"}), cutter = harbour.add({.name = "cutter", .rest = at(0, 0, 9)});
  const Object tug = harbour.add({.name = "tug"}), lookout = harbour.add({.name = "lookout", .parent = tug});
  harbour.give(ferry, to_the_east);
  const auto above = harbour.give(tug, Above{ferry});
  harbour.advance(1s);
  EXPECT_THROW(harbour.tune(above)->below = lookout, DependencyCycle);
  EXPECT_EQ(harbour.values(above).below, ferry);
  harbour.tune(above)->below = cutter;
  EXPECT_NEAR((harbour.world(tug).position - Vec3(1, 2, 0)).norm(), 0.0, 1e-12);
  harbour.advance(1s);
  EXPECT_EQ(harbour.world(tug).position, Vec3(0, 2, 9));
}

TEST(Changing, KeepsHandlesValidWhenObjectsAreAdded) {
  Scene harbour;
  std::vector<Object> boats;
  std::vector<Behaviour<Travel>> sailing;
  for (int i = 0; i < 200; ++i) {
    boats.push_back(harbour.add({.parent = i % 5 ? std::optional{boats.back()} : std::nullopt}));
    sailing.push_back(harbour.give(boats.back(), to_the_east));
    harbour.advance(10ms);
  }
  for (std::size_t i = 0; i < boats.size(); i += 25) harbour.stop(sailing[i]);
  harbour.advance(1s);
  for (std::size_t i = 0; i < boats.size(); ++i) {
    // Boat i sails from 10 ms * i on; every twenty-fifth has stopped after 2 s.
    const double sails = (i % 25 == 0 ? 2.0 : 3.0) - 0.01 * static_cast<double>(i);
    ASSERT_NEAR(harbour.local(boats[i]).position.x(), sails, 1e-12) << i;
  }
}

TEST(Layout, FollowsAChainOfAThousandAcrossChunks) {
  Scene harbour;
  Object leader = harbour.add({});
  harbour.give(leader, to_the_east);
  for (int i = 0; i < 1000; ++i) {
    const Object follower = harbour.add({});
    harbour.give(follower, Above{leader, 1.0});
    leader = follower;
  }
  for (int i = 0; i < 20'000; ++i) harbour.add({.parent = leader, .rest = at(0, 0, i)});
  harbour.advance(2s);
  EXPECT_EQ(harbour.world(leader).position, Vec3(2, 1000, 0));
  for (const Object object : harbour.objects())
    if (harbour.parent(object)) {
      ASSERT_EQ(harbour.world(object).position, harbour.rest(object).position + Vec3(2, 1000, 0));
    }
}

}  // namespace
}  // namespace hushed
