// SPDX-License-Identifier: MIT
#include <hushed/hushed.hpp>

#include <gtest/gtest.h>

#include <cmath>
#include <random>

namespace hushed {
namespace {

using namespace std::chrono_literals;

/// The rotation by `degrees` about an axis, computed in long double.
Quat turned(const Vec3& axis, long double degrees) {
  const long double half = std::fmod(degrees, 720.0L) * std::acos(-1.0L) / 360.0L;
  const Vec3 along = axis / axis.norm();
  const auto s = static_cast<double>(std::sin(half));
  return {static_cast<double>(std::cos(half)), along.x() * s, along.y() * s, along.z() * s};
}

double difference(const Quat& a, const Quat& b) {
  return std::min((a.coeffs() - b.coeffs()).norm(), (a.coeffs() + b.coeffs()).norm());
}

TEST(Spin, AgreesWithTheClosedFormAfterAnHour) {
  std::mt19937_64 random{1};
  std::uniform_real_distribution<double> speed{-1000, 1000}, part{-1, 1};
  for (int i = 0; i < 200; ++i) {
    Scene harbour;
    const Vec3 axis{part(random), part(random), part(random)};
    const Quat rest = rotation(degrees(20), degrees(30), degrees(40));
    const Object lamp = harbour.add({.rest = Pose{}.with_rotation(rest)});
    const Spin spin{.axis = axis, .speed = degrees(speed(random))};
    harbour.give(lamp, spin);

    const Time late = 1h + seconds(part(random) + 1);
    harbour.advance(late);
    const long double seconds_passed = static_cast<long double>(late.count()) / units_per_second;
    const Quat expected = rest * turned(axis, static_cast<long double>(spin.speed.in_degrees()) * seconds_passed);
    EXPECT_LE(difference(harbour.world(lamp).rotation, expected), 1e-12);
  }
}

TEST(Spin, TurnsAboutItsOwnItsParentsOrTheWorldsAxes) {
  const Quat tilt = rotation(degrees(0), degrees(0), degrees(90)),
             lean = rotation(degrees(50), degrees(10), degrees(0));
  for (const Space space : {Space::own, Space::parent, Space::world}) {
    Scene harbour;
    const Object crane = harbour.add({.rest = Pose{}.with_rotation(tilt)});
    const Object arm = harbour.add({.parent = crane, .rest = Pose{}.with_rotation(lean)});
    harbour.give(arm, Spin{.axis = axis::up, .speed = degrees(30), .space = space});
    harbour.advance(2s);

    const Quat turn = turned(axis::up, 60);
    const Quat expected = space == Space::own      ? tilt * lean * turn
                          : space == Space::parent ? tilt * turn * lean
                                                   : turn * tilt * lean;
    EXPECT_LE(difference(harbour.world(arm).rotation, expected), 1e-14);
  }
}

TEST(Spin, AcceptsAVelocityInsteadOfAxisAndSpeed) {
  Scene harbour;
  const Object lamp = harbour.add({}), still = harbour.add({});
  harbour.give(lamp, Spin{.velocity = Vec3{0, 0, -45}});
  harbour.give(still, Spin{.velocity = Vec3{0, 0, 0}});
  harbour.advance(2s);
  EXPECT_LE(difference(harbour.world(lamp).rotation, turned(axis::forward, -90)), 1e-15);
  EXPECT_EQ(harbour.world(still).rotation.coeffs(), Quat::Identity().coeffs());
}

TEST(Spin, KeepsItsPhaseWhenTheSpeedChanges) {
  Scene harbour;
  const Object lamp = harbour.add({});
  const auto turning = harbour.give(lamp, Spin{.speed = degrees(40)});
  harbour.advance(7s);
  harbour.tune(turning)->speed = degrees(-10);
  EXPECT_LE(difference(harbour.world(lamp).rotation, turned(axis::up, 280)), 1e-14);
  harbour.advance(3s);
  EXPECT_LE(difference(harbour.world(lamp).rotation, turned(axis::up, 250)), 1e-14);
}

TEST(Spin, GoesOnFromWhereItWasStopped) {
  Scene harbour;
  const Object lamp = harbour.add({});
  const auto turning = harbour.give(lamp, Spin{.speed = degrees(40)});
  harbour.advance(2s);
  harbour.stop(turning);
  EXPECT_FALSE(harbour.running(turning));
  harbour.advance(5s);
  EXPECT_LE(difference(harbour.world(lamp).rotation, turned(axis::up, 80)), 1e-15);
  harbour.start(turning);
  harbour.advance(1s);
  EXPECT_LE(difference(harbour.world(lamp).rotation, turned(axis::up, 120)), 1e-15);
  harbour.restart(turning);
  harbour.advance(1s);  // the bridge of a quarter of a second is over
  EXPECT_LE(difference(harbour.world(lamp).rotation, turned(axis::up, 40)), 1e-15);
}

}  // namespace
}  // namespace hushed
