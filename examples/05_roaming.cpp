// SPDX-License-Identifier: MIT
// Paper lanterns roam on the water, each along its own path. Places are computed from their number, so an hour can be
// skipped at once, with the result of playing it.

#include <cstdio>
#include <vector>

#include <hushed/hushed.hpp>

using namespace hushed;
using namespace std::chrono_literals;

int main() {
  Scene harbour;
  for (int i = 0; i < 3; ++i) {
    const Object paper = harbour.add({});
    harbour.give(paper, Roam{.box = {{-8, 0, -8}, {8, 0, 8}}, .duration = 6s, .pause = 1s, .seed = i});
  }

  harbour.seek(1h);
  const std::vector<Pose> found{harbour.world_poses().begin(), harbour.world_poses().end()};
  harbour.seek(0s);
  while (harbour.time() < 1h) harbour.advance(50ms);

  for (std::size_t i = 0; i < found.size(); ++i) {
    const Vec3 played = harbour.world_poses()[i].position;
    std::printf("%5.2f %5.2f   %s\n", played.x(), played.z(), played == found[i].position ? "the same" : "elsewhere");
  }
}

// Prints:
// -1.40 -1.23   the same
//  0.26 -3.13   the same
//  2.67 -5.79   the same
