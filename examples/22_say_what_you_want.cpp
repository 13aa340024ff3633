// SPDX-License-Identifier: MIT
// A wish instead of a number: the ferry's speed with which it is at its third stop after 10 s, and how the time depends
// on the speed.

#include <cstdio>

#include <hushed/hushed.hpp>
#include <hushed/solve.hpp>
#include <hushed/sweep.hpp>

using namespace hushed;
using namespace std::chrono_literals;

Scene harbour() {
  Scene scene;
  scene.give(
      scene.add({.name = "ferry"}),
      Route{.points = {Vec3{0, 0, 0}, Vec3{6, 0, -8}, Vec3{16, 0, -8}, Vec3{16, 0, 4}}, .speed = 4.0, .pause = 2s});
  return scene;
}

int main() {
  const Wish wish = Wish::read("time(reached, 3, ferry) = 10 s", harbour());
  const Solution found = solve(harbour, {{"ferry.route.speed", 1.0, 10.0}}, {wish}, {.length = 20s});
  std::printf("a speed of %.3f m/s: %.3f s instead of %.3f s\n\n", found.numbers[0].after, *found.results[0].after,
              *found.results[0].before);

  const SweepPlan plan{.varied = {{.path = "ferry.route.speed", .low = 3.0, .high = 6.0, .count = 4}},
                       .measures = {wish.measure},
                       .length = 20s};
  for (const SweptPlay& play : sweep(harbour, plan))
    std::printf("%.0f m/s: %5.2f s\n", *play.values[0].number(), *play.measured[0].value);
}

// Prints:
// a speed of 5.333 m/s: 10.000 s instead of 12.000 s
//
// 3 m/s: 14.67 s
// 4 m/s: 12.00 s
// 5 m/s: 10.40 s
// 6 m/s:  9.33 s
