// SPDX-License-Identifier: MIT
// The origin of the world is shifted while a scene plays, and nothing in it notices: compared with a scene whose origin
// stays.

#include <gtest/gtest.h>

#include <vector>

#include <hushed/hushed.hpp>

namespace hushed {
namespace {

using namespace std::chrono_literals;

/// Objects whose motion reads the world in every way there is.
Scene made() {
  Scene scene;
  const Object ferry = scene.add({.name = "ferry", .rest = at(3, 0, 1)});
  scene.give(ferry, Route{.points = {{0, 0, 0}, {20, 0, 0}, {20, 0, 20}}, .speed = 4.0});
  const Object mast = scene.add({.name = "mast", .parent = ferry, .rest = at(0, 3, 0)});
  scene.give(mast, Spring{.frequency = 0.8, .damping = 0.2, .target = Vec3{0, 1, 0}, .space = Space::world});
  const Object tug = scene.add({.name = "tug", .rest = at(-4, 0, 0)});
  scene.give(tug, Follow{.target = ferry, .offset = Vec3{0, 0, -3}, .half_life = 400ms, .trail = 500ms});
  const Object lamp = scene.add({.name = "lamp", .rest = at(1, 9, 1)});
  scene.give(lamp, Face{.target = ferry, .half_life = 200ms});
  const Object flag = scene.add({.name = "flag", .parent = ferry, .rest = at(0, 1, 0), .inherit = {.position = false}});
  scene.give(flag, Smooth{.half_life = 300ms, .space = Space::world});
  const Object moon = scene.add({.name = "moon"});
  scene.give(moon, Orbit{.centre = ferry, .radius = 6.0, .speed = degrees(40)});
  for (int i = 0; i < 5; ++i) {
    const Object gull = scene.add({.rest = at(i, 4, -i), .tags = {"gull"}});
    scene.give(gull, Steer{.urges = {urge::Wander{}, urge::Separation{.tag = "gull"},
                                     urge::Contain{.box = {{-5, 0, -5}, {25, 8, 25}}}}});
  }
  const Object boat = scene.add({.name = "boat", .rest = at(0, 0, 5)});
  scene.give(boat, Drive{});
  for (const Space space : {Space::parent, Space::world}) {
    scene.give(scene.add({.name = space == Space::world ? "player" : "hand", .rest = at(0, 1, 0)}),
               Fed{.space = space});
    scene.give(scene.add({.name = space == Space::world ? "bag" : "glove", .parent = ferry}), Fed{.space = space});
  }
  scene.when(inside("ferry", Box{{5, -1, -1}, {9, 1, 1}})).called("passes").then(raise("passes"));
  scene.when(above("ferry.position.x", 12)).called("beyond").then(raise("beyond"), kick("mast.spring", {0, 2, 0}));
  scene.when(closer_than("tug", Vec3{10, 0, 0}, 2)).called("near").then(raise("near"));
  return scene;
}

/// Feeds what a game would, whose positions are relative to the present origin.
void feed(Scene& scene, double t) {
  const Vec3 there = Vec3{2 * t, 1, 1 - t} - scene.origin();
  for (const char* name : {"hand", "player", "bag"}) scene.feed(*scene.find(name), at(there));
  scene.feed(*scene.find("glove"), at(0.1 * t, 0, 0));  // in the ferry's space
}

void expect_equal(const Scene& shifted, const Scene& still) {
  ASSERT_EQ(shifted.size(), still.size());
  for (const Object object : still.objects()) {
    const Object other = shifted.objects()[still.index_of(object)];
    ASSERT_EQ(shifted.name(other), still.name(object));
    const Pose a = shifted.world(other), b = still.world(object);
    EXPECT_LT((a.position + shifted.origin() - b.position).norm(), 1e-9) << still.name(object);
    EXPECT_LT((a.rotation.coeffs() - b.rotation.coeffs()).norm(), 1e-9) << still.name(object);
    EXPECT_EQ(shifted.world_poses()[shifted.index_of(other)].position, a.position);
    const Vec3 of_parent = shifted.parent(other) ? Vec3{Vec3::Zero()} : shifted.origin();
    EXPECT_LT((shifted.local(other).position + of_parent - still.local(object).position).norm(), 1e-9);
    EXPECT_LT((shifted.rest(other).position + of_parent - still.rest(object).position).norm(), 1e-9);
  }
}

TEST(Origin, IsShiftedWithoutAnyoneNoticing) {
  Scene shifted = made(), still = made();
  std::vector<std::string> events, expected;
  for (int frame = 0; frame < 400; ++frame) {
    if (frame % 50 == 20) shifted.shift_origin({1000, 0, -500.5});
    if (frame == 100) {
      for (Scene* scene : {&shifted, &still}) {
        scene->press("W");
        scene->add({.name = "lantern", .rest = at(Vec3{3, 0, 4} - scene->origin())});
        scene->set_rest(*scene->find("moon"), at(Vec3{1, 2, 3} - scene->origin()));
        scene->set_parent(*scene->find("tug"), scene->find("lamp"));
        scene->set_parent(*scene->find("mast"), std::nullopt);
      }
    }
    for (Scene* scene : {&shifted, &still}) {
      feed(*scene, frame * 0.02);
      if (frame == 200) scene->teleport(*scene->find("player"), at(Vec3{0, 5, 0} - scene->origin()));
      scene->advance(20ms);
      for (const Event& event : scene->events())
        (scene == &still ? expected : events).push_back(scene->describe(event));
    }
    if (frame % 10 == 0) expect_equal(shifted, still);
  }
  EXPECT_EQ(events, expected);
  EXPECT_GE(expected.size(), 3U);  // each rule
  EXPECT_EQ(shifted.origin(), Vec3(8000, 0, -4004));

  shifted.seek(7s);
  still.seek(7s);
  expect_equal(shifted, still);
  const Snapshot here = shifted.snapshot();
  shifted.shift_origin({0, 50, 0});
  shifted.restore(here);
  EXPECT_EQ(shifted.origin(), Vec3(8000, 50, -4004));
  expect_equal(shifted, still);
}

TEST(Origin, IsSubtractedFromMatricesInDoublePrecision) {
  Scene scene;
  scene.shift_origin({-1e6, 0, 0});
  const Object buoy = scene.add({.rest = at(1e6, 0, 0.5)});
  std::vector<float> matrix(16);
  scene.shift_origin({999'999.875, 0, 0});
  scene.write_matrices(matrix);
  EXPECT_EQ(matrix[12], 0.125F);
  EXPECT_EQ(matrix[14], 0.5F);
  scene.write_matrices(matrix, {.origin = {0.125, 0, 0}});
  EXPECT_EQ(matrix[12], 0.0F);
  EXPECT_EQ(scene.world(buoy).position.x(), 0.125);
}

TEST(Origin, StaysAcrossHotReloadAndIsRefusedBeyondItsRange) {
  Scene scene;
  scene.shift_origin({5, 0, 0});
  scene.hot_reload(Scene{120.0, scene});
  EXPECT_EQ(scene.origin(), Vec3(5, 0, 0));
  EXPECT_THROW(scene.shift_origin({1e9, 0, 0}), BadValue);
  EXPECT_THROW(scene.shift_origin({std::nan(""), 0, 0}), BadValue);
  EXPECT_EQ(scene.origin(), Vec3(5, 0, 0));
}

}  // namespace
}  // namespace hushed
