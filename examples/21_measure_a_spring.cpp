// SPDX-License-Identifier: MIT
// A hook on a spring, measured for several dampings: how far it swings beyond its goal, and when it has settled.

#include <cstdio>
#include <vector>

#include <hushed/hushed.hpp>
#include <hushed/measure.hpp>

using namespace hushed;
using namespace std::chrono_literals;

int main() {
  std::puts("damping  overshoot  settled");
  for (const double damping : {0.2, 0.4, 0.7, 1.0}) {
    Scene harbour;
    const Object goal = harbour.add({.name = "goal", .rest = at(3, 0, 0)});
    harbour.give(harbour.add({.name = "hook"}), Spring{.frequency = 0.8, .damping = damping, .target = goal});

    const std::vector<Measure> measures{{"overshoot(hook.position.x, of = 3)", harbour},
                                        {"settled(hook.position.x, of = 3)", harbour}};
    const std::vector<Measured> found = measure(harbour, measures, 10s);
    std::printf("%7.1f  %7.1f %%  %5.2f s\n", damping, *found[0].value, *found[1].value);
  }
}

// Prints:
// damping  overshoot  settled
//     0.2     52.7 %   2.73 s
//     0.4     25.4 %   1.51 s
//     0.7      4.6 %   0.58 s
//     1.0      0.0 %   0.94 s
