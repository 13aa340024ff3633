// SPDX-License-Identifier: MIT
// G1: poses at equal times are equal bit for bit, whatever the frames before.

#include "support/demo.hpp"
#include "support/random_harbour.hpp"

namespace hushed::tests {
namespace {

constexpr int moments = 14;

/// The poses at every moment, before and after the calls there, played with the frames that `step` returns.
template <class Step>
std::vector<Pose> play(const RandomHarbour& made, Step&& step) {
  Scene harbour = made.build();
  std::vector<Pose> all;
  for (int moment = 0; moment <= moments; ++moment) {
    while (harbour.time() < RandomHarbour::moment(moment))
      harbour.advance(std::min(step(harbour.time()), RandomHarbour::moment(moment) - harbour.time()));
    for (const bool after : {false, true}) {
      if (after) made.call(harbour, moment);
      const auto poses = made.poses(harbour);
      all.insert(all.end(), poses.begin(), poses.end());
    }
  }
  return all;
}

std::vector<Pose> play_at(const RandomHarbour& made, int per_second) {
  return play(made, [&](Time) { return Time{units_per_second / per_second}; });
}

RC_GTEST_PROP(G1FrameRate, HoldsOnRandomScenesWithCalls, (std::uint64_t seed)) {
  const RandomHarbour made{seed};
  const auto once = play_at(made, 6);
  for (const int rate : {30, 144}) RC_ASSERT(same_bits(play_at(made, rate), once));
  std::mt19937_64 random{seed};
  RC_ASSERT(
      same_bits(play(made, [&](Time) { return Time{static_cast<std::int64_t>(1 + random() % 40'000'000)}; }), once));
}

TEST(G1FrameRate, HoldsForASceneMadeByHand) {
  const auto lookout_at = [](int rate) {
    Scene harbour;
    const Object tower = harbour.add({.name = "lighthouse", .rest = at(3, 0, 0)});
    const Object lamp = harbour.add({.name = "lamp", .parent = tower, .rest = at(0, 12, 1)});
    const Object gull = harbour.add({.name = "gull"});
    harbour.give(tower, Spin{.speed = degrees(33.3)});
    harbour.give(lamp, Travel{.velocity = {0.7, 0, 0.1}, .between = {{-1, 0, 0}, {1, 20, 2}}});
    harbour.give(gull, Chase{lamp});
    for (int frame = 0; frame < 10 * rate; ++frame) harbour.advance(Time{units_per_second / rate});
    return harbour.world(gull);
  };
  const Pose expected = lookout_at(24);
  EXPECT_GT(expected.position.norm(), 1.0);
  for (const int rate : {30, 60, 120, 144, 7}) EXPECT_TRUE(same_bits(lookout_at(rate), expected)) << rate;
}

TEST(G1FrameRate, HoldsForTheDemo) {
  const auto after_seven_seconds = [](auto&& step) {
    Scene harbour = demo();
    while (harbour.time() < Time{std::chrono::seconds{7}})
      harbour.advance(std::min<Time>(step(), std::chrono::seconds{7} - harbour.time()));
    return poses_by_name(harbour);
  };
  const auto at_once = after_seven_seconds([] { return Time{std::chrono::seconds{7}}; });
  for (const int rate : {24, 30, 60, 144})
    EXPECT_TRUE(same_bits(after_seven_seconds([rate] { return Time{units_per_second / rate}; }), at_once)) << rate;
  std::mt19937_64 random{6};
  EXPECT_TRUE(
      same_bits(after_seven_seconds([&] { return Time{static_cast<std::int64_t>(random() % 30'000'000)}; }), at_once));
}

}  // namespace
}  // namespace hushed::tests
