// SPDX-License-Identifier: MIT
// Play mode for a scene that a program plays itself: one line in its loop, and a page that pauses, steps and tunes it.

#include <cstdio>

#include <hushed/hushed.hpp>
#include <hushed/live_server.hpp>

using namespace hushed;
using namespace std::chrono_literals;

int main() {
  Scene harbour;
  const Object lamp = harbour.add({.name = "lamp", .rest = at(0, 12, 0)});
  harbour.give(lamp, Spin{.axis = axis::up, .speed = degrees(40)});

  LiveServer server{harbour};
  std::fprintf(stderr, "open %s\n", server.address().c_str());

  for (int frame = 1; frame <= 60; ++frame) {
    server.serve(50ms);  // instead of harbour.advance(50ms)
    if (frame % 20 == 0) {
      const Angle yaw = pitch_yaw_roll(harbour.world(lamp).rotation).yaw;
      std::printf("%d s   looking %4.0f degrees, %zu look on\n", frame / 20, yaw.in_degrees(), server.clients());
    }
  }
}

// Prints:
// 1 s   looking   40 degrees, 0 look on
// 2 s   looking   80 degrees, 0 look on
// 3 s   looking  120 degrees, 0 look on
