// SPDX-License-Identifier: MIT
#include <gtest/gtest.h>

#include <cmath>

#include <hushed/hushed.hpp>

namespace hushed {
namespace {

using namespace std::chrono_literals;

TEST(Smooth, HalvesTheDistanceInEachHalfLifeAtAnyFrameRate) {
  Scene harbour;
  const Object boat = harbour.add({});
  const auto place = harbour.give(boat, Travel{.velocity = {1, 0, 0}});
  harbour.give(boat, Smooth{.half_life = 300ms});
  harbour.advance(2s);
  for (int i = 0; i < 20; ++i) {
    const double t = in_seconds(harbour.time()), lag = 0.3 / std::log(2.0);
    EXPECT_NEAR(harbour.world(boat).position.x(), t - lag * (1 - std::exp2(-t / 0.3)), 1e-12);
    harbour.advance(i % 2 ? 37ms : 13ms);  // to a tick at last, where the goal may stop
  }
  harbour.stop(place);
  const double end = in_seconds(harbour.time()), left = end - harbour.world(boat).position.x();
  for (int halves = 1; halves < 8; ++halves) {
    harbour.advance(300ms);
    EXPECT_NEAR(end - harbour.world(boat).position.x(), left * std::exp2(-halves), 1e-12);
  }
}

TEST(Smooth, TurnsTheShortestWayAtTheSameRate) {
  Scene harbour;
  const Object vane = harbour.add({.rest = {{0, 0, 0}, rotation(axis::up, degrees(170)), {1, 1, 1}}});
  const auto turn = harbour.give(vane, Glide{.to = {{.rotation = rotation(axis::up, degrees(-170))}}, .duration = 0s},
                                 {.enabled = false});
  harbour.give(vane, Smooth{.half_life = {0s, 200ms, 0s}});
  harbour.advance(1s);
  harbour.tune_common(turn)->fade = 0s;
  harbour.start(turn);
  harbour.advance(2s);
  const auto yaw = [&] { return pitch_yaw_roll(harbour.world(vane).rotation).yaw.in_degrees(); };
  EXPECT_LT(yaw(), -169.9);  // by way of 180, not of 0
  for (int i = 0; i < 200; ++i, harbour.advance(3ms)) EXPECT_GT(std::abs(yaw()), 169.9);
}

TEST(Smooth, ChangesOnlyPartsWithAHalfLifeAndTheParentsMotionOnlyInTheWorld) {
  Scene harbour;
  const Object ship = harbour.add({});
  harbour.give(ship, Travel{.velocity = {2, 0, 0}});
  const auto flag = [&](HalfLives times, Space space) {
    const Object made = harbour.add({.parent = ship, .rest = at(0, 3, 0)});
    harbour.give(made, Spin{.speed = degrees(33)});
    harbour.give(made, Smooth{.half_life = times, .space = space});
    return made;
  };
  const Object rides = flag({500ms, 0s, 0s}, Space::parent), lags = flag({500ms, 0s, 0s}, Space::world);
  harbour.advance(20s);
  EXPECT_NEAR(harbour.world(rides).position.x(), 40, 1e-12);
  EXPECT_NEAR(harbour.world(lags).position.x(), 40 - 2 * 0.5 / std::log(2.0), 1e-9);
  for (const Object one : {rides, lags})
    EXPECT_NEAR(std::abs(harbour.world(one).rotation.dot(rotation(axis::up, degrees(33 * 20)))), 1, 1e-12);
}

}  // namespace
}  // namespace hushed
