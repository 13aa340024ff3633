// SPDX-License-Identifier: MIT
#include <hushed/hushed.hpp>

#include <gtest/gtest.h>

#include <cmath>
#include <random>

namespace hushed {
namespace {

using namespace std::chrono_literals;

constexpr double infinity = std::numeric_limits<double>::infinity();

Box along_x(double low, double high) { return {{low, -infinity, -infinity}, {high, infinity, infinity}}; }

/// The position on a line that is folded, wrapped or clamped at its ends, from its definition.
long double place(Edge edge, long double start, long double moved, long double low, long double high) {
  const long double length = high - low;
  if (edge == Edge::stop) return std::fmin(std::fmax(start + moved, low), high);
  const long double period = edge == Edge::bounce ? 2 * length : length;
  long double along = std::fmod(start - low + moved, period);
  if (along < 0) along += period;
  return low + (along <= length ? along : period - along);
}

class TravelAtItsEdges : public testing::TestWithParam<Edge> {};

TEST_P(TravelAtItsEdges, AgreesWithTheClosedFormAfterAnHour) {
  std::mt19937_64 random{2};
  std::uniform_real_distribution<double> speed{-20, 20}, part{0, 1};
  for (int i = 0; i < 300; ++i) {
    const double low = -10 * part(random), high = low + 0.1 + 8 * part(random);
    const double start = low + (high - low) * part(random);
    const Travel travel{.velocity = {speed(random), 0, 0}, .between = along_x(low, high), .at_edge = GetParam()};
    Scene harbour;
    const Object skiff = harbour.add({.rest = at(start, 1, 2)});
    harbour.give(skiff, travel);

    const Time late = 1h + seconds(part(random));
    harbour.advance(late);
    const long double moved =
        static_cast<long double>(travel.velocity.x()) * static_cast<long double>(late.count()) / units_per_second;
    const Vec3 position = harbour.world(skiff).position;
    EXPECT_NEAR(position.x(), static_cast<double>(place(GetParam(), start, moved, low, high)), 1e-12);
    EXPECT_EQ(position.tail<2>(), Eigen::Vector2d(1, 2));
  }
}

TEST_P(TravelAtItsEdges, NeverLeavesItsBoundsAtAnySpeed) {
  for (const double speed : {1e-3, 7.0, 1e4, 1e9}) {
    Scene harbour;
    const Object skiff = harbour.add({.rest = at(0.3, 0, 0)});
    harbour.give(skiff, Travel{.velocity = {speed, 0, 0}, .between = along_x(-0.1, 0.7), .at_edge = GetParam()});
    for (int frame = 0; frame < 2000; ++frame) {
      harbour.advance(17ms);
      ASSERT_GE(harbour.world(skiff).position.x(), -0.1);
      ASSERT_LE(harbour.world(skiff).position.x(), 0.7);
    }
  }
}

INSTANTIATE_TEST_SUITE_P(
    Travel, TravelAtItsEdges, testing::Values(Edge::bounce, Edge::wrap, Edge::stop), [](const auto& edge) {
      return std::string{edge.param == Edge::bounce ? "Bounce" : edge.param == Edge::wrap ? "Wrap" : "Stop"};
    });

TEST(Travel, ReversesOnceAtASingleBound) {
  Scene harbour;
  const Object skiff = harbour.add({});
  harbour.give(skiff, Travel{.velocity = {2, 0, 0}, .between = along_x(-infinity, 3)});
  harbour.advance(1s);
  EXPECT_EQ(harbour.world(skiff).position.x(), 2.0);
  harbour.advance(9s);
  EXPECT_EQ(harbour.world(skiff).position.x(), -14.0);
}

TEST(Travel, StaysBetweenBoundsThatMeet) {
  Scene harbour;
  const Object skiff = harbour.add({.rest = at(4, 0, 0)});
  harbour.give(skiff, Travel{.velocity = {2, 1, 0}, .between = along_x(4, 4)});
  harbour.advance(3s);
  EXPECT_EQ(harbour.world(skiff).position, Vec3(4, 3, 0));
}

TEST(Travel, UsesItsOwnOrTheWorldsAxesAsOfTheStart) {
  const Pose quay{{5, 0, 0}, rotation(axis::up, degrees(90)), {2, 2, 2}};
  Scene harbour;
  const Object pontoon = harbour.add({.rest = quay});
  harbour.give(pontoon, Spin{.speed = degrees(90)});
  const Pose turned = Pose{}.with_rotation(rotation(axis::up, degrees(90)));
  const Object a = harbour.add({.parent = pontoon, .rest = turned}), b = harbour.add({.parent = pontoon});
  harbour.give(a, Travel{.velocity = {0, 0, 1}, .space = Space::own});
  harbour.give(b, Travel{.velocity = {0, 0, 1}, .space = Space::world});
  harbour.advance(3s);
  // Own +Z is the parent's +X. The world's +Z was the parent's -X when they started, at half the size.
  EXPECT_NEAR((harbour.local(a).position - Vec3(3, 0, 0)).norm(), 0.0, 1e-14);
  EXPECT_NEAR((harbour.local(b).position - Vec3(-1.5, 0, 0)).norm(), 0.0, 1e-14);
}

TEST(Travel, ContinuesInItsDirectionWhenSpeedOrBoundsChange) {
  Scene harbour;
  const Object skiff = harbour.add({});
  const auto drifting = harbour.give(skiff, Travel{.velocity = {1, 0, 0}, .between = along_x(-1, 2)});
  harbour.advance(3s);  // at 1, on its way back
  harbour.tune(drifting)->velocity = {0.5, 0, 0};
  harbour.advance(1s);
  EXPECT_NEAR(harbour.world(skiff).position.x(), 0.5, 1e-15);
  harbour.tune(drifting)->between = along_x(-1, 10);
  harbour.advance(1s);
  EXPECT_NEAR(harbour.world(skiff).position.x(), 0.0, 1e-14);
}

TEST(Travel, RefusesInvalidBounds) {
  Scene harbour;
  const Object skiff = harbour.add({.rest = at(5, 0, 0)});
  const auto give = [&](const Box& box, Edge edge) { harbour.give(skiff, Travel{.between = box, .at_edge = edge}); };
  EXPECT_THROW(give(along_x(0, 4), Edge::bounce), BadValue);
  EXPECT_THROW(give(along_x(9, 4), Edge::bounce), BadValue);
  EXPECT_THROW(give(along_x(0, infinity), Edge::wrap), BadValue);
  EXPECT_THROW(harbour.give(skiff, Travel{.velocity = {std::nan(""), 0, 0}}), BadValue);
  EXPECT_NO_THROW(give(along_x(0, 5), Edge::bounce));
}

}  // namespace
}  // namespace hushed
