// SPDX-License-Identifier: MIT
// The pace of objects: slow motion, fast motion, halts.

#include <functional>
#include <string>
#include <vector>

#include <gtest/gtest.h>
#include <hushed/hushed.hpp>
#include <hushed/own.hpp>

namespace hushed {
namespace {

using namespace std::chrono_literals;

/// Doubles its height each second, tick by tick.
struct Rising {
  struct State {
    double height = 1.0;
  };
  Pose apply(State& state, const Pose& in, const Moment& now) const {
    state.height *= std::exp2(now.step);
    return in.with_position(in.position + Vec3{0, state.height, 0});
  }
};

struct Motion {
  const char* name;
  std::function<void(Scene&, Object)> give;
};

class Paced : public testing::TestWithParam<Motion> {};

double distance(const Pose& a, const Pose& b) {
  return (a.position - b.position).norm() + a.rotation.angularDistance(b.rotation) + (a.scale - b.scale).norm();
}

TEST_P(Paced, IsInFourSecondsWhereItWouldBeAfterOne) {
  const auto played = [](double pace, Time time) {
    Scene harbour;
    harbour.press("up");
    const Object boat = harbour.add({.name = "boat"});
    GetParam().give(harbour, boat);
    harbour.advance(100ms);
    harbour.set_pace(boat, pace);
    for (int frame = 0; frame < 50; ++frame) harbour.advance(time / 50);
    return harbour.world(boat);
  };
  const Pose slow = played(0.25, 4s), normal = played(1.0, 1s);
  EXPECT_LT(distance(slow, normal), 1e-9);
  EXPECT_GT(distance(normal, Pose{}), 0.1);
  EXPECT_LT(distance(played(0.0, 4s), played(1.0, Time{})), 1e-9);
}

INSTANTIATE_TEST_SUITE_P(
    Every, Paced,
    testing::Values(
        Motion{"Spin", [](Scene& s, Object o) { s.give(o, Spin{.speed = degrees(70)}); }},
        Motion{"Travel",
               [](Scene& s, Object o) {
                 s.give(o, Travel{.velocity = {1, 0, 2}});
               }},
        Motion{"Sway",
               [](Scene& s, Object o) {
                 s.give(o, Sway{.amplitude = {0, 1, 0}, .frequency = 0.2});
               }},
        Motion{"Route",
               [](Scene& s, Object o) {
                 s.give(o, Route{.points = {{0, 0, 0}, {2, 0, 1}, {4, 0, 0}}, .speed = 2.0});
               }},
        Motion{"Spring",
               [](Scene& s, Object o) {
                 s.give(o, Spring{.frequency = 0.7, .damping = 0.2, .target = Vec3{0, 3, 0}});
               }},
        Motion{"Drive", [](Scene& s, Object o) { s.give(o, Drive{.keys = {.forward = {"up"}}, .speed = 3.0}); }},
        Motion{"Attract",
               [](Scene& s, Object o) {
                 s.give(o, Attract{.to = s.add({.name = "magnet", .rest = at(9, 0, 0)}), .within = 20.0, .speed = 2.0});
               }},
        Motion{"OwnWithState", [](Scene& s, Object o) { s.give(o, Rising{}); }}),
    [](const auto& motion) { return std::string{motion.param.name}; });

/// A spinning tower (90 degrees a second) with a lantern that travels upward (1 m/s).
struct Tower {
  Scene harbour;
  Object tower = harbour.add({.name = "tower"});
  Object lantern = harbour.add({.name = "lantern", .parent = tower});
  Tower() {
    harbour.give(tower, Spin{.speed = degrees(90)});
    harbour.give(lantern, Travel{.velocity = {0, 1, 0}});
  }
  double angle() const { return pitch_yaw_roll(harbour.world(tower).rotation).yaw.in_degrees(); }
  double height() const { return harbour.world(lantern).position.y(); }
};

TEST(Pace, IsThatOfTheChildrenTooAndMultiplies) {
  Tower made;
  made.harbour.set_pace(made.tower, 0.5);
  made.harbour.advance(1s);
  EXPECT_DOUBLE_EQ(made.angle(), 45.0);
  EXPECT_DOUBLE_EQ(made.height(), 0.5);
  made.harbour.set_pace(made.lantern, 0.5);
  made.harbour.advance(1s);
  EXPECT_DOUBLE_EQ(made.height(), 0.75);
  made.harbour.set_pace(made.tower, 4.0);
  made.harbour.advance(1s);
  EXPECT_DOUBLE_EQ(made.height(), 0.75 + 2.0);
  const Object late = made.harbour.add({.name = "late", .parent = made.lantern});
  made.harbour.give(late, Travel{.velocity = {0, 1, 0}});
  made.harbour.advance(1s);
  EXPECT_DOUBLE_EQ(made.harbour.world(late).position.y() - made.height(), 2.0);
}

TEST(Pace, MayChangeAtAnyTimeWithoutAJump) {
  Tower made;
  double expected = 0.0;
  for (const double pace : {0.25, 0.0, 3.0, 1.0}) {
    const Pose before = made.harbour.world(made.lantern);
    made.harbour.set_pace(made.tower, pace);
    EXPECT_LT(distance(made.harbour.world(made.lantern), before), 1e-12) << pace;
    made.harbour.advance(333ms);
    expected += 0.333 * pace;
    EXPECT_NEAR(made.height(), expected, 1e-9) << pace;
  }
}

TEST(Pace, OfAStoppedBehaviourPaceIsNormal) {
  Tower made;
  const auto pace = made.harbour.give(made.tower, Pace{.rate = 0.0});
  made.harbour.advance(1s);
  EXPECT_DOUBLE_EQ(made.height(), 0.0);
  made.harbour.stop(pace);
  made.harbour.advance(1s);
  EXPECT_DOUBLE_EQ(made.height(), 1.0);
  made.harbour.start(pace);
  made.harbour.advance(1s);
  EXPECT_DOUBLE_EQ(made.height(), 1.0);
  made.harbour.remove(pace);
  made.harbour.advance(1s);
  EXPECT_DOUBLE_EQ(made.height(), 2.0);
}

TEST(Pace, ChangesAfterAnAgentWithAPaceOfItsOwnHasEnded) {
  Tower made;
  const auto pace = made.harbour.give(made.tower, Pace{.rate = 0.5});
  const Object gull = made.harbour.add({.name = "gull", .parent = made.tower});
  made.harbour.give(gull, Steer{.urges = {urge::Wander{}}});
  made.harbour.set_pace(gull, 0.5);
  made.harbour.advance(1s);
  made.harbour.end(gull);
  EXPECT_EQ(made.harbour.world_poses().size(), 2U);
  made.harbour.stop(pace);
  made.harbour.advance(1s);
  EXPECT_DOUBLE_EQ(made.height(), 1.5);
  EXPECT_DOUBLE_EQ(made.angle(), 135.0);
}

TEST(Pace, EndsWhereTimeEnds) {
  Tower made;
  made.harbour.set_pace(made.tower, 100.0);
  double before = 0.0;
  for (int part = 0; part < 3; ++part) {
    made.harbour.advance(std::chrono::hours{24 * 3650});
    EXPECT_GE(made.height(), before);
    before = made.height();
  }
  EXPECT_NEAR(before, 4e18 / 705'600'000, 1.0);  // 180 years at 1 m/s
}

TEST(Pace, KeepsTheTimeOfAnObjectThatChangesItsParent) {
  Tower made;
  made.harbour.set_pace(made.tower, 0.5);
  made.harbour.advance(1s);
  made.harbour.set_parent(made.lantern, std::nullopt);
  EXPECT_NEAR(made.height(), 0.5, 1e-12);
  made.harbour.advance(1s);
  EXPECT_NEAR(made.height(), 1.5, 1e-12);
}

TEST(Pace, DoesNotShiftTheTimesOfEvents) {
  Scene harbour;
  const Object ferry = harbour.add({.name = "ferry"});
  harbour.give(ferry, Route{.points = {{0, 0, 0}, {1, 0, 0}, {2, 0, 0}, {3, 0, 0}}, .speed = 1.0});
  harbour.set_pace(ferry, 0.5);
  std::vector<double> times;
  harbour.on("reached", [&](const Event& event) { times.push_back(in_seconds(event.time)); });
  for (int frame = 0; frame < 37; ++frame) harbour.advance(100ms);
  harbour.set_pace(ferry, 2.0);
  for (int frame = 0; frame < 20; ++frame) harbour.advance(100ms);
  const auto late = [&](double time) {
    return std::count_if(times.begin(), times.end(), [&](double each) { return std::abs(each - time) < 1e-6; });
  };
  EXPECT_EQ(late(2.0), 1);          // 1 m at half a metre a second
  EXPECT_EQ(late(3.7 + 0.075), 1);  // 1.85 m after 3.7 s, then 2 m/s
  EXPECT_EQ(late(3.7 + 0.575), 1);
}

TEST(Pace, OfARuleIsTheSameAtEveryFrameRateAndIsPlayedAgainBySeek) {
  const auto made = [] {
    Scene harbour;
    const Object crane = harbour.add({.name = "crane"});
    const Object hook = harbour.add({.name = "hook", .parent = crane, .rest = at(0, -2, 0)});
    harbour.give(crane, Spin{.speed = degrees(40)});
    harbour.give(crane, Pace{});
    harbour.give(hook, Spring{.frequency = 1.3, .damping = 0.1, .target = Vec3{0, 1, 0}});
    harbour.add_rule({.name = "slow", .when = {after(700ms)}, .then = {set("crane.pace.rate", 0.2)}});
    harbour.add_rule({.name = "fast", .when = {after(1900ms)}, .then = {set("crane.pace.rate", 3.0)}});
    return harbour;
  };
  const auto hook = [](const Scene& harbour) { return harbour.world(*harbour.find("hook")); };
  Scene once = made();
  once.advance(3s);
  for (const int rate : {24, 60, 144}) {
    Scene harbour = made();
    for (int frame = 0; frame < 3 * rate; ++frame) harbour.advance(Time{units_per_second / rate});
    EXPECT_EQ(distance(hook(harbour), hook(once)), 0.0) << rate;
    harbour.seek(1s);
    harbour.seek(3s);
    EXPECT_EQ(distance(hook(harbour), hook(once)), 0.0) << rate;
    const Snapshot snapshot = harbour.snapshot();
    harbour.advance(1s);
    const Pose later = hook(harbour);
    harbour.restore(snapshot);
    harbour.advance(1s);
    EXPECT_EQ(distance(hook(harbour), later), 0.0) << rate;
  }
}

TEST(Pace, GoesOnAfterAReload) {
  const auto made = [](double pace, Scene harbour) {
    const Object tower = harbour.add({.name = "tower"});
    harbour.give(tower, Travel{.velocity = {0, 1, 0}});
    harbour.give(harbour.add({.name = "lantern", .parent = tower}), Travel{.velocity = {0, 1, 0}});
    harbour.give(tower, Pace{.rate = pace});
    return harbour;
  };
  Scene harbour = made(0.5, Scene{});
  harbour.advance(2s);
  harbour.hot_reload(made(0.25, Scene{120.0, harbour}));
  EXPECT_DOUBLE_EQ(harbour.world(*harbour.find("lantern")).position.y(), 2.0);
  harbour.advance(2s);
  EXPECT_DOUBLE_EQ(harbour.world(*harbour.find("lantern")).position.y(), 3.0);
}

TEST(Pace, SlowsAFollowerWithATrail) {
  Scene harbour;
  const Object ferry = harbour.add({.name = "ferry"});
  const Object buoy = harbour.add({.name = "buoy"});
  harbour.give(ferry, Travel{.velocity = {1, 0, 0}});
  harbour.give(buoy, Follow{.target = ferry, .offset = Vec3{0, 0, 0}, .trail = seconds(0.5)});
  harbour.set_pace(buoy, 0.25);  // half a second of its time is two of the scene's
  for (int frame = 0; frame < 300; ++frame) harbour.advance(frame_time(1, 60));
  EXPECT_NEAR(harbour.world(buoy).position.x(), 3.0, 0.01);
}

TEST(Pace, IsZeroToAHundred) {
  Tower made;
  for (const double pace : {-0.1, 101.0, std::nan("")})
    EXPECT_THROW(made.harbour.set_pace(made.tower, pace), BadValue) << pace;
  made.harbour.advance(1s);
  EXPECT_DOUBLE_EQ(made.height(), 1.0);
}

}  // namespace
}  // namespace hushed
