// SPDX-License-Identifier: MIT
#include <gtest/gtest.h>

#include <cmath>

#include <hushed/hushed.hpp>
#include <hushed/seeded.hpp>

#include "support/refusal.hpp"

namespace hushed {
namespace {

using namespace std::chrono_literals;

const Roam in_the_basin{.box = {{-4, 0, -2}, {4, 1, 6}}, .seed = 7};

/// Place k, by its definition.
Vec3 place(const Roam& roam, std::uint64_t k) {
  Vec3 at;
  for (int i = 0; i < 3; ++i)
    at[i] =
        roam.box.min[i] + (roam.box.max[i] - roam.box.min[i]) * seeded_number(static_cast<std::uint64_t>(roam.seed),
                                                                              3 * k + static_cast<std::uint64_t>(i));
  return at;
}

TEST(Seeded, IsTheKnownMixingFunction) {
  // The first outputs of the published generator for seed 1234567, over 2^64.
  const std::uint64_t known[] = {6457827717110365317ULL, 3203168211198807973ULL, 9817491932198370423ULL};
  for (std::uint64_t n = 0; n < 3; ++n)
    EXPECT_EQ(seeded_number(1234567, n), static_cast<double>(known[n] >> 11) * 0x1p-53);
}

TEST(Roam, VisitsItsPlacesInTurnAndFindsAFarOneAtOnce) {
  Roam roam = in_the_basin;
  roam.duration = 2s;
  roam.pause = 500ms;
  Scene harbour;
  const Object paper = harbour.add({.rest = at(9, 9, 9)});
  harbour.give(paper, roam);
  Vec3 from{9, 9, 9};
  for (std::uint64_t leg = 0; leg < 6; ++leg) {
    harbour.advance(500ms);
    EXPECT_LE((harbour.world(paper).position - (from * 0.75 + place(roam, leg) * 0.25)).norm(), 1e-13);
    harbour.advance(1500ms);
    EXPECT_LE((harbour.world(paper).position - place(roam, leg)).norm(), 1e-15);
    harbour.advance(500ms);
    EXPECT_LE((harbour.world(paper).position - place(roam, leg)).norm(), 1e-15);
    from = place(roam, leg);
  }
  harbour.advance(2500ms * 10'000'000);
  EXPECT_LE((harbour.world(paper).position - place(roam, 10'000'005)).norm(), 1e-9);
}

TEST(Roam, HasItsSpeedOnEveryLeg) {
  Roam roam = in_the_basin;
  roam.speed = 3.0;
  Scene harbour;
  const Object paper = harbour.add({});
  harbour.give(paper, roam);
  Vec3 from = Vec3::Zero();
  double arrival = 0;
  for (std::uint64_t leg = 0; leg < 50; ++leg) {  // by hand: the truth is a sum of lengths
    const double length = (place(roam, leg) - from).norm();
    harbour.advance(seconds(arrival + length / 6) - harbour.time());
    EXPECT_LE((harbour.world(paper).position - (from + place(roam, leg)) / 2).norm(), 1e-7) << leg;
    from = place(roam, leg);
    arrival += length / 3;
  }
}

TEST(Roam, IsEqualInWhateverOrderItIsPlayed) {
  Roam roam = in_the_basin;
  roam.speed = 2.0;
  roam.easing = Easing::parse("in-out-sine");
  Scene forward, back;
  const Object one = forward.add({}), two = back.add({});
  forward.give(one, roam);
  back.give(two, roam);
  back.advance(500s);
  back.seek(123s);
  forward.advance(123s);
  EXPECT_EQ(back.world(two).position, forward.world(one).position);
}

TEST(Roam, StaysOnItsPathWhenItsSpeedChanges) {
  Roam roam = in_the_basin;
  roam.speed = 1.0;
  Scene harbour;
  const Object paper = harbour.add({});
  const auto roaming = harbour.give(paper, roam);
  harbour.advance(40s);
  const Vec3 before = harbour.world(paper).position;
  harbour.advance(1ms);
  const Vec3 heading = (harbour.world(paper).position - before) * 1000;
  harbour.tune(roaming)->speed = 2.0;
  const Vec3 now = harbour.world(paper).position;
  harbour.advance(1ms);
  EXPECT_LE(((harbour.world(paper).position - now) * 1000 - heading * 2).norm(), 1e-9);
}

TEST(Roam, RefusesInvalidValues) {
  Scene harbour;
  const Object paper = harbour.add({.name = "paper"});
  const auto said = [&](const Roam& roam) { return tests::refusal(harbour, paper, roam); };
  EXPECT_EQ(said({.duration = 1s}), "paper.roam: box: missing; give two corners, [[x, y, z], [x, y, z]].");
  EXPECT_EQ(said({.box = {.min = {0, 0, 0}}, .duration = 1s}),
            "paper.roam: box: the box must be finite; give two corners, [[x, y, z], [x, y, z]], without inf.");
  EXPECT_EQ(said({.box = {{0, 0, 0}, {1, -1, 0}}, .duration = 1s}),
            "paper.roam: box: min 0 is above max -1; give the smaller corner first.");
  EXPECT_EQ(said({.box = {{0, 0, 0}, {1, 0, 0}}, .speed = 1e6}),
            "paper.roam: speed: there would be more than a hundred legs in a second; give a longer duration, a lower "
            "speed or "
            "a pause.");
}

}  // namespace
}  // namespace hushed
