// SPDX-License-Identifier: MIT
// A swing bridge opens on the horn of a boat near its post. The next horn reverses it from where it is.

#include <cstdio>

#include <hushed/hushed.hpp>

using namespace hushed;
using namespace std::chrono_literals;

int main() {
  Scene harbour;
  const Object post = harbour.add({.name = "post", .rest = at(0, 1, 6)});
  const Object pilot = harbour.add({.name = "pilot", .rest = at(-9, 0, 0), .tags = {"pilot-boat"}});
  harbour.give(pilot, Drive{.speed = 4, .space = Space::world});

  const Object bridge =
      harbour.add({.name = "bridge", .poses = {{"open", std::nullopt, rotation(axis::up, degrees(80)), std::nullopt}}});
  const auto swing =
      harbour.give(bridge, Glide{.to = {{.name = "open"}}, .duration = 4s}, {.name = "swing", .enabled = false});

  harbour.when(pressed("H"), closer_than(Tagged{"pilot-boat"}, post, 8)).called("horn").then(toggle(swing));
  harbour.on("fired", [&](const Event& event) {
    std::printf("  at %.2f s %s\n", in_seconds(event.time), harbour.describe(event).c_str());
  });

  const auto horn = [&] {
    harbour.press("H");
    harbour.advance(100ms);
    harbour.release("H");
  };
  harbour.press("Left");  // +X: towards the bridge
  for (int second = 1; second <= 8; ++second) {
    if (second == 1 || second == 3 || second == 6) horn();
    harbour.advance(seconds(second) - harbour.time());
    const double yaw = pitch_yaw_roll(harbour.world(bridge).rotation).yaw.in_degrees();
    std::printf("%d s: the boat at %5.2f m, the bridge at %4.1f degrees\n", second, harbour.world(pilot).position.x(),
                yaw);
    if (second == 2) harbour.release("Left");
  }
}

// Prints:
// 1 s: the boat at -5.03 m, the bridge at  0.0 degrees
// 2 s: the boat at -1.03 m, the bridge at  0.0 degrees
//   at 2.02 s rule horn fired
// 3 s: the boat at -1.00 m, the bridge at 19.7 degrees
// 4 s: the boat at -1.00 m, the bridge at 39.7 degrees
// 5 s: the boat at -1.00 m, the bridge at 59.7 degrees
//   at 5.02 s rule horn fired
// 6 s: the boat at -1.00 m, the bridge at 40.3 degrees
// 7 s: the boat at -1.00 m, the bridge at 20.3 degrees
// 8 s: the boat at -1.00 m, the bridge at  0.3 degrees
