// SPDX-License-Identifier: MIT
// Objects and behaviours that come, go and change while the scene plays.

#include <algorithm>
#include <cmath>
#include <functional>
#include <random>
#include <string>
#include <vector>

#include <gtest/gtest.h>
#include <hushed/hushed.hpp>

namespace hushed {
namespace {

using namespace std::chrono_literals;

double yaw(const Scene& harbour, Object object) {
  return pitch_yaw_roll(harbour.world(object).rotation).yaw.in_degrees();
}

std::string refusal(const std::function<void()>& call) {
  try {
    call();
  } catch (const Error& error) {
    return error.what();
  }
  return "accepted";
}

/// A scene of that many lanterns on a tide, a second after its beginning.
Scene lanterns_on_the_tide(int count) {
  Scene harbour;
  const Object tide = harbour.add({.name = "tide"});
  harbour.give(tide, Sway{.amplitude = {0, 0.5, 0}});
  for (int i = 0; i < count; ++i)
    harbour.give(harbour.add({.parent = i % 2 ? std::optional{tide} : std::nullopt, .rest = at(i, 0, 0)}), Spin{});
  harbour.advance(1s);
  return harbour;
}

TEST(ChangingScene, StartsABehaviourWhenItIsGiven) {
  for (const int count : {1, 6000}) {
    Scene harbour = lanterns_on_the_tide(count);
    const Object lamp = harbour.add({.name = "lamp"});
    harbour.give(lamp, Spin{.speed = degrees(40)});
    const Object hook = harbour.add({.name = "hook", .parent = harbour.find("tide"), .rest = at(0, 1, 0)});
    harbour.give(hook, Spring{.frequency = 2.0, .damping = 0.0, .target = Place{Vec3{0, 0, 0}}});
    harbour.advance(250ms);
    EXPECT_NEAR(yaw(harbour, lamp), 10.0, 1e-12);
    harbour.advance(250ms);  // one whole period of the spring
    EXPECT_NEAR(harbour.local(hook).position.y(), 1.0, 1e-9);
  }
}

TEST(ChangingScene, KeepsTheOtherLanternsWhereTheyAre) {
  Scene still = lanterns_on_the_tide(100), changing = lanterns_on_the_tide(100);
  std::vector<Object> flares;
  for (int frame = 0; frame < 200; ++frame) {
    flares.push_back(changing.add({.parent = frame % 3 ? changing.find("tide") : std::nullopt, .number = 7}));
    changing.give(flares.back(), Sway{.amplitude = {1, 0, 0}});
    if (frame % 2) changing.give(flares.back(), Spring{.frequency = 1.0, .target = Place{Vec3{0, 1, 0}}});
    if (frame % 4 > 0 && flares.size() > 5) {
      const auto which = flares.begin() + frame % 5;
      changing.end(*which);
      flares.erase(which);
    }
    still.advance(16ms);
    changing.advance(16ms);
    for (std::size_t i = 0; i < changing.size(); ++i) {
      const Object object = changing.objects()[i];
      ASSERT_EQ(changing.index_of(object), i);
      ASSERT_EQ(changing.world_poses()[i].position, changing.world(object).position);
      if (changing.number(object) == 7) continue;
      const Object same{object.index, object.generation, still.objects()[0].scene};  // built by the same calls
      ASSERT_EQ(changing.world(object).position, still.world(same).position);
      ASSERT_EQ(changing.world(object).rotation.coeffs(), still.world(same).rotation.coeffs());
    }
  }
}

TEST(ChangingScene, LetsABehaviourGoWithoutAJumpWhereOthersRemain) {
  Scene harbour;
  const Object gull = harbour.add({.name = "gull", .rest = at(1, 0, 0)});
  harbour.give(gull, Travel{.velocity = {1, 0, 0}});
  const auto bobbing = harbour.give(gull, Sway{.amplitude = {0, 1, 0}, .frequency = 0.25});
  harbour.give(gull, Spin{});
  harbour.advance(1s);
  ASSERT_NEAR(harbour.world(gull).position.y(), 1.0, 1e-12);
  harbour.remove(bobbing);
  EXPECT_NEAR(harbour.world(gull).position.y(), 1.0, 1e-12);
  EXPECT_FALSE(harbour.find_behaviour("gull.sway"));
  EXPECT_EQ(harbour.behaviours(gull).size(), 2U);
  EXPECT_THROW(harbour.stop(bobbing), StaleHandle);
  harbour.advance(3s);
  EXPECT_NEAR(harbour.world(gull).position.y(), 0.0, 1e-12);
  EXPECT_NEAR(harbour.world(gull).position.x(), 5.0, 1e-12);
  harbour.give(gull, Sway{.amplitude = {0, 1, 0}, .frequency = 0.25});  // its name is free again
  harbour.advance(1s);
  EXPECT_NEAR(harbour.world(gull).position.y(), 1.0, 1e-12);
}

TEST(ChangingScene, KeepsTheWorldPoseUnderAnotherParent) {
  Scene harbour;
  const Object quay = harbour.add({.name = "quay", .rest = at(10, 0, 0)});
  harbour.give(quay, Spin{.speed = degrees(90)});
  const Object ferry = harbour.add({.name = "ferry"});
  harbour.give(ferry, Travel{.velocity = {0, 0, 2}});
  const Object crate = harbour.add({.name = "crate", .parent = quay, .rest = at(1, 0, 0)});
  harbour.advance(1s);
  ASSERT_LT((harbour.world(crate).position - Vec3{10, 0, -1}).norm(), 1e-12);  // turned by 90 degrees

  harbour.set_parent(crate, ferry);
  EXPECT_EQ(harbour.parent(crate), ferry);
  EXPECT_LT((harbour.world(crate).position - Vec3{10, 0, -1}).norm(), 1e-12);
  EXPECT_NEAR(yaw(harbour, crate), 90.0, 1e-9);
  harbour.advance(1s);
  EXPECT_LT((harbour.world(crate).position - Vec3{10, 0, 1}).norm(), 1e-12);  // 2 m further with the ferry
  EXPECT_NEAR(yaw(harbour, crate), 90.0, 1e-9);

  harbour.set_parent(crate, std::nullopt);
  harbour.advance(1s);
  EXPECT_LT((harbour.world(crate).position - Vec3{10, 0, 1}).norm(), 1e-12);
  harbour.set_parent(crate, ferry, KeepPose::local);
  EXPECT_LT((harbour.world(crate).position - Vec3{10, 0, 1 + 6}).norm(), 1e-12);
}

TEST(ChangingScene, MovesOnFromWhereItWasUnderAnotherParent) {
  Scene harbour;
  const Object quay = harbour.add({.name = "quay", .rest = at(10, 0, 0)}), ferry = harbour.add({.name = "ferry"});
  const Object hook = harbour.add({.name = "hook", .parent = quay, .rest = at(0, 4, 0)});
  harbour.give(hook, Spring{.frequency = 0.5, .damping = 0.2, .target = Place{Vec3{0, 3, 0}}});
  harbour.advance(300ms);
  const Vec3 before = harbour.world(hook).position;
  harbour.set_parent(hook, ferry);
  EXPECT_LT((harbour.world(hook).position - before).norm(), 1e-12);
  for (int frame = 0; frame < 600; ++frame) {
    const Vec3 last = harbour.world(hook).position;
    harbour.advance(10ms);
    ASSERT_LT((harbour.world(hook).position - last).norm(), 0.7);  // not the 10 m between the parents at once
  }
}

TEST(ChangingScene, HidesAnObjectUnderAHiddenParent) {
  Scene harbour;
  const Object hold = harbour.add({.name = "hold"}), crate = harbour.add({.name = "crate", .rest = at(1, 0, 0)});
  const Object gull = harbour.add({.name = "gull"});
  harbour.give(gull, Follow{.target = crate});
  harbour.hide(hold);
  harbour.advance(1s);
  harbour.set_parent(crate, hold);
  EXPECT_TRUE(harbour.hidden(crate));
  EXPECT_EQ(std::count_if(harbour.events().begin(), harbour.events().end(),
                          [](const Event& event) { return event.name == "lost"; }),
            1);
  harbour.set_parent(crate, std::nullopt);
  EXPECT_FALSE(harbour.hidden(crate));
}

TEST(ChangingScene, RefusesAParentThatDependsOnTheObject) {
  Scene harbour;
  const Object mast = harbour.add({.name = "mast"}), flag = harbour.add({.name = "flag", .parent = mast});
  harbour.advance(1s);
  EXPECT_EQ(refusal([&] { harbour.set_parent(mast, flag); }).find("dependency cycle: mast -> flag"), 0U);
  EXPECT_THROW(harbour.set_parent(mast, mast), DependencyCycle);
  EXPECT_FALSE(harbour.parent(mast));
  harbour.end(flag);
  EXPECT_THROW(harbour.set_parent(mast, flag), StaleHandle);
}

TEST(ChangingScene, GetsEqualBitsFromARestPoseThatItHasReturned) {
  Scene harbour;
  const Object buoy = harbour.add({.name = "buoy"});
  std::mt19937_64 random{7};
  std::normal_distribution<double> number;
  for (int i = 0; i < 5'000; ++i) {
    const Eigen::Vector4d any{number(random), number(random), number(random), number(random)};
    harbour.set_rest(buoy, {.rotation = Quat{any * ((1.0 + 1e-4 * number(random)) / any.norm())}});
    const Pose once = harbour.rest(buoy);
    harbour.set_rest(buoy, once);
    ASSERT_EQ(harbour.rest(buoy).rotation.coeffs(), once.rotation.coeffs());
  }
}

TEST(ChangingScene, JumpsToAnotherRestPose) {
  Scene harbour;
  const Object buoy = harbour.add({.name = "buoy", .rest = at(1, 0, 0)});
  harbour.give(buoy, Sway{.amplitude = {0, 1, 0}, .frequency = 0.25});
  harbour.advance(1s);
  harbour.set_rest(buoy, at(5, 0, 0));
  EXPECT_LT((harbour.world(buoy).position - Vec3{5, 1, 0}).norm(), 1e-12);
  EXPECT_EQ(harbour.rest(buoy).position.x(), 5.0);
  EXPECT_THROW(harbour.set_rest(buoy, at(NAN, 0, 0)), BadValue);
  EXPECT_EQ(harbour.rest(buoy).position.x(), 5.0);
}

TEST(ChangingScene, FindsObjectsByTheirNewTags) {
  Scene harbour;
  const Object lure = harbour.add({.name = "lure"}), lamp = harbour.add({.name = "lamp", .tags = {"lamp"}});
  const Object fish = harbour.add({.name = "fish", .rest = at(3, 0, 0)});
  harbour.give(fish, Attract{.to = Tagged{"lamp"}, .within = 10.0, .speed = 1.0, .reach = 0.1});
  harbour.end(lamp);
  harbour.advance(1s);
  ASSERT_EQ(harbour.world(fish).position.x(), 3.0);
  harbour.set_tags(lure, {"lamp"});
  EXPECT_EQ(harbour.tags(lure), std::vector<std::string>{"lamp"});
  harbour.advance(1s);
  EXPECT_NEAR(harbour.world(fish).position.x(), 2.0, 0.02);
  harbour.set_tags(lure, {});
  const double there = harbour.world(fish).position.x();
  harbour.advance(1s);
  EXPECT_NEAR(harbour.world(fish).position.x(), there, 0.01);  // it comes to the end of the tick
}

TEST(ChangingScene, LetsReadersOfATagSeeItsMembersAsTheyAreNow) {
  std::vector<Vec3> places;
  for (const bool anew : {false, true}) {
    Scene harbour;
    const Object fish = harbour.add({.name = "fish", .rest = at(3, 0, 0)});
    const Object lamp = harbour.add({.name = "lamp", .tags = {"lamp"}});
    harbour.give(fish, Attract{.to = Tagged{"lamp"}, .within = 10.0, .speed = 0.5, .reach = 0.1});
    harbour.advance(1s);
    harbour.give(lamp, Sway{.amplitude = {0, 2, 0}, .frequency = 3.0});
    if (anew) harbour.set_threads(2);  // which computes the layout anew
    for (int frame = 0; frame < 20; ++frame) harbour.advance(7ms);
    places.push_back(harbour.world(fish).position);
  }
  EXPECT_EQ(places[0], places[1]);
}

TEST(ChangingScene, StoresItsPastAgainASecondAfterALargeSceneHasChanged) {
  Scene harbour = lanterns_on_the_tide(6000);
  harbour.seek(500ms);  // the past of what was built at first
  harbour.add({.name = "flare"});
  harbour.advance(500ms);
  harbour.seek(700ms);
  EXPECT_NE(refusal([&] { harbour.seek(300ms); }).find("is stored from 0.5 s on"), std::string::npos);
  harbour.seek(1s);
  harbour.add({.name = "lamp"});  // soon after the last
  harbour.advance(500ms);
  EXPECT_NE(refusal([&] { harbour.seek(1200ms); }).find("added or removed all the time"), std::string::npos);
  harbour.advance(600ms);
  harbour.advance(1s);
  const Pose then = harbour.world(harbour.objects()[50]);
  harbour.advance(1s);
  harbour.seek(3100ms);
  EXPECT_EQ(harbour.world(harbour.objects()[50]).rotation.coeffs(), then.rotation.coeffs());
}

}  // namespace
}  // namespace hushed
