// SPDX-License-Identifier: MIT
// Points at an offset from an object, for many readers at once.

#include <gtest/gtest.h>

#include <random>

#include <hushed/hushed.hpp>

namespace hushed {
namespace {

using namespace std::chrono_literals;

class Places : public ::testing::Test {
 protected:
  double part() { return std::uniform_real_distribution{-1.0, 1.0}(random_); }
  Vec3 any() { return {part(), part(), part()}; }
  Quat any_turn() { return rotation(degrees(90 * part()), degrees(180 * part()), degrees(180 * part())); }

  /// Objects in twenty parents of any pose, each with a place beside one of the masts, along its axes or the world's.
  template <class Give>
  void expect_at_their_places(const std::vector<Object>& masts, const Give& give) {
    struct Reader {
      Object object;
      Place place;
    };
    std::vector<Reader> readers;
    for (int i = 0; i < 20; ++i) {
      const Object raft = harbour_.add({.rest = {5 * any(), any_turn(), {1.5, 1.5, 1.5}}});
      const Object mast = masts[static_cast<std::size_t>(i) % masts.size()];
      const Place place{mast, any(), i % 3 == 0 ? Space::target : Space::world};
      readers.push_back({harbour_.add({.parent = raft}), place});
      give(readers.back().object, place, i);
    }
    harbour_.advance(20s);
    for (const Reader& reader : readers) {
      const Pose mast = harbour_.world(reader.place.target.object);
      Vec3 arm = reader.place.point;
      if (reader.place.offset_space == Space::target) arm = mast.rotation * arm;
      EXPECT_LT((harbour_.world(reader.object).position - (mast.position + arm)).norm(), 1e-7);
    }
  }

  Scene harbour_;
  std::mt19937_64 random_{12};
};

TEST_F(Places, AreOrbitedWhileTheirObjectsTurn) {
  std::vector<Object> masts;
  for (int i = 0; i < 3; ++i) {
    masts.push_back(harbour_.add({.rest = {any(), any_turn(), {2, 2, 2}}}));
    harbour_.give(masts.back(), Spin{.axis = any(), .speed = degrees(30)});
    harbour_.give(masts.back(), Sway{.amplitude = any()});
  }
  expect_at_their_places(masts, [&](Object gull, const Place& place, int) {
    harbour_.give(gull, Orbit{.centre = place, .radius = 1e-9, .speed = degrees(40)});
  });
}

TEST_F(Places, AreReachedBySpringsInAnySpace) {
  const std::vector masts{harbour_.add({.rest = {any(), any_turn(), {2, 2, 2}}}), harbour_.add({.rest = at(4, 5, 6)})};
  expect_at_their_places(masts, [&](Object hook, const Place& place, int i) {
    harbour_.give(hook, Spring{.target = place, .space = i % 2 == 0 ? Space::world : Space::parent});
  });
}

}  // namespace
}  // namespace hushed
