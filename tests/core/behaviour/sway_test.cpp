// SPDX-License-Identifier: MIT
#include <gtest/gtest.h>

#include <cmath>
#include <random>

#include <hushed/hushed.hpp>
#include <hushed/seeded.hpp>

namespace hushed {
namespace {

using namespace std::chrono_literals;

/// A wave of period 1, from its definition on one period.
long double drawn(Wave wave, long double cycles) {
  const long double x = cycles - std::floor(cycles);
  switch (wave) {
    case Wave::sine: return std::sin(2 * std::acos(-1.0L) * x);
    case Wave::triangle: return x < 0.25L ? 4 * x : x < 0.75L ? 2 - 4 * x : 4 * x - 4;
    case Wave::square: return x < 0.5L ? 1 : -1;
    case Wave::saw: return x < 0.5L ? 2 * x : 2 * x - 2;
    case Wave::noise: break;
  }
  return 0;
}

TEST(Sway, HasTheShapeOfItsWavesAfterAnHour) {
  std::mt19937_64 random{2};
  std::uniform_real_distribution<double> part{-1, 1};
  for (const Wave wave : {Wave::sine, Wave::triangle, Wave::square, Wave::saw}) {
    for (int i = 0; i < 100; ++i) {
      Scene harbour;
      const Object pontoon = harbour.add({.rest = at(1, 2, 3)});
      const Sway sway{.amplitude = {0.5, part(random), 0},
                      .frequency = {part(random) * 3, part(random), 7},
                      .phase = {degrees(part(random) * 720), degrees(20), degrees(0)},
                      .wave = wave};
      harbour.give(pontoon, sway);
      const Time late = 1h + seconds(part(random) + 1);
      harbour.advance(late);
      const long double t = static_cast<long double>(late.count()) / units_per_second;
      for (int axis = 0; axis < 3; ++axis) {
        const long double cycles =
            sway.frequency[axis] * t + static_cast<long double>(sway.phase[axis].in_degrees()) / 360;
        const double expected = 1 + axis + sway.amplitude[axis] * static_cast<double>(drawn(wave, cycles));
        EXPECT_NEAR(harbour.world(pontoon).position[axis], expected, 1e-11);
      }
    }
  }
}

TEST(Sway, IsExactAtTheTurningPointsOfItsWave) {
  for (const auto& [wave, at_quarters] : {std::pair{Wave::square, std::array{1.0, 1.0, -1.0, -1.0, 1.0}},
                                          {Wave::saw, std::array{0.0, 0.5, -1.0, -0.5, 0.0}},
                                          {Wave::triangle, std::array{0.0, 1.0, 0.0, -1.0, 0.0}},
                                          {Wave::sine, std::array{0.0, 1.0, 0.0, -1.0, 0.0}}}) {
    Scene harbour;
    const Object pontoon = harbour.add({});
    harbour.give(pontoon, Sway{.amplitude = {1, 0, 0}, .wave = wave});
    for (const double expected : at_quarters) {
      EXPECT_EQ(harbour.world(pontoon).position.x(), expected);
      harbour.advance(250ms);
    }
  }
}

TEST(Sway, TurnsAndScalesByItsOffsets) {
  Scene harbour;
  const Quat lean = rotation(degrees(0), degrees(40), degrees(0));
  const Object buoy = harbour.add({.rest = {Vec3::Zero(), lean, {1, 2, 3}}});
  harbour.give(buoy, Sway{.channel = Channel::rotation, .amplitude = {30, 0, 0}, .frequency = 0.25});
  harbour.give(buoy, Sway{.channel = Channel::scale, .amplitude = {0.5, -0.5, 0}, .frequency = 0.25},
               {.name = "breath"});
  harbour.advance(1s);
  const Quat expected = lean * rotation(axis::right, degrees(30));
  EXPECT_NEAR(harbour.world(buoy).rotation.angularDistance(expected), 0.0, 1e-7);
  EXPECT_LE((harbour.world(buoy).scale - Vec3(1.5, 1, 3)).norm(), 1e-15);
}

/// Value noise by its definition: one axis, one octave.
double octave(std::uint64_t seed, long long axis, double x) {
  const auto value = [&](long long n) { return 2 * seeded_number(seed, static_cast<std::uint64_t>(3 * n + axis)) - 1; };
  const auto n = static_cast<long long>(std::floor(x));
  const double f = x - std::floor(x);
  return value(n) + (value(n + 1) - value(n)) * (6 * std::pow(f, 5) - 15 * std::pow(f, 4) + 10 * std::pow(f, 3));
}

TEST(Sway, HasSmoothNoiseThatDependsOnTheSeedOnly) {
  Scene harbour;
  const Object paper = harbour.add({});
  harbour.give(paper, Sway{.amplitude = {1, 2, 1}, .frequency = {0.7, -0.9, 1}, .wave = Wave::noise, .seed = 42});
  double before = harbour.world(paper).position.x(), largest = 0, fastest = 0;
  for (int i = 1; i <= 4000; ++i) {
    harbour.advance(10ms);
    const Vec3 now = harbour.world(paper).position;
    const double t = i * 0.01;
    EXPECT_NEAR(now.x(), (octave(42, 0, 0.7 * t) + octave(42, 0, 1.4 * t) / 2) / 1.5, 1e-9);
    EXPECT_NEAR(now.y(), 2 * (octave(42, 1, -0.9 * t) + octave(42, 1, -1.8 * t) / 2) / 1.5, 1e-9);
    fastest = std::max(fastest, std::abs(now.x() - before));
    largest = std::max(largest, std::abs(now.x()));
    before = now.x();
  }
  EXPECT_LE(largest, 1.0);
  EXPECT_GT(largest, 0.4);
  EXPECT_LE(fastest, 0.05);
}

TEST(Sway, KeepsItsPhaseWhenTheFrequencyChanges) {
  Scene harbour;
  const Object pontoon = harbour.add({});
  const auto tide = harbour.give(pontoon, Sway{.amplitude = {1, 0, 0}, .frequency = 0.5});
  harbour.advance(2500ms);  // a quarter into the second period: at the top
  harbour.tune(tide)->frequency = 1.0;
  EXPECT_DOUBLE_EQ(harbour.world(pontoon).position.x(), 1.0);
  harbour.advance(750ms);
  EXPECT_NEAR(harbour.world(pontoon).position.x(), 0.0, 1e-12);  // a whole period from the top would be 1
  harbour.advance(250ms);
  EXPECT_NEAR(harbour.world(pontoon).position.x(), 1.0, 1e-12);
}

}  // namespace
}  // namespace hushed
