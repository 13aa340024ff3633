// SPDX-License-Identifier: MIT
// Objects that end while the scene plays: no later call refers to them.

#include <gtest/gtest.h>
#include <hushed/hushed.hpp>

namespace hushed {
namespace {

using namespace std::chrono_literals;

/// A scene in which many fading objects have ended before another object is added.
struct AfterTheFireworks {
  Scene harbour;
  Object lamp;

  AfterTheFireworks() {
    lamp = harbour.add({.name = "lamp"});
    harbour.give(lamp, Spin{.speed = degrees(90)});
    harbour.advance(16ms);
    std::vector<Object> rockets;
    for (int i = 0; i < 200; ++i) {
      rockets.push_back(harbour.add({}));
      harbour.give(rockets.back(), Sway{.amplitude = {0, 1, 0}}, {.fade = 100ms});
    }
    harbour.advance(16ms);
    for (const Object rocket : rockets) harbour.end(rocket);
    harbour.advance(16ms);
    harbour.add({.name = "buoy"});
    harbour.advance(16ms);
  }
};

TEST(Ending, LeavesASceneThatCanBeRestored) {
  AfterTheFireworks night;
  night.harbour.restore(night.harbour.snapshot());
  night.harbour.add({});
  night.harbour.advance(936ms);
  EXPECT_NEAR(pitch_yaw_roll(night.harbour.world(night.lamp).rotation).yaw.in_degrees(), 90.0, 1e-12);
}

TEST(Ending, LeavesASceneThatCanSeek) {
  AfterTheFireworks night;
  const Time then = night.harbour.time();
  const Pose before = night.harbour.world(night.lamp);
  night.harbour.advance(1s);
  night.harbour.seek(then);
  EXPECT_EQ(night.harbour.world(night.lamp).rotation.coeffs(), before.rotation.coeffs());
}

TEST(Ending, LeavesOtherObjectsTunableBeforeAnythingIsAdded) {
  for (const bool by_rule : {false, true}) {
    Scene harbour;
    const Object bow = harbour.add({.name = "bow", .rest = at(0, 0, 5)}), stern = harbour.add({.name = "stern"});
    const Object watch = harbour.add({.name = "watch", .rest = at(0, 0, 1)}), flare = harbour.add({.name = "flare"});
    const auto facing = harbour.give(watch, Face{.target = bow});
    harbour.give(flare, Spin{}, {.fade = 200ms});
    harbour.give(flare, Face{.target = stern, .half_life = 1s});
    if (by_rule) {
      harbour.when(after(seconds(0.05))).then(end("flare"));
      harbour.when(after(seconds(0.1))).then(retarget("watch.face", "stern"));
    }
    harbour.advance(50ms);
    if (!by_rule) {
      harbour.end(flare);
      harbour.advance(16ms);
      harbour.retarget(facing, stern);
    }
    harbour.advance(2s);
    EXPECT_FALSE(harbour.alive(flare));
    EXPECT_NEAR((harbour.world(watch).rotation * axis::forward - Vec3{0, 0, -1}).norm(), 0.0, 1e-9);
  }
}

TEST(Ending, RemovesObjectsFromEveryListAtOnce) {
  Scene harbour;
  std::vector<Object> boats;
  for (int i = 0; i < 4; ++i) boats.push_back(harbour.add({.rest = at(i, 0, 0)}));
  harbour.advance(16ms);
  const Snapshot before = harbour.snapshot();
  const auto all_agree_on = [&](std::size_t count) {
    EXPECT_EQ(harbour.size(), count);
    ASSERT_EQ(harbour.objects().size(), count);
    ASSERT_EQ(harbour.world_poses().size(), count);
    std::vector<float> matrices(16 * count);
    harbour.write_matrices(matrices);
    for (std::size_t i = 0; i < count; ++i)
      EXPECT_EQ(harbour.world(harbour.objects()[i]).position, harbour.world_poses()[i].position);
  };
  harbour.end(boats[1]);
  all_agree_on(3);
  harbour.advance(16ms);
  all_agree_on(3);
  harbour.restore(before);
  all_agree_on(4);
  EXPECT_EQ(harbour.world(boats[1]).position.x(), 1.0);
}

TEST(Ending, RaisesNoMoreEventsOfEndedObjects) {
  Scene harbour;
  const Object ferry = harbour.add({.name = "ferry"});
  harbour.give(ferry, Route{.points = {Place{0, 0, 0}, Place{1, 0, 0}}, .speed = 10.0, .ends = RouteEnds::loop});
  harbour.add({.name = "pier"});
  harbour.advance(1s);
  EXPECT_FALSE(harbour.events().empty());
  harbour.end(ferry);
  harbour.advance(1s);
  EXPECT_TRUE(harbour.events().empty());
}

}  // namespace
}  // namespace hushed
