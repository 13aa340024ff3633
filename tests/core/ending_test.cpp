// SPDX-License-Identifier: MIT
// Objects that end while the scene plays: no later call refers to them.

#include <gtest/gtest.h>
#include <hushed/detail/scene_access.hpp>
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

TEST(Ending, LeavesBehavioursTunableThatNameTheObject) {
  Scene harbour;
  const Object ferry = harbour.add({.name = "ferry"}), tug = harbour.add({.name = "tug", .rest = at(0, 0, -4)});
  harbour.give(ferry, Travel{.velocity = {2, 0, 0}});
  const auto following = harbour.give(tug, Follow{.target = "ferry", .half_life = 500ms});
  harbour.give(tug, Face{.target = "ferry"});
  harbour.advance(1s);
  harbour.end(ferry);
  harbour.advance(100ms);
  const Pose alone = harbour.world(tug);
  harbour.set("tug.follow.half_life", Value{2.0});
  harbour.tune(following)->max_speed = 3.0;
  harbour.set("tug.face.half_life", Value{0.2});
  harbour.advance(1s);
  EXPECT_LT((harbour.world(tug).position - alone.position).norm(), 1e-9);  // it holds where it was
  EXPECT_EQ(harbour.get("tug.follow.half_life")->number(), 2.0);
  EXPECT_EQ(harbour.get("tug.follow.target")->as<std::string>()[0], "ferry");
  EXPECT_THROW(harbour.set("tug.follow.target", Value{std::string{"packet"}}), BadValue);

  const Object next = harbour.add({.name = "ferry", .rest = at(10, 0, 0)});  // one of that name comes
  harbour.set("tug.follow.target", Value{std::string{"ferry"}});
  harbour.advance(1s);
  EXPECT_GT((harbour.world(tug).position - alone.position).norm(), 0.1);
  EXPECT_TRUE(harbour.alive(next));
}

TEST(Ending, LeavesBehavioursTunableWhereTagsChangeLater) {
  Scene harbour;
  const Object ferry = harbour.add({.name = "ferry", .rest = at(9, 0, 0)}), tug = harbour.add({.name = "tug"});
  harbour.give(tug, Attract{.to = "ferry", .within = 50, .speed = 1.0});
  harbour.advance(1s);
  harbour.end(ferry);
  harbour.advance(100ms);
  const Pose alone = harbour.world(tug);
  harbour.add({.name = "gull", .tags = {"gulls"}});
  harbour.advance(100ms);
  harbour.set("tug.attract.speed", Value{2.0});
  harbour.advance(1s);
  EXPECT_LT((harbour.world(tug).position - alone.position).norm(), 1e-9);  // it holds where it was
  EXPECT_EQ(harbour.get("tug.attract.speed")->number(), 2.0);
  EXPECT_EQ(harbour.get("tug.attract.to")->as<std::string>()[0], "ferry");
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

TEST(Ending, IsToldWithTheNameAlthoughTheSceneWasReloadedBefore) {
  const auto made = [](Scene harbour) {
    harbour.add({.name = "ferry"});
    harbour.give(harbour.add({.name = "pilot"}), Follow{.target = "ferry"});
    detail::SceneAccess::mark_base(harbour, nullptr);
    return harbour;
  };
  Scene harbour = made(Scene{});
  harbour.advance(1s);
  harbour.end(*harbour.find("ferry"));
  harbour.hot_reload(made(Scene{120.0, harbour}));
  harbour.advance(16ms);
  ASSERT_EQ(harbour.events().size(), 1U);
  EXPECT_EQ(harbour.describe(harbour.events()[0]), "pilot.follow lost ferry");
}

TEST(Ending, SparesAfterAReloadWhatHadLeftTheObjectBefore) {
  const auto made = [](Scene harbour) {
    const Object tower = harbour.add({.name = "tower", .rest = at(5, 0, 0)});
    harbour.add({.name = "lantern", .parent = tower, .rest = at(0, 3, 0)});
    detail::SceneAccess::mark_base(harbour, nullptr);
    return harbour;
  };
  Scene harbour = made(Scene{});
  harbour.advance(1s);
  const Object lantern = *harbour.find("lantern");
  harbour.set_parent(lantern, std::nullopt, KeepPose::world);
  harbour.end(*harbour.find("tower"));
  harbour.advance(1s);
  EXPECT_TRUE(harbour.hot_reload(made(Scene{120.0, harbour})).empty());
  harbour.advance(16ms);
  ASSERT_TRUE(harbour.alive(lantern));
  EXPECT_EQ(harbour.world(lantern).position, (Vec3{5, 3, 0}));
  EXPECT_FALSE(harbour.find("tower"));
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
