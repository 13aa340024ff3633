// SPDX-License-Identifier: MIT
// A ferry follows its route and waits at its stops. In frames as long as a whole leg, each arrival is still reported
// with its exact time.

#include <cstdio>

#include <hushed/hushed.hpp>

using namespace hushed;
using namespace std::chrono_literals;

int main() {
  Scene harbour;
  const Object ferry = harbour.add({.name = "ferry"});
  harbour.give(ferry, Route{.points = {{0, 0, 0}, {24, 0, 0}, {24, 0, 18}},
                            .speed = 6.0,
                            .ends = RouteEnds::loop,
                            .pause = {5s, 0s, 2s}});

  while (harbour.time() < 40s) {
    harbour.advance(3300ms);
    for (const Event& event : harbour.events())
      std::printf("%5.1f s   %s\n", in_seconds(event.time), harbour.describe(event).c_str());
  }
}

// Prints:
//   4.0 s   ferry.route reached point 1
//   7.0 s   ferry.route reached point 2
//  14.0 s   ferry.route reached point 0
//  23.0 s   ferry.route reached point 1
//  26.0 s   ferry.route reached point 2
//  33.0 s   ferry.route reached point 0
//  42.0 s   ferry.route reached point 1
