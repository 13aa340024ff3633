// Lanterns are let out at a quay, drift away with a ferry's wake and end. The scene is never laid out as a whole again.

#include <cstdio>
#include <deque>

#include <hushed/hushed.hpp>

using namespace hushed;
using namespace std::chrono_literals;

int main() {
  Scene harbour;
  const Object quay = harbour.add({.name = "quay", .rest = at(4, 0, 0)});
  const Object ferry = harbour.add({.name = "ferry"});
  harbour.give(ferry, Travel{.velocity = {0, 0, 1.5}});

  struct Lantern {
    Object object;
    Time ends;
  };
  std::deque<Lantern> lanterns;
  std::uint64_t let_out = 0;
  for (int frame = 0; frame < 10 * 60; ++frame) {
    if (frame % 20 == 0) {  // a new one on the quay, with a number that your game understands
      const Object lantern = harbour.add({.parent = quay, .rest = at(0, 0.2, 0), .number = ++let_out});
      harbour.give(lantern, Sway{.amplitude = {0, 0.1, 0}, .frequency = 0.5});
      lanterns.push_back({lantern, harbour.time() + 4s});
    }
    if (frame % 20 == 10) harbour.set_parent(lanterns.back().object, ferry);  // from where it is, with the ferry
    while (!lanterns.empty() && lanterns.front().ends <= harbour.time()) {
      harbour.end(lanterns.front().object);
      lanterns.pop_front();
    }
    harbour.advance(seconds(1.0 / 60));

    if (frame % 120 != 119) continue;
    const Object oldest = lanterns.front().object;
    std::printf("%4.1f s: %2zu objects; lantern %2llu, at place %zu of the matrices, is at %.2f %.2f %.2f\n",
                in_seconds(harbour.time()), harbour.size(), static_cast<unsigned long long>(harbour.number(oldest)),
                harbour.index_of(oldest), harbour.world(oldest).position.x(), harbour.world(oldest).position.y(),
                harbour.world(oldest).position.z());
  }
}

// Prints:
//  2.0 s:  8 objects; lantern  1, at place 2 of the matrices, is at 4.00 0.20 2.75
//  4.0 s: 14 objects; lantern  1, at place 2 of the matrices, is at 4.00 0.20 5.75
//  6.0 s: 14 objects; lantern  7, at place 8 of the matrices, is at 4.00 0.20 5.75
//  8.0 s: 14 objects; lantern 13, at place 3 of the matrices, is at 4.00 0.20 5.75
// 10.0 s: 14 objects; lantern 19, at place 9 of the matrices, is at 4.00 0.20 5.75
