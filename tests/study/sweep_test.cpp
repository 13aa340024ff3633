// SPDX-License-Identifier: MIT
// Sweeps: every play is that of a new scene with these values, whatever threads and parts there are.

#include <algorithm>
#include <atomic>
#include <set>

#include <gtest/gtest.h>

#include <hushed/hushed.hpp>
#include <hushed/sweep.hpp>

namespace hushed::tests {
namespace {

/// Two buoys with memory: one on a spring, one that follows it.
Scene moored() {
  Scene scene;
  const Object goal = scene.add({.name = "goal", .rest = at(3, 0, 0)});
  const Object hook = scene.add({.name = "hook"});
  scene.give(hook, Spring{.frequency = 0.8, .damping = 0.3, .target = goal});
  scene.give(scene.add({.name = "tug", .rest = at(0, 0, 5)}), Follow{.target = hook});
  return scene;
}

SweepPlan two_values() {
  return {.varied = {{.path = "hook.spring.damping", .low = 0.1, .high = 1.0, .count = 4},
                     {.path = "hook.spring.velocity.x", .values = {Value{0}, Value{2.5}, Value{-1}}}},
          .measures = {"overshoot(hook.position.x, of = 3)", "travelled(tug)"},
          .length = seconds(3.0)};
}

std::vector<SweepTable::Row> rows_of(const std::vector<SweptPlay>& plays) {
  std::vector<SweepTable::Row> rows;
  for (const SweptPlay& play : plays) rows.push_back(SweepTable::row(play));
  return rows;
}

TEST(Sweep, PlaysEveryCombinationAsANewSceneWould) {
  const std::vector<SweptPlay> plays = sweep(moored, two_values(), {.threads = 2});
  ASSERT_EQ(plays.size(), 12u);
  const double dampings[]{0.1, 0.4, 0.7, 1.0}, velocities[]{0.0, 2.5, -1.0};
  for (std::size_t i = 0; i < 12; ++i) {
    EXPECT_EQ(plays[i].number, i);
    Scene scene = moored();
    scene.set("hook.spring.damping", Value{dampings[i / 3]});
    scene.set("hook.spring.velocity", Value{Value::List{Value{velocities[i % 3]}, Value{0}, Value{0}}});
    const std::vector<Measure> measures{{"overshoot(hook.position.x, of = 3)", scene}, {"travelled(tug)", scene}};
    const std::vector<Measured> expected = measure(scene, measures, seconds(3.0));
    EXPECT_EQ(plays[i].values[0].number(), dampings[i / 3]);
    for (std::size_t m = 0; m < 2; ++m) EXPECT_EQ(plays[i].measured[m].value, expected[m].value) << i;
  }
}

TEST(Sweep, DoesNotDependOnThreadsPartsOrWhatIsSkipped) {
  const std::vector<SweepTable::Row> whole = rows_of(sweep(moored, two_values(), {.threads = 1}));
  EXPECT_EQ(rows_of(sweep(moored, two_values(), {.threads = 5})), whole);
  std::vector<SweepTable::Row> joined;
  for (std::size_t part = 1; part <= 5; ++part)
    for (SweepTable::Row& row : rows_of(sweep(moored, two_values(), {.threads = 2, .part = part, .parts = 5})))
      joined.push_back(std::move(row));
  std::sort(joined.begin(), joined.end(), [](const auto& a, const auto& b) { return a.number < b.number; });
  EXPECT_EQ(joined, whole);
  std::vector<bool> skipped(12, false);
  skipped[3] = skipped[7] = true;
  const auto rest = rows_of(sweep(moored, two_values(), {.threads = 2, .skipped = skipped}));
  ASSERT_EQ(rest.size(), 10u);
  for (const SweepTable::Row& row : rest) EXPECT_EQ(row, whole[row.number]);
}

TEST(Sweep, TellsEachPlayWhenItEnds) {
  std::set<std::size_t> told;
  std::atomic<bool> goes_on = true;
  SweepOptions options{.threads = 2, .goes_on = [&] { return goes_on.load(); }};
  options.on_play = [&](const SweptPlay& play) {
    told.insert(play.number);
    if (told.size() == 5) goes_on = false;
  };
  const std::vector<SweptPlay> plays = sweep(moored, two_values(), options);
  EXPECT_EQ(plays.size(), told.size());
  EXPECT_GE(plays.size(), 5u);
  EXPECT_LT(plays.size(), 12u);
  options.on_play = [](const SweptPlay&) { throw Error{"the disk is full"}; };
  goes_on = true;
  EXPECT_THROW(sweep(moored, two_values(), options), Error);
}

/// The numbers of one dimension, sorted.
std::vector<double> numbers(const SweptValues& values, std::size_t dimension) {
  std::vector<double> all;
  for (std::size_t i = 0; i < values.plays(); ++i) all.push_back(values.of(i)[dimension].number().value());
  std::sort(all.begin(), all.end());
  return all;
}

TEST(Sweep, SamplesRangesEvenly) {
  SweepPlan plan{.varied = {{.path = "a", .low = 2.0, .high = 4.0}, {.path = "b", .low = -1.0, .high = 0.0}},
                 .measures = {"peak(c)"},
                 .plays = 64};
  for (const Sampling sampling : {Sampling::latin_hypercube, Sampling::sobol}) {
    plan.sampling = sampling;
    plan.seed = 7;
    const SweptValues values{plan};
    // One number in each 64th of each range, by the definition of a Latin hypercube, and of a digital (t, 6, s)-net.
    for (std::size_t dimension = 0; dimension < 2; ++dimension) {
      const std::vector<double> all = numbers(values, dimension);
      const double low = plan.varied[dimension].low, width = plan.varied[dimension].high - low;
      for (std::size_t i = 0; i < 64; ++i)
        EXPECT_EQ(std::floor((all[i] - low) / width * 64.0), static_cast<double>(i)) << name_of(sampling);
    }
    plan.seed = 8;
    EXPECT_NE(numbers(SweptValues{plan}, 0), numbers(values, 0));
  }
  // Of a Sobol sequence also one in each of the 8 x 8 squares.
  std::set<std::pair<double, double>> squares;
  for (std::size_t i = 0; i < 64; ++i) {
    const std::vector<Value> values = SweptValues{plan}.of(i);
    squares.insert(
        {std::floor((values[0].number().value() - 2.0) * 4.0), std::floor((values[1].number().value() + 1.0) * 8.0)});
  }
  EXPECT_EQ(squares.size(), 64u);
}

TEST(Sweep, ChoosesFromListsToo) {
  const SweepPlan plan{
      .varied = {{.path = "a", .values = {Value{std::string{"linear"}}, Value{std::string{"in-sine"}}}}},
      .measures = {"peak(c)"},
      .sampling = Sampling::latin_hypercube,
      .plays = 10};
  int linear = 0;
  for (std::size_t i = 0; i < 10; ++i) linear += *SweptValues{plan}.of(i)[0].as<std::string>() == "linear" ? 1 : 0;
  EXPECT_EQ(linear, 5);
}

TEST(Sweep, SaysWhatIsWrongBeforeThePlays) {
  const auto message = [](const SweepPlan& plan, const SweepOptions& options = {}) {
    bool has_played = false;
    SweepOptions told = options;
    told.on_play = [&](const SweptPlay&) { has_played = true; };
    try {
      sweep(moored, plan, told);
      return std::string{"accepted"};
    } catch (const BadValue& error) {
      return has_played ? "played" : std::string{error.what()};
    }
  };
  SweepPlan plan = two_values();
  plan.varied[0].path = "hook.spring.dampnig";
  EXPECT_NE(message(plan).find("did you mean \"damping\"?"), std::string::npos) << message(plan);
  plan = two_values();
  plan.varied[0].high = 1e12;
  EXPECT_NE(message(plan).find("damping"), std::string::npos) << message(plan);
  plan = two_values();
  plan.varied[1].values[2] = Value{std::string{"fast"}};
  EXPECT_NE(message(plan).find("velocity.x"), std::string::npos) << message(plan);
  plan = two_values();
  plan.varied[0].count = 0;
  EXPECT_EQ(message(plan), "hook.spring.damping: give how many numbers of its range, LOW:HIGH:COUNT.");
  plan.varied[0].count = 1'000'000;
  EXPECT_EQ(message(plan), "a sweep has more than 1000000 plays; give fewer values.");
  EXPECT_EQ(message(two_values(), {.part = 3, .parts = 2}),
            "part 3 of 2 does not exist; give a part from 1 to the number of parts.");
  plan = two_values();
  plan.sampling = Sampling::sobol;
  EXPECT_EQ(message(plan), "the number of plays is 0; give at least 1.");
  EXPECT_EQ(message({.varied = {}, .measures = {"peak(hook.position.x)"}}),
            "a sweep varies nothing; give a value that varies.");
}

}  // namespace
}  // namespace hushed::tests
