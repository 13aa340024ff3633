// SPDX-License-Identifier: MIT
// `seek` repeats the commands of the program; rules act again by themselves.

#include <gtest/gtest.h>
#include <hushed/hushed.hpp>

#include <cmath>

namespace hushed {
namespace {

using namespace std::chrono_literals;

TEST(Seek, RestoresAnOptionalValueThatARuleHasSet) {
  Scene harbour;
  const Object ferry = harbour.add({.name = "ferry"}), tug = harbour.add({.name = "tug"});
  harbour.give(ferry, Travel{.velocity = {1, 0, 0}});
  harbour.give(tug, Follow{.target = ferry, .half_life = 1s});
  harbour.when(after(seconds(2))).then(set("tug.follow.max_speed", Value{0.5}));
  harbour.advance(4s);
  EXPECT_TRUE(harbour.get("tug.follow.max_speed"));
  harbour.seek(seconds(1));
  EXPECT_FALSE(harbour.get("tug.follow.max_speed"));
}

/// A rule that switches a lamp off once a ferry is far out.
struct LampAndFerry {
  Scene harbour;
  Behaviour<Travel> sailing;
  Behaviour<Spin> turning;
  Object buoy;

  explicit LampAndFerry(double speed) {
    const Object ferry = harbour.add({.name = "ferry"}), lamp = harbour.add({.name = "lamp"});
    sailing = harbour.give(ferry, Travel{.velocity = {speed, 0, 0}});
    turning = harbour.give(lamp, Spin{});
    buoy = harbour.add({.name = "buoy"});
    harbour.when(above("ferry.position.x", 50)).called("far").then(set("lamp.spin.enabled", Value{false}));
  }
};

TEST(Seek, RepeatsACommandWhereARuleActsEarlierThanBefore) {
  LampAndFerry night{1.0};
  night.harbour.advance(3s);
  night.harbour.hide(night.buoy);
  night.harbour.advance(3s);
  night.harbour.tune(night.sailing)->velocity = {100, 0, 0};
  night.harbour.seek(seconds(5));
  EXPECT_TRUE(night.harbour.hidden(night.buoy));
  EXPECT_EQ(night.harbour.report("far").fired, 1);
  EXPECT_FALSE(night.harbour.running(night.turning));
}

TEST(Seek, DoesNotRepeatWhatARuleNoLongerDoes) {
  LampAndFerry night{100.0};
  night.harbour.advance(6s);
  EXPECT_FALSE(night.harbour.running(night.turning));
  night.harbour.tune(night.sailing)->velocity = {0, 0, 0};
  night.harbour.seek(seconds(5));
  EXPECT_EQ(night.harbour.report("far").fired, 0);
  EXPECT_TRUE(night.harbour.running(night.turning));
}

TEST(Seek, RepeatsAChangeOfEnabled) {
  LampAndFerry night{1.0};
  night.harbour.advance(3s);
  night.harbour.set("lamp.spin.enabled", Value{false});
  night.harbour.advance(3s);
  night.harbour.seek(seconds(2));
  EXPECT_TRUE(night.harbour.running(night.turning));
  night.harbour.seek(seconds(5));
  EXPECT_TRUE(night.harbour.running(night.turning));  // what was called after 2 s is forgotten
}

TEST(Seek, RepeatsSeveralCommandsOfOneMomentInTheirOrder) {
  const auto build = [](Scene& harbour) {
    const Object ferry =
        harbour.add({.name = "ferry", .poses = {PoseParts{.name = "quay", .position = Vec3{10, 0, 0}}}});
    harbour.give(ferry, Sway{.amplitude = {3, 0, 0}, .frequency = 0.25, .phase = degrees(0)});
    harbour.give(harbour.add({.name = "tug"}), Follow{.target = ferry, .offset = Vec3{0, 1, 0}});
    harbour.advance(1s);
    harbour.place(ferry, "quay");
    harbour.hide(ferry);
    harbour.advance(1s);
    return harbour.world(*harbour.find("tug")).position;
  };
  Scene harbour;
  const Vec3 played = build(harbour);
  harbour.advance(1s);
  harbour.seek(seconds(2));
  EXPECT_EQ(harbour.world(*harbour.find("tug")).position, played);
}

TEST(Seek, FollowsThePlayOfTheRestoredSnapshot) {
  Scene harbour;
  const Object buoy = harbour.add({.name = "buoy"});
  harbour.give(buoy, Spin{});
  harbour.advance(1s);
  const Snapshot early = harbour.snapshot();
  harbour.hide(buoy);
  harbour.advance(2s);
  const Snapshot hidden = harbour.snapshot();
  harbour.restore(early);
  harbour.advance(1s);
  harbour.seek(seconds(1.5));
  harbour.restore(hidden);
  harbour.seek(seconds(2.5));
  EXPECT_TRUE(harbour.hidden(buoy));
  harbour.seek(seconds(0.5));
  EXPECT_FALSE(harbour.hidden(buoy));
}

TEST(Seek, DropsInputAfterTheSoughtTime) {
  Scene harbour;
  const Object pilot = harbour.add({.name = "pilot"});
  harbour.give(pilot, Drive{.speed = 1.0});
  harbour.advance(3s);
  harbour.press("W");
  harbour.advance(6s);
  harbour.seek(seconds(8));
  harbour.seek(seconds(2));
  harbour.seek(seconds(9));
  harbour.seek(seconds(8.5));
  EXPECT_EQ(harbour.world(pilot).position.z(), 0.0);
}

TEST(Seek, KeepsTheLatestPartOfThePastOnly) {
  // Input at 60 Hz for more than ten minutes: `seek` cannot go back before the last few minutes.
  Scene harbour{10};
  const Object pilot = harbour.add({.name = "pilot"});
  harbour.give(pilot, Drive{.speed = 1.0});
  std::vector<Vec3> places;
  for (int frame = 0; frame < 40'000; ++frame) {
    harbour.axis("forward", std::sin(0.01 * frame));
    harbour.advance(frame_time(frame + 1, 60) - harbour.time());
    places.push_back(harbour.world(pilot).position);
  }
  EXPECT_THROW(harbour.seek(seconds(1)), BadValue);
  for (const int frame : {39'000, 36'000, 33'000}) {
    harbour.seek(frame_time(frame + 1, 60));
    EXPECT_EQ(harbour.world(pilot).position, places[static_cast<std::size_t>(frame)]) << frame;
  }
}

/// A value from before a rule set it, together with one that was tuned since, would be a cycle.
TEST(Seek, KeepsValuesOfRulesWhereTheirPastOnesWouldMakeACycle) {
  Scene harbour;
  const Object buoy = harbour.add({.name = "buoy", .rest = at(9, 0, 0)});
  const Object ferry = harbour.add({.name = "ferry"}), tug = harbour.add({.name = "tug"});
  const auto first = harbour.give(ferry, Follow{.target = tug, .half_life = 100ms});
  const auto second = harbour.give(tug, Follow{.target = buoy, .half_life = 100ms});
  harbour.when(after(500ms)).then(retarget(first, buoy));
  harbour.advance(1s);
  harbour.tune(second)->target = ferry;
  harbour.seek(Time{0});
  EXPECT_EQ(harbour.values(first).target.object, buoy);
  EXPECT_EQ(harbour.values(second).target.object, ferry);
}

/// An object that has ended may come back, with what it depends on.
TEST(Seek, RefusesACycleByWayOfAnObjectThatHasEnded) {
  Scene harbour;
  const Object buoy = harbour.add({.name = "buoy"}), ferry = harbour.add({.name = "ferry"});
  const Object tug = harbour.add({.name = "tug"}), skiff = harbour.add({.name = "skiff"});
  const auto first = harbour.give(ferry, Follow{.target = buoy, .half_life = 100ms});
  harbour.give(tug, Follow{.target = ferry, .half_life = 100ms});
  harbour.give(skiff, Follow{.target = tug, .half_life = 100ms});
  harbour.advance(1s);
  harbour.end(tug);
  EXPECT_THROW(harbour.retarget(first, skiff), DependencyCycle);
  harbour.seek(500ms);
  EXPECT_TRUE(harbour.alive(tug));
  EXPECT_EQ(harbour.values(first).target.object, buoy);
}

TEST(Seek, RepeatsTwoCommandsOfOneMomentWhetherOrNotPosesWereReadInBetween) {
  for (const bool is_read : {false, true}) {
    Scene harbour;
    const Object buoy = harbour.add({.name = "buoy"}), lamp = harbour.add({});
    const auto fed = harbour.give(buoy, Fed{});
    harbour.feed(buoy, at(1, 0, 0), 700ms);
    harbour.advance(10ms);
    harbour.restart(fed);
    if (is_read) {
      harbour.end(lamp);
      (void)harbour.objects();
    }
    harbour.toggle(fed);  // it has started again, and stops
    harbour.advance(1s);
    const Pose pose = harbour.world(buoy);
    harbour.seek(500ms);
    harbour.seek(1010ms);
    EXPECT_EQ(harbour.world(buoy).position, pose.position) << is_read;
  }
}

TEST(Seek, RepeatsTheRestartOfAnAgentBesideANeighbourThatHasJustEnded) {
  Scene harbour;
  const Object gull = harbour.add({.name = "gull", .tags = {"gulls"}});
  const Object other = harbour.add({.name = "other", .rest = at(0.5, 0, 0), .tags = {"gulls"}});
  const auto flying = harbour.give(gull, Steer{.urges = {urge::Separation{.tag = "gulls", .within = 3.0}}});
  harbour.advance(100ms);
  harbour.end(other);
  (void)harbour.objects();
  harbour.restart(flying);
  harbour.advance(1s);
  const Pose pose = harbour.world(gull);
  harbour.seek(500ms);
  harbour.seek(1100ms);
  EXPECT_EQ(harbour.world(gull).position, pose.position);
}

}  // namespace
}  // namespace hushed
