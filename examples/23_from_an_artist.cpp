// SPDX-License-Identifier: MIT
// A ferry with an artist's animation, and a boat that follows it.

#include <cstdio>

#include <hushed/hushed.hpp>
#include <hushed/load.hpp>

using namespace hushed;
using namespace std::chrono_literals;

int main(int count, char** words) {
  const std::filesystem::path scenes = count > 1 ? words[1] : "scenes";
  Scene harbour = read_scene_text("hushed = 1\n[scene]\nfrom = \"artist.glb\"\n", (scenes / "bay.toml").string()).scene;

  const Object ferry = harbour.find("Ferry-No-2").value();
  harbour.give(ferry, Replay{.file = read_motions(scenes / "artist.glb"), .clip = "crossing"});
  const Object boat = harbour.add({.name = "boat", .rest = at(20, 0, -14)});
  harbour.give(boat, Follow{.target = ferry, .half_life = 500ms, .max_distance = 8.0});

  for (int second = 0; second <= 6; second += 2) {
    std::printf("%d s: ferry at z = %5.1f m, boat at z = %5.1f m\n", second, harbour.world(ferry).position.z(),
                harbour.world(boat).position.z());
    harbour.advance(2s);
  }
}

// Prints:
// 0 s: ferry at z = -14.0 m, boat at z = -14.0 m
// 2 s: ferry at z =  -4.7 m, boat at z = -13.0 m
// 4 s: ferry at z =   4.7 m, boat at z =  -6.1 m
// 6 s: ferry at z =  14.0 m, boat at z =   2.7 m
