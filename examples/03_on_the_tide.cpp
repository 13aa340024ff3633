// SPDX-License-Identifier: MIT
// A pontoon rises and falls with the tide, a mast stands on it, and a gull orbits the mast. The centre of an orbit may
// move, and the gull is never a frame late.

#include <cstdio>

#include <hushed/hushed.hpp>

using namespace hushed;
using namespace std::chrono_literals;

int main() {
  Scene harbour;
  const Object pontoon = harbour.add({.name = "pontoon"});
  const Object mast = harbour.add({.name = "mast", .parent = pontoon, .rest = at(5, 6, 0)});
  const Object gull = harbour.add({.name = "gull"});

  harbour.give(pontoon, Sway{.amplitude = {0, 0.5, 0}, .frequency = 0.125});
  harbour.give(gull, Orbit{.centre = {mast, {0, 1, 0}}, .radius = 3.0, .period = 8.0, .face = OrbitFacing::travel});

  for (int i = 0; i <= 4; ++i) {
    const Vec3 top = harbour.world(mast).position, at = harbour.world(gull).position;
    std::printf("%d s   mast %.2f m high, gull %.2f m above it and %.2f m away\n", 2 * i, top.y(), at.y() - top.y(),
                (at - top).norm());
    harbour.advance(2s);
  }
}

// Prints:
// 0 s   mast 6.00 m high, gull 1.00 m above it and 3.16 m away
// 2 s   mast 6.50 m high, gull 1.00 m above it and 3.16 m away
// 4 s   mast 6.00 m high, gull 1.00 m above it and 3.16 m away
// 6 s   mast 5.50 m high, gull 1.00 m above it and 3.16 m away
// 8 s   mast 6.00 m high, gull 1.00 m above it and 3.16 m away
