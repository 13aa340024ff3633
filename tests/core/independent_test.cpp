// SPDX-License-Identifier: MIT
// Springs without readers advance all ticks of a frame at once. With readers they advance tick by tick. The poses are
// equal.

#include <gtest/gtest.h>

#include <hushed/hushed.hpp>

namespace hushed {
namespace {

using namespace std::chrono_literals;

/// Springs of every variant. With `read`, a smoothing follower reads each of them at every tick.
Scene buoys(bool are_watched) {
  Scene harbour;
  for (int i = 0; i < 21; ++i) {
    const Object buoy = harbour.add({.name = "buoy-" + std::to_string(i), .rest = at(i, 0, 0)});
    Spring spring{.frequency = 0.3 + 0.4 * i, .damping = 0.03 * i, .velocity = {1, 0.1 * i, -1}};
    if (i % 3 != 0) spring.target = Vec3{0.5 * i, 1, 2};
    if (i % 7 == 3) harbour.give(buoy, Sway{.amplitude = {0, 0.3, 0}, .frequency = 0.7});
    harbour.give(buoy, spring, {.delay = i % 5 == 4 ? seconds(0.31) : Time{}});
    if (!are_watched) continue;
    harbour.give(harbour.add({.name = "watcher-" + std::to_string(i)}),
                 Follow{.target = buoy, .offset = Vec3{0, 1, 0}, .half_life = 100ms});
  }
  return harbour;
}

std::vector<Pose> poses_of(const Scene& harbour) {
  std::vector<Pose> poses;
  for (int i = 0; i < 21; ++i) poses.push_back(harbour.world(*harbour.find("buoy-" + std::to_string(i))));
  return poses;
}

void play(Scene& harbour, int fps, int frames) {
  for (int frame = 0; frame < frames; ++frame) harbour.advance(Time{units_per_second / fps});
}

TEST(Independent, AdvancesSeveralTicksToTheSameBits) {
  for (const int fps : {7, 24, 60, 120, 144}) {
    Scene alone = buoys(false), watched = buoys(true);
    for (int stretch = 0; stretch < 6; ++stretch) {
      play(alone, fps, fps);
      play(watched, fps, fps);
      const auto a = poses_of(alone), b = poses_of(watched);
      for (std::size_t i = 0; i < a.size(); ++i)
        EXPECT_EQ(a[i].position, b[i].position) << "buoy " << i << " at " << fps << " after " << stretch + 1 << " s";
    }
  }
}

TEST(Independent, CatchesUpBeforeItIsReadOrChangedBetweenTicks) {
  Scene one = buoys(false), other = buoys(true);
  for (Scene* harbour : {&one, &other}) {
    play(*harbour, 11, 9);
    harbour->set("buoy-4.spring.damping", Value{0.7});
    harbour->kick(*harbour->find_behaviour("buoy-5.spring"), {0, 2, 0});
    play(*harbour, 13, 5);
    harbour->stop(*harbour->find_behaviour("buoy-7.spring"));
    play(*harbour, 17, 8);
    harbour->restart(*harbour->find_behaviour("buoy-8.spring"));
    play(*harbour, 5, 5);
  }
  const auto a = poses_of(one), b = poses_of(other);
  for (std::size_t i = 0; i < a.size(); ++i) EXPECT_EQ(a[i].position, b[i].position) << "buoy " << i;
}

TEST(Independent, ComesToRestAtTheSameTickAtAnyFrameRate) {
  std::vector<std::vector<Pose>> ends;
  for (const int fps : {1, 4, 60, 240}) {
    Scene harbour;
    const Object bell = harbour.add({.name = "bell", .rest = at(1, 2, 3)});
    harbour.give(bell, Spring{.frequency = 3, .damping = 0.6, .target = Vec3{0, 0, 0}});
    play(harbour, fps, 12 * fps);
    ends.push_back({harbour.world(bell)});
  }
  for (const auto& end : ends) EXPECT_EQ(end[0].position, (Vec3{0, 0, 0}));  // to the last bit
}

TEST(Independent, RulesHearOfALostTargetAtTheSameTickInAnyLayout) {
  const auto bell_after = [](bool with_new_layout) {
    Scene harbour;
    const Object buoy = harbour.add({.name = "buoy", .rest = at(5, 0, 0)}), bell = harbour.add({.name = "bell"});
    const Object flare = harbour.add({.name = "flare"});
    harbour.give(buoy, Travel{.velocity = {1, 0, 0}});
    harbour.give(flare, Face{.target = buoy}, {.delay = 100ms});
    const auto swaying = harbour.give(bell, Sway{.amplitude = {0, 1, 0}});
    harbour.when(happened("lost")).then(toggle(swaying));
    harbour.advance(10ms);
    harbour.end(buoy);
    if (with_new_layout) (void)harbour.world_poses();  // without the buoy
    harbour.advance(500ms);
    return harbour.world(bell).position.y();
  };
  EXPECT_GT(bell_after(false), 0.1);
  EXPECT_EQ(bell_after(true), bell_after(false));
}

}  // namespace
}  // namespace hushed
