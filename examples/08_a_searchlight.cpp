// SPDX-License-Identifier: MIT
// A searchlight turns towards a ferry, about its vertical axis only, limited by the speed of its motor, along the
// shortest arc.

#include <cstdio>

#include <hushed/hushed.hpp>

using namespace hushed;
using namespace std::chrono_literals;

int main() {
  Scene harbour;
  const Object ferry = harbour.add({.name = "ferry", .rest = at(-20, 0, -30)});
  const Object light =
      harbour.add({.name = "light", .rest = at(0, 8, 0).with_rotation(rotation(axis::up, degrees(150)))});
  harbour.give(ferry, Travel{.velocity = {10, 0, 0}});
  harbour.give(light, Face{.target = ferry, .max_turn_speed = degrees(30), .only = Turns::yaw});

  for (int i = 0; i <= 5; ++i, harbour.advance(1s)) {
    const Vec3 way = harbour.world(ferry).position - harbour.world(light).position;
    const Vec3 beam = harbour.world(light).rotation * axis::forward;
    const Vec3 level = Vec3{way.x(), 0, way.z()}.normalized();
    std::printf("%d s  yaw %7.2f  %s\n", i, pitch_yaw_roll(harbour.world(light).rotation).yaw.in_degrees(),
                beam.dot(level) > 0.999999 ? "on the ferry" : "turning");
  }
}

// Prints:
// 0 s  yaw  150.00  turning
// 1 s  yaw  180.00  turning
// 2 s  yaw  180.00  on the ferry
// 3 s  yaw  161.57  on the ferry
// 4 s  yaw  146.31  on the ferry
// 5 s  yaw  135.00  on the ferry
