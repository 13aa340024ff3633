// SPDX-License-Identifier: MIT
#include <gtest/gtest.h>

#include <cmath>
#include <functional>
#include <limits>
#include <numbers>
#include <string>
#include <vector>

#include <Eigen/Geometry>

#include <hushed/hushed.hpp>

namespace hushed {
namespace {

using namespace std::chrono_literals;

constexpr double harbour_rate = 120;  // ticks per second
constexpr double turn = 2 * std::numbers::pi;

/// Where a barrel on a circle is, 10 m from the centre, once round in four seconds.
Pose on_circle(Time time) {
  const double angle = turn * in_seconds(time) / 4;
  return {{10 * std::cos(angle), 1, 10 * std::sin(angle)}, Quat{Eigen::AngleAxisd{-angle, axis::up}}};
}

Object fed(Scene& harbour, const NewObject& object, const Fed& values = {}) {
  const Object made = harbour.add(object);
  harbour.give(made, values);
  return made;
}

std::string refusal(const std::function<void()>& call) {
  try {
    call();
  } catch (const BadValue& error) {
    return error.what();
  }
  return "accepted";
}

double distance(const Pose& a, const Pose& b) { return (a.position - b.position).norm(); }

bool are_same(const Pose& a, const Pose& b) {
  return a.position == b.position && a.rotation.coeffs() == b.rotation.coeffs() && a.scale == b.scale;
}

TEST(Fed, HasThePoseThatItWasFedAtTheEndOfTheStep) {
  Scene harbour;
  const Object hull = harbour.add({.rest = {{3, 1, 2}, rotation(axis::up, degrees(40)), {2, 2, 2}}});
  harbour.give(hull, Spin{.speed = degrees(50)});
  const Object pilot = fed(harbour, {.name = "pilot", .rest = on_circle(0s)});
  const Object aboard = fed(harbour, {.name = "aboard", .parent = hull});
  const Object in_hull = fed(harbour, {.name = "in-hull", .parent = hull}, {.space = Space::parent});
  for (int frame = 0; frame < 100; ++frame) {
    const Pose pose = on_circle(harbour.time() + 17ms);
    for (const Object each : {pilot, aboard, in_hull}) harbour.feed(each, pose);
    harbour.advance(17ms);
    EXPECT_TRUE(are_same(harbour.world(pilot), pose));
    EXPECT_TRUE(are_same(harbour.local(in_hull), pose));
    EXPECT_LE(distance(harbour.world(aboard), pose), 1e-14 * 10);
    EXPECT_NEAR(std::abs(harbour.world(aboard).rotation.dot(pose.rotation)), 1, 1e-14);
  }
}

TEST(Fed, MovesStraightAndTurnsAlongTheShortestArc) {
  Scene harbour;
  const Quat before{Eigen::AngleAxisd{0.4, Vec3{1, 2, 3}.normalized()}};
  const Quat after{Eigen::AngleAxisd{-2.1, Vec3{-1, 0.5, 1}.normalized()}};
  const Object buoy = fed(harbour, {.rest = {{1, 2, 3}, before}});
  harbour.feed(buoy, {{5, 0, 3}, Quat{-after.coeffs()}, {3, 1, 2}}, 2s);
  for (int tenth = 0; tenth <= 20; ++tenth) {
    const double share = tenth / 20.0;
    const Pose pose = harbour.world(buoy);
    EXPECT_LE((pose.position - Vec3{1 + 4 * share, 2 - 2 * share, 3}).norm(), 1e-14 * 5);
    EXPECT_LE((pose.scale - Vec3{1 + 2 * share, 1, 1 + share}).norm(), 1e-14 * 5);
    EXPECT_NEAR(std::abs(pose.rotation.dot(before.slerp(share, after))), 1, 1e-14);
    harbour.advance(100ms);
  }
  EXPECT_EQ(harbour.world(buoy).position, (Vec3{5, 0, 3}));  // it stays
}

TEST(Fed, StaysWhereItIsUntilItIsFed) {
  Scene harbour;
  const Object barge = harbour.add({});
  harbour.give(barge, Travel{.velocity = {1, 0, 0}});
  const Object pilot = fed(harbour, {.parent = barge, .rest = at(0, 2, 0)});
  harbour.advance(1s);
  EXPECT_LE(distance(harbour.world(pilot), at(1, 2, 0)), 1e-15);  // aboard
  harbour.feed(pilot, at(5, 2, 0), 3s);
  harbour.advance(1s);
  EXPECT_LE(distance(harbour.world(pilot), at(3, 2, 0)), 1e-14);
}

/// A camera that follows a fed barrel, and its poses at every sixth of a second.
std::vector<Pose> seen(int rate, const std::function<void(Scene&, Object, Time)>& feed) {
  Scene harbour;
  const Object barrel = fed(harbour, {.name = "barrel", .rest = on_circle(0s)});
  const Object camera = harbour.add({.rest = at(20, 5, 0)});
  harbour.give(camera, Follow{.target = barrel, .half_life = 200ms});
  std::vector<Pose> all;
  for (int frame = 1; frame <= 3 * rate; ++frame) {
    const Time end = frame_time(frame, rate);
    feed(harbour, barrel, end);
    harbour.advance(end - harbour.time());
    if (frame % (rate / 6) == 0) all.push_back(harbour.world(camera));
  }
  return all;
}

/// The true path of the camera: x' = ln 2 / h (g(t) - x) in steps of a 24000th of a second, by the midpoint rule.
std::vector<Vec3> true_path() {
  constexpr int steps = 4000;  // in a sixth of a second
  const Vec3 offset = Vec3{20, 5, 0} - on_circle(0s).position;
  const double rate = std::numbers::ln2 / 0.2, step = 1.0 / 6 / steps;
  const auto goal = [&](double t) { return Vec3{on_circle(seconds(t)).position + offset}; };
  std::vector<Vec3> all;
  Vec3 x = goal(0);
  for (int i = 0; i < 18 * steps; ++i) {
    const double t = i * step;
    const Vec3 middle = x + step / 2 * rate * (goal(t) - x);
    x += step * rate * (goal(t + step / 2) - middle);
    if ((i + 1) % steps == 0) all.push_back(x);
  }
  return all;
}

TEST(Fed, IsFollowedTheSameAtEveryFrameRate) {
  const auto live = [](Scene& harbour, Object barrel, Time end) { harbour.feed(barrel, on_circle(end)); };
  const auto truth = true_path();
  for (const int rate : {30, 60, 144}) {
    const auto path = seen(rate, live);
    // The barrel moves in straight lines from sample to sample, and for the camera in straight lines from tick to tick.
    const auto sagitta = [](double per_second) { return 10 * (1 - std::cos(turn / 4 / per_second / 2)); };
    for (std::size_t i = 0; i < truth.size(); ++i)
      EXPECT_LE((path[i].position - truth[i]).norm(), sagitta(rate) + sagitta(harbour_rate)) << rate;
  }
}

TEST(Fed, DoesNotDependOnTheFrameRateWhereItIsFedTheSamePoses) {
  const auto thirty_a_second = [](Scene& harbour, Object barrel, Time) {
    if (harbour.time() > Time{0}) return;
    for (int sample = 1; sample <= 90; ++sample)
      harbour.feed(barrel, on_circle(frame_time(sample, 30)), frame_time(sample, 30));
  };
  const auto once = seen(6, thirty_a_second);
  ASSERT_EQ(once.size(), 18U);
  for (const int rate : {30, 60, 144}) {
    const auto path = seen(rate, thirty_a_second);
    for (std::size_t i = 0; i < once.size(); ++i) EXPECT_TRUE(are_same(path[i], once[i])) << rate << ' ' << i;
  }
}

TEST(Fed, JumpsWhereItIsTeleported) {
  Scene harbour;
  const Object pilot = fed(harbour, {.name = "pilot"});
  harbour.advance(1s);
  harbour.feed(pilot, at(1, 0, 0));
  harbour.teleport(pilot, at(50, 0, 0));  // in place of what was fed
  EXPECT_EQ(harbour.world(pilot).position, (Vec3{50, 0, 0}));
  harbour.advance(1s);
  EXPECT_EQ(harbour.world(pilot).position, (Vec3{50, 0, 0}));
  harbour.feed(pilot, at(60, 0, 0), 4s);
  harbour.advance(1s);
  EXPECT_LE(distance(harbour.world(pilot), at(55, 0, 0)), 1e-13);
  harbour.feed(pilot, at(54, 0, 0));  // from the middle of the way
  harbour.advance(500ms);
  EXPECT_EQ(harbour.world(pilot).position, (Vec3{54, 0, 0}));
  harbour.seek(3250ms);
  EXPECT_LE(distance(harbour.world(pilot), at(54.5, 0, 0)), 1e-13);
  harbour.seek(1s);
  EXPECT_EQ(harbour.world(pilot).position, (Vec3{50, 0, 0}));
  harbour.seek(999ms);
  EXPECT_EQ(harbour.world(pilot).position, (Vec3{0, 0, 0}));
}

TEST(Fed, RefusesWhatIsNoPoseAndStays) {
  Scene harbour;
  const Object pilot = fed(harbour, {.name = "pilot"}), tug = harbour.add({.name = "tug"});
  harbour.feed(pilot, at(2, 0, 0));
  harbour.advance(1s);
  const double nan = std::numeric_limits<double>::quiet_NaN();
  EXPECT_EQ(refusal([&] { harbour.feed(pilot, at(nan, 0, 0)); }),
            "pilot: the fed pose has a number that is not finite or beyond 1e9; give numbers from -1e9 to 1e9.");
  EXPECT_EQ(refusal([&] {
              harbour.teleport(pilot, {.rotation = Quat{0, 0, 0, 0}});
            }),
            "pilot: the fed pose has a rotation whose length is not 1; normalise it.");
  EXPECT_EQ(refusal([&] { harbour.feed(tug, {}); }),
            "tug takes no poses; give it the behaviour Fed, or write `fed = true` for it in its file.");
  EXPECT_EQ(refusal([&] { harbour.feed(pilot, {}, 1s); }),
            "pilot: the time of the fed pose is 1 s; give one after the present time, 1 s, and after that of the last "
            "pose that was fed, 1 s.");
  EXPECT_EQ(refusal([&] { harbour.give(pilot, Fed{}, {.name = "again"}); }),
            "pilot: it has a behaviour \"fed\" already, and can have one only; change the values of that one.");
  harbour.feed(pilot, at(3, 0, 0), 3s);
  EXPECT_NE(refusal([&] { harbour.feed(pilot, {}, 2500ms); }), "accepted");
  harbour.advance(1s);
  EXPECT_LE(distance(harbour.world(pilot), at(2.5, 0, 0)), 1e-14);
}

TEST(Fed, HoldsItsPoseWhileItIsStopped) {
  Scene harbour;
  const Object pilot = harbour.add({});
  const auto feeding = harbour.give(pilot, Fed{});
  harbour.feed(pilot, at(4, 0, 0), 4s);
  harbour.advance(1s);
  harbour.stop(feeding);
  harbour.advance(2s);
  EXPECT_LE(distance(harbour.world(pilot), at(1, 0, 0)), 1e-15);
  harbour.start(feeding);
  EXPECT_LE(distance(harbour.world(pilot), at(1, 0, 0)), 1e-15);  // bridged
  harbour.advance(1s);
  EXPECT_EQ(harbour.world(pilot).position, (Vec3{4, 0, 0}));
}

/// Plays with poses fed at each frame, and returns those of a follower.
std::vector<Pose> play(Scene& harbour, Object barrel, Object camera, int from, int to) {
  std::vector<Pose> all;
  for (int frame = from; frame < to; ++frame) {
    harbour.feed(barrel, on_circle(frame_time(frame * frame % 97, 30)));
    harbour.advance(frame_time(frame + 1, 50) - harbour.time());
    all.push_back(harbour.world(camera));
  }
  return all;
}

TEST(Fed, IsRepeatedBySeekAndSnapshots) {
  Scene harbour;
  const Object barrel = fed(harbour, {.name = "barrel"}), camera = harbour.add({.rest = at(0, 5, 0)});
  harbour.give(camera, Follow{.target = barrel, .half_life = 100ms});
  const auto before = play(harbour, barrel, camera, 0, 100);
  harbour.feed(barrel, at(7, 7, 7));  // part of the snapshot, though no step has begun
  const Snapshot here = harbour.snapshot();
  harbour.advance(frame_time(101, 50) - harbour.time());
  EXPECT_EQ(harbour.world(barrel).position, (Vec3{7, 7, 7}));
  const auto after = play(harbour, barrel, camera, 101, 250);
  for (const int frame : {220, 130, 40, 77, 3}) {
    harbour.restore(here);
    harbour.advance(frame_time(101, 50) - harbour.time());
    const auto again = play(harbour, barrel, camera, 101, 250);
    for (std::size_t i = 0; i < again.size(); ++i) ASSERT_TRUE(are_same(again[i], after[i])) << i;
    harbour.seek(frame_time(frame + 1, 50));
    const auto& then =
        frame < 100 ? before[static_cast<std::size_t>(frame)] : after[static_cast<std::size_t>(frame - 101)];
    EXPECT_TRUE(are_same(harbour.world(camera), then)) << frame;
  }
  harbour.restore(here);
  harbour.seek(frame_time(30, 50) - 1ms);  // on the way, in the frame in which it was fed
  harbour.advance(1ms);
  EXPECT_TRUE(are_same(harbour.world(camera), before[29]));
  harbour.advance(3s);  // what was fed later is forgotten
  EXPECT_TRUE(are_same(harbour.world(barrel), on_circle(frame_time(29 * 29 % 97, 30))));
}

TEST(Fed, RemembersOnlySoManyPoses) {
  for (const Time step : {Time{200ms}, Time{20ms}}) {
    Scene harbour;
    std::vector<Object> swarm;
    for (int i = 0; i < 2000; ++i) swarm.push_back(fed(harbour, {}));
    Vec3 then{};
    for (int frame = 0; frame < 200; ++frame) {
      for (const Object each : swarm) harbour.feed(each, on_circle(frame_time(frame, 30)));
      harbour.advance(step);
      if (frame == 190) then = harbour.world(swarm[7]).position;
    }
    const bool has_past = step == Time{200ms};
    EXPECT_TRUE(refusal([&] { harbour.seek(0s); })
                    .starts_with(has_past ? "cannot seek to 0 s: the past is stored from "
                                          : "cannot seek to 0 s: more than 131072 poses were fed in less than 10 s"));
    const Snapshot now = harbour.snapshot();
    const Vec3 last = harbour.world(swarm[7]).position;
    harbour.seek(harbour.time() + 1s);
    EXPECT_EQ(harbour.world(swarm[7]).position, last);
    harbour.restore(now);
    EXPECT_EQ(harbour.world(swarm[7]).position, last);
    if (!has_past) continue;
    harbour.seek(191 * step);
    EXPECT_EQ(harbour.world(swarm[7]).position, then);
  }
}

}  // namespace
}  // namespace hushed
