// SPDX-License-Identifier: MIT
// A frame of a mixture (half spin, half travel with reflection; every second object is a child of another) compared
// with the hand-written way, on one thread. Prints nanoseconds per object and frame, and the ratio of the medians.

#include <benchmark/benchmark.h>

#include <algorithm>
#include <random>
#include <string>
#include <vector>

#include <fmt/format.h>

#include <hushed/hushed.hpp>

#include "by_hand.hpp"
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

void frame_by_hand(benchmark::State& state, int count, bool aged) {
  const auto things = by_hand::make(count, aged);
  for (auto _ : state) {
    for (const auto& thing : things) thing->update(1.0 / 60);
    benchmark::ClobberMemory();
  }
}

void frame_by_hushed(benchmark::State& state, int count, bool aged) {
  Scene scene = make_scene(count, aged);
  for (auto _ : state) {
    scene.advance(seconds(1.0 / 60));
    benchmark::ClobberMemory();
  }
}

}  // namespace

int main(int count, char** words) {
  const std::vector<int> sizes{1'000, 100'000, 1'000'000};
  for (const bool aged : {false, true}) {
    for (const int size : sizes) {
      const std::string name = fmt::format("{}/{}", aged ? "aged" : "fresh", size);
      for (const auto& [who, frame] :
           {std::pair{std::string{"by hand/"}, &frame_by_hand}, {"hushed/", &frame_by_hushed}})
        benchmark::RegisterBenchmark((who + name).c_str(),
                                     [frame = frame, size, aged](benchmark::State& state) { frame(state, size, aged); })
            ->Repetitions(size < 1'000'000 ? 9 : 5)
            ->MinTime(0.15)
            ->UseRealTime();
    }
  }
  if (!side_by_side::take_options(count, words)) return 2;
  side_by_side::Times report;
  fmt::print("Nanoseconds per object and frame, medians; the ratio is by hand / hushed.\n\n");
  fmt::print("{:>8} {:>10} {:>10} {:>10} {:>7}\n", "heap", "objects", "by hand", "hushed", "ratio");
  benchmark::RunSpecifiedBenchmarks(&report);
  for (const bool aged : {false, true}) {
    for (const int size : sizes) {
      const std::string name = fmt::format("{}/{}", aged ? "aged" : "fresh", size);
      const double rival = report.median_nanoseconds("by hand/" + name, size);
      const double ours = report.median_nanoseconds("hushed/" + name, size);
      if (ours > 0.0 && rival > 0.0)
        fmt::print("{:>8} {:>10} {:>10.1f} {:>10.1f} {:>7.2f}\n", aged ? "aged" : "fresh", size, rival, ours,
                   rival / ours);
    }
  }
}
