// SPDX-License-Identifier: MIT
// Paper lanterns drift until a boat comes near. Then they come to it, and each is gathered once.

#include <cstdio>
#include <string>

#include <hushed/hushed.hpp>

using namespace hushed;

int main() {
  Scene harbour;
  const Object pilot = harbour.add({.name = "pilot", .rest = at(-12, 0, 0)});
  harbour.give(pilot, Travel{.velocity = {2, 0, 0}});
  for (int i = 1; i <= 4; ++i) {
    const Object paper = harbour.add({.name = "paper-" + std::to_string(i), .rest = at(4 * i - 10, 0, i)});
    harbour.give(paper, Sway{.amplitude = {0.5, 0.1, 0.5}, .frequency = 0.2, .wave = Wave::noise, .seed = i});
    harbour.give(paper, Attract{.to = pilot, .within = 6, .speed = 2.5, .reach = 0.8, .then = Gathered::end});
  }
  harbour.on("gathered", [&](const Event& event) {
    std::printf("%.1f s: %s\n", in_seconds(event.time), harbour.describe(event).c_str());
  });
  for (int frame = 0; frame < 15 * 60; ++frame) harbour.advance(seconds(1.0 / 60));
  std::printf("and nothing is left behind: there is %zu object\n", harbour.size());
}

// Prints:
// 1.3 s: pilot gathered paper-1, its 1st
// 3.5 s: pilot gathered paper-2, its 2nd
// 5.6 s: pilot gathered paper-3, its 3rd
// 8.3 s: pilot gathered paper-4, its 4th
// and nothing is left behind: there is 1 object
