// SPDX-License-Identifier: MIT
#include <hushed/hushed.hpp>

#include <gtest/gtest.h>

#include <cmath>
#include <random>

namespace hushed {
namespace {

using namespace std::chrono_literals;

TEST(Time, HoldsTheFramesOfCommonRatesExactly) {
  for (const int rate : {24, 25, 30, 48, 50, 60, 90, 100, 120, 144, 240}) {
    EXPECT_EQ(units_per_second % rate, 0) << rate;
    EXPECT_EQ(frame_time(rate * 3600, rate), Time{3600s}) << rate;
  }
  EXPECT_EQ(frame_time(7, 11.0).count(), 449'018'182);  // 7 * 705 600 000 / 11 = 449 018 181.8
  EXPECT_EQ(frame_time(30'000, 29.97), seconds(30'000 / 29.97));
}

TEST(Time, RoundsSecondsToTheNearestUnitAndBack) {
  EXPECT_EQ(seconds(0.1).count(), 70'560'000);
  EXPECT_EQ(seconds(-1e-9).count(), -1);
  EXPECT_EQ(in_seconds(seconds(0.1)), 0.1);
  EXPECT_EQ(seconds(1e300), seconds(1e9));
  EXPECT_EQ(seconds(std::nan("")).count(), 0);
}

TEST(Angle, KeepsDegreesAsTheyWereGiven) {
  EXPECT_EQ(degrees(40).in_degrees(), 40.0);
  EXPECT_NEAR(radians(std::acos(-1.0)).in_degrees(), 180.0, 1e-13);
  EXPECT_EQ(wrapped(degrees(-180)).in_degrees(), 180.0);
  EXPECT_EQ(wrapped(degrees(370)).in_degrees(), 10.0);
}

/// A rotation matrix about one axis, from the sine and cosine of the standard library in long double.
Eigen::Matrix3d about(int axis, double angle) {
  const double c = std::cos(angle * std::acos(-1.0) / 180.0), s = std::sin(angle * std::acos(-1.0) / 180.0);
  Eigen::Matrix3d m = Eigen::Matrix3d::Identity();
  const int j = (axis + 1) % 3, k = (axis + 2) % 3;
  m(j, j) = m(k, k) = c;
  m(j, k) = -s;
  m(k, j) = s;
  return m;
}

TEST(Pose, TurnsByYawThenPitchThenRoll) {
  std::mt19937_64 random{3};
  std::uniform_real_distribution<double> angle{-180.0, 180.0};
  for (int i = 0; i < 1000; ++i) {
    const double pitch = angle(random) / 2, yaw = angle(random), roll = angle(random);
    const Quat q = rotation(degrees(pitch), degrees(yaw), degrees(roll));
    const Eigen::Matrix3d expected = about(1, yaw) * about(0, pitch) * about(2, roll);
    EXPECT_NEAR((q.toRotationMatrix() - expected).norm(), 0.0, 1e-14);
    const PitchYawRoll read = pitch_yaw_roll(q);
    EXPECT_NEAR(read.pitch.in_degrees(), pitch, 1e-6);
    EXPECT_NEAR(read.yaw.in_degrees(), yaw, 1e-6);
    EXPECT_NEAR(read.roll.in_degrees(), roll, 1e-6);
  }
}

TEST(Pose, ReadsNoRollWhereItLooksStraightUpOrDown) {
  for (const double pitch : {90.0, -90.0}) {
    const PitchYawRoll read = pitch_yaw_roll(rotation(degrees(pitch), degrees(30), degrees(0)));
    EXPECT_EQ(read.pitch.in_degrees(), pitch);
    EXPECT_NEAR(read.yaw.in_degrees(), 30.0, 1e-6);
    EXPECT_EQ(read.roll.in_degrees(), 0.0);
  }
}

TEST(Pose, ConvertsToAFrameAndBack) {
  const Pose frame{{3, -2, 5}, rotation(degrees(20), degrees(130), degrees(-40)), {2, 0.5, 3}};
  const Pose local{{1, 2, 3}, rotation(degrees(-70), degrees(10), degrees(5)), {1, 1, 4}};
  const Pose world = compose(frame, local);
  EXPECT_NEAR((world.position - (frame.position + frame.rotation.toRotationMatrix() * Vec3(2, 1, 9))).norm(), 0, 1e-14);
  const Pose back = into(frame, world);
  EXPECT_NEAR((back.position - local.position).norm(), 0.0, 1e-14);
  EXPECT_NEAR(back.rotation.angularDistance(local.rotation), 0.0, 1e-7);
  EXPECT_NEAR((back.scale - local.scale).norm(), 0.0, 1e-14);
  EXPECT_EQ(into({{0, 0, 0}, Quat::Identity(), {1, 1e-13, 1}}, at(1, 2, 3)).position, Vec3(1, 0, 3));
}

TEST(Pose, MixesAlongTheShortestArc) {
  const Pose a{{0, 0, 0}, rotation(axis::up, degrees(350)), {1, 1, 1}},
      b{{4, 0, 0}, rotation(axis::up, degrees(20)), {3, 1, 1}};
  const Pose half = mix(a, b, 0.5);
  EXPECT_NEAR(half.rotation.angularDistance(rotation(axis::up, degrees(5))), 0.0, 1e-7);
  EXPECT_EQ(half.position, Vec3(2, 0, 0));
  EXPECT_EQ(half.scale, Vec3(2, 1, 1));
  EXPECT_EQ(mix(a, b, 1.0).rotation.coeffs(), b.rotation.coeffs());
}

TEST(Pose, ReadsARotationVectorTheShortestWay) {
  for (const double angle : {0.0, 1e-9, 0.3, 170.0, 179.9999}) {
    const Vec3 v = rotation_vector(rotation(Vec3{1, 2, -2}, degrees(angle)));
    const double radians = angle * std::acos(-1.0) / 180.0;
    EXPECT_NEAR((v - Vec3(1, 2, -2) / 3.0 * radians).norm(), 0.0, 4e-16 * (1 + radians)) << angle;
    EXPECT_NEAR(rotation(v).angularDistance(rotation(Vec3{1, 2, -2}, degrees(angle))), 0.0, 1e-7);
  }
  EXPECT_NEAR(rotation_vector(rotation(axis::up, degrees(200))).y(), -160.0 * std::acos(-1.0) / 180.0, 1e-14);
}

}  // namespace
}  // namespace hushed
