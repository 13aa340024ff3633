// SPDX-License-Identifier: MIT
#include <hushed/compare.hpp>

#include <gtest/gtest.h>

#include <hushed/behaviour/spin.hpp>
#include <hushed/behaviour/travel.hpp>
#include <hushed/error.hpp>

namespace hushed {
namespace {

/// A skiff that moves along x and a lamp that turns, played for two seconds.
Recording quay(double speed, double turn, double fps, const std::string& other = "") {
  Scene scene;
  scene.give(scene.add({.name = "skiff"}), Travel{.velocity = {speed, 0, 0}});
  scene.give(scene.add({.name = "lamp"}), Spin{.speed = degrees(turn)});
  if (!other.empty()) scene.add({.name = other});
  return record(scene, FrameTimes{fps}, static_cast<std::int64_t>(2 * fps));
}

const Difference& of(const Comparison& found, const std::string& object, Channel channel) {
  return *std::find_if(found.differences.begin(), found.differences.end(),
                       [&](const Difference& each) { return each.object == object && each.channel == channel; });
}

TEST(Compare, FindsTheLargestDifferenceItsTimeAndTheTypicalOne) {
  const Comparison found = compare(quay(1.0, 40.0, 50.0), quay(1.5, 240.0, 50.0));
  EXPECT_EQ(found.times, 101U);
  EXPECT_NEAR(of(found, "skiff", Channel::position).largest, 1.0, 1e-12);
  EXPECT_EQ(of(found, "skiff", Channel::position).at, Time{2 * units_per_second});
  EXPECT_NEAR(of(found, "skiff", Channel::position).typical, 0.5, 1e-12);
  EXPECT_NEAR(of(found, "lamp", Channel::rotation).largest, 180.0, 1e-6);  // the shortest way: 200 degrees a second
  EXPECT_NEAR(in_seconds(of(found, "lamp", Channel::rotation).at), 0.9, 1e-9);
  EXPECT_EQ(of(found, "lamp", Channel::scale).largest, 0.0);
  EXPECT_FALSE(found.is_within({.position = 2.0, .rotation = 179.0}));
  EXPECT_TRUE(found.is_within({.position = 2.0, .rotation = 181.0}));
}

TEST(Compare, ComparesEqualTimesOfDifferentFrames) {
  const Comparison found = compare(quay(1.0, 40.0, 60.0), quay(1.0, 40.0, 24.0));
  EXPECT_EQ(found.times, 25U);  // every twelfth of a second
  EXPECT_TRUE(found.is_within({.position = 0.0, .rotation = 0.0, .scale = 0.0}));
  Recording later = quay(1.0, 40.0, 60.0);
  for (Time& time : later.times) time += Time{1};
  EXPECT_THROW(compare(quay(1.0, 40.0, 60.0), later), BadValue);
}

TEST(Compare, ListsObjectsThatOnlyOneHas) {
  const Comparison found = compare(quay(1.0, 40.0, 60.0, "gull"), quay(1.0, 40.0, 60.0, "buoy"));
  EXPECT_EQ(found.only_in_first, std::vector<std::string>{"gull"});
  EXPECT_EQ(found.only_in_second, std::vector<std::string>{"buoy"});
  EXPECT_FALSE(found.is_within({}));
}

}  // namespace
}  // namespace hushed
