// SPDX-License-Identifier: MIT
// A hook hangs from a trolley on a spring. The program first computes how it will swing, and then plays it.

#include <cmath>
#include <cstdio>

#include <hushed/hushed.hpp>

using namespace hushed;
using namespace std::chrono_literals;

int main() {
  const Spring spring{.frequency = frequency_with(600ms, 0.2), .damping = 0.2, .space = Space::world};
  std::printf("frequency %.3f Hz, overshoot %.0f %%, settles in %.2f s\n", spring.frequency, 100 * overshoot(spring),
              in_seconds(settling_time(spring)));

  Scene harbour;
  const Object trolley = harbour.add({.name = "trolley"});
  const Object hook = harbour.add({.name = "hook", .parent = trolley, .rest = at(0, -6, 0)});
  harbour.give(trolley, Glide{.to = {{.position = Vec3{4, 0, 0}}}, .duration = 0s}, {.delay = 1s, .fade = 10ms});
  const auto swinging = harbour.give(hook, spring);
  for (int i = 0; i <= 6; ++i, harbour.advance(500ms))
    std::printf("%3.1f s  hook at %5.2f m\n", in_seconds(harbour.time()), harbour.world(hook).position.x());

  harbour.kick(swinging, {0, 0, 3});  // a gull lands on it
  harbour.advance(200ms);
  std::printf("kicked, it is %.2f m aside\n", harbour.world(hook).position.z());
}

// Prints:
// frequency 0.919 Hz, overshoot 53 %, settles in 3.39 s
// 0.0 s  hook at  0.00 m
// 0.5 s  hook at  0.00 m
// 1.0 s  hook at  0.00 m
// 1.5 s  hook at  5.98 m
// 2.0 s  hook at  3.15 m
// 2.5 s  hook at  4.29 m
// 3.0 s  hook at  3.96 m
// kicked, it is 0.38 m aside
