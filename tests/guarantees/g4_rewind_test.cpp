// SPDX-License-Identifier: MIT
// G4: snapshot, play, restore, play again gives the same bits; values that were tuned in between return too.

#include "support/demo.hpp"
#include "support/random_harbour.hpp"

namespace hushed::tests {
namespace {

RC_GTEST_PROP(G4Rewind, GivesTheSameBitsAgain, (std::uint64_t seed)) {
  const RandomHarbour made{seed};
  Scene harbour = made.build();
  std::mt19937_64 random{seed};
  const auto play = [&](int from, int to) {
    std::vector<Pose> all = made.poses(harbour);
    for (int moment = from; moment < to; ++moment) {
      made.call(harbour, moment);
      harbour.advance(RandomHarbour::moment(1));
      const auto poses = made.poses(harbour);
      all.insert(all.end(), poses.begin(), poses.end());
    }
    return all;
  };
  play(0, 4);
  harbour.advance(Time{static_cast<std::int64_t>(random() % 100'000'000)});  // somewhere between two ticks
  const Snapshot here = harbour.snapshot();
  const auto first = play(4, 10);
  harbour.restore(here);
  RC_ASSERT(harbour.time() == here.time());
  RC_ASSERT(same_bits(play(4, 10), first));

  // And forward again, from any later state.
  const Snapshot there = harbour.snapshot();
  const auto second = play(10, 14);
  harbour.restore(here);
  play(4, 7);
  harbour.restore(there);
  RC_ASSERT(same_bits(play(10, 14), second));
}

RC_GTEST_PROP(G4Rewind, ShowsTheSameBitsRightAfterARestore, (std::uint64_t seed)) {
  const RandomHarbour made{seed};
  Scene harbour = made.build();
  std::mt19937_64 random{seed};
  for (int moment = 0; moment < 12; ++moment) {
    const auto to_next_tick = frame_time(moment * 7 + 1, harbour.tick_rate()) - harbour.time();
    harbour.advance(random() % 2 ? to_next_tick : to_next_tick / 3);
    const auto before = made.poses(harbour);
    harbour.restore(harbour.snapshot());
    RC_ASSERT(same_bits(made.poses(harbour), before));
  }
}

RC_GTEST_PROP(G4Rewind, GoesOnInAnotherSceneFromBytes, (std::uint64_t seed)) {
  const RandomHarbour made{seed};
  Scene first = made.build(), second = made.build();
  std::mt19937_64 random{seed};
  const auto play = [&](Scene& harbour, int moment) {
    made.call(harbour, moment);
    harbour.advance(RandomHarbour::moment(1));
  };
  for (int moment = 0; moment < 5; ++moment) play(first, moment);
  for (auto moments = random() % 3; moments > 0; --moments) play(second, 7);
  first.advance(Time{static_cast<std::int64_t>(random() % 100'000'000)});  // somewhere between two ticks
  second.restore(second.snapshot_from(first.snapshot().to_bytes()));
  RC_ASSERT(second.time() == first.time());
  for (int moment = 5; moment < 10; ++moment) {
    for (Scene* const harbour : {&first, &second}) play(*harbour, moment);
    RC_ASSERT(same_bits(made.poses(second), made.poses(first)));
    RC_ASSERT(second.events().size() == first.events().size());
    for (std::size_t i = 0; i < first.events().size(); ++i)
      RC_ASSERT(second.events()[i].name == first.events()[i].name && second.events()[i].time == first.events()[i].time);
  }
}

TEST(G4Rewind, RestoresKeysThatWereJustPressed) {
  Scene harbour;
  const Object pilot = harbour.add({.name = "pilot"});
  harbour.give(pilot, Drive{.speed = 4.0});
  harbour.advance(std::chrono::seconds{1});
  const Snapshot before = harbour.snapshot();
  harbour.press("W");
  const Snapshot pressed = harbour.snapshot();
  harbour.advance(std::chrono::seconds{1});
  const Pose first = harbour.world(pilot);
  harbour.restore(before);
  harbour.advance(std::chrono::seconds{1});
  harbour.restore(pressed);
  harbour.advance(std::chrono::seconds{1});
  EXPECT_GT(first.position.z(), 1);
  EXPECT_EQ(harbour.world(pilot).position, first.position);
}

TEST(G4Rewind, RestoresEndedObjects) {
  Scene harbour;
  const Object ferry = harbour.add({.name = "ferry"}), tug = harbour.add({.name = "tug"});
  harbour.give(ferry, Travel{.velocity = {1, 0, 0}});
  harbour.give(tug, Above{ferry});
  harbour.advance(std::chrono::seconds{1});
  const Snapshot before = harbour.snapshot();
  harbour.end(ferry);
  harbour.advance(std::chrono::seconds{1});
  harbour.restore(before);
  harbour.advance(std::chrono::seconds{1});
  EXPECT_EQ(harbour.world(ferry).position.x(), 2.0);
  EXPECT_EQ(harbour.world(tug).position, Vec3(2, 2, 0));
}

/// A bridge changes the parts that its behaviour has changed so far, so these belong to the state.
TEST(G4Rewind, RestoresThePartsThatABehaviourHasChanged) {
  Scene harbour;
  const Object pennant =
      harbour.add({.name = "pennant", .rest = at(0, 5, 0).with_rotation(rotation(Vec3{1, 2, 3}, degrees(59)))});
  harbour.give(pennant, Sway{.amplitude = {1, 0, 0}});
  const auto smooth = harbour.give(pennant, Smooth{.half_life = {seconds(0.2), Time{}, Time{}}});
  harbour.advance(seconds(0.95));
  harbour.set("pennant.smooth.weight", Value{0.5});  // bridged for a quarter of a second
  const Snapshot before = harbour.snapshot();
  const auto play = [&] {
    std::vector<Pose> poses;
    for (int frame = 0; frame < 20; ++frame) {
      harbour.advance(seconds(0.01));
      poses.push_back(harbour.world(pennant));
    }
    return poses;
  };
  const auto first = play();
  for (const Time rotation : {seconds(0.2), Time{}}) harbour.tune(smooth)->half_life = {seconds(0.2), rotation, Time{}};
  harbour.restore(before);
  EXPECT_TRUE(same_bits(play(), first));
}

TEST(G4Rewind, RewindsTheDemo) {
  Scene harbour = demo();
  harbour.advance(std::chrono::milliseconds{1234});
  const Snapshot here = harbour.snapshot();
  std::vector<Pose> first[2];
  for (auto& poses : first) {
    harbour.restore(here);
    harbour.advance(std::chrono::milliseconds{777});
    harbour.set("skiff.travel.velocity", Value{Value::List{Value{-1.0}, Value{0.0}, Value{0.0}}});
    harbour.advance(std::chrono::seconds{5});
    poses = poses_by_name(harbour);
  }
  EXPECT_TRUE(same_bits(first[0], first[1]));
}

}  // namespace
}  // namespace hushed::tests
