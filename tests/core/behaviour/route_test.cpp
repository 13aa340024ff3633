// SPDX-License-Identifier: MIT
#include <gtest/gtest.h>
// Must come after gtest, whose macros it uses.
#include <rapidcheck/gtest.h>

#include <cmath>
#include <random>
#include <string>
#include <vector>

#include <hushed/hushed.hpp>

#include "support/refusal.hpp"

namespace hushed {
namespace {

using namespace std::chrono_literals;

/// 4 m along x, then 3 m along z, then 5 m back to the start where it is a loop.
const std::vector<Place> corner{{0, 0, 0}, {4, 0, 0}, {4, 0, 3}};

struct Ferry {
  Scene harbour;
  Object ferry = harbour.add({.name = "ferry"});

  explicit Ferry(const Route& route, const Common& common = {}) { harbour.give(ferry, route, common); }
  Vec3 after(Time time) {
    harbour.seek(time);
    return harbour.world(ferry).position;
  }
};

double distance(const Vec3& a, const Vec3& b) { return (a - b).norm(); }

TEST(Route, CarriesTheRestOfAStepIntoTheNextLeg) {
  // The lap is 12 m: the position after t seconds at v m/s follows by counting metres.
  const auto on_the_lap = [](double metres) -> Vec3 {
    const double s = metres - 12 * std::floor(metres / 12);
    return s < 4 ? Vec3{s, 0, 0} : s < 7 ? Vec3{4, 0, s - 4} : Vec3{4 - 0.8 * (s - 7), 0, 3 - 0.6 * (s - 7)};
  };
  for (const double speed : {0.5, 3.0, 100.0, 5000.0, -7.0, -1e4}) {  // up to seven laps a tick
    Ferry made{{.points = corner, .speed = speed, .ends = RouteEnds::loop}};
    for (int i = 0; i < 40; ++i) {
      EXPECT_LE(distance(made.harbour.world(made.ferry).position, on_the_lap(speed * in_seconds(made.harbour.time()))),
                1e-9);
      made.harbour.advance(Time{units_per_second / 97});
    }
  }
}

RC_GTEST_PROP(Route, HasAConstantSpeedAlongASmoothCurve, (std::uint64_t seed)) {
  std::mt19937_64 random{seed};
  std::uniform_real_distribution<double> part{-10, 10};
  Route route{.speed = 3.0, .shape = PathShape::smooth, .ends = static_cast<RouteEnds>(random() % 3)};
  for (int i = 0; i < 6; ++i) route.points.emplace_back(part(random), part(random), part(random));
  Ferry made{route};
  for (int i = 0; i < 40; ++i) {
    made.harbour.advance(seconds(0.2));
    const Vec3 before = made.harbour.world(made.ferry).position;
    made.harbour.advance(100us);
    const Vec3 middle = made.harbour.world(made.ferry).position;
    made.harbour.advance(100us);
    const Vec3 after = made.harbour.world(made.ferry).position;
    if (route.ends == RouteEnds::stop && distance(middle, after) < 1e-6) break;  // it has arrived
    if ((after - middle).dot(middle - before) < 0) continue;                     // it has turned back between
    const double bend = ((before + after) / 2 - middle).norm() / 3e-4;           // chords are shorter than arcs
    RC_ASSERT(std::abs(distance(before, after) / 6e-4 - 1.0) <= 1e-6 + bend * bend);
  }
}

TEST(Route, HasItsDurationForOnePass) {
  for (const auto& [ends, length] :
       {std::pair{RouteEnds::stop, 7.0}, {RouteEnds::loop, 12.0}, {RouteEnds::come_back, 7.0}}) {
    Ferry made{{.points = corner, .duration = 10s, .ends = ends}};
    EXPECT_LE(distance(made.after(2s), {0.2 * length, 0, 0}), 1e-12);
  }
}

TEST(Route, PausesAfterEachArrivalAndReturnsOnTheSamePath) {
  Ferry made{{.points = corner, .speed = 1.0, .ends = RouteEnds::come_back, .pause = {2s, 0s, 1s}}};
  // Out in 7 s, 1 s at the far end, back in 7 s, 2 s at the first point: a period of 17 s.
  for (const int period : {0, 1, 1000}) {
    const auto at = [&](Time time) { return made.after(time + period * Time{17s}); };
    EXPECT_LE(distance(at(1s), {1, 0, 0}), 1e-9);
    EXPECT_LE(distance(at(4s), {4, 0, 0}), 1e-9);
    EXPECT_LE(distance(at(7s), {4, 0, 3}), 1e-9);
    EXPECT_LE(distance(at(8s), {4, 0, 3}), 1e-9);
    EXPECT_LE(distance(at(10s), {4, 0, 1}), 1e-9);
    EXPECT_LE(distance(at(15s), {0, 0, 0}), 1e-9);
    EXPECT_LE(distance(at(16900ms), {0, 0, 0}), 1e-9);
  }
}

TEST(Route, EasesEachStretchBetweenPausesByItself) {
  const Easing easing = Easing::parse("in-out-quad");
  Ferry made{{.points = corner, .speed = 1.0, .pause = {0s, 1s, 0s}, .easing = easing}};
  EXPECT_LE(distance(made.after(1s), {4 * easing(0.25), 0, 0}), 1e-14);
  EXPECT_LE(distance(made.after(4500ms), {4, 0, 0}), 1e-14);
  EXPECT_LE(distance(made.after(6s), {4, 0, 3 * easing(1.0 / 3)}), 1e-14);
  EXPECT_LE(distance(made.after(9s), {4, 0, 3}), 1e-14);

  Ferry whole{{.points = corner, .speed = 1.0, .easing = easing, .start = 2}};  // no pause: 5 m in one stretch
  EXPECT_LE(distance(whole.after(4s), {4, 0, 5 * easing(0.8) - 2}), 1e-14);
}

TEST(Route, BeginsAtItsStartInEitherDirection) {
  const auto at = [](Route route, Time time) {
    route.points = corner;
    return Ferry{route}.after(time);
  };
  EXPECT_LE(distance(at({.speed = 1.0, .start = 5}, 1s), {4, 0, 2}), 1e-14);
  EXPECT_LE(distance(at({.speed = 1.0, .start = 99}, 1s), {4, 0, 3}), 1e-14);
  EXPECT_LE(distance(at({.speed = 1.0, .ends = RouteEnds::loop, .start = 12 + 5}, 1s), {4, 0, 2}), 1e-12);
  EXPECT_LE(distance(at({.speed = -1.0, .start = 5}, 2s), {3, 0, 0}), 1e-14);
  EXPECT_LE(distance(at({.speed = -1.0, .start = 5}, 9s), {0, 0, 0}), 1e-14);
  EXPECT_LE(distance(at({.speed = -1.0, .ends = RouteEnds::loop}, 5s), {4, 0, 3}), 1e-12);  // over the closing leg
  EXPECT_LE(distance(at({.speed = -1.0, .ends = RouteEnds::come_back, .start = 2}, 3s), {1, 0, 0}), 1e-14);
  EXPECT_LE(distance(at({.speed = 0.0, .start = 5}, 1h), {4, 0, 1}), 1e-14);
}

TEST(Route, FacesItsMotionAndDuringAPauseTheDirectionOfArrival) {
  Ferry made{{.points = corner,
              .speed = 1.0,
              .ends = RouteEnds::come_back,
              .pause = {0s, 2s, 1s},
              .face = RouteFacing::travel}};
  const auto ahead = [&](Time time) {
    made.harbour.seek(time);
    return Vec3{made.harbour.world(made.ferry).rotation * axis::forward};
  };
  EXPECT_LE(distance(ahead(0s), axis::right), 1e-15);
  EXPECT_LE(distance(ahead(5s), axis::right), 1e-15);    // standing at the corner
  EXPECT_LE(distance(ahead(6s), axis::forward), 1e-15);  // going on
  EXPECT_LE(distance(ahead(9500ms), axis::forward), 1e-15);
  EXPECT_LE(distance(ahead(10500ms), -axis::forward), 1e-15);
  EXPECT_LE(distance(ahead(14s), -axis::forward), 1e-15);
  EXPECT_LE(distance(ahead(15500ms), -axis::right), 1e-15);

  Scene harbour;
  const Quat lean = rotation(degrees(1), degrees(2), degrees(3));
  const Object lift = harbour.add({.rest = {Vec3::Zero(), lean, Vec3::Ones()}});
  harbour.give(lift, Route{.points = {{0, 0, 0}, {0, 9, 0}}, .speed = 1.0, .face = RouteFacing::travel});
  harbour.advance(1s);
  EXPECT_EQ(harbour.world(lift).rotation.coeffs(), lean.coeffs());
}

TEST(Route, FollowsPointsThatMove) {
  Scene harbour;
  const Object buoy = harbour.add({.rest = at(8, 0, 0)}),
               crane = harbour.add({.rest = {{1, 0, 0}, rotation(axis::up, degrees(90)), {2, 2, 2}}});
  const Object hook = harbour.add({.parent = crane});
  harbour.give(buoy, Travel{.velocity = {1, 0, 0}});
  harbour.give(hook, Route{.points = {{0, 0, 0}, {buoy, {0, 2, 0}}}, .duration = 4s});
  harbour.advance(2s);
  EXPECT_LE(distance(harbour.world(hook).position, {(1.0 + 10.0) / 2, 1, 0}),
            1e-12);  // in the world: from the crane to the buoy
  harbour.advance(3s);
  EXPECT_LE(distance(harbour.world(hook).position, {13, 2, 0}), 1e-12);
}

/// "1@4 2@9": the events of a play, by number and time.
template <class Step>
std::string events_of(Scene& harbour, Time until, Step&& step) {
  std::string all;
  while (harbour.time() < until) {
    harbour.advance(std::min<Time>(step(), until - harbour.time()));
    for (const Event& event : harbour.events())
      if (event.name == "reached")
        all += std::to_string(event.number) + "@" + std::to_string(std::lround(in_seconds(event.time) * 1e6)) + " ";
  }
  return all;
}

TEST(Route, ReportsArrivalsAtTheirExactTimesAtAnyFrameRate) {
  const Route route{.points = {{0, 0, 0}, {4, 0, 0}, {4, 0, 0}, {4, 0, 3}},
                    .speed = 2.0,
                    .ends = RouteEnds::loop,
                    .pause = {0s, 500ms, 250ms, 0s}};
  const std::string expected = "1@2000000 2@2500000 3@4250000 0@6750000 1@8750000 2@9250000 3@11000000 0@13500000 ";
  for (const int rate : {1, 24, 144, 1000}) {
    Ferry made{route};
    EXPECT_EQ(events_of(made.harbour, 14s, [rate] { return Time{units_per_second / rate}; }), expected) << rate;
    made.harbour.seek(3s);
    EXPECT_EQ(events_of(made.harbour, 14s, [] { return Time{7s}; }), expected.substr(expected.find("3@"))) << rate;
  }
  Ferry at_once{route};
  EXPECT_EQ(events_of(at_once.harbour, 14s, [] { return Time{14s}; }), expected);
}

TEST(Route, ReportsNoArrivalTwiceWhenObjectsAreAdded) {
  Ferry made{{.points = corner, .speed = 1.0, .ends = RouteEnds::loop}};
  EXPECT_EQ(events_of(made.harbour, 5s, [] { return Time{1s}; }), "1@4000000 ");
  for (int i = 0; i < 50; ++i) made.harbour.give(made.harbour.add({}), Route{.points = {{0, 0, 0}}, .speed = 1.0});
  EXPECT_EQ(events_of(made.harbour, 8s, [] { return Time{1s}; }), "2@7000000 ");
}

TEST(Route, ReportsArrivalsAtMovingPointsAtTicks) {
  const auto told = [](int rate) {
    Scene harbour;
    const Object buoy = harbour.add({.rest = at(4, 0, 0)}), tug = harbour.add({});
    harbour.give(buoy, Travel{.velocity = {0, 0, 1}});
    harbour.give(tug, Route{.points = {{0, 0, 0}, buoy, {0, 0, 9}}, .speed = 3.0, .ends = RouteEnds::come_back});
    return events_of(harbour, 20s, [rate] { return Time{units_per_second / rate}; });
  };
  const std::string expected = told(5);
  EXPECT_EQ(expected.substr(0, 2), "1@");
  EXPECT_EQ(expected.substr(expected.find(' ') + 1, 2), "2@");
  for (const int rate : {24, 60, 144}) EXPECT_EQ(told(rate), expected);
}

TEST(Route, KeepsItsPlaceWhenItsValuesChange) {
  Scene harbour;
  const Object ferry = harbour.add({});
  const auto riding =
      harbour.give(ferry, Route{.points = corner, .speed = 1.0, .ends = RouteEnds::loop, .pause = {0s, 2s, 0s}});
  harbour.advance(7s);  // a metre past the corner
  harbour.tune(riding)->speed = 2.0;
  EXPECT_LE(distance(harbour.world(ferry).position, {4, 0, 1}), 1e-12);
  harbour.advance(500ms);
  EXPECT_LE(distance(harbour.world(ferry).position, {4, 0, 2}), 1e-12);
  harbour.tune(riding)->speed = -2.0;  // back from there
  harbour.advance(500ms);
  EXPECT_LE(distance(harbour.world(ferry).position, {4, 0, 1}), 1e-12);
  harbour.tune(riding)->ends = RouteEnds::stop;
  harbour.advance(500ms + 2s + 1s);
  EXPECT_LE(distance(harbour.world(ferry).position, {2, 0, 0}), 1e-12);
  harbour.advance(5s);
  EXPECT_LE(distance(harbour.world(ferry).position, {0, 0, 0}), 1e-12);
}

TEST(Route, AcceptsObjectsAsPoints) {
  Scene harbour;
  const Object buoy = harbour.add({.rest = at(5, 0, 4)}), tug = harbour.add({}), other = harbour.add({});
  const Route still{.points = {{0, 0, 0}, {5, 0, 4}, {9, 0, -2}}, .speed = 1.0, .shape = PathShape::smooth};
  Route moving = still;
  moving.points[1] = buoy;
  const auto riding = harbour.give(tug, moving);
  harbour.give(other, still);
  harbour.advance(3s);
  EXPECT_LE(distance(harbour.world(tug).position, harbour.world(other).position), 1e-8);
  harbour.tune(riding)->points[1] = Vec3{5, 0, 4};
  harbour.advance(3s);
  EXPECT_LE(distance(harbour.world(tug).position, harbour.world(other).position), 1e-6);
}

TEST(Route, StaysWhereItsPathHasNoLength) {
  for (const auto& points : {std::vector<Place>{{1, 2, 3}}, std::vector<Place>{{1, 2, 3}, {1, 2, 3}}}) {
    for (const RouteEnds ends : {RouteEnds::stop, RouteEnds::loop, RouteEnds::come_back}) {
      Ferry made{{.points = points, .speed = 5.0, .ends = ends, .pause = 1s}};
      EXPECT_EQ(made.after(3s), Vec3(1, 2, 3));
    }
  }
  EXPECT_EQ((Ferry{{.points = corner, .duration = 0s}}.after(1s)), Vec3(4, 0, 3));
}

TEST(Route, HandlesTensOfThousandsOfPoints) {
  Route route{.speed = 10.0, .shape = PathShape::smooth};
  for (int i = 0; i < 20'000; ++i)
    route.points.emplace_back(std::cos(0.01 * i) * 50, 0.001 * i, std::sin(0.01 * i) * 50);
  Ferry made{route};
  const double radius = made.after(700s).head<3>().cwiseProduct(Vec3{1, 0, 1}).norm();
  EXPECT_NEAR(radius, 50.0, 1e-3);
  EXPECT_NEAR(made.after(700s).y(), 0.001 * 7000 / 50 / 0.01, 0.01);  // as far up as round
}

TEST(Route, RefusesContradictoryValues) {
  Scene harbour;
  const Object ferry = harbour.add({.name = "ferry"});
  const auto said = [&](const Route& route) { return tests::refusal(harbour, ferry, route); };
  EXPECT_EQ(said({.speed = 1.0}), "ferry.route: points: the list is empty; give at least one point.");
  EXPECT_EQ(said({.points = corner}), "ferry.route: missing key; give \"speed\" or \"duration\".");
  EXPECT_EQ(said({.points = corner, .speed = 1.0, .pause = {1s, 2s}}),
            "ferry.route: pause: found 2 pauses for 3 points; give one for all, or one for each.");
  EXPECT_EQ(said({.points = {{0, 0, 0}, "bouy"}, .speed = 1.0}),
            "ferry.route: points: no object \"bouy\" in this scene; give ferry.");
}

}  // namespace
}  // namespace hushed
