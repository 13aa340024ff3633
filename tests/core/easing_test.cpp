// SPDX-License-Identifier: MIT
#include <gtest/gtest.h>
// Must come after gtest, whose macros it uses.
#include <rapidcheck/gtest.h>

#include <cmath>
#include <functional>
#include <map>
#include <string>

#include <hushed/hushed.hpp>

namespace hushed {
namespace {

using Real = long double;
constexpr Real pi = 3.14159265358979323846264338327950288L;

/// The usual definitions in long double: the `in` function of each family, and the one within in-out.
const std::map<std::string, std::pair<std::function<Real(Real)>, std::function<Real(Real)>>>& families() {
  const auto power = [](int n) { return [n](Real x) { return std::pow(x, Real(n)); }; };
  const auto back = [](Real s) { return [s](Real x) { return (s + 1) * x * x * x - s * x * x; }; };
  const auto elastic = [](Real lag, Real period) {
    return
        [=](Real x) { return x <= 0 ? 0 : -std::pow(2.0L, 10 * x - 10) * std::sin((10 * x - lag) * 2 * pi / period); };
  };
  const auto bounce = [](Real x) {
    const Real y = 1 - x;
    const auto hop = [y](Real middle, Real floor) {
      return 7.5625L * (y - middle / 2.75L) * (y - middle / 2.75L) + floor;
    };
    const Real fallen = y < 1 / 2.75L      ? hop(0, 0)
                        : y < 2 / 2.75L    ? hop(1.5L, 0.75L)
                        : y < 2.5L / 2.75L ? hop(2.25L, 0.9375L)
                                           : hop(2.625L, 0.984375L);
    return 1 - fallen;
  };
  const auto sine = [](Real x) { return 1 - std::cos(x * pi / 2); };
  const auto expo = [](Real x) { return x <= 0 ? 0 : std::pow(2.0L, 10 * x - 10); };
  const auto circ = [](Real x) { return 1 - std::sqrt(1 - x * x); };
  static const std::map<std::string, std::pair<std::function<Real(Real)>, std::function<Real(Real)>>> all{
      {"sine", {sine, sine}},
      {"quad", {power(2), power(2)}},
      {"cubic", {power(3), power(3)}},
      {"quart", {power(4), power(4)}},
      {"quint", {power(5), power(5)}},
      {"expo", {expo, expo}},
      {"circ", {circ, circ}},
      {"back", {back(1.70158L), back(1.70158L * 1.525L)}},
      {"elastic", {elastic(10.75L, 3), elastic(11.125L, 4.5L)}},
      {"bounce", {bounce, bounce}}};
  return all;
}

TEST(Easing, FollowsTheUsualDefinitions) {
  for (const auto& [name, formulas] : families()) {
    const auto& [rise, detail] = formulas;
    for (int i = 1; i < 1000; ++i) {
      const double x = i / 1000.0;
      const Real in = rise(x), out = 1 - rise(1 - Real(x));
      const Real both = x < 0.5 ? detail(2 * Real(x)) / 2 : 1 - detail(2 - 2 * Real(x)) / 2;
      EXPECT_NEAR(Easing::parse("in-" + name)(x), double(in), 1e-14) << name << x;
      EXPECT_NEAR(Easing::parse("out-" + name)(x), double(out), 1e-14) << name << x;
      EXPECT_NEAR(Easing::parse("in-out-" + name)(x), double(both), 1e-14) << name << x;
    }
  }
}

TEST(Easing, IsExactAtItsEnds) {
  for (const std::string_view name : Easing::names()) {
    const Easing easing = Easing::parse(name);
    for (const double x : {-1e9, -0.1, 0.0}) EXPECT_EQ(easing(x), name == "step-start" ? 1.0 : 0.0) << name;
    for (const double x : {1.0, 1.1, 1e9}) EXPECT_EQ(easing(x), 1.0) << name;
  }
}

/// The curve of the standard; its parameter is found by bisection in long double.
double bezier_by_halving(Real x1, Real y1, Real x2, Real y2, Real x) {
  const auto at = [](Real a, Real b, Real u) {
    return 3 * (1 - u) * (1 - u) * u * a + 3 * (1 - u) * u * u * b + u * u * u;
  };
  Real low = 0, high = 1;
  for (int i = 0; i < 200; ++i) (at(x1, x2, (low + high) / 2) < x ? low : high) = (low + high) / 2;
  return double(at(y1, y2, low));
}

RC_GTEST_PROP(Easing, SolvesCubicBeziersAsTheStandardDefinesThem, (int a, int b, int c, int d, int at)) {
  const auto share = [](int n) { return std::abs(n % 1001) / 1000.0; };
  const double x1 = share(a), y1 = 4 * share(b) - 1.5, x2 = share(c), y2 = 4 * share(d) - 1.5, x = share(at);
  const std::string text =
      "cubic-bezier(" + as_text(x1) + ", " + as_text(y1) + "," + as_text(x2) + " ," + as_text(y2) + ")";
  // Where the curve goes straight up, y is known as well as x allows.
  const double before = bezier_by_halving(x1, y1, x2, y2, Real(x) - 1e-12L),
               after = bezier_by_halving(x1, y1, x2, y2, Real(x) + 1e-12L);
  RC_ASSERT(std::abs(Easing::parse(text)(x) - bezier_by_halving(x1, y1, x2, y2, x)) <=
            1e-12 + std::abs(after - before));
}

TEST(Easing, TakesStepsAsTheStandardDefinesThem) {
  struct Row {
    const char* text;
    double at_0, at_just_below_half, at_half, at_1;
  };
  for (const Row& row :
       {Row{"steps(2)", 0, 0, 0.5, 1}, Row{"steps(2, jump-start)", 0.5, 0.5, 1, 1},
        Row{"steps(2, start)", 0.5, 0.5, 1, 1}, Row{"steps(2, end)", 0, 0, 0.5, 1},
        Row{"steps(2, jump-both)", 1.0 / 3, 1.0 / 3, 2.0 / 3, 1}, Row{"steps( 2 ,jump-none )", 0, 0, 1, 1},
        Row{"step-end", 0, 0, 0, 1}, Row{"step-start", 1, 1, 1, 1}}) {
    const Easing easing = Easing::parse(row.text);
    EXPECT_EQ(easing(0), row.at_0) << row.text;
    EXPECT_EQ(easing(0.499999), row.at_just_below_half) << row.text;
    EXPECT_EQ(easing(0.5), row.at_half) << row.text;
    EXPECT_EQ(easing(1), row.at_1) << row.text;
  }
}

TEST(Easing, DrawsLinesThroughStopsAsTheStandardDefinesThem) {
  const auto at = [](const char* text, double x) { return Easing::parse(text)(x); };
  EXPECT_DOUBLE_EQ(at("linear(0, 0.5 20%, 1)", 0.1), 0.25);
  EXPECT_DOUBLE_EQ(at("linear(0, 0.5 20%, 1)", 0.6), 0.75);
  EXPECT_DOUBLE_EQ(at("linear(0, 4, 1)", 0.25), 2.0);            // evenly, where nothing is said
  EXPECT_DOUBLE_EQ(at("linear(0, .5 25% 75%, 1)", 0.6), 0.5);    // two percentages: flat
  EXPECT_DOUBLE_EQ(at("linear(0, 25% .5, 1)", 0.125), 0.25);     // in either order
  EXPECT_DOUBLE_EQ(at("linear(0, 1 60%, 0 40%, 1)", 0.6), 0.0);  // never back: the last at one place holds
  EXPECT_DOUBLE_EQ(at("linear(0, 1 60%, 0 40%, 1)", 0.8), 0.5);
  EXPECT_DOUBLE_EQ(at("linear(0 50%, 1)", 0.25), -0.5);  // the first line goes on before it
  EXPECT_DOUBLE_EQ(at("linear(0, 0, 1, 1, 0)", 0.5), 1.0);
}

struct Wrong {
  const char* name;
  const char* text;
  const char* said;
};

class Mistakes : public testing::TestWithParam<Wrong> {};

TEST_P(Mistakes, AreReportedWithTheirPlaceInTheText) {
  try {
    Easing::parse(GetParam().text);
    FAIL() << "it was accepted";
  } catch (const BadValue& error) {
    EXPECT_EQ(std::string{error.what()}, "easing " + in_quotes(GetParam().text) + ", at character " + GetParam().said);
  }
}

INSTANTIATE_TEST_SUITE_P(
    Easing, Mistakes,
    testing::Values(
        Wrong{"Name", "in-out-sin", "1: unknown easing \"in-out-sin\"; did you mean \"in-out-sine\"?"},
        Wrong{"Empty", "  ", "3: no name found; give the name of an easing, such as \"in-out-sine\"."},
        Wrong{"TimeRunsBack", "cubic-bezier(.2, .8, 2, 1)",
              "22: x2 is 2; give a number from 0 to 1: beyond these, time would run backwards."},
        Wrong{"ThreeNumbers", "cubic-bezier(0, 0, 1)",
              "21: expected a comma and y2, as in cubic-bezier(x1, y1, x2, y2)."},
        Wrong{"NoNumber", "cubic-bezier(0, zero, 1, 1)", "17: expected the number y1."},
        Wrong{"NoBrackets", "steps",
              "6: its numbers are missing; give them in parentheses, such as cubic-bezier(.2, .8, .2, 1) or steps(4)."},
        Wrong{"HalfASteps", "steps(2.5)", "7: 2.5 is not a number of steps; give a whole number, 1 or more."},
        Wrong{"NoJump", "steps(1, jump-none)", "7: jump-none needs 2 steps or more."},
        Wrong{"Jump", "steps(3, jump-strat)",
              "10: unknown position \"jump-strat\" of steps; did you mean \"jump-start\"?"},
        Wrong{"OneStop", "linear(1)", "8: found fewer than two stops; give two or more, such as linear(0, 1)."},
        Wrong{"NoComma", "linear(0 1)",
              "10: found a second number in one stop; put a comma between stops, or % after a percentage."},
        Wrong{"OnlyAPlace", "linear(0, 50%, 1)",
              "14: a stop has no number; give its output, such as linear(0, 0.5 20%, 1)."},
        Wrong{"More", "ease-in out", "9: unexpected text after the easing; remove it."},
        Wrong{"Function", "spring(1)", "1: \"spring\" takes no numbers; only cubic-bezier, steps and linear do."}),
    [](const auto& row) { return row.param.name; });

}  // namespace
}  // namespace hushed
