// SPDX-License-Identifier: MIT
#include <gtest/gtest.h>

#include <cmath>
#include <functional>
#include <numbers>
#include <random>

#include <hushed/hushed.hpp>

#include "support/refusal.hpp"

namespace hushed {
namespace {

using namespace std::chrono_literals;

const Time tick = frame_time(1, 120);

Vec3 place(const Scene& harbour, Object object) { return harbour.world(object).position; }

/// Plays tick by tick and calls a function at each.
void play(Scene& harbour, Time length, const std::function<void()>& look) {
  for (const Time end = harbour.time() + length; harbour.time() < end;) {
    harbour.advance(tick);
    look();
  }
}

/// The velocity over the last tick; must be called at each tick.
class Speedometer {
 public:
  Speedometer(const Scene& harbour, Object of) : harbour_{harbour}, of_{of}, last_{place(harbour, of)} {}
  Vec3 read() {
    const Vec3 here = place(harbour_, of_);
    const Vec3 velocity = (here - last_) * 120.0;
    last_ = here;
    return velocity;
  }

 private:
  const Scene& harbour_;
  Object of_;
  Vec3 last_;
};

// --- seek, flee, arrive ---

struct Arrival {
  double max_speed, max_acceleration, slow_radius;
};
class Arriving : public testing::TestWithParam<Arrival> {};

TEST_P(Arriving, RestsAtItsTargetWithoutOvershootOrJitter) {
  const auto [speed, acceleration, radius] = GetParam();
  Scene harbour;
  const Object gull = harbour.add({});
  const Vec3 berth{12, 3, -4};
  harbour.give(gull,
               Steer{.urges = {urge::Arrive{berth, radius}}, .max_speed = speed, .max_acceleration = acceleration});
  double last = berth.norm();
  play(harbour, 120s, [&] {
    const double left = (berth - place(harbour, gull)).norm();
    EXPECT_LE(left, last);  // the distance never grows
    EXPECT_NEAR(place(harbour, gull).cross(berth.normalized()).norm(), 0, 1e-9);
    last = left;
  });
  EXPECT_NEAR(last, 0, 1e-6);
}
INSTANTIATE_TEST_SUITE_P(Steer, Arriving,
                         testing::Values(Arrival{5, 10, 5}, Arrival{50, 3, 0}, Arrival{50, 3, 1}, Arrival{0.7, 100, 3},
                                         Arrival{900, 1e6, 0}),
                         [](const auto& info) { return "Case" + std::to_string(info.index + 1); });

TEST(Steer, ArrivesInTheTimeOfAccelerationAndBraking) {
  Scene harbour;
  const Object gull = harbour.add({});
  harbour.give(gull, Steer{.urges = {urge::Arrive{{0, 0, 40}, 0.0}}, .max_speed = 8, .max_acceleration = 4});
  const double expected = 40.0 / 8 + 8.0 / 4;  // d / s + s / a
  harbour.advance(seconds(expected - 0.05));
  EXPECT_GT((place(harbour, gull) - Vec3{0, 0, 40}).norm(), 1e-3);
  harbour.advance(100ms);
  EXPECT_LT((place(harbour, gull) - Vec3{0, 0, 40}).norm(), 1e-6);
}

TEST(Steer, ChangesItsVelocityNoFasterThanItMay) {
  Scene harbour;
  const Object gull = harbour.add({}), buoy = harbour.add({.rest = at(6, 0, 0)});
  harbour.give(buoy, Orbit{.centre = {3, 1, 0}, .radius = 4.0, .speed = degrees(300)});
  harbour.give(gull, Steer{.urges = {urge::Seek{buoy}, urge::Wander{}}, .max_speed = 6, .max_acceleration = 9});
  Speedometer gauge{harbour, gull};
  Vec3 last = Vec3::Zero();
  play(harbour, 5s, [&] {
    const Vec3 velocity = gauge.read();
    EXPECT_LE(velocity.norm(), 6 * (1 + 1e-9));
    EXPECT_LE((velocity - last).norm(), 9 / 120.0 * (1 + 1e-9));
    last = velocity;
  });
  EXPECT_GT(last.norm(), 1);
}

TEST(Steer, FleesWithinItsDistanceAndThenRests) {
  Scene harbour;
  const Object gull = harbour.add({.rest = at(1, 0, 0)}), far = harbour.add({.rest = at(0, 0, 7)});
  for (const Object each : {gull, far}) harbour.give(each, Steer{.urges = {urge::Flee{Vec3{0, 0, 0}, 6.0}}});
  harbour.advance(10s);
  const double stopping = 5.0 * 5 / (2 * 10);
  EXPECT_NEAR(place(harbour, gull).x(), 6 + stopping, 0.1);
  EXPECT_EQ(place(harbour, far), (Vec3{0, 0, 7}));
}

// --- pursue and evade ---

/// The time at which a target at `way` with a velocity is met at a speed, by bisection of |way + velocity t| - speed t.
double time_of_meeting(const Vec3& way, const Vec3& velocity, double speed) {
  double low = 0.0, high = 1.0;
  const auto lacks = [&](double t) { return (way + velocity * t).norm() - speed * t; };
  while (lacks(high) > 0) high *= 2;
  for (int i = 0; i < 200; ++i) (lacks((low + high) / 2) > 0 ? low : high) = (low + high) / 2;
  return high;
}

TEST(Steer, MeetsATargetOfConstantVelocityOnTheShortestCourse) {
  for (const Vec3& velocity : {Vec3{3, 0, 0}, Vec3{0, 1, -4}, Vec3{-2, 0.5, 1}, Vec3{0, 0, 0}}) {
    Scene harbour;
    const Object ferry = harbour.add({.rest = at(10, 2, 15)}), hawk = harbour.add({.rest = at(0, 0, 0)});
    if (!velocity.isZero()) harbour.give(ferry, Travel{.velocity = velocity});
    harbour.give(hawk, Steer{.urges = {urge::Pursue{ferry}}, .max_speed = 6, .max_acceleration = 1e6}, {.delay = 1s});
    harbour.advance(1s);
    harbour.advance(tick);  // the velocity of a target is known after a tick
    const Vec3 from = place(harbour, hawk), ahead = place(harbour, ferry);
    const double time = time_of_meeting(ahead - from, velocity, 6);
    const Vec3 course = (ahead + velocity * time - from).normalized();
    play(harbour, seconds(time) - tick * 2, [&] {
      EXPECT_LE((place(harbour, hawk) - from).cross(course).norm(), 1e-3) << velocity.transpose();  // a straight line
    });
    EXPECT_LE((place(harbour, hawk) - place(harbour, ferry)).norm(), 2 * 6 / 120.0 + 0.1) << velocity.transpose();
  }
}

TEST(Steer, PursuesATargetThatItCannotMeet) {
  Scene harbour;
  const Object ferry = harbour.add({.rest = at(0, 0, 5)}), hawk = harbour.add({});
  harbour.give(ferry, Travel{.velocity = {9, 0, 0}});
  harbour.give(hawk, Steer{.urges = {urge::Pursue{ferry}}, .max_speed = 6});
  harbour.advance(20s);
  const Vec3 way = (place(harbour, ferry) - place(harbour, hawk)).normalized();
  EXPECT_GT((harbour.world(hawk).rotation * axis::forward).dot(way), 0.99);
}

TEST(Steer, EvadesTheMeetingPointRatherThanTheOtherObject) {
  Scene harbour;
  const Object boat = harbour.add({.rest = at(-10, 0, 1)}), gull = harbour.add({});
  harbour.give(boat, Travel{.velocity = {4, 0, 0}});
  harbour.give(gull, Steer{.urges = {urge::Evade{boat}}, .max_acceleration = 1e6});
  harbour.advance(tick * 3);
  // They would meet ahead of the boat, so that it does not go straight away from it.
  const Vec3 met = place(harbour, boat) + Vec3{4, 0, 0} * time_of_meeting(place(harbour, boat), {4, 0, 0}, 5);
  EXPECT_GT(place(harbour, gull).normalized().dot(-met.normalized()), 0.999);
}

// --- neighbours ---

Scene pond(int count, const Steer& steer, std::vector<Object>& gulls) {
  Scene harbour;
  std::mt19937_64 random{7};
  const auto real = [&] { return 8.0 * (static_cast<double>(random() >> 11) * 0x1p-53 - 0.5); };
  for (int i = 0; i < count; ++i) {
    NewObject gull{.name = "gull-" + std::to_string(i), .tags = {"gull"}};
    gull.rest.position = {real(), real(), real()};
    gulls.push_back(harbour.add(gull));
  }
  for (const Object gull : gulls) harbour.give(gull, steer);
  return harbour;
}

TEST(Steer, SeparatesByEqualAndOppositeAmounts) {
  Scene harbour;
  const std::vector<Vec3> places{{0, 0, 0}, {2, 0, 0}, {0, 0, 2.2}, {3.5, 0.5, 1}, {1, 1.5, 3}, {-1, -2, 1}};
  for (const Vec3& each : places) harbour.add({.rest = at(each.x(), each.y(), each.z()), .tags = {"gull"}});
  const std::vector<Object> gulls{harbour.objects().begin(), harbour.objects().end()};
  for (const Object gull : gulls)
    harbour.give(gull, Steer{.urges = {urge::Separation{.tag = "gull", .within = 3.0}}, .max_acceleration = 1e6});
  std::vector<Vec3> before;
  for (const Object gull : gulls) before.push_back(place(harbour, gull));
  harbour.advance(tick);
  Vec3 momentum = Vec3::Zero();
  for (std::size_t i = 0; i < gulls.size(); ++i) {
    const Vec3 velocity = (place(harbour, gulls[i]) - before[i]) * 120.0;
    EXPECT_TRUE(velocity.norm() > 0.1 && velocity.norm() < 4.9);  // each is pushed, and none as hard as it can be
    momentum += velocity;
  }
  EXPECT_NEAR(momentum.norm(), 0, 1e-10);

  std::vector<Object> pair;
  Scene two = pond(2, Steer{.urges = {urge::Separation{.tag = "gull", .within = 20.0}}}, pair);
  const Vec3 middle = place(two, pair[0]) + place(two, pair[1]);
  play(two, 3s, [&] { EXPECT_NEAR((place(two, pair[0]) + place(two, pair[1]) - middle).norm(), 0, 1e-12); });
  EXPECT_GT((place(two, pair[0]) - place(two, pair[1])).norm(), 10);
}

TEST(Steer, AFlockThatDoesNotWanderComesToOneHeading) {
  std::vector<Object> gulls;
  const Steer steer{.urges = {urge::Separation{.tag = "gull", .within = 1.5},
                              urge::Alignment{.tag = "gull", .within = 9.0},
                              urge::Cohesion{.tag = "gull", .within = 9.0, .weight = 0.2}}};
  Scene harbour = pond(40, steer, gulls);
  std::mt19937_64 random{3};
  for (const Object gull : gulls) {
    const double yaw = static_cast<double>(random() % 1000) * 0.002;  // anywhere in a third of the circle
    harbour.kick(*harbour.find_behaviour(harbour.name(gull) + ".steer"), {3 * std::sin(yaw), 0, 3 * std::cos(yaw)});
  }
  const auto order = [&](Time length) {
    std::vector<Speedometer> gauges;
    for (const Object gull : gulls) gauges.emplace_back(harbour, gull);
    harbour.advance(length);
    Vec3 sum = Vec3::Zero();
    for (Speedometer& gauge : gauges) sum += gauge.read().normalized();
    return sum.norm() / 40;
  };
  EXPECT_LT(order(tick), 0.95);
  harbour.advance(20s);
  EXPECT_GT(order(tick), 0.999);
}

/// The velocity that one of three agents wants because of the two others, computed by hand.
TEST(Steer, FollowsTheFormulasOfTheFlockingUrges) {
  const Vec3 a{0, 0, 0}, b{1, 0, 0}, c{0, 0, 2};
  const auto first_step = [&](const Urge& urge) {
    Scene harbour;
    const Object gull = harbour.add({.rest = at(a.x(), a.y(), a.z())});
    for (const Vec3& each : {b, c}) harbour.add({.rest = at(each.x(), each.y(), each.z()), .tags = {"gull"}});
    harbour.give(gull, Steer{.urges = {urge}, .max_speed = 5, .max_acceleration = 1e6});
    harbour.advance(tick);
    return Vec3{place(harbour, gull) * 120.0};
  };
  const Vec3 push = Vec3{-1, 0, 0} * (1 - 1 / 4.0) + Vec3{0, 0, -1} * (1 - 2 / 4.0);
  EXPECT_NEAR((first_step(urge::Separation{.tag = "gull", .within = 4.0}) - push * 5).norm(), 0, 1e-9);
  EXPECT_NEAR((first_step(urge::Cohesion{.tag = "gull", .within = 4.0}) - (b + c) / 2 / 4 * 5).norm(), 0, 1e-9);
  EXPECT_NEAR(first_step(urge::Alignment{.tag = "gull"}).norm(), 0, 1e-12);
}

TEST(Steer, IsDefinedWhereAllAgentsAreAtOnePlace) {
  std::vector<std::vector<Vec3>> ends;
  for (const bool backwards : {false, true}) {
    Scene harbour;
    std::vector<Object> gulls(5);
    for (int i = 0; i < 5; ++i) {
      const int number = backwards ? 4 - i : i;
      gulls[static_cast<std::size_t>(number)] =
          harbour.add({.name = "gull-" + std::to_string(number), .tags = {"gull"}});
    }
    for (int i = 0; i < 5; ++i)
      harbour.give(gulls[static_cast<std::size_t>(backwards ? 4 - i : i)],
                   Steer{.urges = {urge::Separation{.tag = "gull"}, urge::Alignment{.tag = "gull"},
                                   urge::Cohesion{.tag = "gull"}, urge::Seek{Vec3{0, 0, 0}}, urge::Flee{Vec3{0, 0, 0}},
                                   urge::Pursue{Vec3{0, 0, 0}}, urge::Wander{.weight = 0.3}}});
    harbour.advance(1s);
    auto& end = ends.emplace_back();
    for (const Object gull : gulls) end.push_back(place(harbour, gull));
  }
  EXPECT_EQ(ends[0], ends[1]);
  for (const Vec3& end : ends[0]) EXPECT_TRUE(end.allFinite());
  EXPECT_NE(ends[0][0], ends[0][1]);  // each wanders its own way
}

// --- wander, path, contain, planar, facing ---

TEST(Steer, WandersByItsRate) {
  const auto spread = [](double rate, double tick_rate) {
    double squares = 0.0;
    constexpr int gulls = 400;
    Scene harbour{tick_rate};
    std::vector<Object> flock;
    for (int i = 0; i < gulls; ++i) {
      flock.push_back(harbour.add({.name = "gull-" + std::to_string(i)}));
      harbour.give(flock.back(), Steer{.urges = {urge::Wander{.distance = 0, .rate = degrees(rate)}},
                                       .max_acceleration = 1e6,
                                       .planar = true});
    }
    harbour.advance(1s);
    std::vector<Vec3> before;
    for (const Object gull : flock) before.push_back(harbour.world(gull).position);
    harbour.advance(seconds(1 / tick_rate));
    for (std::size_t i = 0; i < flock.size(); ++i) {
      const Vec3 way = harbour.world(flock[i]).position - before[i];
      const double yaw = std::atan2(way.x(), way.z()) * 180 / std::numbers::pi;
      squares += yaw * yaw / gulls;
    }
    return std::sqrt(squares);
  };
  EXPECT_NEAR(spread(30, 120), 30, 3);  // the standard deviation of 400 is known to about 4 %
  EXPECT_NEAR(spread(30, 60), 30, 3);
}

TEST(Steer, StaysWithinItsPathAndRestsAtTheEnd) {
  Scene harbour;
  const Object fish = harbour.add({.rest = at(-2, 0, 3)});
  const std::vector<Place> points{{0, 0, 0}, {20, 0, 0}, {20, 0, 20}};
  harbour.give(fish,
               Steer{.urges = {urge::Path{.points = points, .width = 2}}, .max_speed = 3, .max_acceleration = 12});
  double furthest = 0.0;
  harbour.advance(3s);
  play(harbour, 17s, [&] {
    const Vec3 here = place(harbour, fish);
    const double off = std::min(std::hypot(here.z(), std::max(here.x() - 20, 0.0)),
                                std::hypot(here.x() - 20, std::min(here.z(), 0.0)));
    furthest = std::max(furthest, off);
  });
  EXPECT_LT(furthest, 2.1);  // it looks 2 m ahead, and so cuts the corner
  EXPECT_NEAR((place(harbour, fish) - Vec3{20, 0, 20}).norm(), 0, 0.01);
}

TEST(Steer, FollowsAClosedPath) {
  Scene harbour;
  const Object fish = harbour.add({});
  const std::vector<Place> points{{0, 0, 0}, {10, 0, 0}, {10, 0, 10}, {0, 0, 10}, {0, 0, 0}};
  harbour.give(fish, Steer{.urges = {urge::Path{.points = points}}, .max_speed = 4, .max_acceleration = 20});
  int seen = 0;
  double turned = 0.0, last = 0.0;
  play(harbour, 30s, [&] {
    const Vec3 way = place(harbour, fish) - Vec3{5, 0, 5};
    const double angle = std::atan2(way.z(), way.x());
    if (seen++ > 0) turned += std::remainder(angle - last, 2 * std::numbers::pi);
    last = angle;
  });
  EXPECT_GT(turned, 2.5 * 2 * std::numbers::pi);  // 40 m a lap, at 4 m/s less what corners take
}

TEST(Steer, StaysInItsBoxWhateverItsOtherUrges) {
  Scene harbour;
  std::vector<Object> gulls;
  for (int i = 0; i < 12; ++i) {
    gulls.push_back(harbour.add({.name = "gull-" + std::to_string(i), .rest = at(i - 6, 1, 0)}));
    harbour.give(gulls.back(), Steer{.urges = {urge::Wander{}, urge::Seek{Vec3{20.0 * (i % 3 - 1), 9, 30}, 3.0},
                                               urge::Contain{{{-7, 0, -7}, {7, 5, 7}}}},
                                     .max_speed = 4.0 + i});
  }
  play(harbour, 20s, [&] {
    for (const Object gull : gulls) {
      const Vec3 here = place(harbour, gull);
      EXPECT_LE(here.cwiseAbs().maxCoeff(), 7) << harbour.name(gull);
      EXPECT_TRUE(here.y() >= 0 && here.y() <= 5) << harbour.name(gull);
    }
  });
}

TEST(Steer, KeepsItsHeightBitForBitWhereItIsPlanar) {
  Scene harbour;
  const Object fish = harbour.add({.rest = at(0, 1.7, 0)}), gull = harbour.add({.rest = at(9, 8, 2), .tags = {"gull"}});
  harbour.give(gull, Orbit{.radius = 9.0, .period = 4});
  harbour.give(fish, Steer{.urges = {urge::Pursue{gull}, urge::Wander{}, urge::Cohesion{.tag = "gull", .within = 30}},
                           .planar = true});
  play(harbour, 5s, [&] { ASSERT_EQ(place(harbour, fish).y(), 1.7); });
}

TEST(Steer, FacesItsMotionWithUpUp) {
  Scene harbour;
  const Object gull = harbour.add({});
  harbour.give(gull, Steer{.urges = {urge::Wander{.rate = degrees(200)}}, .planar = true});
  harbour.advance(1s);
  Speedometer gauge{harbour, gull};
  Quat last = harbour.world(gull).rotation;
  play(harbour, 5s, [&] {
    const Vec3 velocity = gauge.read();
    const Quat now = harbour.world(gull).rotation;
    if (velocity.norm() > 2) {
      EXPECT_NEAR((now * axis::forward).dot(velocity.normalized()), 1, 1e-9);
    }
    EXPECT_GE((now * axis::up).y(), 0);
    EXPECT_LE(angle_between(last, now).in_radians(), 4 * 10 / 5.0 / 120 * (1 + 1e-9));
    last = now;
  });
}

TEST(Steer, ContinuesWithoutALostTarget) {
  Scene harbour;
  const Object pilot = harbour.add({.name = "pilot"}), gull = harbour.add({.rest = at(1, 0, 0)});
  harbour.give(gull, Steer{.urges = {urge::Flee{pilot, 6.0, 9.0}, urge::Seek{Vec3{-9, 0, 0}}}});
  harbour.advance(1s);
  EXPECT_GT(place(harbour, gull).x(), 1);
  harbour.hide(pilot);
  harbour.advance(3s);
  ASSERT_FALSE(harbour.events().empty());
  EXPECT_EQ(harbour.events()[0].name, "lost");
  EXPECT_LT(place(harbour, gull).x(), -2);
}

TEST(Steer, CannotBeRetargetedWithoutAnUrgeWithATarget) {
  Scene harbour;
  const Object buoy = harbour.add({.name = "buoy"}), gull = harbour.add({.name = "gull"});
  const auto steer = harbour.give(gull, Steer{.urges = {urge::Wander{}}});
  EXPECT_THROW(harbour.retarget(steer, buoy), BadValue);
  harbour.tune(steer).urges = {urge::Wander{}, urge::Seek{Vec3{9, 0, 0}}};
  harbour.retarget(steer, buoy);
  EXPECT_EQ(as_text(*harbour.get("gull.steer.urges")), R"([{ urge = "wander" }, { urge = "seek", target = "buoy" }])");
}

TEST(Steer, IgnoresNeighboursWithinARadiusOfZero) {
  Scene harbour;
  const Object one = harbour.add({.tags = {"gull"}}), other = harbour.add({.rest = at(1, 0, 0), .tags = {"gull"}});
  for (const Object each : {one, other})
    harbour.give(each, Steer{.urges = {urge::Separation{.tag = "gull", .within = 0.0},
                                       urge::Cohesion{.tag = "gull", .within = 5.0}}});
  harbour.advance(1s);
  EXPECT_GT(place(harbour, one).x(), 0.1);
  EXPECT_LT(place(harbour, one).x(), 1);
}

TEST(Steer, HasNeighboursWhileItIsHiddenAndIsNoneItself) {
  Scene harbour;
  const Object gull = harbour.add({.tags = {"gull"}}), other = harbour.add({.rest = at(2, 0, 0), .tags = {"gull"}});
  for (const Object each : {gull, other})
    harbour.give(each, Steer{.urges = {urge::Separation{.tag = "gull", .within = 4.0}}});
  harbour.hide(gull);
  harbour.advance(1s);
  EXPECT_LT(place(harbour, gull).x(), -0.5);
  EXPECT_EQ(place(harbour, other), (Vec3{2, 0, 0}));
}

TEST(Steer, ReportsWhatEachUrgeWants) {
  Scene harbour;
  const Object ship = harbour.add({.rest = {{5, 0, 0}, rotation(axis::up, degrees(90)), Vec3::Ones()}});
  const Object gull = harbour.add({.parent = ship});
  const auto steering = harbour.give(
      gull,
      Steer{.urges = {urge::Seek{Vec3{0, 0, 9}}, urge::Flee{Vec3{1, 0, 0}, 4.0, 3.0}, urge::Flee{Vec3{9, 0, 0}, 4.0}}});
  const auto all = harbour.urges(steering);
  ASSERT_EQ(all.size(), 3U);  // the last one is out of reach
  EXPECT_EQ(all[0].urge, "seek");
  EXPECT_NEAR((all[0].velocity - Vec3{5, 0, 0}).norm(), 0, 1e-12);  // +Z of the ship is +X of the world
  EXPECT_NEAR((all[1].velocity - Vec3{0, 0, 5}).norm(), 0, 1e-12);
  EXPECT_EQ(all[1].share, 0.75);
  EXPECT_EQ(all[2].urge, "wanted");
  EXPECT_NEAR((all[2].velocity - (all[0].velocity * 0.25 + all[1].velocity * 0.75)).norm(), 0, 1e-12);
}

TEST(Steer, RefusesInvalidUrges) {
  Scene harbour;
  const Object gull = harbour.add({.name = "gull", .tags = {"gull"}});
  const auto refused = [&](const Urge& urge) { return tests::refusal(harbour, gull, Steer{.urges = {urge}}); };
  EXPECT_EQ(refused(urge::Seek{"bouy"}),
            "gull.steer: urges: seek: target: no object \"bouy\" in this scene; give gull.");
  EXPECT_EQ(refused(urge::Alignment{.tag = "gul"}),
            "gull.steer: urges: alignment: tag: no object in this scene has the tag \"gul\"; did you mean \"gull\"?");
  EXPECT_EQ(refused(urge::Cohesion{}), "gull.steer: urges: cohesion: tag: missing; give the tag of some objects.");
  EXPECT_EQ(refused(urge::Wander{.rate = degrees(1e10)}),
            "gull.steer: urges: wander: rate: 10000000000 is out of range; give a number from 0 to 1e9 (deg/s).");
  EXPECT_EQ(refused(urge::Contain{}),
            "gull.steer: urges: contain: box: missing; give two corners, [[x, y, z], [x, y, z]].");
  EXPECT_EQ(tests::refusal(harbour, gull, Steer{}),
            "gull.steer: urges: the list is empty; give at least one urge, such as { urge = \"wander\" }.");
}

// --- at the edges ---

TEST(Steer, NeverGoesPastItsTargetAtAnyTickRate) {
  std::mt19937_64 random{26};
  std::uniform_real_distribution<double> unit{0.0, 1.0};
  for (int i = 0; i < 200; ++i) {
    const double rate = std::floor(std::pow(10.0, 0.7 + 2.3 * unit(random)));  // 5 to 1000 per second
    const double away = std::pow(10.0, 3.0 * unit(random) - 1.0);
    Scene harbour{rate};
    const Object gull = harbour.add({});
    harbour.give(gull, Steer{.urges = {urge::Arrive{{0, 0, away}, unit(random) < 0.5 ? 0.0 : 5.0 * unit(random)}},
                             .max_speed = std::pow(10.0, 2.0 * unit(random)),
                             .max_acceleration = std::pow(10.0, 2.0 * unit(random) - 0.5)});
    for (int frame = 0; frame < 2000; ++frame) {
      harbour.advance(seconds(0.37 / rate));
      ASSERT_LE(place(harbour, gull).z() - away, 1e-14 * away) << rate << " per second, frame " << frame;
    }
  }
}

TEST(Steer, DoesNotOscillateAtACorner) {
  for (const double ahead : {0.5, 2.0, 3.0})
    for (const double speed : {1.0, 2.0})
      for (const double acceleration : {5.0, 40.0}) {
        Scene harbour;
        const Object gull = harbour.add({});
        harbour.give(gull,
                     Steer{.urges = {urge::Path{{Vec3{0, 0, 0}, Vec3{4.1, 0, 0.3}, Vec3{6.2, 0, 4.7}}, ahead, 2.0}},
                           .max_speed = speed,
                           .max_acceleration = acceleration});
        Speedometer gauge{harbour, gull};
        int changes = 0;
        double last_yaw = 0.0, last_turn = 0.0;
        play(harbour, 30s, [&] {
          const Vec3 way = gauge.read();
          if ((place(harbour, gull) - Vec3{6.2, 0, 4.7}).norm() < 0.3 || way.norm() < 0.5 * speed) return;
          const double yaw = std::atan2(way.x(), way.z());
          const double turn = yaw - last_yaw;
          if (last_yaw != 0.0 && std::min(std::abs(turn), std::abs(last_turn)) > 1e-5 && turn * last_turn < 0)
            ++changes;
          last_yaw = yaw;
          last_turn = turn;
        });
        EXPECT_LE(changes, 2) << ahead << " m ahead, " << speed << " m/s";
        EXPECT_LT((place(harbour, gull) - Vec3{6.2, 0, 4.7}).norm(), 0.1);
      }
}

TEST(Steer, OnThePlaneHasTheSameNeighboursWhateverTheirHeights) {
  std::vector<Vec3> ends[2];
  for (const double height : {0.0, 40.0}) {
    Scene harbour;
    std::vector<Object> gulls;
    for (int i = 0; i < 12; ++i)
      gulls.push_back(harbour.add({.name = "gull" + std::to_string(10 + i),
                                   .rest = at(std::sin(i * 2.0) * 4, i % 2 * height, std::cos(i * 3.0) * 4),
                                   .tags = {"gull"}}));
    for (const Object gull : gulls)
      harbour.give(gull, Steer{.urges = {urge::Separation{"gull", 3.0}, urge::Cohesion{"gull", 6.0},
                                         urge::Alignment{"gull", 6.0}, urge::Wander{}},
                               .planar = true});
    harbour.advance(3s);
    for (const Object gull : gulls) ends[height > 0].push_back(place(harbour, gull));
  }
  for (std::size_t i = 0; i < ends[0].size(); ++i) {
    EXPECT_EQ(ends[0][i].x(), ends[1][i].x());
    EXPECT_EQ(ends[0][i].z(), ends[1][i].z());
  }
}

TEST(Steer, DoesNotCutThroughAWallInAFrameBetweenTwoTicks) {
  Scene harbour{30};
  const Object gull = harbour.add({}), whale = harbour.add({.rest = at(0, 0, -6), .tags = {"whale"}});
  harbour.give(gull, Steer{.urges = {urge::Seek{Vec3{9, 0, 0}}, urge::Avoid{.tag = "whale"},
                                     urge::Contain{{Vec3{-5, -5, -5}, Vec3{5, 5, 5}}}},
                           .max_speed = 8,
                           .max_acceleration = 20});
  (void)whale;
  double furthest = 0.0;
  for (int frame = 0; frame < 3000; ++frame) {
    harbour.advance(1ms);
    furthest = std::max(furthest, place(harbour, gull).x());
  }
  EXPECT_LE(furthest, 5.0);
  EXPECT_GT(furthest, 4.9);
}

TEST(Steer, IsDefinedForAFlockWithoutMembers) {
  Scene harbour;
  const Object buoy = harbour.add({.name = "buoy"}), fish = harbour.add({.name = "fish", .tags = {"shoal"}});
  for (const bool planar : {false, true}) {
    const Object gull = harbour.add({.parent = planar ? std::nullopt : std::optional{buoy}});
    harbour.give(gull, Steer{.urges = {urge::Cohesion{"shoal", 5.0}}, .planar = planar});
  }
  harbour.advance(100ms);
  harbour.end(fish);
  harbour.advance(100ms);
  EXPECT_EQ(harbour.world_poses().size(), 3U);
  harbour.advance(100ms);
}

}  // namespace
}  // namespace hushed
