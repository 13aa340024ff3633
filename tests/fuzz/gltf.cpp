// SPDX-License-Identifier: MIT
// Recordings as glTF, its text and its binary form; and files of artists.

#include <chrono>

#include <hushed/behaviour/replay.hpp>
#include <hushed/kinds.hpp>
#include <hushed/load.hpp>
#include <hushed/motion.hpp>
#include <hushed/recording_file.hpp>

#include "fuzz.hpp"

extern "C" int LLVMFuzzerTestOneInput(const std::uint8_t* data, std::size_t size) {
  using namespace hushed;
  if (size > 16384) return 0;
  for (const char* const ending : {".gltf", ".glb"}) {
    try {
      (void)read_recording(fuzz::file_with(fuzz::text_of(data, size), ending));
    } catch (const Error&) {
    }
  }
  // As the base of a scene, whose animations are replayed.
  Kinds kinds;
  kinds.set_file_reader([&](const std::string& file) -> std::string {
    if (!file.ends_with(".glb")) throw Error{"there is one file only."};
    return std::string{fuzz::text_of(data, size)};
  });
  try {
    SceneFile base = read_scene_text("hushed = 1\n[scene]\nfrom = \"a.glb\"\n", "a.toml", {.kinds = &kinds});
    const auto motions = read_motions("a.glb", kinds);
    for (const MotionFile::Entry& each : motions->entries)
      if (const auto object = base.scene.find(each.object))
        base.scene.give(*object,
                        Replay{.file = motions, .clip = motions->clips[each.clip].name, .ends = ReplayEnds::loop});
    for (int i = 0; i < 4; ++i) base.scene.advance(std::chrono::milliseconds{70});
    for (const Object object : base.scene.objects())
      if (!base.scene.world(object).position.allFinite()) __builtin_trap();
  } catch (const Error&) {
  }
  return 0;
}
