// SPDX-License-Identifier: MIT
#include <array>
#include <cstdio>
#include <filesystem>

#include <hushed/compare.hpp>
#include <hushed/hushed.hpp>
#include <hushed/live_server.hpp>
#include <hushed/load.hpp>
#include <hushed/picture.hpp>
#include <hushed/recording_file.hpp>

using namespace hushed;

int main() {
  Scene scene = read_scene_text("hushed = 1\n[object.lamp]\n", "lamp.toml").scene;
  const Object lamp = scene.find("lamp").value();
  scene.give(lamp, Spin{.speed = degrees(90)});
  const std::array watches{Watch{"lamp.rotation.yaw", scene}};
  const Watched played = watch(scene, watches, FrameTimes{60.0}, 0, 60);

  const auto picture = std::filesystem::temp_directory_path() / "hushed-consumer.svg";
  draw(std::array{played}, picture);
  std::filesystem::remove(picture);
  if (!compare(played.recording, played.recording).is_within({}) || !is_recording("lamp.glb")) return 1;
  if (LiveServer{scene}.address().find("http://127.0.0.1:") != 0) return 1;
  std::printf("the lamp has turned %.0f degrees\n", pitch_yaw_roll(scene.world(lamp).rotation).yaw.in_degrees());
}
