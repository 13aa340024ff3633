// SPDX-License-Identifier: MIT
// A flock rests on the water, scatters from the pilot boat, and settles again when it has passed.

#include <algorithm>
#include <cstdio>
#include <string>
#include <vector>

#include <hushed/hushed.hpp>

using namespace hushed;
using namespace std::chrono_literals;

int main() {
  Scene harbour;
  const Object pilot = harbour.add({.name = "pilot", .rest = at(-30, 0, 4)});
  harbour.give(pilot, Travel{.velocity = {6, 0, 0}});

  std::vector<Object> gulls;
  for (int i = 0; i < 12; ++i)
    gulls.push_back(harbour.add(
        {.name = "gull-" + std::to_string(i), .rest = at(2.0 * (i % 4) - 3, 0, 2.0 * (i / 4) - 2), .tags = {"gull"}}));
  for (const Object gull : gulls)
    harbour.give(gull, Steer{.urges = {urge::Arrive{.target = {0, 0, 0}}, urge::Separation{.tag = "gull", .within = 3},
                                       urge::Flee{.target = pilot, .within = 7.0, .weight = 4}},
                             .max_speed = 9,
                             .max_acceleration = 15,
                             .planar = true});

  for (int second = 0; second <= 14; second += 2) {
    double boat = 1e9, furthest = 0.0;
    for (const Object gull : gulls) {
      boat = std::min(boat, (harbour.world(gull).position - harbour.world(pilot).position).norm());
      furthest = std::max(furthest, harbour.world(gull).position.norm());
    }
    std::printf("%2d s   within %4.1f m of their place, the nearest %4.1f m from the boat\n", second, furthest, boat);
    harbour.advance(2s);
  }
}

// Prints:
//  0 s   within  3.6 m of their place, the nearest 27.1 m from the boat
//  2 s   within  3.1 m of their place, the nearest 15.7 m from the boat
//  4 s   within  3.2 m of their place, the nearest  6.0 m from the boat
//  6 s   within  9.3 m of their place, the nearest  7.0 m from the boat
//  8 s   within  3.4 m of their place, the nearest 15.5 m from the boat
// 10 s   within  3.2 m of their place, the nearest 27.5 m from the boat
// 12 s   within  3.2 m of their place, the nearest 39.4 m from the boat
// 14 s   within  3.1 m of their place, the nearest 51.3 m from the boat
