// SPDX-License-Identifier: MIT
#include <gtest/gtest.h>

#include <cmath>
#include <random>

#include <hushed/hushed.hpp>

#include "support/integrator.hpp"
#include "support/refusal.hpp"

namespace hushed {
namespace {

using namespace std::chrono_literals;
using tests::Motion;

constexpr double pi = 3.141592653589793;

/// A spring at the origin whose goal starts at `goal` and moves at `speed`, after `length` seconds.
Motion solved(const Spring& spring, double goal, double speed, double length) {
  const long double omega = 2 * std::acos(-1.0L) * spring.frequency, damping = spring.damping;
  const double stiffness = static_cast<double>(omega) * (1 + spring.damping) * length;
  return tests::integrated({0, spring.velocity.x()}, length, static_cast<int>(4 * stiffness) + 4,
                           [&](long double t, const Motion& now) -> Motion {
                             const long double away = goal + speed * t - now[0];
                             return {now[1], omega * omega * away - 2 * damping * omega * now[1]};
                           });
}

TEST(Spring, AgreesWithAnIntegratorInAllRegimesOnAndBetweenTicks) {
  std::mt19937_64 random{5};
  std::uniform_real_distribution<double> part{0, 1};
  for (const double damping : {0.0, 0.1, 0.9, 1 - 1e-9, 1.0, 1 + 1e-7, 1.1, 3.0, 20.0}) {
    for (const double frequency : {0.0, 0.01, 0.7, 8.0, 90.0}) {
      const double goal = part(random) * 4, speed = part(random) * 2 - 1, length = 0.1 + part(random);
      Scene harbour;
      const Object leader = harbour.add({.rest = at(goal, 0, 0)}), buoy = harbour.add({});
      harbour.give(leader, Travel{.velocity = {speed, 0, 0}});
      const Spring spring{
          .frequency = frequency, .damping = damping, .target = leader, .velocity = {part(random), 0, 0}};
      harbour.give(buoy, spring);
      while (harbour.time() < seconds(length)) harbour.advance(std::min(seconds(length) - harbour.time(), Time{7ms}));
      const double truth = static_cast<double>(solved(spring, goal, speed, in_seconds(seconds(length)))[0]);
      EXPECT_NEAR(harbour.world(buoy).position.x(), truth, 2e-12) << frequency << " Hz, damping " << damping;
    }
  }
}

TEST(Spring, IsRightWhenItIsStiffAtACoarseTick) {
  Scene harbour;
  const Object buoy = harbour.add({});
  const Spring spring{.frequency = 1000, .damping = 0.002, .target = Vec3{1, 0, 0}};
  harbour.give(buoy, spring);
  for (int i = 0; i < 20; ++i) {
    harbour.advance(3ms);
    const double truth = static_cast<double>(solved(spring, 1, 0, in_seconds(harbour.time()))[0]);
    EXPECT_NEAR(harbour.world(buoy).position.x(), truth, 1e-10);
  }
}

TEST(Spring, KeepsItsEnergyForAnHourWithoutDamping) {
  Scene harbour;
  const Object buoy = harbour.add({.rest = at(2, 0, 0)});
  harbour.give(buoy, Spring{.frequency = 0.5, .damping = 0, .target = Vec3{0, 0, 0}});
  harbour.advance(1h + 77ms);
  const double x = harbour.world(buoy).position.x();
  harbour.advance(500ms);  // a quarter of a period: the place is then the velocity of before, over omega
  EXPECT_NEAR(std::hypot(x, harbour.world(buoy).position.x()), 2.0, 1e-9);
}

TEST(Spring, OvershootsAndSettlesByItsFormulas) {
  for (const double damping : {0.05, 0.3, 0.7, 0.99}) {
    const Spring spring{.frequency = 1.3, .damping = damping, .target = Vec3{1, 0, 0}};
    const double root = std::sqrt(1 - damping * damping);
    const auto stands = [&](Time time) {
      Scene harbour;
      const Object hook = harbour.add({});
      harbour.give(hook, spring);
      harbour.advance(time);
      return harbour.world(hook).position.x();
    };
    const double peak = stands(seconds(0.5 / (1.3 * root)));  // half a damped period
    EXPECT_NEAR(peak, 1 + std::exp(-pi * damping / root), 1e-9);
    EXPECT_NEAR(overshoot(spring), peak - 1, 1e-9);
    EXPECT_NEAR(stands(seconds(1 / (1.3 * root))), 1 - std::exp(-2 * pi * damping / root), 1e-9);

    const Time settled = settling_time(spring);
    EXPECT_NEAR(std::abs(stands(settled) - 1), 0.02, 1e-7);
    for (int i = 1; i < 40; ++i) EXPECT_LT(std::abs(stands(settled + i * 31ms) - 1), 0.02);
    EXPECT_NEAR(frequency_with(half_life(spring), damping), 1.3, 1e-7);
  }
  const Spring slow{.frequency = 1, .damping = 4, .target = Vec3{1, 0, 0}};
  EXPECT_EQ(overshoot(slow), 0.0);
  EXPECT_NEAR(static_cast<double>(solved(slow, 1, 0, in_seconds(settling_time(slow)))[0]), 0.98, 1e-9);
  EXPECT_NEAR(frequency_with(half_life(slow), 4), 1.0, 1e-7);
  EXPECT_GT(settling_time(Spring{.damping = 0}), 24h);
  EXPECT_THROW(frequency_with(0s, 0.5), BadValue);
}

TEST(Spring, ComesToRestOnItsTarget) {
  for (const Vec3& target : {Vec3{1, 2, 3}, Vec3{0, 0, 0}}) {
    Scene harbour;
    const Object hook = harbour.add({.rest = at(4, 4, 4)});
    harbour.give(hook, Spring{.frequency = 2, .damping = 0.4, .target = target});
    harbour.advance(60s);
    EXPECT_EQ(harbour.world(hook).position, target);
  }
}

TEST(Spring, TrailsBehindWhatIsBelowItInTheStack) {
  Scene harbour;
  const Object boat = harbour.add({});
  harbour.give(boat, Travel{.velocity = {3, 0, 0}});
  harbour.give(boat, Spring{.frequency = 2, .damping = 0.6});
  harbour.advance(20s);
  EXPECT_NEAR(harbour.world(boat).position.x(), 60 - 3 * 2 * 0.6 / (2 * pi * 2), 1e-9);  // 2 z / w of the speed
}

TEST(Spring, RotatesAndScalesLikeItMoves) {
  Scene harbour;
  const Object place = harbour.add({}), sign = harbour.add({}), ball = harbour.add({});
  harbour.give(place, Spring{.frequency = 1.5, .damping = 0.2, .target = Vec3{1, 0, 0}, .velocity = {0.5, 0, 0}});
  harbour.give(sign, Spring{.channel = Channel::rotation,
                            .frequency = 1.5,
                            .damping = 0.2,
                            .target = rotation(axis::up, degrees(40)),
                            .velocity = {0, 20, 0}});
  harbour.give(ball, Spring{.channel = Channel::scale,
                            .frequency = 1.5,
                            .damping = 0.2,
                            .target = Vec3{2, 1, 1},
                            .velocity = {0.5, 0, 0}});
  for (int i = 0; i < 30; ++i) {
    harbour.advance(37ms);
    const double x = harbour.world(place).position.x();
    EXPECT_NEAR(rotation_vector(harbour.world(sign).rotation).y(), degrees(40 * x).in_radians(), 1e-12);
    EXPECT_NEAR(harbour.world(ball).scale.x(), 1 + x, 1e-12);
  }
}

TEST(Spring, IsKickedAndRetargetedWithoutLosingItsVelocity) {
  Scene harbour;
  const Object hook = harbour.add({});
  const auto swing = harbour.give(hook, Spring{.frequency = 1, .damping = 0});
  harbour.advance(1003ms);  // not on a tick
  harbour.kick(swing, {2, 0, 0});
  harbour.advance(250ms);
  EXPECT_NEAR(harbour.world(hook).position.x(), 2 / (2 * pi), 1e-12);
  const auto velocity = [&] {
    const double before = harbour.world(hook).position.x();
    harbour.advance(Time{700});
    return (harbour.world(hook).position.x() - before) / in_seconds(Time{700});
  };
  harbour.advance(101ms);
  const double before = velocity();
  harbour.tune(swing)->target = Vec3{5, 0, 0};
  EXPECT_NEAR(velocity(), before, 1e-3);
  EXPECT_THROW(harbour.kick(harbour.give(harbour.add({}), Spin{}), {1, 0, 0}), BadValue);
}

TEST(Spring, OscillatesInTheWorldUnderAnyParent) {
  Scene harbour;
  const Object crane = harbour.add({.rest = {{1, 2, 3}, rotation(axis::right, degrees(20)), {2, 1, 0.5}}});
  harbour.give(crane, Travel{.velocity = {1, 0, 0.3}});
  harbour.give(crane, Spin{.speed = degrees(50)});
  harbour.give(crane, Sway{.channel = Channel::scale, .amplitude = {0.2, 0.1, 0}});
  const Object hook = harbour.add({.parent = crane, .rest = at(1, -3, 2)}), free = harbour.add({});
  const Object ghost = harbour.add({.parent = crane, .rest = at(1, -3, 2)});
  harbour.give(hook, Spring{.frequency = 0.8, .damping = 0.1, .space = Space::world});
  harbour.give(free, Follow{.target = ghost, .offset = Vec3{0, 0, 0}});
  harbour.give(free, Spring{.frequency = 0.8, .damping = 0.1});
  for (int i = 0; i < 40; ++i) {
    harbour.advance(83ms);
    EXPECT_LE((harbour.world(hook).position - harbour.world(free).position).norm(), 1e-11);
  }
}

TEST(Spring, RefusesContradictoryValues) {
  Scene harbour;
  const Object hook = harbour.add({.name = "hook"}), mast = harbour.add({.name = "mast"});
  const auto refused = [&](const Spring& spring) { return tests::refusal(harbour, hook, spring); };
  EXPECT_EQ(refused({.frequency = -1}),
            "hook.spring: frequency: -1 is out of range; give a number from 0 to 1e9 (Hz).");
  EXPECT_EQ(
      refused({.target = rotation(axis::up, degrees(3))}),
      "hook.spring: target: a rotation is allowed with channel = \"rotation\" only; give three numbers or an object.");
  EXPECT_EQ(refused({.channel = Channel::scale, .target = Place{mast, {0, 1, 0}}}),
            "hook.spring: target: an offset is allowed with channel = \"position\" only; give the object alone.");
}

}  // namespace
}  // namespace hushed
