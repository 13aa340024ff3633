// SPDX-License-Identifier: MIT
// Play mode compared with a scene that is played by hand.

#include <random>

#include <gtest/gtest.h>

#include <hushed/hushed.hpp>
#include <hushed/play_mode.hpp>

#include "support/demo.hpp"
#include "support/random_harbour.hpp"

namespace hushed::tests {
namespace {

std::vector<Pose> copy(std::span<const Pose> poses) { return {poses.begin(), poses.end()}; }

std::vector<Pose> poses_now(const Scene& scene) {
  std::vector<Pose> all;
  for (const Object object : objects_in_order(scene)) all.push_back(scene.world(object));
  return all;
}

/// A boat that a key drives, with a spring behind it.
Scene boat() {
  Scene harbour;
  const Object pilot = harbour.add({.name = "pilot"});
  harbour.give(pilot, Drive{.speed = 4.0});
  const Object dinghy = harbour.add({.name = "dinghy", .rest = at(0, 0, -3)});
  harbour.give(dinghy, Follow{.target = pilot, .half_life = seconds(0.4)});
  const Object lamp = harbour.add({.name = "lamp", .rest = at(0, 2, 0)});
  harbour.give(lamp, Spin{.speed = degrees(40)});
  return harbour;
}

TEST(PlayMode, HasThePosesOfASceneThatIsPlayedByHand) {
  Scene scene = demo(), by_hand = demo();
  PlayMode mode{scene};
  mode.set_rhythm({24.0, {}, 0.5});
  mode.play();
  EXPECT_EQ(mode.pass(seconds(4.0)), 48);  // at half the pace
  mode.pause();
  EXPECT_EQ(mode.pass(seconds(4.0)), 0);
  ASSERT_EQ(mode.last(), 48);
  for (std::int64_t frame = 0; frame <= 48; ++frame) {
    by_hand.advance(frame_time(frame, 24.0) - by_hand.time());
    ASSERT_TRUE(same_bits(copy(mode.poses(frame)), poses_now(by_hand))) << frame;
  }
}

TEST(PlayMode, PlaysAgainWhatTheProgramHasFed) {
  Scene scene;
  const Object hand = scene.add({.name = "hand"}), lamp = scene.add({.name = "lamp"});
  scene.give(hand, Fed{});
  scene.give(lamp, Follow{.target = hand, .half_life = seconds(0.2)});
  PlayMode mode{scene};
  mode.set_rhythm({std::nullopt, {}, 1.0});
  mode.play();
  for (int frame = 0; frame < 200; ++frame) {
    scene.feed(hand, at(frame % 7, frame % 11, 0));
    mode.pass(seconds(0.016));
  }
  const auto then = copy(mode.poses(137));
  mode.go_to(137);
  mode.resume();  // by way of a snapshot of an earlier frame
  EXPECT_EQ(mode.last(), 137);
  EXPECT_TRUE(same_bits(poses_now(scene), then));
  scene.feed(hand, at(50, 0, 0));
  mode.play();
  mode.pass(seconds(0.016));
  EXPECT_EQ(scene.world(hand).position, (Vec3{50, 0, 0}));
}

TEST(PlayMode, KnowsWhenTheNextFrameIsDue) {
  Scene scene = boat();
  PlayMode mode{scene};
  mode.set_rhythm({50.0, {}, 0.5});
  EXPECT_EQ(mode.until_next_frame(), Time{0});
  mode.play();
  EXPECT_EQ(mode.until_next_frame(), seconds(0.04));
  EXPECT_EQ(mode.pass(seconds(0.03)), 0);
  EXPECT_EQ(mode.until_next_frame(), seconds(0.01));
  EXPECT_EQ(mode.pass(seconds(0.01)), 1);
}

TEST(PlayMode, PlaysOnFromAnEarlierFrameToTheSameBits) {
  Scene scene = demo();
  PlayMode mode{scene};
  mode.step(300);
  const std::vector<Pose> at_100 = copy(mode.poses(100)), at_end = copy(mode.poses(300));
  mode.step(-200);
  EXPECT_EQ(mode.current(), 100);
  EXPECT_TRUE(same_bits(copy(mode.poses(mode.current())), at_100));
  mode.play();
  EXPECT_EQ(mode.pass(seconds(0.5)), 30);
  EXPECT_EQ(mode.last(), 130);
  mode.step(170);
  EXPECT_TRUE(same_bits(copy(mode.poses(300)), at_end));
}

TEST(PlayMode, PlaysOnWithTheKeysAndValuesOfTheTime) {
  Scene scene = boat(), by_hand = boat();
  PlayMode mode{scene};
  const auto both = [&](std::int64_t frames) {
    mode.step(frames);
    by_hand.advance(frame_time(mode.last(), 60.0) - by_hand.time());
  };
  both(7);
  mode.press("Up");
  by_hand.press("Up");
  both(20);
  mode.set("pilot.drive.speed", Value{6.5});
  by_hand.set("pilot.drive.speed", Value{6.5});
  both(20);
  mode.release("Up");
  by_hand.release("Up");
  mode.set("lamp.spin.speed", Value{-10.0});
  by_hand.set("lamp.spin.speed", Value{-10.0});
  both(40);
  const std::vector<Pose> end = poses_now(by_hand);
  EXPECT_TRUE(same_bits(copy(mode.poses(87)), end));

  mode.go_to(60);  // after all of them
  mode.play();
  mode.pass(frame_time(27, 60.0));
  EXPECT_TRUE(same_bits(copy(mode.poses(87)), end));

  // Between the key and its release: the key is held from then on, and the values stay.
  mode.go_to(30);
  mode.play();
  mode.pass(frame_time(10, 60.0));
  EXPECT_EQ(mode.held(), std::vector<std::string>{"Up"});
  EXPECT_EQ(as_text(*scene.get("lamp.spin.speed")), "-10");
  EXPECT_EQ(as_text(*scene.get("pilot.drive.speed")), "6.5");
}

TEST(PlayMode, ATunedValueTakesEffectAtTheCurrentFrame) {
  Scene scene = boat(), by_hand = boat();
  PlayMode mode{scene};
  mode.step(50);
  mode.step(-20);
  mode.set("lamp.spin.speed", Value{90.0});
  EXPECT_EQ(mode.last(), 30);
  mode.step(30);
  by_hand.advance(frame_time(30, 60.0));
  by_hand.set("lamp.spin.speed", Value{90.0});
  by_hand.advance(frame_time(60, 60.0) - by_hand.time());
  EXPECT_TRUE(same_bits(copy(mode.poses(60)), poses_now(by_hand)));
}

TEST(PlayMode, ARefusedValueDropsNoFrames) {
  Scene scene = boat();
  PlayMode mode{scene};
  mode.step(50);
  mode.step(-20);
  EXPECT_THROW(mode.set("dinghy.follow.half_life", Value{-1.0}), BadValue);
  EXPECT_THROW(mode.set("dinghy.follow.no_such", Value{1.0}), BadValue);
  EXPECT_EQ(mode.last(), 50);
  EXPECT_TRUE(mode.changed().empty());
  EXPECT_FALSE(mode.can_undo());
}

TEST(PlayMode, UndoesAndRedoesAGestureAsAWhole) {
  Scene scene = boat();
  PlayMode mode{scene};
  for (const double speed : {41.0, 45.0, 60.0}) mode.set("lamp.spin.speed", Value{speed}, 1);
  mode.set("lamp.spin.speed", Value{70.0}, 2);
  mode.set("dinghy.follow.max_distance", Value{9.0});
  const auto text = [&](std::string_view path) {
    const auto value = scene.get(path);
    return value ? as_text(*value) : "nothing";
  };
  ASSERT_EQ(mode.changed().size(), 2U);
  EXPECT_EQ(mode.changed()[0].path, "dinghy.follow.max_distance");
  EXPECT_EQ(mode.changed()[0].before, std::nullopt);
  EXPECT_EQ(mode.undo(), "dinghy.follow.max_distance");
  EXPECT_EQ(text("dinghy.follow.max_distance"), "nothing");
  EXPECT_EQ(mode.undo(), "lamp.spin.speed");
  EXPECT_EQ(text("lamp.spin.speed"), "60");
  EXPECT_EQ(mode.undo(), "lamp.spin.speed");
  EXPECT_EQ(text("lamp.spin.speed"), "40");
  EXPECT_EQ(mode.undo(), "");
  EXPECT_TRUE(mode.changed().empty());
  for (int i = 0; i < 3; ++i) mode.redo();
  EXPECT_EQ(text("lamp.spin.speed"), "70");
  EXPECT_EQ(text("dinghy.follow.max_distance"), "9");
  EXPECT_EQ(mode.redo(), "");
}

TEST(PlayMode, PredictsAndReturnsToThePresent) {
  Scene scene = demo(), by_hand = demo();
  PlayMode mode{scene};
  mode.step(40);
  const Recording ahead = mode.play_ahead(90, 30.0);
  EXPECT_EQ(mode.last(), 40);
  mode.step(10);
  by_hand.advance(frame_time(40, 60.0) + frame_time(90, 30.0));
  const std::vector<Pose> there = poses_now(by_hand);
  const std::size_t objects = ahead.objects.size();
  EXPECT_TRUE(same_bits({ahead.poses.end() - static_cast<std::ptrdiff_t>(objects), ahead.poses.end()}, there));
  Scene again = demo();
  again.advance(frame_time(50, 60.0));
  EXPECT_TRUE(same_bits(copy(mode.poses(50)), poses_now(again)));
}

TEST(PlayMode, GivesTheWatchesOfAPlay) {
  Scene scene = demo(), by_hand = demo();
  const std::string list = "ferry.speed,ferry.acceleration,local:lamp.rotation.yaw,distance(tug,ferry)";
  std::vector<Watch> watches, watches_by_hand;
  for (const std::string& each : split_watches(list)) {
    watches.emplace_back(each, scene);
    watches_by_hand.emplace_back(each, by_hand);
  }
  PlayMode mode{scene, watches};
  mode.set_rhythm({30.0});
  mode.step(90);
  std::int64_t frame = 0;
  play(by_hand, watches_by_hand, FrameTimes{30.0}, 90, [&](const Frame& truth) {
    const auto values = mode.values(frame++);
    EXPECT_TRUE(std::equal(values.begin(), values.end(), truth.values.begin(), truth.values.end())) << truth.number;
    return true;
  });
  EXPECT_EQ(frame, 91);

  // Another watch: watches that need poses only are known for the past too.
  mode.watch({Watch{"ferry.position.x", scene}, Watch{"ferry.speed", scene}});
  EXPECT_EQ(mode.values(10)[0], mode.past().at(10, *mode.past().find("ferry")).position.x());
  EXPECT_TRUE(std::isnan(mode.values(10)[1]));
  mode.step(3);
  EXPECT_FALSE(std::isnan(mode.values(93)[1]));
}

/// Back and forth at random, with keys pressed on the way: the frames equal those of a scene that is played by hand
/// with the keys that remain at the end.
RC_GTEST_PROP(PlayMode, EqualsAPlayByHandHoweverAFrameIsReached, (std::uint64_t seed)) {
  const RandomHarbour made{seed, 12};
  Scene scene = made.build(), by_hand = made.build();
  PlayMode mode{scene};
  struct Done {
    std::int64_t frame;
    std::function<void(Scene&)> act;
  };
  std::vector<Done> done;
  std::mt19937_64 random{seed};
  const auto drop_later_commands = [&] {
    std::erase_if(done, [&](const Done& each) { return each.frame > mode.current(); });
  };
  for (int turn = 0; turn < 12; ++turn) {
    switch (random() % 5) {
      case 0: mode.step(static_cast<std::int64_t>(random() % 40)); break;
      case 1: mode.step(-static_cast<std::int64_t>(random() % 40)); break;
      case 2: {
        const std::string key{"WASD"[random() % 4]};
        drop_later_commands();
        const bool is_down = random() % 2 == 0;
        is_down ? mode.press(key) : mode.release(key);
        done.push_back({mode.current(), [=](Scene& harbour) { is_down ? harbour.press(key) : harbour.release(key); }});
        break;
      }
      case 3:
        mode.play();
        drop_later_commands();
        mode.pass(seconds(0.2));
        mode.pause();
        break;
      case 4:  // reading the urges changes nothing
        for (const Object object : scene.objects())
          for (const AnyBehaviour behaviour : scene.behaviours(object)) (void)mode.urges(behaviour);
        break;
    }
  }
  const std::int64_t end = mode.last();
  for (std::int64_t frame = 0; frame <= end; ++frame) {
    by_hand.advance(frame_time(frame, 60.0) - by_hand.time());
    RC_ASSERT(same_bits(copy(mode.poses(frame)), poses_now(by_hand)));
    for (const Done& each : done)
      if (each.frame == frame) each.act(by_hand);
  }
}

TEST(PlayMode, KnowsTheUrgesOfAnEarlierFrame) {
  Scene harbour;
  const Object pilot = harbour.add({.name = "pilot", .tags = {"boat"}});
  harbour.give(pilot, Drive{.speed = 4.0});
  const auto steer =
      harbour.give(harbour.add({.name = "gull", .rest = at(1, 2, 5)}),
                   Steer{.urges = {urge::Wander{}, urge::Flee{pilot, 6.0}, urge::Contain{{{-9, 0, -9}, {9, 9, 9}}}}});
  PlayMode mode{harbour};
  std::vector<std::vector<UrgeShare>> wanted;
  for (int frame = 0; frame < 100; ++frame) {
    if (frame == 40) mode.press("W");
    wanted.push_back(mode.urges(steer));
    mode.step(1);
  }
  for (const int frame : {80, 20, 50}) {
    mode.go_to(frame);
    const auto urges = mode.urges(steer);
    ASSERT_EQ(urges.size(), wanted[static_cast<std::size_t>(frame)].size());
    for (std::size_t i = 0; i < urges.size(); ++i) {
      EXPECT_EQ(urges[i].urge, wanted[static_cast<std::size_t>(frame)][i].urge);
      EXPECT_EQ(urges[i].velocity, wanted[static_cast<std::size_t>(frame)][i].velocity);
    }
  }
  EXPECT_EQ(mode.last(), 100);
  EXPECT_EQ(mode.held(), std::vector<std::string>{"W"});
}

TEST(PlayMode, DropsTheOldestFramesAndContinues) {
  Scene scene = boat(), by_hand = boat();
  PlayMode mode{scene, {}, 100 * 3 * (sizeof(Pose) + 1)};
  mode.step(1000);
  EXPECT_GT(mode.first(), 800);
  EXPECT_EQ(mode.last(), 1000);
  mode.go_to(0);
  EXPECT_EQ(mode.current(), mode.first());
  by_hand.advance(frame_time(mode.first(), 60.0));
  EXPECT_TRUE(same_bits(copy(mode.poses(mode.first())), poses_now(by_hand)));
  mode.play();
  mode.pass(frame_time(30, 60.0));
  by_hand.advance(frame_time(30, 60.0));
  EXPECT_TRUE(same_bits(copy(mode.poses(mode.last())), poses_now(by_hand)));
}

/// A lantern that drifts to the pilot and ends there.
Scene harbour_with_a_lantern() {
  Scene harbour;
  const Object pilot = harbour.add({.name = "pilot"}), lantern = harbour.add({.name = "lantern", .rest = at(3, 0, 0)});
  harbour.give(lantern, Attract{.to = pilot, .within = 6, .speed = 2.5, .reach = 0.8, .then = Gathered::end});
  return harbour;
}

TEST(PlayMode, KeepsTunedValuesOfAnEndedObject) {
  Scene harbour = harbour_with_a_lantern();
  PlayMode mode{harbour};
  mode.step(10);
  mode.set("lantern.attract.speed", Value{3.0});
  mode.step(120);
  ASSERT_FALSE(harbour.find("lantern"));
  ASSERT_EQ(mode.changed().size(), 1U);
  EXPECT_EQ(mode.changed()[0].now->number(), 3.0);
  mode.step(-115);
  mode.resume();
  EXPECT_EQ(harbour.get("lantern.attract.speed")->number(), 3.0);
  mode.step(115);
  EXPECT_EQ(mode.undo(), "lantern.attract.speed");
  EXPECT_TRUE(mode.changed().empty());
  mode.step(-115);
  mode.resume();
  EXPECT_EQ(harbour.get("lantern.attract.speed")->number(), 2.5);
}

TEST(PlayMode, CallsNoCallbacksForPredictionsOrGoingBack) {
  Scene harbour;
  const Object ferry = harbour.add({.name = "ferry"});
  const auto turning = harbour.give(ferry, Spin{.speed = degrees(10)});
  harbour.give(ferry, Route{.points = {Place{0, 0, 0}, Place{1, 0, 0}}, .speed = 1.0, .ends = RouteEnds::loop});
  int heard = 0;
  harbour.on("reached", [&](const Event&) {
    ++heard;
    harbour.tune(turning)->speed = degrees(10.0 * heard);
  });
  PlayMode mode{harbour};
  mode.step(300);
  const int while_playing = heard;
  EXPECT_GT(while_playing, 3);
  (void)mode.play_ahead(300, 60);
  (void)mode.urges(turning);
  EXPECT_EQ(heard, while_playing);

  // The calls of the callback are repeated.
  const Pose then = mode.poses(200)[0];
  mode.step(-100);
  mode.resume();
  EXPECT_EQ(heard, while_playing);
  EXPECT_EQ(harbour.world(ferry).rotation.coeffs(), then.rotation.coeffs());
}

TEST(PlayMode, CallsCallbacksAtTheSameTimesWhateverTheWatches) {
  const auto yaw = [](bool is_watched) {
    Scene harbour;
    const Object lamp = harbour.add({.name = "lamp"});
    const auto turning = harbour.give(lamp, Spin{.speed = degrees(0)});
    harbour.when(after(seconds(0.5))).then(raise("dusk"));
    harbour.on("dusk", [&](const Event&) { harbour.tune(turning)->speed = degrees(90); });
    std::vector<Watch> watches;
    if (is_watched) watches.emplace_back("lamp.angular_speed", harbour);
    PlayMode mode{harbour, std::move(watches)};
    mode.set_rhythm({10.0, {}, 1.0});
    mode.step(20);
    return pitch_yaw_roll(harbour.world(lamp).rotation).yaw.in_degrees();
  };
  EXPECT_EQ(yaw(true), yaw(false));
}

}  // namespace
}  // namespace hushed::tests
