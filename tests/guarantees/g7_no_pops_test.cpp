// SPDX-License-Identifier: MIT
// G7: starting, stopping, toggling and changing values never make a position jump.

#include <hushed/detail/scene_access.hpp>

#include "support/demo.hpp"
#include "support/random_harbour.hpp"

namespace hushed::tests {
namespace {

double furthest_apart(const std::vector<Pose>& a, const std::vector<Pose>& b) {
  double furthest = 0.0;
  for (std::size_t i = 0; i < a.size(); ++i) {
    const auto one = a[i].rotation.coeffs(), other = b[i].rotation.coeffs();
    furthest = std::max({furthest, (a[i].position - b[i].position).norm(), (a[i].scale - b[i].scale).norm(),
                         std::min((one - other).norm(), (one + other).norm())});
  }
  return furthest;
}

RC_GTEST_PROP(G7NoPops, DuringRandomCalls, (std::uint64_t seed)) {
  const RandomHarbour made{seed};
  Scene harbour = made.build();
  for (int moment = 1; moment < 12; ++moment) {
    harbour.advance(RandomHarbour::moment(1));
    auto before = made.poses(harbour);
    made.call(harbour, moment, [&] {
      const auto after = made.poses(harbour);
      RC_ASSERT(furthest_apart(before, after) <= 1e-9);
    });
    before = made.poses(harbour);
    harbour.advance(Time{2});  // 3e-9 s: even a fast rotation toward a near target moves no point by a millimetre
    RC_ASSERT(furthest_apart(before, made.poses(harbour)) <= 1e-3);
  }
}

/// Every third time, the scene is read again with other values.
RC_GTEST_PROP(G7NoPops, WhereFilesWithOtherValuesAreRead, (std::uint64_t seed)) {
  const RandomHarbour made{seed, 12};
  Scene harbour = made.build();
  detail::SceneAccess::mark_base(harbour, nullptr);
  std::mt19937_64 random{seed};
  harbour.advance(Time{units_per_second / 300});  // all that follows is between two ticks
  for (int moment = 1; moment < 12; ++moment) {
    harbour.advance(RandomHarbour::moment(1));
    if (moment % 3 != 0) {
      made.call(harbour, moment);
      continue;
    }
    std::vector<Pose> before = made.poses(harbour);
    Scene next = made.build(0, &harbour);
    made.edit(next, random);
    detail::SceneAccess::mark_base(next, nullptr);
    harbour.hot_reload(std::move(next));
    RC_ASSERT(furthest_apart(before, made.poses(harbour)) <= 1e-9);
    before = made.poses(harbour);
    harbour.advance(Time{2});
    RC_ASSERT(furthest_apart(before, made.poses(harbour)) <= 1e-3);
  }
}

RC_GTEST_PROP(G7NoPops, WhereADelayEnds, (std::uint64_t seed)) {
  std::mt19937_64 random{seed};
  Scene harbour;
  const Object boat = harbour.add({.name = "boat", .rest = at(1, 0, 0)}), gull = harbour.add({.name = "gull"});
  const Time delay = seconds(0.001 * static_cast<double>(1 + random() % 3000));
  harbour.give(boat, Travel{.velocity = {1, 0, 0}});
  harbour.give(boat, Bob{2.0}, {.delay = delay});
  harbour.give(gull, Above{boat, 5.0}, {.delay = delay});
  const auto poses = [&] { return std::vector{harbour.world(boat), harbour.world(gull)}; };
  harbour.advance(delay - Time{1});
  const auto before = poses();
  harbour.advance(Time{2});
  RC_ASSERT(furthest_apart(before, poses()) <= 1e-6);
  harbour.advance(std::chrono::seconds{1});
  RC_ASSERT(std::abs(harbour.world(boat).position.y() - 2.0 * std::cos(3.0 * in_seconds(harbour.time() - delay))) <=
            1e-12);
  RC_ASSERT(std::abs(harbour.world(gull).position.y() - harbour.world(boat).position.y() - 5.0) <= 1e-12);
}

TEST(G7NoPops, WhereAStartCutsAFadeShort) {
  Scene harbour;
  const Object boat = harbour.add({.name = "boat"});
  const auto sway = harbour.give(boat, Sway{.amplitude = {0, 2, 0}}, {.fade = seconds(0.4)});
  harbour.advance(std::chrono::milliseconds{850});
  harbour.stop(sway);
  harbour.advance(std::chrono::milliseconds{200});  // the weight has fallen to a half
  const Vec3 before = harbour.world(boat).position;
  harbour.tune_common(sway)->fade = Time{};
  harbour.start(sway);
  harbour.advance(Time{1});
  EXPECT_LE((harbour.world(boat).position - before).norm(), 1e-6);
  harbour.advance(std::chrono::milliseconds{260});  // longer than any bridge
  EXPECT_NEAR(harbour.world(boat).position.y(), 2.0 * std::sin(2.0 * std::numbers::pi * 1.31), 1e-6);
}

TEST(G7NoPops, StartsAtItsGoalAtTimeZero) {
  Scene harbour;
  const Object boat = harbour.add({.name = "boat"});
  const auto bobbing = harbour.give(boat, Bob{2.0});
  EXPECT_EQ(harbour.world(boat).position.y(), 2.0);
  harbour.tune(bobbing)->height = 3.0;
  EXPECT_EQ(harbour.world(boat).position.y(), 3.0);
}

TEST(G7NoPops, InTheDemo) {
  Scene harbour = demo();
  const auto drifting = *harbour.find_behaviour("skiff.travel"), turning = *harbour.find_behaviour("skiff.spin");
  harbour.advance(std::chrono::milliseconds{6300});
  const auto stays = [&](auto&& change) {
    const auto before = poses_by_name(harbour);
    change();
    EXPECT_LE(furthest_apart(before, poses_by_name(harbour)), 1e-12);
    harbour.advance(Time{2});
    EXPECT_LE(furthest_apart(before, poses_by_name(harbour)), 1e-6);
    harbour.advance(std::chrono::milliseconds{130});
  };
  stays([&] { harbour.restart(drifting); });
  stays([&] { harbour.set("skiff.travel.velocity", Value{Value::List{Value{3.0}, Value{0.0}, Value{0.0}}}); });
  stays([&] { harbour.set("skiff.travel.weight", Value{0.3}); });
  stays([&] { harbour.stop(turning); });
  stays([&] { harbour.stop(drifting); });
  stays([&] { harbour.start(drifting); });
}

/// A scene in which a boat may read one of two others, as it was at the last tick. `old`: the scene that is read again.
template <class Reader>
Scene with_reader(const Scene* old, const char* leader) {
  Scene harbour = old ? Scene{120.0, *old} : Scene{120.0};
  const Object boat = harbour.add({.name = "boat"});
  harbour.give(harbour.add({.name = "tug", .rest = {{5, 0, 0}}}), Travel{.velocity = {0, 0, 4}});
  harbour.give(harbour.add({.name = "ferry", .rest = {{0, 0, 5}}}), Travel{.velocity = {10, 0, 0}});
  if (leader) harbour.give(boat, Reader{*harbour.find(leader)}, {.reads = Reads::last_tick});
  detail::SceneAccess::mark_base(harbour, nullptr);
  return harbour;
}

const Time within_a_tick{units_per_second + units_per_second / 300};

TEST(G7NoPops, WhereAReaderOfTheLastTickGetsAnotherTargetFromItsFile) {
  Scene harbour = with_reader<Chase>(nullptr, "tug");
  harbour.advance(within_a_tick);
  const std::vector<Pose> before = poses_by_name(harbour);
  harbour.hot_reload(with_reader<Chase>(&harbour, "ferry"));
  EXPECT_LE(furthest_apart(before, poses_by_name(harbour)), 1e-12);
}

TEST(G7NoPops, WhereAFileAddsAReaderOfTheLastTick) {
  Scene harbour = with_reader<Above>(nullptr, nullptr), by_hand = with_reader<Above>(nullptr, nullptr);
  harbour.advance(within_a_tick);
  by_hand.advance(within_a_tick);
  harbour.hot_reload(with_reader<Above>(&harbour, "ferry"));
  by_hand.give(*by_hand.find("boat"), Above{*by_hand.find("ferry")}, {.reads = Reads::last_tick});
  for (int frame = 0; frame < 100; ++frame) {
    harbour.advance(std::chrono::milliseconds{2});
    by_hand.advance(std::chrono::milliseconds{2});
    ASSERT_LE(furthest_apart(poses_by_name(harbour), poses_by_name(by_hand)), 1e-12) << frame;
  }
}

}  // namespace
}  // namespace hushed::tests
