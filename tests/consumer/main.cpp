#include <cstdio>

#include <hushed/hushed.hpp>
#include <hushed/load.hpp>

int main() {
  hushed::Scene scene = hushed::read_scene_text("hushed = 1\n[object.lamp]\n", "lamp.toml").scene;
  const hushed::Object lamp = scene.find("lamp").value();
  scene.give(lamp, hushed::Spin{.speed = hushed::degrees(90)});
  scene.advance(std::chrono::seconds{1});
  std::printf("the lamp has turned %.0f degrees\n",
              hushed::pitch_yaw_roll(scene.world(lamp).rotation).yaw.in_degrees());
}
