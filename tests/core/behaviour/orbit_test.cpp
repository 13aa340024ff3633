// SPDX-License-Identifier: MIT
#include <gtest/gtest.h>

#include <cmath>
#include <random>

#include <hushed/hushed.hpp>

#include "support/refusal.hpp"

namespace hushed {
namespace {

using namespace std::chrono_literals;

/// The directions of its own +Z and +Y in the world.
Vec3 ahead(const Pose& pose) { return pose.rotation * axis::forward; }
Vec3 above(const Pose& pose) { return pose.rotation * axis::up; }

TEST(Orbit, KeepsItsDistanceHeightAndSpeedFromAMovingCentre) {
  std::mt19937_64 random{3};
  std::uniform_real_distribution<double> part{-1, 1};
  for (int i = 0; i < 100; ++i) {
    Scene harbour;
    const Object mast = harbour.add({.rest = at(1, 2, 3)}), gull = harbour.add({.rest = at(part(random) * 9, 4, 5)});
    harbour.give(mast, Travel{.velocity = {0.3, 0.1, -0.2}});
    const Vec3 axis{part(random), part(random), part(random)};
    harbour.give(gull, Orbit{.centre = mast, .axis = axis, .speed = degrees(100)});
    const auto arm = [&] { return Vec3{harbour.world(gull).position - harbour.world(mast).position}; };
    const Vec3 first = arm(), along = axis.normalized();
    const double radius = (first - along * first.dot(along)).norm();
    for (int frame = 1; frame < 50; ++frame) {
      harbour.advance(170ms);
      const Vec3 now = arm();
      EXPECT_NEAR(now.norm(), first.norm(), 1e-12);
      EXPECT_NEAR(now.dot(along), first.dot(along), 1e-12);
      // 100 degrees a second, by the right-hand rule.
      const Vec3 turned = rotation(axis, degrees(100 * 0.17 * frame)) * first;
      EXPECT_LE((now - turned).norm(), 1e-11 * (1 + radius));
    }
  }
}

TEST(Orbit, RepeatsExactlyAfterItsPeriod) {
  Scene harbour;
  const Object gull = harbour.add({});
  harbour.give(gull, Orbit{.centre = {1, 2, 3}, .radius = 3.0, .period = 0.75, .start = degrees(33), .height = 1.5});
  const Vec3 first = harbour.world(gull).position;
  harbour.advance(750ms * 100'000);
  EXPECT_EQ(harbour.world(gull).position, first);
}

TEST(Orbit, StartsAtXOrAtZWhereTheAxisIsAlongX) {
  const auto begins = [](const Vec3& axis) {
    Scene harbour;
    const Object gull = harbour.add({});
    harbour.give(gull, Orbit{.axis = axis, .radius = 2.0, .speed = degrees(10)});
    return harbour.world(gull).position;
  };
  EXPECT_EQ(begins(axis::up), Vec3(2, 0, 0));
  EXPECT_EQ(begins(-axis::forward), Vec3(2, 0, 0));
  EXPECT_EQ(begins(axis::right * 7), Vec3(0, 0, 2));
  EXPECT_LE((begins({1, 1, 0}) - Vec3(std::sqrt(2), -std::sqrt(2), 0)).norm(), 1e-15);
}

TEST(Orbit, FollowsAnEllipseByItsParameter) {
  Scene harbour;
  const Object gull = harbour.add({});
  harbour.give(gull, Orbit{.radius = Radii{5, 2}, .speed = degrees(-30), .height = 1});
  for (int second = 0; second < 12; ++second) {
    const Vec3 p = harbour.world(gull).position;
    EXPECT_NEAR(p.x() * p.x() / 25 + p.z() * p.z() / 4, 1.0, 1e-14);
    EXPECT_NEAR(std::atan2(-p.z() / 2, p.x() / 5), std::remainder(-second * std::acos(-1.0) / 6, 2 * std::acos(-1.0)),
                1e-12);
    EXPECT_EQ(p.y(), 1.0);
    harbour.advance(1s);
  }
}

TEST(Orbit, FacesItsMotionOrItsCentre) {
  for (const double rate : {40.0, -40.0}) {
    Scene harbour;
    const Object mast = harbour.add({.rest = at(0, 3, 0)});
    const Object gull = harbour.add({}), watcher = harbour.add({});
    const Vec3 axis{0.2, 1, -0.3};
    const Orbit orbit{
        .centre = {mast, {0, 1, 0}}, .axis = axis, .radius = Radii{4, 2}, .speed = degrees(rate), .height = 1};
    Orbit along = orbit, inward = orbit;
    along.face = OrbitFacing::travel;
    inward.face = OrbitFacing::centre;
    harbour.give(gull, along);
    harbour.give(watcher, inward);
    for (int i = 0; i < 20; ++i) {
      const Vec3 before = harbour.world(gull).position;
      harbour.advance(1ms);
      const Pose flying = harbour.world(gull), watching = harbour.world(watcher);
      harbour.advance(1ms);
      const Vec3 way = harbour.world(gull).position - before;
      EXPECT_NEAR(ahead(flying).dot(way.normalized()), 1.0, 1e-9);
      EXPECT_NEAR(above(flying).dot(axis.normalized()), 1.0, 1e-12);  // travel is across the axis
      EXPECT_LE((ahead(watching) - (Vec3(0, 4, 0) - watching.position).normalized()).norm(), 1e-12);
      EXPECT_NEAR(above(watching).dot(ahead(watching)), 0.0, 1e-12);
      EXPECT_GT(above(watching).dot(axis), 0.0);
      harbour.advance(400ms);
    }
  }
}

TEST(Orbit, KeepsTheIncomingRotationWithoutADirection) {
  Scene harbour;
  const Quat lean = rotation(degrees(10), degrees(20), degrees(30));
  const Object gull = harbour.add({.rest = {{0, 0, 0}, lean, {1, 1, 1}}});
  harbour.give(gull, Orbit{.radius = 0.0, .speed = degrees(30), .height = 2, .face = OrbitFacing::centre});
  harbour.advance(1s);
  EXPECT_EQ(harbour.world(gull).position, Vec3(0, 2, 0));
  EXPECT_EQ(harbour.world(gull).rotation.coeffs(), lean.coeffs());
}

TEST(Orbit, ContinuesFromWhereItIsWhenItsSpeedOrPeriodChanges) {
  Scene harbour;
  const Object gull = harbour.add({});
  const auto circling = harbour.give(gull, Orbit{.radius = 1.0, .speed = degrees(90)});
  harbour.advance(1s);
  {
    auto tuning = harbour.tune(circling);
    tuning->speed.reset();
    tuning->period = -8.0;
  }
  harbour.advance(1s);  // 45 degrees back from 90
  EXPECT_LE((harbour.world(gull).position - Vec3(std::sqrt(0.5), 0, -std::sqrt(0.5))).norm(), 1e-14);
}

TEST(Orbit, RefusesContradictoryValues) {
  Scene harbour;
  const Object gull = harbour.add({.name = "gull"});
  const auto said = [&](const Orbit& orbit) { return tests::refusal(harbour, gull, orbit); };
  EXPECT_EQ(said({.radius = 1.0}), "gull.orbit: missing key; give \"speed\" or \"period\".");
  EXPECT_EQ(said({.radius = 1.0, .speed = degrees(1), .period = 1.0}),
            "gull.orbit: period excludes speed; give only one of \"speed\" or \"period\".");
  EXPECT_EQ(said({.period = 0.0}),
            "gull.orbit: period: 0 s is too short; give the time of one revolution, in seconds. Negative goes the "
            "other way.");
  EXPECT_EQ(said({.speed = degrees(1), .height = 3}),
            "gull.orbit: height: without a radius, the orbit begins at the object's position; give a radius too, or "
            "remove this key.");
  EXPECT_EQ(said({.centre = "mast", .speed = degrees(1)}),
            "gull.orbit: centre: no object \"mast\" in this scene; give gull.");
  EXPECT_THROW(harbour.give(gull, Orbit{.centre = gull, .speed = degrees(1)}), DependencyCycle);
}

}  // namespace
}  // namespace hushed
