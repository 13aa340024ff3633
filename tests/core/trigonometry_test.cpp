// SPDX-License-Identifier: MIT
#include "lanes/trigonometry.hpp"

#include <gtest/gtest.h>

#include <cmath>
#include <random>

namespace hushed::detail {
namespace {

/// The error of `got` in units in the last place of the nearest double. The truth has a mantissa of 64 bits.
double ulps(double got, long double truth) {
  const double nearest = static_cast<double>(truth);
  const double unit = std::nextafter(std::abs(nearest), INFINITY) - std::abs(nearest);
  return static_cast<double>(std::abs(static_cast<long double>(got) - truth) / static_cast<long double>(unit));
}

double worst_of(double from, double to, int count) {
  std::mt19937_64 random{7};
  std::uniform_real_distribution<double> anywhere{from, to};
  double worst = 0.0;
  for (int i = 0; i < count; ++i) {
    const double x = anywhere(random);
    const auto [sine, cosine] = sine_cosine(x);
    worst = std::max({worst, ulps(sine, std::sin(static_cast<long double>(x))),
                      ulps(cosine, std::cos(static_cast<long double>(x)))});
  }
  return worst;
}

TEST(Trigonometry, IsWithinOneUlpBelowAMillion) {
  EXPECT_LE(worst_of(-1.0, 1.0, 500'000), 1.0);
  EXPECT_LE(worst_of(-100.0, 100.0, 500'000), 1.0);
  EXPECT_LE(worst_of(-1e6, 1e6, 1'000'000), 1.0);
}

TEST(Trigonometry, IsWithinOneUlpBesideEveryMultipleOfAQuarterTurn) {
  const long double quarter = std::acos(-1.0L) / 2.0L;
  double worst = 0.0;
  for (int n = -636'000; n <= 636'000; ++n) {
    const double beside = static_cast<double>(static_cast<long double>(n) * quarter);
    for (const double x : {beside, std::nextafter(beside, 1e9)}) {
      const auto [sine, cosine] = sine_cosine(x);
      worst = std::max({worst, ulps(sine, std::sin(static_cast<long double>(x))),
                        ulps(cosine, std::cos(static_cast<long double>(x)))});
    }
  }
  EXPECT_LE(worst, 1.0);
}

TEST(Trigonometry, HasAUnitSumOfSquaresForAnyAngle) {
  for (const double x : {1e7, 3e12, 1e16, 1e300, -1e9}) {
    const auto [sine, cosine] = sine_cosine(x);
    EXPECT_NEAR(sine * sine + cosine * cosine, 1.0, 1e-15);
    const auto [sine_d, cosine_d] = sine_cosine_of_degrees(x);
    EXPECT_NEAR(sine_d * sine_d + cosine_d * cosine_d, 1.0, 1e-15);
  }
}

TEST(Trigonometry, IsExactAtQuarterTurnsGivenInDegrees) {
  const double sines[] = {0, 1, 0, -1};
  for (int n = -4000; n <= 4000; ++n) {
    const auto [sine, cosine] = sine_cosine_of_degrees(90.0 * n);
    EXPECT_EQ(sine, sines[((n % 4) + 4) % 4]);
    EXPECT_EQ(cosine, sines[((n + 1) % 4 + 4) % 4]);
  }
}

TEST(Trigonometry, ComputesTheAngleOfAPoint) {
  std::mt19937_64 random{8};
  std::uniform_real_distribution<double> exponent{-12.0, 0.0};
  for (int i = 0; i < 200'000; ++i) {
    const double y = std::pow(10.0, exponent(random)), x = i % 3 == 0 ? 1.0 : std::pow(10.0, exponent(random));
    EXPECT_LE(ulps(arc_tangent(y, x), std::atan2(static_cast<long double>(y), static_cast<long double>(x))), 3.0);
  }
  EXPECT_EQ(arc_tangent(0.0, 1.0), 0.0);
  EXPECT_EQ(arc_tangent(1.0, 0.0), std::acos(0.0));
}

}  // namespace
}  // namespace hushed::detail
