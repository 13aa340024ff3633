// SPDX-License-Identifier: MIT
// Wishes whose answers are known in closed form.

#include <cmath>
#include <functional>
#include <numbers>

#include <gtest/gtest.h>

#include <hushed/hushed.hpp>
#include <hushed/solve.hpp>

namespace hushed::tests {
namespace {

using std::numbers::pi;

std::vector<Wish> wishes_of(const std::vector<std::string>& texts, const Scene& scene) {
  std::vector<Wish> wishes;
  for (const std::string& text : texts) wishes.push_back(Wish::read(text, scene));
  return wishes;
}

Solution solved(const std::function<Scene()>& make, const std::vector<Change>& changes,
                const std::vector<std::string>& wishes, Time length = seconds(6.0)) {
  return solve(make, changes, wishes_of(wishes, make()), {.length = length, .threads = 2});
}

/// A hook that is let go 1 m from its goal.
Scene hook() {
  Scene scene;
  const Object goal = scene.add({.name = "goal", .rest = at(1, 0, 0)});
  scene.give(scene.add({.name = "hook"}), Spring{.frequency = 1.5, .damping = 0.9, .target = goal});
  return scene;
}

TEST(SpringFor, IsTheInverseOfOvershootAndSettlingTime) {
  for (const double share : {0.0, 1e-3, 0.05, 0.1, 0.4, 0.9})
    for (const double within : {0.01, 0.05, 0.3}) {
      const Spring spring = spring_for(share, seconds(0.8), within);
      EXPECT_NEAR(overshoot(spring), share, 1e-14);
      EXPECT_NEAR(in_seconds(settling_time(spring, within)), 0.8, 2e-9) << share << ' ' << within;
    }
  EXPECT_THROW(spring_for(1.0, seconds(1.0)), BadValue);
  EXPECT_THROW(spring_for(0.1, Time{0}), BadValue);
  EXPECT_THROW(spring_for(0.1, seconds(1.0), 0.0), BadValue);
}

/// A wish with one answer, which is known.
struct Known {
  std::string name;
  std::function<Scene()> make;
  std::vector<Change> changes;
  std::vector<std::string> wishes;
  std::vector<double> answers;
  double precision = 1e-6;
};

Scene swaying() {
  Scene scene;
  scene.give(scene.add({.name = "gig"}), Sway{.amplitude = {0, 2, 0}, .frequency = 0.7});
  return scene;
}

Scene circling() {
  Scene scene;
  scene.add({.name = "mark", .rest = at(0, 0, 4)});
  scene.give(scene.add({.name = "gull"}), Orbit{.radius = 9.0, .speed = degrees(100), .height = 0.0});
  return scene;
}

/// Two boats on crossing lines.
Scene crossing() {
  Scene scene;
  scene.give(scene.add({.name = "ferry", .rest = at(-6, 0, 0)}), Travel{.velocity = {2, 0, 0}});
  scene.give(scene.add({.name = "tug", .rest = at(0, 0, -5)}), Travel{.velocity = {0, 0, 0.4}});
  return scene;
}

Scene rounds() {
  Scene scene;
  scene.give(scene.add({.name = "ferry"}),
             Route{.points = {Place{Vec3{0, 0, 0}}, Vec3{3, 0, 0}, Vec3{3, 0, 4}, Vec3{0, 0, 4}}, .speed = 2.0});
  return scene;
}

Scene gliding() {
  Scene scene;
  scene.give(scene.add({.name = "boat"}), Glide{.to = PoseParts{.position = Vec3{8, 0, 0}}, .duration = seconds(3.0)});
  return scene;
}

Scene turning() {
  Scene scene;
  scene.give(scene.add({.name = "lamp"}), Spin{.speed = degrees(80)});
  return scene;
}

std::vector<Known> all_known() {
  const double z = std::log(5.0) / std::hypot(pi, std::log(5.0));  // of an overshoot of 20 %
  const Spring both = spring_for(0.1, seconds(0.8), 0.05), one = spring_for(0.1, seconds(2.0), 0.05);
  const double f = one.frequency;
  return {
      {"spring",
       hook,
       {{"hook.spring.frequency", 0.2, 4}, {"hook.spring.damping", 0.05, 1.5}},
       {"overshoot(hook.position.x, of = 1) = 10 %", "settled(hook.position.x, 5%, of = 1) = 0.8s"},
       {both.frequency, both.damping}},
      {"overshoot", hook, {{"hook.spring.damping", 0.05, 1.5}}, {"overshoot(hook.position.x, of = 1) = 20 %"}, {z}},
      {"settling",
       [] {
         Scene scene = hook();
         scene.set("hook.spring.damping", Value{spring_for(0.1, seconds(1.0)).damping});
         return scene;
       },
       {{"hook.spring.frequency", 0.2, 4}},
       {"settled(hook.position.x, of = 1) = 2 s"},
       {f}},
      {"orbit through a point", circling, {{"gull.orbit.radius", 0.5, 20}}, {"closest(gull, mark) = 0 m"}, {4.0}},
      {"length of an arc",
       circling,
       {{"gull.orbit.radius", 0.5, 20}},
       {"travelled(gull, to = 3.6) = 10 m"},
       {10.0 / (2.0 * pi)},
       1e-5},
      {"meeting another", crossing, {{"tug.travel.velocity.z", 0.1, 5}}, {"closest(ferry, tug) = 0"}, {5.0 / 3.0}},
      {"arriving in time", gliding, {{"boat.glide.duration", 0.5, 6}}, {"reached(boat.position.x, 8) = 4.5 s"}, {4.5}},
      {"the middle of the last leg at a time",
       rounds,
       {{"ferry.route.speed", 0.5, 8}},
       {"reached(ferry.position.x, 1.5, from = 1.2) = 4.3"},
       {(3.0 + 4.0 + 1.5) / 5.5}},
      {"the third stop in time", rounds, {{"ferry.route.speed", 0.5, 8}}, {"time(reached, 3, ferry) = 4 s"}, {2.5}},
      {"the end of a glide", gliding, {{"boat.glide.to.position.x", 1, 20}}, {"peak(boat.position.x) = 7 m"}, {7.0}},
      {"amplitude", swaying, {{"gig.sway.amplitude.y", 0.1, 9}}, {"peak(gig.position.y) = 1.25 m"}, {1.25}},
      {"depth", swaying, {{"gig.sway.amplitude.y", 0.1, 9}}, {"least(gig.position.y) = -3 m"}, {3.0}},
      {"period", swaying, {{"gig.sway.frequency", 0.4, 3}}, {"period(gig.position.y) = 1.25 s"}, {0.8}},
      {"phase",
       swaying,
       {{"gig.sway.phase", -90, 20}},
       {"reached(gig.position.y, 1) = 0.2 s"},
       {30.0 - 0.2 * 0.7 * 360.0}},
      {"turning", turning, {{"lamp.spin.speed", 10, 300}}, {"reached(lamp.rotation.yaw, 450) = 3 s"}, {150.0}},
      {"mean", gliding, {{"boat.glide.to.position.x", 1, 20}}, {"mean(boat.position.x, to = 3) = 2 m"}, {4.0}},
      {"time outside",
       crossing,
       {{"ferry.travel.velocity.x", 1, 9}},
       {"outside(ferry, [[-9, -1, -9], [-3, 1, 9]]) = 4 s"},
       {3.0 / 2.0}},
      {"smoothness",
       circling,
       {{"gull.orbit.radius", 0.5, 20}},
       {"smoothness(gull) = 10"},
       {10.0 / std::pow(degrees(100).in_radians(), 3)},
       1e-2},
      // 3 (a - 1)^2 + ((a - 2) / 2)^2 is least where 3 (a - 1) = (2 - a) / 4
      {"two wishes with weights",
       swaying,
       {{"gig.sway.amplitude.y", 0.1, 9}},
       {"peak(gig.position.y) = 1, weight 3", "peak(gig.position.y) = 2"},
       {14.0 / 13.0}},
  };
}

TEST(Solve, FindsKnownAnswers) {
  for (const Known& known : all_known()) {
    const Solution solution = solved(known.make, known.changes, known.wishes);
    ASSERT_EQ(solution.numbers.size(), known.answers.size());
    for (std::size_t i = 0; i < known.answers.size(); ++i)
      EXPECT_NEAR(solution.numbers[i].after, known.answers[i],
                  known.precision * std::max(1.0, std::abs(known.answers[i])))
          << known.name << ", " << solution.numbers[i].path << ", " << solution.plays << " plays";
    EXPECT_EQ(solution.is_met(), known.name != "two wishes with weights") << known.name;
  }
}

TEST(Solve, FindsASpringWithoutItsClosedForm) {
  const Spring expected = spring_for(0.1, seconds(0.8), 0.05);
  // A limit beside the two wishes hides what kind of a problem it is.
  const Solution solution = solved(hook, {{"hook.spring.frequency", 0.2, 4}, {"hook.spring.damping", 0.05, 1.5}},
                                   {"overshoot(hook.position.x, of = 1) = 10 %",
                                    "settled(hook.position.x, of = 1) = 0.8 s", "peak(hook.position.x) < 2 m"});
  EXPECT_NEAR(solution.numbers[0].after, expected.frequency, 1e-6) << solution.plays;
  EXPECT_NEAR(solution.numbers[1].after, expected.damping, 1e-6);
}

TEST(Solve, KeepsAtADistance) {
  const Solution solution = solved(crossing, {{"tug.travel.velocity.z", -1, 1}}, {"closest(ferry, tug) > 5 m"});
  EXPECT_TRUE(solution.is_met());
  EXPECT_GT(solution.results[0].after.value(), 5.0);
  EXPECT_LT(solution.results[0].before.value(), 5.0);
}

TEST(Solve, SaysWhichWishesContradictEachOther) {
  const std::vector<Change> damping{{"hook.spring.damping", 0.05, 1.5}};
  const Solution pair = solved(hook, damping,
                               {"peak(hook.velocity.x) > 0.1", "overshoot(hook.position.x, of = 1) < 5 %",
                                "overshoot(hook.position.x, of = 1) > 40 %"});
  EXPECT_FALSE(pair.is_met());
  EXPECT_EQ(pair.conflicts, (std::vector<Solution::Conflict>{{1, 2}}));
  const Solution alone = solved(hook, damping, {"reached(hook.position.x, 5) = 1 s", "peak(hook.position.x) < 1.5 m"});
  EXPECT_EQ(alone.conflicts, (std::vector<Solution::Conflict>{{0}}));
  EXPECT_TRUE(alone.results[1].is_met);
}

TEST(Solve, SaysWhichNumberMatters) {
  const Solution solution = solved(swaying, {{"gig.sway.amplitude.y", 0, 10}, {"gig.sway.amplitude.x", 0, 10}},
                                   {"peak(gig.position.y) = 3 m"});
  ASSERT_TRUE(solution.is_met());
  EXPECT_NEAR(solution.results[0].sensitivity[0].value(), 0.1, 1e-9);  // a hundredth of 10 m
  EXPECT_NEAR(solution.results[0].sensitivity[1].value(), 0.0, 1e-9);
}

TEST(Solve, HasLimitsAndCanBeStopped) {
  const std::vector<Change> damping{{"hook.spring.damping", 0.05, 1.5}};
  const std::vector<Wish> wishes = wishes_of({"reached(hook.position.x, 5) = 1 s"}, hook());
  const Solution few = solve(hook, damping, wishes, {.length = seconds(2.0), .plays = 10});
  EXPECT_FALSE(few.is_complete);
  EXPECT_LE(few.plays, 10u);
  std::size_t told = 0;
  const auto stop = [&](std::size_t plays, std::size_t) { return (told = plays) < 4; };
  const Solution stopped = solve(hook, damping, wishes, {.length = seconds(2.0), .goes_on = stop});
  EXPECT_FALSE(stopped.is_complete);
  EXPECT_GE(stopped.plays, 4u);
  EXPECT_LT(stopped.plays, 20u);
  EXPECT_EQ(stopped.results.size(), 1u);
  EXPECT_TRUE(
      solve(hook, damping, wishes, {.goes_on = [](std::size_t, std::size_t) { return false; }}).results.empty());
}

TEST(Solve, GivesTheSameAnswerWithAnyThreads) {
  const auto with = [](int threads, std::uint64_t seed) {
    return solve(circling, {{"gull.orbit.radius", 0.5, 20}, {"gull.orbit.height", -3, 3}},
                 wishes_of({"closest(gull, mark) = 0.5 m", "reached(gull.position.x, -30) = 1 s"}, circling()),
                 {.length = seconds(2.0), .plays = 200, .seed = seed, .threads = threads})
        .numbers[0]
        .after;
  };
  EXPECT_EQ(with(1, 1), with(3, 1));
}

TEST(Wish, IsReadFromText) {
  const Scene scene = swaying();
  const Wish wish = Wish::read(" peak( gig.position.y )<1.5m , weight 2", scene);
  EXPECT_EQ(wish.relation, Wish::Relation::below);
  EXPECT_EQ(wish.value, 1.5);
  EXPECT_EQ(wish.weight, 2.0);
  EXPECT_EQ(wish.words("m"), "peak( gig.position.y ) < 1.5 m");
  const auto message = [&](const std::string& text) {
    try {
      Wish::read(text, scene);
      return std::string{"accepted"};
    } catch (const BadValue& error) {
      return std::string{error.what()};
    }
  };
  EXPECT_EQ(message("peak(gig.position.y) = 2 s"),
            "peak(gig.position.y) = 2 s: the unit \"s\" is not that of peak; give \"m\" or none.");
  EXPECT_EQ(
      message("peak(gig.position.y) 2"),
      "peak(gig.position.y) 2: give a measure, =, < or >, and a number, such as settled(hook.position.x) = 0.8 s.");
  EXPECT_EQ(message("peak(gig.position.y) = nan"),
            "peak(gig.position.y) = nan: give a number from -1e9 to 1e9 after =.");
  EXPECT_EQ(
      message("peak(gig.position.y) = 1, weight 0"),
      "peak(gig.position.y) = 1, weight 0: give nothing after the number, or a weight above 0, such as \", weight "
      "2\".");
  EXPECT_EQ(message("peek(gig.position.y) = 1"),
            "peek(gig.position.y): no measure is called \"peek\"; did you mean \"peak\"?");
}

}  // namespace
}  // namespace hushed::tests
