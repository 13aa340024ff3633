#include <hushed/hushed.hpp>

#include <cstdio>

int main() {
  hushed::Scene scene;
  const hushed::Object lamp = scene.add({.name = "lamp"});
  scene.give(lamp, hushed::Spin{.speed = hushed::degrees(90)});
  scene.advance(std::chrono::seconds{1});
  std::printf("the lamp has turned %.0f degrees\n",
              hushed::pitch_yaw_roll(scene.world(lamp).rotation).yaw.in_degrees());
}
