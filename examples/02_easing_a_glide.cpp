// SPDX-License-Identifier: MIT
// A swing bridge glides to a named pose with an easing. Half open, it is sent back: it reverses from where it is.

#include <cstdio>

#include <hushed/hushed.hpp>

using namespace hushed;
using namespace std::chrono_literals;

int main() {
  Scene harbour;
  const Object bridge =
      harbour.add({.name = "bridge", .poses = {{.name = "open", .rotation = rotation(axis::up, degrees(80))}}});
  const auto opening =
      harbour.give(bridge, Glide{.to = {{.name = "open"}}, .duration = 4s, .easing = Easing::parse("in-out-sine")});

  for (int second = 0; second <= 4; ++second) {
    const Angle yaw = pitch_yaw_roll(harbour.world(bridge).rotation).yaw;
    std::printf("%d s   open by %2.0f degrees\n", second, yaw.in_degrees());
    if (second == 2) harbour.toggle(opening);
    harbour.advance(1s);
  }
}

// Prints:
// 0 s   open by  0 degrees
// 1 s   open by 12 degrees
// 2 s   open by 40 degrees
// 3 s   open by 20 degrees
// 4 s   open by  0 degrees
