// SPDX-License-Identifier: MIT
// A barrel that physics moves, here by hand, and a camera that follows it. The camera does not notice the frame rate.

#include <cstdio>

#include <hushed/hushed.hpp>

using namespace hushed;
using namespace std::chrono_literals;

/// A barrel that falls onto the quay and bounces. Stands for the physics of an engine.
struct Barrel {
  Vec3 position{0, 5, 0}, velocity{2, 0, 0};

  void step(double dt) {
    velocity.y() -= 9.81 * dt;
    position += velocity * dt;
    if (position.y() >= 0) return;
    position.y() = 0;
    velocity.y() *= -0.6;
  }
};

int main() {
  for (const int rate : {30, 60, 120}) {
    Scene harbour;
    const Object barrel = harbour.add({.name = "barrel", .rest = at(0, 5, 0)});
    harbour.give(barrel, Fed{.channels = {Channel::position}});
    const Object camera = harbour.add({.name = "camera", .rest = at(0, 8, -10)});
    harbour.give(camera, Follow{.target = barrel, .half_life = 300ms});

    Barrel falling;
    for (int frame = 0; frame < 2 * rate; ++frame) {
      for (int step = 0; step < 120 / rate; ++step) falling.step(1.0 / 120);  // physics has steps of its own
      harbour.feed(barrel, at(falling.position));
      harbour.advance(seconds(1.0 / rate));
    }
    const Vec3 seen = harbour.world(camera).position;
    std::printf("%3d frames per second: the camera is at %.2f %.2f %.2f\n", rate, seen.x(), seen.y(), seen.z());
  }
}

// Prints:
//  30 frames per second: the camera is at 3.14 4.55 -10.00
//  60 frames per second: the camera is at 3.14 4.55 -10.00
// 120 frames per second: the camera is at 3.14 4.55 -10.00
