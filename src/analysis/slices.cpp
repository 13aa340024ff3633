// SPDX-License-Identifier: MIT
#include <hushed/detail/scene_access.hpp>
#include <hushed/detail/slices.hpp>

namespace hushed::detail {

namespace {

constexpr std::int64_t ticks_of_a_slice = 8;

}  // namespace

bool play_on_to(Scene& scene, Time time, const std::function<bool()>& goes_on) {
  const Time slice = frame_time(ticks_of_a_slice, scene.tick_rate());
  while (scene.time() < time) {
    if (goes_on && !goes_on()) return false;
    SceneAccess::play_on(scene, goes_on ? std::min(slice, time - scene.time()) : time - scene.time());
  }
  return true;
}

bool advance_to(Scene& scene, Time time, const std::function<bool()>& goes_on) {
  const Time slice = frame_time(ticks_of_a_slice, scene.tick_rate());
  if (goes_on && (!goes_on() || !play_on_to(scene, time - slice, goes_on))) return false;
  scene.advance(time - scene.time());
  return true;
}

}  // namespace hushed::detail
