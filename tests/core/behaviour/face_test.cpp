// SPDX-License-Identifier: MIT
#include <gtest/gtest.h>

#include <cmath>
#include <random>

#include <hushed/hushed.hpp>

#include "lanes/conversions.hpp"
#include "lanes/facing.hpp"

namespace hushed {
namespace {

using namespace std::chrono_literals;

double yaw(const Scene& harbour, Object object) {
  return pitch_yaw_roll(harbour.world(object).rotation).yaw.in_degrees();
}

TEST(Face, PointsItsForwardAxisAtTheTargetWithUpAsCloseAsPossible) {
  std::mt19937_64 random{11};
  std::uniform_real_distribution<double> part{-1, 1};
  const auto any = [&] { return Vec3{part(random), part(random), part(random)}; };
  for (int i = 0; i < 100; ++i) {
    Scene harbour;
    const Object ship = harbour.add({.rest = {any() * 9, rotation(any() * 3), {2, 0.5, 1}}});
    harbour.give(ship, Spin{.axis = any(), .speed = degrees(100)});
    const Object light = harbour.add({.parent = ship, .rest = at(any())}),
                 ferry = harbour.add({.rest = at(any() * 20)});
    harbour.give(ferry, Travel{.velocity = any()});
    const Vec3 axis = any(), above = any();
    harbour.give(light, Face{.target = ferry, .up = above, .forward = axis});
    harbour.advance(1234ms);
    const Vec3 way = (harbour.world(ferry).position - harbour.world(light).position).normalized();
    const Quat turn = harbour.world(light).rotation;
    EXPECT_LE((turn * axis.normalized() - way).norm(), 1e-12);
    // Its own +Y is in the plane of the direction and up, on the side of up.
    const Vec3 parents_up = harbour.world(ship).rotation * above, own_up = turn * axis::up;
    EXPECT_NEAR(own_up.dot(way.cross(parents_up).normalized()), 0, 1e-10);
    EXPECT_GT((own_up - way * own_up.dot(way)).dot(parents_up), 0);
  }
}

TEST(Face, StaysUprightByYawAlone) {
  Scene harbour;
  const Object light = harbour.add({}), gull = harbour.add({.rest = at(3, 40, 3)});
  harbour.give(light, Face{.target = gull, .only = Turns::yaw});
  EXPECT_NEAR(yaw(harbour, light), 45, 1e-12);
  EXPECT_LE((harbour.world(light).rotation * axis::up - axis::up).norm(), 1e-12);
}

TEST(Face, TurnsTheShortestWayRoundAtALimitedRate) {
  Scene harbour;
  const Object light = harbour.add({.rest = at(0, 0, 0).with_rotation(rotation(axis::up, degrees(-10)))});
  const Object ferry = harbour.add({.rest = at(std::sin(0.5), 0, std::cos(0.5))});
  harbour.give(light, Face{.target = ferry, .max_turn_speed = degrees(20)});
  harbour.advance(1s);
  EXPECT_NEAR(yaw(harbour, light), 10, 1e-10);
  harbour.advance(2s);
  EXPECT_NEAR(yaw(harbour, light), degrees(0).in_degrees() + 0.5 * 180 / 3.141592653589793, 1e-10);

  const Object other = harbour.add({.rest = at(0, 0, 0).with_rotation(rotation(axis::up, degrees(170)))});
  harbour.give(other, Face{.target = Vec3{-std::sin(0.2), 0, -std::cos(0.2)}, .half_life = 300ms});
  const double goal = -180 + 0.2 * 180 / 3.141592653589793;
  for (double left = goal - (170 - 360); left > 0.01; left /= 2, harbour.advance(300ms)) {
    const double now = yaw(harbour, other);
    EXPECT_NEAR(goal - (now > 0 ? now - 360 : now), left, 1e-9);
  }
}

TEST(Face, HoldsTheLastDirectionWhereThereIsNone) {
  Scene harbour;
  const Object light = harbour.add({.rest = at(0, 0, 0).with_rotation(rotation(axis::up, degrees(77)))});
  const auto facing = harbour.give(light, Face{.target = Vec3{0, 9, 0}});  // up is along the way
  EXPECT_NEAR(yaw(harbour, light), 77, 1e-12);                             // so far there has been none
  harbour.tune(facing)->target = Vec3{-1, 0, 0};
  EXPECT_NEAR(yaw(harbour, light), -90, 1e-12);
  harbour.advance(1s);
  harbour.tune(facing)->target = Vec3{0, 0, 0};  // where it is itself
  harbour.advance(1s);
  EXPECT_NEAR(yaw(harbour, light), -90, 1e-12);
  harbour.tune(facing)->target = Vec3{0, -3, 0};
  harbour.advance(1s);
  EXPECT_NEAR(yaw(harbour, light), -90, 1e-12);
}

TEST(Face, FacesItsMotionAndTheLastMotionAtRest) {
  Scene harbour;
  const Object boat = harbour.add({});
  const auto going = harbour.give(boat, Orbit{.radius = 5.0, .speed = degrees(-60)});
  harbour.give(boat, Face{.target = FaceTarget::travel()});
  harbour.advance(1s);
  for (int i = 0; i < 30; ++i) {
    // The chord of one tick: half a tick behind the tangent.
    const double t = in_seconds(harbour.time());
    const double along = std::remainder(60 * 0.5 / 120 - 60 * t, 360);
    EXPECT_NEAR(std::remainder(yaw(harbour, boat) - along, 360), 0, 1e-3) << t;
    harbour.advance(71ms);
  }
  harbour.stop(going);
  harbour.advance(1s);
  const double stood = yaw(harbour, boat);
  harbour.advance(5s);
  EXPECT_EQ(yaw(harbour, boat), stood);
}

TEST(Face, FacesAMotionThatBeginsLater) {
  Scene harbour;
  const Object boat = harbour.add({});
  harbour.give(boat, Travel{.velocity = {0, 0, 3}});
  const auto first = harbour.give(boat, Travel{.velocity = {3, 0, -3}}, {.name = "turn", .delay = 2s, .fade = 10ms});
  const auto facing = harbour.give(boat, Face{.target = Vec3{-100, 0, 0}});
  harbour.advance(5s);
  harbour.tune(facing)->target = FaceTarget::travel();
  harbour.advance(1s);
  EXPECT_NEAR(yaw(harbour, boat), 90, 1e-9);
  harbour.stop(facing);
  harbour.advance(3s);
  harbour.tune(first)->velocity = {0, 0, 3};
  harbour.advance(1s);
  harbour.start(facing);
  harbour.advance(1s);
  EXPECT_NEAR(yaw(harbour, boat), 0, 1e-9);
}

TEST(Face, TurnsLevelByTheAngleOfTheDirection) {
  std::mt19937_64 random{17};
  std::uniform_real_distribution<double> part{-9, 9};
  for (int i = 0; i < 10'000; ++i) {
    const double x = i % 7 == 0 ? 0.0 : part(random), z = i % 5 == 0 ? 1e-7 * part(random) : part(random);
    const auto level = detail::facing_level(x, z, std::sqrt(x * x + z * z));
    const long double half = std::atan2(static_cast<long double>(x), static_cast<long double>(z)) / 2;
    const double sign = level.y * std::sin(half) + level.w * std::cos(half) < 0 ? -1.0 : 1.0;
    ASSERT_NEAR(level.y * sign, static_cast<double>(std::sin(half)), 4e-16) << x << ' ' << z;
    ASSERT_NEAR(level.w * sign, static_cast<double>(std::cos(half)), 4e-16) << x << ' ' << z;
  }
}

TEST(Face, TurnsByTheLargestAngleUntilItArrives) {
  std::mt19937_64 random{23};
  std::uniform_real_distribution<double> part{-1, 1};
  const auto any = [&] { return Vec3{part(random), part(random), part(random)}; };
  for (int i = 0; i < 100; ++i) {
    Scene harbour;
    const Object light = harbour.add({.rest = {Vec3::Zero(), rotation(any() * 3)}});
    harbour.give(light, Face{.target = Vec3{any() * 20}, .max_turn_speed = degrees(30)});
    harbour.advance(60s);
    const Quat end = harbour.world(light).rotation;
    harbour.seek(Time{0});
    for (double left = angle_between(harbour.world(light).rotation, end).in_degrees(); left > 10.0; left -= 7.5) {
      ASSERT_NEAR(angle_between(harbour.world(light).rotation, end).in_degrees(), left, 1e-6);
      harbour.advance(250ms);
    }
  }
}

}  // namespace
}  // namespace hushed
