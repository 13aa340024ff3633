// SPDX-License-Identifier: MIT
// Measures of motions whose numbers are known in closed form.

#include <cmath>
#include <numbers>

#include <gtest/gtest.h>

#include <hushed/expectation.hpp>
#include <hushed/hushed.hpp>
#include <hushed/measure.hpp>

namespace hushed::tests {
namespace {

using std::numbers::pi;

Measured found(Scene& scene, const std::string& text, Time length) {
  const Measure one{text, scene};
  return measure(scene, {&one, 1}, length).front();
}

/// y = 2 sin(2 pi 0.7 t)
Scene swaying() {
  Scene scene;
  scene.give(scene.add({.name = "gig"}), Sway{.amplitude = {0, 2, 0}, .frequency = 0.7});
  return scene;
}

TEST(Measure, FindsExtremesBetweenTicks) {
  Scene scene = swaying();
  const Measured peak = found(scene, "peak(gig.position.y)", seconds(1.0));
  EXPECT_NEAR(peak.value.value(), 2.0, 1e-12);
  EXPECT_NEAR(in_seconds(peak.at.value()), 0.25 / 0.7, 1e-6);
  EXPECT_EQ(scene.time(), seconds(1.0));  // the end of the play
  Scene other = swaying();
  const Measured least = found(other, "least(gig.position.y, from = 0.1, to = 0.5)", seconds(1.0));
  EXPECT_NEAR(least.value.value(), 2.0 * std::sin(2.0 * pi * 0.7 * 0.1), 1e-12);
  EXPECT_NEAR(in_seconds(least.at.value()), 0.1, 3e-9);
}

TEST(Measure, FindsMeansCrossingsAndPeriods) {
  Scene scene = swaying();
  // the integral of a sine
  EXPECT_NEAR(found(scene, "mean(gig.position.y)", seconds(1.0)).value.value(),
              2.0 * (1.0 - std::cos(2.0 * pi * 0.7)) / (2.0 * pi * 0.7), 1e-8);
  Scene other = swaying();
  EXPECT_NEAR(found(other, "reached(gig.position.y, 1)", seconds(2.0)).value.value(), 1.0 / 12.0 / 0.7, 3e-9);
  Scene third = swaying();
  EXPECT_FALSE(found(third, "reached(gig.position.y, 2.5)", seconds(2.0)).value.has_value());
  Scene fourth = swaying();
  EXPECT_NEAR(found(fourth, "period(gig.position.y)", seconds(8.0)).value.value(), 1.0 / 0.7, 3e-9);
  Scene fifth = swaying();
  EXPECT_NEAR(found(fifth, "peak(gig.velocity.y, from = 0.1)", seconds(2.0)).value.value(), 2.0 * 2.0 * pi * 0.7, 1e-2);
}

TEST(Measure, KnowsLengthsAndJerks) {
  Scene scene;
  scene.give(scene.add({.name = "gull", .rest = at(3, 0, 0)}), Orbit{.radius = 3.0, .speed = degrees(90)});
  EXPECT_NEAR(found(scene, "travelled(gull)", seconds(4.0)).value.value(), 2.0 * pi * 3.0, 1e-6);
  // a circle: the jerk is radius * omega^3
  EXPECT_NEAR(found(scene, "smoothness(gull)", seconds(4.0)).value.value(), 3.0 * std::pow(pi / 2.0, 3), 1e-3);
}

/// x'' = w^2 (1 - x) - 2 z w x', from 0 to 1
TEST(Measure, KnowsTheStepResponseOfASpring) {
  const double z = 0.3, w = 2.0 * pi * 0.8, d = w * std::sqrt(1.0 - z * z);
  const auto response = [&](double t) {
    return 1.0 - std::exp(-z * w * t) * (std::cos(d * t) + z * w / d * std::sin(d * t));
  };
  const auto made = [&] {
    Scene scene;
    const Object goal = scene.add({.name = "goal", .rest = at(1, 0, 0)});
    scene.give(scene.add({.name = "hook"}), Spring{.frequency = 0.8, .damping = z, .target = goal});
    return scene;
  };
  Scene scene = made();
  const Measured overshoot = found(scene, "overshoot(hook.position.x, of = 1)", seconds(6.0));
  EXPECT_NEAR(overshoot.value.value(), 100.0 * std::exp(-z * pi / std::sqrt(1.0 - z * z)), 1e-6);
  EXPECT_NEAR(in_seconds(overshoot.at.value()), pi / d, 1e-5);

  double last = 0.0;  // outside the band, by small steps and then by halves
  for (double t = 0.0; t < 6.0; t += 1e-4)
    if (std::abs(response(t) - 1.0) > 0.05) last = t;
  double inside = last + 1e-4;
  for (int i = 0; i < 50; ++i) {
    const double middle = (last + inside) / 2.0;
    (std::abs(response(middle) - 1.0) > 0.05 ? last : inside) = middle;
  }
  Scene other = made();
  EXPECT_NEAR(found(other, "settled(hook.position.x, of = 1)", seconds(6.0)).value.value(), inside, 1e-8);
  Scene third = made();
  EXPECT_NEAR(found(third, "settled(hook.position.x, of = 1, within = 0.05)", seconds(6.0)).value.value(), inside,
              1e-8);
  Scene fourth = made();
  EXPECT_FALSE(found(fourth, "settled(hook.position.x, of = 1)", seconds(1.0)).value.has_value());
  // It turns back at each half period as long as the swing is above 2 % of the range.
  Scene fifth = made();
  int reversals = 0;
  const double top = 1.0 + std::exp(-z * pi / std::sqrt(1.0 - z * z));
  for (int k = 1; response(k * pi / d) - response((k + 1) * pi / d) > 0.02 * top ||
                  response((k + 1) * pi / d) - response(k * pi / d) > 0.02 * top;
       ++k)
    ++reversals;
  EXPECT_EQ(found(fifth, "ringing(hook.position.x)", seconds(6.0)).value.value(), reversals);
}

TEST(Measure, FindsTheLeastDistanceOfTwoThatPass) {
  Scene scene;
  scene.give(scene.add({.name = "ferry", .rest = at(-5, 0, 0)}), Travel{.velocity = {2, 0, 0}});
  scene.give(scene.add({.name = "tug", .rest = at(0, 0, -4)}), Travel{.velocity = {0, 0, 1}});
  // (-5 + 2t, 0, 4 - t): the least at t = 14/5
  const Measured closest = found(scene, "closest(ferry, tug)", seconds(6.0));
  EXPECT_NEAR(closest.value.value(), std::sqrt(std::pow(-5 + 2 * 2.8, 2) + std::pow(4 - 2.8, 2)), 3e-9);
  EXPECT_NEAR(in_seconds(closest.at.value()), 2.8, 1e-4);
}

TEST(Measure, KnowsTimesOutsideABoxAndOfEvents) {
  Scene scene = swaying();
  scene.when(above("gig.position.y", 1.0)).called("high").then(raise("high-water"));
  // above 1 from sin = 1/2 on: a third of a period of each
  EXPECT_NEAR(found(scene, "outside(gig, [[-1, -9, -1], [1, 1, 1]])", seconds(1.0 / 0.7)).value.value(),
              1.0 / 3.0 / 0.7, 1e-8);
  Scene other = swaying();
  other.when(above("gig.position.y", 1.0)).called("high").then(raise("high-water"));
  EXPECT_EQ(found(other, "count(high-water)", seconds(4.0)).value.value(), 3.0);
  Scene third = swaying();
  third.when(above("gig.position.y", 1.0)).called("high").then(raise("high-water"));
  EXPECT_NEAR(found(third, "time(high, 2)", seconds(4.0)).value.value(), (1.0 + 1.0 / 12.0) / 0.7, 2.0 / 120.0);
  EXPECT_FALSE(found(third, "time(low, 1)", seconds(4.0)).value.has_value());
}

TEST(Measure, FollowsAnglesThroughTheirWrap) {
  Scene scene;
  scene.give(scene.add({.name = "lamp"}), Spin{.speed = degrees(100)});
  EXPECT_NEAR(found(scene, "reached(lamp.rotation.yaw, 450)", seconds(6.0)).value.value(), 4.5, 3e-9);
}

TEST(Measure, DoesNotDependOnWhereThePlayBegins) {
  Scene scene = swaying();
  scene.advance(seconds(0.3));
  const Measured peak = found(scene, "reached(gig.position.y, -1)", seconds(2.0));
  EXPECT_NEAR(peak.value.value(), 7.0 / 12.0 / 0.7 - 0.3, 3e-9);
  EXPECT_NEAR(in_seconds(peak.at.value()), 7.0 / 12.0 / 0.7, 3e-9);
}

TEST(Measure, SaysWhatIsWrong) {
  Scene scene = swaying();
  const auto message = [&](const std::string& text) {
    try {
      found(scene, text, seconds(1.0));
      return std::string{"accepted"};
    } catch (const BadValue& error) {
      return std::string{error.what()};
    }
  };
  EXPECT_EQ(message("peek(gig.position.y)"),
            "peek(gig.position.y): no measure is called \"peek\"; did you mean \"peak\"?");
  EXPECT_EQ(message("peak"), "peak: give peak(WATCH).");
  EXPECT_EQ(message("peak(gig.position)"),
            "peak(gig.position): gig.position is several numbers; give one of them, such as gig.position.x.");
  EXPECT_EQ(message("settled(gig.position.y, wihtin = 3%)"),
            "settled(gig.position.y, wihtin = 3%): unknown key \"wihtin\"; did you mean \"within\"?");
  EXPECT_EQ(message("reached(gig.position.y, high)"),
            "reached(gig.position.y, high): the value: \"high\" is not a number.");
  EXPECT_EQ(message("peak(gig.position.y, from = 0.5, to = 0.4)"),
            "peak(gig.position.y, from = 0.5, to = 0.4): to: give a time after that of from.");
  EXPECT_EQ(message("peak(gig.position.y, to = 2)"),
            "peak(gig.position.y, to = 2): its time is not within the 1 s of the play; play longer.");
  EXPECT_NE(message("peak(gg.position.y)").find("gig"), std::string::npos);
}

TEST(Measure, CanBeStopped) {
  Scene scene = swaying();
  const Measure peak{"peak(gig.position.y)", scene};
  EXPECT_TRUE(measure(scene, {&peak, 1}, seconds(100.0), [](double share) { return share < 0.1; }).empty());
}

TEST(Expectation, IsTestedOnAPlayOfItsOwn) {
  const std::vector<Expectation> expected{
      {.name = "", .measure = "peak(gig.position.y)", .above = 1.9, .below = 2.1},
      {.name = "", .measure = "peak(gig.position.y)", .below = 1.5},
      {.name = "", .measure = "reached(gig.position.y, 3)", .exists = false},
      {.name = "", .measure = "reached(gig.position.y, 1)", .exists = false},
      {.name = "", .measure = "reached(gig.position.y, 3)", .above = 0.0},
      {.name = "", .measure = "peak(gig.position.y)", .below = 1.9, .over = seconds(0.2)},
  };
  const std::vector<Tested> tested = test_expectations(swaying, expected, seconds(2.0));
  ASSERT_EQ(tested.size(), 6u);
  for (std::size_t i = 0; i < 6; ++i) EXPECT_EQ(tested[i].is_met, i == 0 || i == 2 || i == 5) << i;
  EXPECT_EQ(tested[1].words, "is 2 m at 0.357143 s");
  EXPECT_EQ(tested[4].words, "does not exist");
  EXPECT_EQ(expected[0].words(), "peak(gig.position.y) above 1.9 and below 2.1");
  EXPECT_EQ(expected[2].words(), "reached(gig.position.y, 3) never");
}

}  // namespace
}  // namespace hushed::tests
