// SPDX-License-Identifier: MIT
// A frame of 1 000 and of 10 000 behaviours of each kind, on a fresh heap, compared with the hand-written way. Prints
// nanoseconds per object and frame, and the ratio of the medians.

#include <map>
#include <string>
#include <vector>

#include <benchmark/benchmark.h>
#include <fmt/format.h>

#include <hushed/hushed.hpp>

#include "rivals.hpp"
#include "side_by_side.hpp"

namespace {

using namespace hushed;
using rivals::dt, rivals::Rival;

/// The goal for a kind.
side_by_side::Goal goal_for(const Rival& kind, int size) {
  static const std::map<std::string, side_by_side::Goal> at_any_size{
      {"spring", {2, 3}}, {"follow", {2, 2}}, {"face", {3, 4}}, {"sway", {2, 2}}, {"orbit", {2, 2}}, {"glide", {2, 2}}};
  static const std::map<std::string, side_by_side::Goal> at_a_thousand{{"spin", {2.3, 3.5}}, {"travel", {2.5, 3.5}}};
  if (const auto found = at_any_size.find(kind.name); found != at_any_size.end()) return found->second;
  if (const auto found = at_a_thousand.find(kind.name); found != at_a_thousand.end() && size == 1'000)
    return found->second;
  return {1.5, 2};
}

void frame_by_hand(benchmark::State& state, const Rival& kind, int count) {
  std::vector<std::unique_ptr<by_hand::Thing>> things;
  for (int i = 0; i < count; ++i) things.push_back(kind.make(i));
  for (auto _ : state) {
    by_hand::Riding::reached.clear();
    rivals::leader_by_hand().update(dt);
    for (const auto& thing : things) thing->update(dt);
    benchmark::ClobberMemory();
  }
}

void frame_by_hushed(benchmark::State& state, const Rival& kind, int count) {
  Scene scene = rivals::scene_of(kind, count);
  for (auto _ : state) {
    scene.advance(seconds(dt));
    benchmark::ClobberMemory();
  }
}

}  // namespace

int main(int argument_count, char** arguments) {
  const std::vector<int> sizes{1'000, 10'000};
  const auto name_of = [](const char* who, const Rival& kind, int size) {
    return fmt::format("{}/{}/{}", who, kind.name, size);
  };
  for (const Rival& kind : rivals::all()) {
    for (const int size : sizes) {
      for (const auto& [who, frame] : {std::pair{"by hand", &frame_by_hand}, {"hushed", &frame_by_hushed}})
        benchmark::RegisterBenchmark(
            name_of(who, kind, size).c_str(),
            [frame = frame, &kind, size](benchmark::State& state) { frame(state, kind, size); })
            ->Repetitions(9)
            ->MinTime(0.1)
            ->UseRealTime();
    }
  }
  if (!side_by_side::take_options(argument_count, arguments)) return 2;
  side_by_side::Times report;
  fmt::print("Nanoseconds per object and frame on a fresh heap, medians; the ratio is by hand / hushed.\n\n");
  fmt::print("{:<14} {:>8} {:>10} {:>10} {:>7} {:>7}\n", "kind", "objects", "by hand", "hushed", "ratio", "goal");
  side_by_side::Goals goals;
  benchmark::RunSpecifiedBenchmarks(&report);
  for (const Rival& kind : rivals::all()) {
    for (const int size : sizes) {
      const double rival = report.median_nanoseconds(name_of("by hand", kind, size), size);
      const double ours = report.median_nanoseconds(name_of("hushed", kind, size), size);
      if (ours > 0.0 && rival > 0.0)
        fmt::print("{:<14} {:>8} {:>10.1f} {:>10.1f} {:>7.2f} {}\n", kind.name, size, rival, ours, rival / ours,
                   goals.judge(goal_for(kind, size), rival / ours));
    }
  }
  fmt::print("{}", goals.summary());
}
