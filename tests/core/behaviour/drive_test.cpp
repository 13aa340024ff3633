// SPDX-License-Identifier: MIT
#include <gtest/gtest.h>

#include <cmath>
#include <complex>

#include <hushed/hushed.hpp>

#include "support/integrator.hpp"

namespace hushed {
namespace {

using namespace std::chrono_literals;

constexpr double tick = 1.0 / 120.0;

/// A driven boat, and its scene.
struct Driven {
  Scene harbour;
  Object boat;

  explicit Driven(const Drive& drive, const Pose& rest = {}, const Vec3& turned_parent = Vec3::Zero()) {
    const Object pontoon = harbour.add({.rest = Pose{}.with_rotation(rotation(turned_parent))});
    boat = harbour.add({.name = "pilot", .parent = pontoon, .rest = rest});
    harbour.give(boat, drive);
  }
  Vec3 place() const { return harbour.world(boat).position; }
};

TEST(Drive, MovesWhileAKeyIsHeldFromTheNextTickOn) {
  Driven driven{Drive{.speed = 6}};
  driven.harbour.press("W");
  driven.harbour.advance(1s);
  EXPECT_NEAR(driven.place().z(), 6 * (1 - tick), 1e-12);
  driven.harbour.release("W");
  driven.harbour.advance(1s);
  EXPECT_NEAR(driven.place().z(), 6, 1e-12);  // it, too, from the next tick on
}

TEST(Drive, HasEqualSpeedOnADiagonalAndLessByAnAxis) {
  Driven driven{Drive{.speed = 3}};
  for (const char* key : {"Up", "A", "E"}) driven.harbour.press(key);
  driven.harbour.advance(1s + seconds(tick));
  EXPECT_NEAR((driven.place() - Vec3::Constant(3 / std::sqrt(3.0))).norm(), 0.0, 1e-9);
  for (const char* key : {"Up", "A", "E"}) driven.harbour.release(key);
  driven.harbour.axis("right", 0.5);
  driven.harbour.axis("forward", -0.25);
  driven.harbour.advance(seconds(tick));
  const Vec3 before = driven.place();
  driven.harbour.advance(2s);
  EXPECT_NEAR((driven.place() - before - Vec3{-3, 0, -1.5}).norm(), 0.0, 1e-9);
}

TEST(Drive, AnswersWithItsHalfLife) {
  Driven driven{Drive{.speed = 4, .half_life = 500ms}};
  driven.harbour.press("W");
  driven.harbour.advance(3s);
  const double t = 3 - tick, lag = 0.5 / std::log(2.0);
  EXPECT_NEAR(driven.place().z(), 4 * (t - lag * (1 - std::exp2(-t / 0.5))), 1e-12);
}

TEST(Drive, TurnsOnACircleAndTurnsTheObject) {
  Driven driven{Drive{.speed = 2, .mode = DriveMode::turn, .turn_speed = degrees(45)}};
  driven.harbour.press("W");
  driven.harbour.press("Left");
  driven.harbour.advance(seconds(tick) + 3s + 456ms);
  const double angle = 3.456 * M_PI / 4, radius = 2 / (M_PI / 4);
  EXPECT_NEAR(driven.place().x(), radius * (1 - std::cos(angle)), 1e-9);
  EXPECT_NEAR(driven.place().z(), radius * std::sin(angle), 1e-9);
  const Vec3 ahead = driven.harbour.world(driven.boat).rotation * Vec3::UnitZ();
  EXPECT_NEAR((ahead - Vec3{std::sin(angle), 0, std::cos(angle)}).norm(), 0.0, 1e-9);
}

TEST(Drive, SlidesInATurnByItsEquation) {
  Driven driven{Drive{.speed = 5, .half_life = 700ms, .mode = DriveMode::turn, .turn_speed = degrees(80)}};
  driven.harbour.press("W");
  driven.harbour.press("D");
  driven.harbour.advance(seconds(tick) + 4s);
  // v' = k (wanted - v), across and along, each by an extrapolated midpoint rule.
  const long double k = std::log(2.0L) / 0.7L, rate = -80 * M_PIl / 180;
  const auto went = [&](auto&& wanted) {
    return tests::integrated({0, 0}, 4, 200, [&](long double t, const tests::Motion& m) {
      return tests::Motion{m[1], k * (5 * wanted(rate * t) - m[1])};
    })[0];
  };
  EXPECT_NEAR(driven.place().x(), static_cast<double>(went([](long double a) { return std::sin(a); })), 1e-11);
  EXPECT_NEAR(driven.place().z(), static_cast<double>(went([](long double a) { return std::cos(a); })), 1e-11);
}

TEST(Drive, UsesTheForwardOfItsHeading) {
  const Quat own = rotation(degrees(0), degrees(90), degrees(0));
  const Vec3 parent = axis::up * 0.7;
  const auto way = [&](Heading space) {
    Driven driven{Drive{.speed = 1, .space = space}, Pose{}.with_rotation(own), parent};
    driven.harbour.press("W");
    driven.harbour.advance(1s + seconds(tick));
    return driven.place();
  };
  EXPECT_NEAR((way(Heading{}) - Vec3::UnitZ()).norm(), 0.0, 1e-9);
  EXPECT_NEAR((way(Space::own) - rotation(parent) * own * Vec3::UnitZ()).norm(), 0.0, 1e-9);

  Scene harbour;
  const Object gull = harbour.add({.rest = Pose{}.with_rotation(rotation(degrees(50), degrees(-30), degrees(20)))});
  const Object boat = harbour.add({});
  harbour.give(boat, Drive{.speed = 1, .space = gull});
  harbour.press("W");
  harbour.advance(1s + seconds(tick));
  const Vec3 ahead{std::sin(-M_PI / 6), 0, std::cos(M_PI / 6)};  // its yaw alone
  EXPECT_NEAR((harbour.world(boat).position - ahead).norm(), 0.0, 1e-9);
}

TEST(Drive, GivesTheSameBitsForRecordedAndLiveInput) {
  const Drive drive{.half_life = 300ms, .space = Space::own, .mode = DriveMode::turn};
  Driven live{drive}, recorded{drive};
  const std::pair<Time, InputChange> changes[]{{250ms, {250ms, "W", InputChange::What::down}},
                                               {777ms, {777ms, "A", InputChange::What::down}},
                                               {900ms, {900ms, "W", InputChange::What::up}},
                                               {901ms, {901ms, "forward", InputChange::What::axis, 0.4}}};
  for (const auto& [time, change] : changes) {
    recorded.harbour.input(change);
    live.harbour.advance(time - live.harbour.time());
    if (change.what == InputChange::What::down) live.harbour.press(change.name);
    if (change.what == InputChange::What::up) live.harbour.release(change.name);
    if (change.what == InputChange::What::axis) live.harbour.axis(change.name, change.value);
  }
  live.harbour.advance(3s - live.harbour.time());
  recorded.harbour.advance(3s);
  EXPECT_EQ(live.place(), recorded.place());
  EXPECT_GT(live.place().norm(), 1.0);
  recorded.harbour.seek(800ms);  // what is recorded comes again
  recorded.harbour.advance(2200ms);
  EXPECT_EQ(live.place(), recorded.place());
  live.harbour.seek(800ms);  // what was pressed later is forgotten
  live.harbour.advance(2200ms);
  EXPECT_NE(live.place(), recorded.place());
}

TEST(Drive, RefusesInvalidInput) {
  Scene harbour;
  harbour.advance(1s);
  EXPECT_THROW(harbour.axis("forward", 1.5), BadValue);
  EXPECT_THROW(harbour.press(""), BadValue);
  EXPECT_THROW(harbour.input({500ms, "W", InputChange::What::down}), BadValue);
}

TEST(Drive, StaysWhereItIsWhenItIsStartedWhileADependencyIsLost) {
  Scene harbour;
  const Object buoy = harbour.add({.name = "buoy"});
  const Object boat = harbour.add({.name = "boat", .rest = Pose{}.with_position({40, 0, 0})});
  const auto driving = harbour.give(boat, Drive{.speed = 6, .space = Heading{buoy}});
  harbour.press("W");
  harbour.advance(1s);
  harbour.stop(driving);
  harbour.hide(buoy);
  const Vec3 there = harbour.world(boat).position;
  harbour.start(driving);
  harbour.advance(Time{2});
  EXPECT_LT((harbour.world(boat).position - there).norm(), 1e-6);
  harbour.advance(1s);
  EXPECT_LT((harbour.world(boat).position - there).norm(), 1e-6);
  harbour.show(buoy);
  harbour.advance(1s);
  EXPECT_NEAR((harbour.world(boat).position - there).norm(), 6.0, 0.1);
}

TEST(Drive, KeepsItsDisplacementAndItsTurnWhereItIsStopped) {
  Scene harbour;
  const Object pilot =
      harbour.add({.name = "pilot", .poses = {PoseParts{.name = "quay", .position = Vec3{100, 0, 0}}}});
  harbour.give(pilot, Travel{.velocity = {1, 0, 0}});
  harbour.give(pilot, Spin{.speed = degrees(10)});
  const auto driving = harbour.give(pilot, Drive{.speed = 2.0, .mode = DriveMode::turn, .turn_speed = degrees(30)});
  harbour.press("W");
  harbour.press("A");
  harbour.advance(2s);
  const auto yaw = [&] { return pitch_yaw_roll(harbour.world(pilot).rotation).yaw.in_degrees(); };
  const Vec3 displacement = harbour.world(pilot).position - Vec3{2, 0, 0};
  const double turned = yaw() - 20.0;
  EXPECT_GT(displacement.norm(), 3.0);
  EXPECT_GT(turned, 50.0);
  harbour.stop(driving);
  harbour.advance(3s);
  EXPECT_NEAR((harbour.world(pilot).position - displacement - Vec3{5, 0, 0}).norm(), 0.0, 1e-9);
  EXPECT_NEAR(yaw() - turned, 50.0, 1e-9);
  harbour.place(pilot, "quay");
  EXPECT_NEAR((harbour.world(pilot).position - displacement - Vec3{105, 0, 0}).norm(), 0.0, 1e-9);
}

}  // namespace
}  // namespace hushed
