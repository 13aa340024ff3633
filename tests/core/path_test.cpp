// SPDX-License-Identifier: MIT
#include <gtest/gtest.h>
// Must come after gtest, whose macros it uses.
#include <rapidcheck/gtest.h>

#include <cmath>
#include <random>
#include <vector>

#include <hushed/path.hpp>

namespace hushed {
namespace {

std::vector<Vec3> random_points(std::uint64_t seed, int count) {
  std::mt19937_64 random{seed};
  std::uniform_real_distribution<double> part{-10, 10};
  std::vector<Vec3> points;
  for (int i = 0; i < count; ++i) points.emplace_back(part(random), part(random) * 0.3, part(random));
  return points;
}

/// The curve by the pyramid of Barry and Goldman, 1988, in long double: another form of the same spline.
Vec3 barry_goldman(const Vec3 (&p)[4], long double share) {
  using V = Eigen::Matrix<long double, 3, 1>;
  const auto point = [&](int i) { return V{p[i].cast<long double>()}; };
  long double t[4] = {0, 0, 0, 0};
  for (int i = 1; i < 4; ++i) t[i] = t[i - 1] + std::sqrt((point(i) - point(i - 1)).norm());
  const long double at = t[1] + (t[2] - t[1]) * share;
  const auto mixed = [&](const V& a, const V& b, long double ta, long double tb) {
    return V{a * ((tb - at) / (tb - ta)) + b * ((at - ta) / (tb - ta))};
  };
  const V a1 = mixed(point(0), point(1), t[0], t[1]), a2 = mixed(point(1), point(2), t[1], t[2]),
          a3 = mixed(point(2), point(3), t[2], t[3]);
  return mixed(mixed(a1, a2, t[0], t[2]), mixed(a2, a3, t[1], t[3]), t[1], t[2]).cast<double>();
}

TEST(Path, IsAsLongAsAMillionChordsOfTheSameCurve) {
  const auto points = random_points(5, 5);
  const Path path{points, PathShape::smooth};
  long double length = 0;
  for (int leg = 0; leg < 4; ++leg) {
    const auto i = static_cast<std::size_t>(leg);
    const Vec3 before = leg > 0 ? points[i - 1] : Vec3{2 * points[0] - points[1]};
    const Vec3 after = leg < 3 ? points[i + 2] : Vec3{2 * points[4] - points[3]};
    const Vec3 four[4] = {before, points[i], points[i + 1], after};
    EXPECT_NEAR(path.distance_of(i), static_cast<double>(length), 1e-9 * path.length());
    Vec3 last = points[i];
    constexpr int chords = 250'000;
    for (int chord = 1; chord <= chords; ++chord) {
      const Vec3 next = barry_goldman(four, static_cast<long double>(chord) / chords);
      length += (next.cast<long double>() - last.cast<long double>()).norm();
      last = next;
    }
  }
  EXPECT_NEAR(path.length() / static_cast<double>(length), 1.0, 1e-9);
}

RC_GTEST_PROP(Path, HasConstantSpeedAndPassesItsPoints, (std::uint64_t seed)) {
  const int count = 3 + static_cast<int>(seed % 12);
  const bool closed = seed % 2 != 0;
  const auto points = random_points(seed, count);
  for (const auto readings : {Path::Readings::many, Path::Readings::few}) {
    Path path;
    path.set(points, PathShape::smooth, closed, readings);
    for (int i = 0; i < count; ++i) {
      const auto number = static_cast<std::size_t>(i);
      RC_ASSERT((path.at(path.distance_of(number)).position - points[number]).norm() <= 1e-9);
    }
    std::mt19937_64 random{seed};
    for (int i = 0; i < 200; ++i) {
      const double s = path.length() * static_cast<double>(random() >> 11) * 0x1p-53;
      const double step = 1e-4;
      const Vec3 left = path.at(s - step).position, right = path.at(s + step).position, middle = path.at(s).position;
      if (!closed && (s < step || s > path.length() - step)) continue;
      // Chords are shorter than their arcs by the curvature between them, which the middle point shows.
      const double bend = ((left + right) / 2 - middle).norm() / step;
      const double speed = ((right - left) / (2 * step)).norm();
      RC_ASSERT(std::abs(speed - 1.0) <= 1e-6 + bend * bend);
      RC_ASSERT((path.at(s).direction - (right - left).normalized()).norm() <= 1e-5 + bend);
    }
  }
}

TEST(Path, HasTwoDirectionsAtACorner) {
  const std::vector<Vec3> points{{0, 0, 0}, {4, 0, 0}, {4, 0, 0}, {4, 0, 3}};
  const Path open{points}, closed{points, PathShape::straight, true};
  EXPECT_EQ(open.length(), 7.0);
  EXPECT_EQ(closed.length(), 12.0);
  EXPECT_EQ(open.distance_of(1), 4.0);
  EXPECT_EQ(open.distance_of(2), 4.0);
  EXPECT_EQ(open.at(4, Path::Side::behind).direction, Vec3(1, 0, 0));
  EXPECT_EQ(open.at(4, Path::Side::ahead).direction, Vec3(0, 0, 1));
  EXPECT_EQ(open.at(99).position, Vec3(4, 0, 3));
  EXPECT_EQ(open.at(-1).position, Vec3(0, 0, 0));
  EXPECT_LE((closed.at(0, Path::Side::behind).direction - Vec3(-0.8, 0, -0.6)).norm(), 1e-15);
  EXPECT_EQ(closed.at(12).direction, Vec3(1, 0, 0));
  EXPECT_LE((closed.at(-2.5).position - closed.at(9.5).position).norm(), 1e-14);
}

TEST(Path, IsDefinedWithoutLengthAndAtReversals) {
  EXPECT_EQ(Path{}.at(3).position, Vec3(0, 0, 0));
  const std::vector<Vec3> one{{1, 2, 3}, {1, 2, 3}};
  EXPECT_EQ(Path(one, PathShape::smooth, true).length(), 0.0);
  EXPECT_EQ(Path(one).at(5).position, one[0]);
  // There and back on one line: the curve has a cusp at its far end.
  const std::vector<Vec3> back{{0, 0, 0}, {5, 0, 0}, {0, 0, 0}, {0, 0, 4}};
  const Path cusp{back, PathShape::smooth};
  for (int i = 0; i <= 1000; ++i) {
    const auto spot = cusp.at(cusp.length() * i / 1000);
    EXPECT_TRUE(spot.position.allFinite());
    EXPECT_NEAR(spot.direction.norm(), 1.0, 1e-12);
  }
}

}  // namespace
}  // namespace hushed
