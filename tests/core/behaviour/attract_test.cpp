// SPDX-License-Identifier: MIT
#include <gtest/gtest.h>

#include <string>

#include <hushed/hushed.hpp>

#include "support/refusal.hpp"

namespace hushed {
namespace {

using namespace std::chrono_literals;

TEST(Attract, MovesStraightAtItsSpeedWithinItsRangeOnly) {
  Scene harbour;
  const Object pilot = harbour.add({.name = "pilot", .rest = at(3, 0, 4)});
  const Object near = harbour.add({.name = "near"}), far = harbour.add({.name = "far", .rest = at(-1e-9, 0, 0)});
  for (const Object paper : {near, far}) harbour.give(paper, Attract{.to = pilot, .within = 5, .speed = 2.0});
  harbour.advance(1s + 5ms);
  EXPECT_NEAR((harbour.world(near).position - Vec3{0.6, 0, 0.8} * 2.01).norm(), 0.0, 1e-12);
  EXPECT_EQ(harbour.world(far).position, Vec3(-1e-9, 0, 0));
}

TEST(Attract, GathersSpeedFromRestAndFromRestAgain) {
  Scene harbour;
  const Object pilot = harbour.add({.name = "pilot", .rest = at(0, 0, 10)});
  harbour.give(pilot, Glide{.by = {{.position = Vec3{0, 0, 100}}}, .duration = 0s}, {.enabled = false});
  const Object paper = harbour.add({.name = "paper"});
  harbour.give(paper, Attract{.to = pilot, .within = 12, .acceleration = 3.0});
  harbour.advance(1500ms);
  EXPECT_NEAR(harbour.world(paper).position.z(), 1.5 * 1.5 * 1.5, 1e-12);
  harbour.hide(pilot);  // holds
  harbour.advance(1s);
  EXPECT_NEAR(harbour.world(paper).position.z(), 1.5 * 1.5 * 1.5, 1e-12);
}

TEST(Attract, IsGatheredOnceByAnObjectThatPassesWithinReach) {
  Scene harbour;
  const Object boat = harbour.add({.name = "boat", .rest = at(-50, 0, 0.4)});
  harbour.give(boat, Travel{.velocity = {600, 0, 0}});  // 5 m a tick
  const Object paper = harbour.add({.name = "paper"}), lamp = harbour.add({.parent = paper});
  harbour.give(paper, Attract{.to = boat, .within = 1, .speed = 0.0, .reach = 0.5});
  int gathered = 0;
  harbour.on("gathered", [&](const Event& event) {
    ++gathered;
    EXPECT_EQ(event.subject, paper);
    EXPECT_EQ(event.other, boat);
    EXPECT_EQ(harbour.describe(event), "boat gathered paper, its 1st");
    EXPECT_EQ(event.time, frame_time(10, 120));  // where it passes
  });
  for (int i = 0; i < 60; ++i) harbour.advance(16ms);
  EXPECT_EQ(gathered, 1);
  EXPECT_TRUE(harbour.hidden(paper));
  EXPECT_TRUE(harbour.hidden(lamp));
  harbour.show(paper);
  harbour.advance(1s);
  EXPECT_EQ(gathered, 1);
}

TEST(Attract, CountsForEachGathererAndGathersAll) {
  Scene harbour;
  const Object pilot = harbour.add({.name = "pilot", .tags = {"boat"}});
  for (int i = 1; i <= 12; ++i) {
    const Object paper = harbour.add({.name = "paper-" + std::to_string(i), .rest = at(i, 0, 0)});
    harbour.give(paper, Attract{.to = Tagged{"boat"}, .within = 20, .speed = 2.0, .then = Gathered::end});
  }
  std::vector<int> numbers;
  harbour.on("gathered", [&](const Event& event) { numbers.push_back(event.number); });
  for (int i = 0; i < 1000; ++i) harbour.advance(16ms);
  EXPECT_EQ(numbers, (std::vector{1, 2, 3, 4, 5, 6, 7, 8, 9, 10, 11, 12}));
  EXPECT_EQ(harbour.size(), 1U);
  EXPECT_TRUE(harbour.alive(pilot));
}

TEST(Attract, MovesToTheNearestWithTheTagAndTheFirstNameOfEquallyNearOnes) {
  Scene harbour;
  const Object paper = harbour.add({.name = "paper"});
  harbour.add({.name = "tug", .rest = at(4, 0, 0), .tags = {"boat"}});
  const Object dory = harbour.add({.name = "dory", .rest = at(-4, 0, 0), .tags = {"boat"}});
  harbour.give(paper, Attract{.to = Tagged{"boat"}, .within = 20, .speed = 1.0, .then = Gathered::stop});
  harbour.advance(1s);
  EXPECT_NEAR(harbour.world(paper).position.x(), -1, 1e-12);
  harbour.hide(dory);  // one of several: the others are still there
  harbour.advance(2s);
  EXPECT_NEAR(harbour.world(paper).position.x(), 1, 0.1);
  harbour.add({.name = "skiff", .rest = at(1, 0, 3), .tags = {"boat"}});  // a new one counts at once
  const Vec3 here = harbour.world(paper).position;
  harbour.advance(1s);
  EXPECT_GT(harbour.world(paper).position.z(), here.z() + 0.9);
}

TEST(Attract, AttractsACrowdToItselfButNoMemberToItself) {
  Scene harbour;
  const auto paper = [&](std::string name, double x) {
    const Object one = harbour.add({.name = std::move(name), .rest = at(x, 0, 0), .tags = {"paper"}});
    harbour.give(one, Attract{.to = Tagged{"paper"}, .within = 20, .speed = 1.0}, {.reads = Reads::last_tick});
    return one;
  };
  const Object left = paper("left", -4);
  harbour.advance(1s);
  EXPECT_EQ(harbour.world(left).position.x(), -4);  // there is nobody else
  const Object right = paper("right", 4);
  EXPECT_EQ(harbour.dependencies(harbour.behaviours(left)[0]), std::vector{right});
  harbour.advance(1s);
  EXPECT_NEAR(harbour.world(left).position.x(), -3, 1.0 / 60.0);  // from the next tick on
  EXPECT_NEAR(harbour.world(right).position.x(), 3, 1.0 / 60.0);
  const double before = harbour.world(right).position.x();
  harbour.hide(left);
  harbour.advance(1s);
  EXPECT_NEAR(harbour.world(right).position.x(), before, 1.0 / 60.0);  // until the tick after it was hidden
}

TEST(Attract, DriftsBeforeAndWhileItIsAttracted) {
  Scene harbour;
  const Object pilot = harbour.add({.name = "pilot", .rest = at(0, 0, 5)}), paper = harbour.add({});
  harbour.give(paper, Travel{.velocity = {1, 0, 0}});
  harbour.give(paper, Attract{.to = pilot, .within = 5.0, .speed = 3.0, .then = Gathered::stop});
  harbour.advance(2s);
  const Vec3 place = harbour.world(paper).position;
  EXPECT_GT(place.z(), 4.0);
  harbour.advance(10s);
  EXPECT_NEAR(harbour.world(paper).position.x(), 10, 2);  // gathered on the way: it drifts on from there
}

TEST(Attract, LetsGoOfAnObjectThatLosesItsTag) {
  Scene harbour;
  const Object paper = harbour.add({.name = "paper"});
  const Object boat = harbour.add({.name = "boat", .parent = paper, .rest = at(9, 0, 0), .tags = {"boat"}});
  harbour.give(paper, Attract{.to = Tagged{"boat"}, .within = 20, .speed = 2.0}, {.reads = Reads::last_tick});
  harbour.advance(1s + 3ms);
  const Vec3 there = harbour.world(paper).position;
  EXPECT_GT(there.x(), 1.9);
  harbour.set_tags(boat, {});
  for (const Time length : {Time{0}, seconds(0.002), seconds(1.0)}) {  // first within the same tick
    harbour.advance(length);
    EXPECT_LT((harbour.world(paper).position - there).norm(), 1e-12) << in_seconds(length);
  }
}

TEST(Attract, SaysWhatIsWrong) {
  Scene harbour;
  const Object paper = harbour.add({.name = "paper", .tags = {"paper"}});
  harbour.add({.name = "pilot", .tags = {"boat"}});
  EXPECT_NE(tests::refusal(harbour, paper, Attract{.to = Tagged{"baot"}, .within = 1, .speed = 1.0})
                .find("no object in this scene has the tag \"baot\"; did you mean \"boat\"?"),
            std::string::npos);
  EXPECT_NE(tests::refusal(harbour, paper, Attract{.to = "pilot", .within = 1}).find("\"speed\" or \"acceleration\""),
            std::string::npos);
}

TEST(Attract, KeepsItsDisplacementWhereItIsStopped) {
  Scene harbour;
  const Object boat = harbour.add({.name = "boat", .rest = at(0, 0, 20)}), lantern = harbour.add({.name = "lantern"});
  harbour.give(lantern, Travel{.velocity = {1, 0, 0}});
  const auto drawing = harbour.give(lantern, Attract{.to = boat, .within = 100, .speed = 2.0});
  harbour.advance(2s);
  const Vec3 displacement = harbour.world(lantern).position - Vec3{2, 0, 0};
  EXPECT_GT(displacement.norm(), 3.9);
  harbour.stop(drawing);
  harbour.advance(3s);
  EXPECT_NEAR((harbour.world(lantern).position - displacement - Vec3{5, 0, 0}).norm(), 0.0, 1e-9);
  const Vec3 before = harbour.world(lantern).position;
  harbour.start(drawing);
  harbour.advance(Time{1});
  EXPECT_NEAR((harbour.world(lantern).position - before).norm(), 0.0, 1e-6);
}

TEST(Attract, AttractsNothingToAnObjectGatheredAtThatTick) {
  // The moth is drawn to the lamp, which the keeper gathers at a tick; the moth does not move from there on.
  Scene harbour;
  const Object keeper = harbour.add({.name = "keeper", .rest = at(0, 0, 0)});
  const Object lamp = harbour.add({.name = "lamp", .rest = at(0, 0, 3)});
  const Object moth = harbour.add({.name = "moth", .rest = at(50, 0, 3)});
  harbour.give(lamp, Attract{.to = keeper, .within = 10, .speed = 1.0, .reach = 1.0, .then = Gathered::hide});
  harbour.give(moth, Steer{.urges = {urge::Seek{lamp}}, .max_speed = 5, .max_acceleration = 1e6});
  double at_gathering = 0.0;
  while (at_gathering == 0.0 && harbour.time() < 10s) {
    harbour.advance(frame_time(1, 120));
    for (const Event& event : harbour.events())
      if (event.name == "gathered") at_gathering = harbour.world(moth).position.x();
  }
  ASSERT_GT(at_gathering, 0.0);
  harbour.advance(1s);
  EXPECT_EQ(harbour.world(moth).position.x(), at_gathering);
}

TEST(Attract, IsRetargetedToAnObjectThatNoBehaviourReadAtTheLastTick) {
  Scene harbour;
  const Object pilot = harbour.add({.name = "pilot"}), buoy = harbour.add({.name = "buoy", .rest = at(0, 0, 9)});
  const Object lantern = harbour.add({.name = "lantern", .rest = at(0, 0, 4)});
  const auto drawing =
      harbour.give(lantern, Attract{.to = pilot, .within = 20, .speed = 1.0}, {.reads = Reads::last_tick});
  harbour.advance(1s);
  harbour.retarget(drawing, buoy);
  harbour.advance(3s);
  EXPECT_GT(harbour.world(lantern).position.z(), 5.5);
}

}  // namespace
}  // namespace hushed
