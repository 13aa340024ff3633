// SPDX-License-Identifier: MIT
// A frame of two mixtures, in which every second object is a child of another, compared with the hand-written way, on
// one thread: half spin, half travel with reflection; and all kinds in turn. Prints nanoseconds per object and frame,
// and the ratio of the medians.

#include <benchmark/benchmark.h>

#include <algorithm>
#include <memory>
#include <random>
#include <string>
#include <string_view>
#include <vector>

#include <fmt/format.h>

#include <hushed/hushed.hpp>

#include "by_hand.hpp"
#include "rivals.hpp"
#include "side_by_side.hpp"

namespace {

using namespace hushed;

Scene make_scene(int count, bool aged) {
  std::vector<int> families(static_cast<std::size_t>(count) / 2);
  for (std::size_t i = 0; i < families.size(); ++i) families[i] = static_cast<int>(i);
  if (aged) std::shuffle(families.begin(), families.end(), std::mt19937_64{1});

  Scene scene;
  for (const int family : families) {
    const Object parent = scene.add({}), child = scene.add({.parent = parent});
    for (const auto& [object, i] : {std::pair{parent, 2 * family}, {child, 2 * family + 1}}) {
      if (i / 2 % 2) {
        scene.give(object, Spin{.speed = radians(0.3 + 0.001 * (i % 500))});
      } else {
        Travel travel{.velocity = {0.5 + 0.001 * (i % 500), 0, 0}};
        travel.between.min.x() = -6;
        travel.between.max.x() = 6;
        scene.give(object, travel);
      }
    }
  }
  scene.advance(seconds(1.0 / 60));
  return scene;
}

std::vector<std::unique_ptr<by_hand::Thing>> all_kinds_by_hand(int count, bool aged) {
  const auto& kinds = rivals::all();
  const auto others = aged ? by_hand::fragments(count) : std::vector<std::unique_ptr<char[]>>{};
  std::vector<std::unique_ptr<by_hand::Thing>> things;
  for (int i = 0; i < count; ++i) things.push_back(kinds[static_cast<std::size_t>(i / 2) % kinds.size()].make(i));
  for (std::size_t i = 1; i < things.size(); i += 2) things[i]->parent = things[i - 1].get();
  return aged ? by_hand::in_random_order(std::move(things)) : std::move(things);
}

struct Mixture {
  const char* name;
  std::function<std::vector<std::unique_ptr<by_hand::Thing>>(int, bool)> by_hand;
  std::function<Scene(int, bool)> by_hushed;
};

const std::vector<Mixture>& mixtures() {
  static const std::vector<Mixture> all{
      {"spin, travel", [](int count, bool aged) { return by_hand::make(count, aged); }, &make_scene},
      {"all kinds", &all_kinds_by_hand, [](int count, bool) { return rivals::scene_of_all(count); }}};
  return all;
}

void frame_by_hand(benchmark::State& state, const Mixture& mixture, int count, bool aged) {
  const auto things = mixture.by_hand(count, aged);
  for (auto _ : state) {
    by_hand::Riding::reached.clear();
    rivals::leader_by_hand().update(rivals::dt);
    for (const auto& thing : things) thing->update(rivals::dt);
    benchmark::ClobberMemory();
  }
}

void frame_by_hushed(benchmark::State& state, const Mixture& mixture, int count, bool aged) {
  Scene scene = mixture.by_hushed(count, aged);
  for (auto _ : state) {
    scene.advance(seconds(rivals::dt));
    benchmark::ClobberMemory();
  }
}

}  // namespace

/// The goal for the mixture of all kinds.
side_by_side::Goal goal_for(const Mixture& mixture, int size, bool aged) {
  if (mixture.name != std::string_view{"all kinds"}) return {};
  if (size == 1'000 && !aged) return {2.8, 4};
  if (size == 10'000 && !aged) return {2.2, 2.8};
  return size == 1'000'000 ? aged ? side_by_side::Goal{10, 10} : side_by_side::Goal{4, 4} : side_by_side::Goal{};
}

int main(int count, char** words) {
  const std::vector<int> sizes{1'000, 10'000, 100'000, 1'000'000};
  const auto name_of = [](const char* who, const Mixture& mixture, int size, bool aged) {
    return fmt::format("{}/{}/{}/{}", who, mixture.name, aged ? "aged" : "fresh", size);
  };
  const auto for_each = [&](auto&& visit) {
    for (const Mixture& mixture : mixtures())
      for (const bool aged : {false, true})
        for (const int size : sizes) visit(mixture, size, aged);
  };
  for_each([&](const Mixture& mixture, int size, bool aged) {
    for (const auto& [who, frame] : {std::pair{"by hand", &frame_by_hand}, {"hushed", &frame_by_hushed}})
      benchmark::RegisterBenchmark(
          name_of(who, mixture, size, aged).c_str(),
          [frame = frame, &mixture, size, aged](benchmark::State& state) { frame(state, mixture, size, aged); })
          ->Repetitions(size < 1'000'000 ? 9 : 3)
          ->MinTime(0.1)
          ->UseRealTime();
  });
  if (!side_by_side::take_options(count, words)) return 2;
  side_by_side::Times report;
  fmt::print("Nanoseconds per object and frame, medians; the ratio is by hand / hushed.\n\n");
  fmt::print("{:<14} {:>6} {:>10} {:>10} {:>10} {:>7} {:>7}\n", "mixture", "heap", "objects", "by hand", "hushed",
             "ratio", "goal");
  side_by_side::Goals goals;
  benchmark::RunSpecifiedBenchmarks(&report);
  for_each([&](const Mixture& mixture, int size, bool aged) {
    const double rival = report.median_nanoseconds(name_of("by hand", mixture, size, aged), size);
    const double ours = report.median_nanoseconds(name_of("hushed", mixture, size, aged), size);
    if (ours > 0.0 && rival > 0.0)
      fmt::print("{:<14} {:>6} {:>10} {:>10.1f} {:>10.1f} {:>7.2f} {}\n", mixture.name, aged ? "aged" : "fresh", size,
                 rival, ours, rival / ours, goals.judge(goal_for(mixture, size, aged), rival / ours));
  });
  fmt::print("{}", goals.summary());
}
