// SPDX-License-Identifier: MIT
// Scene files: any text is a scene that plays, or gives an error with its place.

#include <cmath>
#include <cstdlib>

#include <hushed/load.hpp>

#include "fuzz.hpp"

extern "C" int LLVMFuzzerTestOneInput(const std::uint8_t* data, std::size_t size) {
  using namespace hushed;
  if (size > 4096) return 0;
  try {
    SceneFile file = read_scene_text(fuzz::text_of(data, size), "fuzz.toml");
    if (file.scene.size() > 200) return 0;
    for (int frame = 0; frame < 4; ++frame) {
      file.scene.advance(std::chrono::milliseconds{30});
      for (const Pose& pose : file.scene.world_poses())
        if (!pose.position.allFinite() || !(std::abs(pose.rotation.norm() - 1.0) < 1e-6)) std::abort();
    }
    file.scene.seek(seconds(0.05));
    file.scene.restore(file.scene.snapshot());
  } catch (const Error&) {
  }
  return 0;
}
