// SPDX-License-Identifier: MIT
// A lamp turns on its lighthouse, and prints its yaw at each second. The frames have an odd length: the motion depends
// only on time.

#include <cstdio>

#include <hushed/hushed.hpp>

using namespace hushed;
using namespace std::chrono_literals;

int main() {
  Scene harbour;
  const Object tower = harbour.add({.name = "lighthouse"});
  const Object lamp = harbour.add({.name = "lamp", .parent = tower, .rest = at(0, 12, 0)});
  const auto turning = harbour.give(lamp, Spin{.axis = axis::up, .speed = degrees(40)});

  for (int frame = 1; frame <= 16; ++frame) {
    harbour.advance(250ms);                                        // any length
    if (frame == 12) harbour.tune(turning)->speed = degrees(-40);  // takes effect without a jump
    if (frame % 4 == 0) {
      const Pose pose = harbour.world(lamp);
      const Angle yaw = pitch_yaw_roll(pose.rotation).yaw;
      std::printf("%2d s   %.0f m up, yaw %4.0f degrees\n", frame / 4, pose.position.y(), yaw.in_degrees());
    }
  }
}

// Prints:
//  1 s   12 m up, yaw   40 degrees
//  2 s   12 m up, yaw   80 degrees
//  3 s   12 m up, yaw  120 degrees
//  4 s   12 m up, yaw   80 degrees
