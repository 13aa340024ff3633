// SPDX-License-Identifier: MIT
// Snapshots across objects and behaviours that come and go, as games over a network restore them.

#include <algorithm>
#include <string>
#include <vector>

#include <gtest/gtest.h>
#include <hushed/hushed.hpp>

namespace hushed {
namespace {

using namespace std::chrono_literals;

/// A ferry, a tug that follows it, and gulls with springs; each press of "fire" spawns a flare.
struct Harbour {
  Scene scene;
  Object ferry = scene.add({.name = "ferry"});
  Object tug = scene.add({.name = "tug", .tags = {"boat"}});
  std::vector<Object> gulls;

  Harbour() {
    scene.give(ferry, Travel{.velocity = {1, 0, 0}});
    scene.give(tug, Follow{.target = ferry, .half_life = seconds(0.2)});
    for (int i = 0; i < 10; ++i) {
      gulls.push_back(scene.add({.name = "gull-" + std::to_string(i), .rest = at(i, 0, 0)}));
      scene.give(gulls.back(), Spring{.frequency = 1.0 + i, .damping = 0.1, .target = Vec3{0, 1, 0}});
    }
    scene.advance(500ms);
  }

  Object flare() {
    const Object flare = scene.add({.parent = tug, .rest = at(0, 1, 0), .tags = {"light"}});
    scene.give(flare, Spring{.frequency = 3.0, .target = Vec3{0, 5, 0}});
    return flare;
  }
  std::vector<double> numbers() const {
    std::vector<double> all;
    std::vector<Object> objects{scene.objects().begin(), scene.objects().end()};
    std::sort(objects.begin(), objects.end(), [](Object a, Object b) { return a.index < b.index; });
    for (const Object object : objects) {
      const Pose pose = scene.world(object);
      all.insert(all.end(), {static_cast<double>(object.index), static_cast<double>(object.generation)});
      all.insert(all.end(), pose.position.data(), pose.position.data() + 3);
      all.insert(all.end(), pose.rotation.coeffs().data(), pose.rotation.coeffs().data() + 4);
    }
    return all;
  }
};

/// Eight frames in which flares come, a gull ends, and values change.
std::vector<double> eight_frames(Harbour& harbour) {
  std::vector<double> all;
  const auto add = [&](const std::vector<double>& numbers) { all.insert(all.end(), numbers.begin(), numbers.end()); };
  Object first;
  for (int frame = 0; frame < 8; ++frame) {
    if (frame == 1) first = harbour.flare();
    if (frame == 2) harbour.scene.end(harbour.gulls[3]);
    if (frame == 3) harbour.flare();
    if (frame == 4) harbour.scene.end(first);
    if (frame == 5) harbour.scene.remove(harbour.scene.behaviours(harbour.gulls[5]).front());
    if (frame == 6) harbour.scene.set_parent(harbour.gulls[7], harbour.ferry);
    if (frame == 7) harbour.scene.set_rest(harbour.gulls[8], at(0, 9, 0));
    harbour.scene.advance(frame_time(1, 60));
    add(harbour.numbers());
  }
  return all;
}

TEST(Rollback, PlaysAgainAcrossObjectsThatCameAndWent) {
  Harbour harbour;
  const Snapshot before = harbour.scene.snapshot();
  const auto numbers = harbour.numbers();
  const auto first = eight_frames(harbour);
  const Snapshot after = harbour.scene.snapshot();
  const auto last = harbour.numbers();
  for (int round = 0; round < 3; ++round) {
    harbour.scene.restore(before);
    EXPECT_EQ(harbour.numbers(), numbers);
    EXPECT_EQ(eight_frames(harbour), first) << round;  // with the same handles
  }
  harbour.scene.restore(before);
  harbour.scene.restore(after);  // and forward
  EXPECT_EQ(harbour.numbers(), last);
}

TEST(Rollback, WritesTheContentThatItWentBackTo) {
  Harbour harbour, other;
  const Snapshot before = harbour.scene.snapshot();
  harbour.flare();
  (void)harbour.scene.snapshot();
  harbour.scene.restore(before);
  other.scene.restore(other.scene.snapshot_from(harbour.scene.snapshot().to_bytes()));
  EXPECT_EQ(other.numbers(), harbour.numbers());
}

TEST(Rollback, BringsBackWhatHasEnded) {
  Harbour harbour;
  const Object flare = harbour.flare();
  harbour.scene.advance(100ms);
  const Snapshot before = harbour.scene.snapshot();
  harbour.scene.end(flare);
  harbour.scene.advance(100ms);
  const Object other = harbour.flare();  // it takes the same number
  harbour.scene.advance(100ms);
  EXPECT_FALSE(harbour.scene.alive(flare));
  harbour.scene.restore(before);
  EXPECT_TRUE(harbour.scene.alive(flare));
  EXPECT_FALSE(harbour.scene.alive(other));
  EXPECT_EQ(harbour.scene.tags(flare), std::vector<std::string>{"light"});
  harbour.scene.advance(100ms);
  EXPECT_GT(harbour.scene.world(flare).position.y(), 2.0);
}

TEST(Rollback, ForgetsKindsThatCameLater) {
  Harbour harbour;
  const Snapshot before = harbour.scene.snapshot();
  harbour.scene.give(harbour.ferry, Sway{.amplitude = {0, 1, 0}});
  harbour.scene.give(harbour.tug, Smooth{.half_life = seconds(0.1)});
  harbour.scene.advance(1s);
  harbour.scene.restore(before);
  EXPECT_EQ(harbour.scene.behaviours(harbour.ferry).size(), 1U);
  harbour.scene.give(harbour.ferry, Sway{.amplitude = {0, 2, 0}, .frequency = 0.25});
  harbour.scene.advance(1s);
  EXPECT_NEAR(harbour.scene.world(harbour.ferry).position.y(), 2.0, 1e-9);
}

TEST(Rollback, KeepsThePastOfASnapshot) {
  Harbour harbour;
  const Pose early = harbour.scene.world(harbour.gulls[0]);
  harbour.scene.advance(1s);
  const Snapshot before = harbour.scene.snapshot();
  harbour.flare();
  harbour.scene.advance(1s);
  harbour.scene.restore(before);
  harbour.scene.seek(500ms);
  EXPECT_EQ(harbour.scene.world(harbour.gulls[0]).position, early.position);
}

TEST(Rollback, RefusesSnapshotsOfAnotherSceneAndOfFewerRules) {
  Harbour harbour, other;
  const Snapshot before = harbour.scene.snapshot();
  EXPECT_THROW(other.scene.restore(before), BadValue);
  harbour.scene.when(after(3s)).then(raise("horn"));
  EXPECT_THROW(harbour.scene.restore(before), BadValue);
}

TEST(Rollback, FindsTheNearestAgainThatWasHiddenSince) {
  Scene harbour;
  const Object near = harbour.add({.rest = at(2, 0, 0), .tags = {"quay"}});
  harbour.add({.rest = at(-3, 0, 0), .tags = {"quay"}});
  const Object boat = harbour.add({.name = "boat"});
  harbour.give(boat, Attract{.to = Tagged{"quay"}, .within = 50, .speed = 1.0}, {.reads = Reads::last_tick});
  harbour.advance(100ms);
  const Snapshot here = harbour.snapshot();
  harbour.advance(10ms);
  const Vec3 then = harbour.world(boat).position;
  harbour.restore(here);
  harbour.hide(near);
  harbour.advance(10ms);
  harbour.restore(here);
  harbour.advance(10ms);
  EXPECT_EQ(harbour.world(boat).position, then);
}

}  // namespace
}  // namespace hushed
