// SPDX-License-Identifier: MIT
// A scene file in a loop of your own: advance the scene by the time that has passed, and read the poses. Prints the
// height of the punt in frames of uneven length.

#include <cstdio>

#include <hushed/hushed.hpp>
#include <hushed/load.hpp>

using namespace hushed;

int main(int count, char** words) {
  Scene scene = load(count > 1 ? words[1] : "examples/first-steps/12-many.toml");
  const Object punt = scene.find("punt").value();

  for (const double frame : {0.016, 0.034, 0.016, 0.25, 0.184}) {  // seconds since the last frame
    scene.advance(seconds(frame));
    std::printf("%.3f s   punt at %.4f m\n", in_seconds(scene.time()), scene.world(punt).position.y());
  }
}

// Prints:
// 0.016 s   punt at 0.0211 m
// 0.050 s   punt at 0.0654 m
// 0.066 s   punt at 0.0859 m
// 0.316 s   punt at 0.2951 m
// 0.500 s   punt at 0.2427 m
