// SPDX-License-Identifier: MIT
// A tug keeps four to six metres from a ferry that sails away, waits and comes back. It follows a ferry that is too far
// away, and backs away from one that is too close.

#include <cstdio>

#include <hushed/hushed.hpp>

using namespace hushed;
using namespace std::chrono_literals;

int main() {
  Scene harbour;
  const Object tug = harbour.add({.name = "tug", .rest = at(-5, 0, 0)}), ferry = harbour.add({.name = "ferry"});
  harbour.give(tug, Follow{.target = ferry, .half_life = 300ms, .min_distance = 4.0, .max_distance = 6.0});
  harbour.give(ferry, Glide{.to = {{.position = Vec3{12, 0, 0}}},
                            .duration = 5s,
                            .easing = Easing::parse("smoothstep"),
                            .ends = GlideEnds::come_back,
                            .pause = 2s});

  std::puts("time   ferry     tug  distance");
  for (int i = 0; i <= 6; ++i, harbour.advance(2s)) {
    const double out = harbour.world(ferry).position.x(), behind = harbour.world(tug).position.x();
    std::printf("%3d s  %5.2f  %6.2f  %8.2f\n", 2 * i, out, behind, out - behind);
  }
}

// Prints:
// time   ferry     tug  distance
//   0 s   0.00   -5.00      5.00
//   2 s   4.22   -3.03      7.26
//   4 s  10.75    3.52      7.23
//   6 s  12.00    5.96      6.04
//   8 s  10.75    6.00      4.76
//  10 s   4.22    1.72      2.51
//  12 s   0.00   -3.55      3.55
