// SPDX-License-Identifier: MIT
#include "neighbours.hpp"

#include <gtest/gtest.h>
#include <rapidcheck/gtest.h>

#include <algorithm>
#include <random>

namespace hushed::detail {
namespace {

using V = VecOf<double>;

struct Points {
  std::vector<Move> all;
  std::vector<std::uint8_t> is_there;
  double reach;
};

/// Flocks of several forms: scattered, flat, in a line, at two distant places, several at one place, one far away.
Points some_points(std::uint64_t seed) {
  std::mt19937_64 random{seed};
  const auto real = [&](double low, double high) {
    return low + (high - low) * static_cast<double>(random() >> 11) * 0x1p-53;
  };
  Points points;
  points.reach = std::pow(10.0, real(-2, 2));
  const std::size_t count = random() % 300;
  const double size = points.reach * real(0.1, 12), far = random() % 3 == 0 ? 1e9 : 0.0;
  const V form{1.0, random() % 2 ? 1.0 : 0.0, random() % 3 ? 1.0 : 0.0};
  for (std::size_t i = 0; i < count; ++i) {
    V place = by_factors(V{real(-size, size), real(-size, size), real(-size, size)}, form);
    if (random() % 2) place.x += far;
    if (random() % 8 == 0) place = V{std::floor(place.x / points.reach) * points.reach, 0.0, 0.0};
    if (i > 0 && random() % 8 == 0) place = points.all[random() % i].now;
    if (random() % 64 == 0) place = V{real(-1e150, 1e150), 0.0, real(-1e12, 1e12)};
    points.all.push_back({place, {}});
    points.is_there.push_back(random() % 8 != 0);
  }
  return points;
}

RC_GTEST_PROP(Neighbours, AreThoseFoundByBruteForceInTheOrderOfTheirNumbers, ()) {
  const auto seed = *rc::gen::arbitrary<std::uint64_t>();
  const Points points = some_points(seed);
  Neighbours grid;
  grid.reserve(points.all.size());
  // Earlier positions and members have no influence.
  auto before = some_points(seed + 1);
  before.all.resize(points.all.size());
  before.is_there.resize(points.all.size());
  grid.sort(before.all, before.is_there, before.reach);
  grid.sort(points.all, points.is_there, points.reach);
  const auto is_near = [&](const V& a, const V& b) { return squared_length(a - b) <= points.reach * points.reach; };
  for (std::uint32_t i = 0; i < points.all.size(); ++i) {
    std::vector<std::uint32_t> expected;
    for (std::uint32_t j = 0; j < points.all.size(); ++j)
      if (j != i && points.is_there[j] && is_near(points.all[i].now, points.all[j].now)) expected.push_back(j);
    const auto numbers = [&](std::span<const std::uint32_t> places) {
      std::vector<std::uint32_t> near;
      for (const std::uint32_t place : places)
        if (is_near(points.all[i].now, grid.point(place))) near.push_back(grid.in_order()[place]);
      return near;
    };
    RC_ASSERT(numbers(grid.around(points.all[i].now, i)) == expected);
    const auto order = grid.in_order();
    const auto itself = std::find(order.begin(), order.end(), i);
    RC_ASSERT((itself != order.end()) == static_cast<bool>(points.is_there[i]));
    if (itself != order.end())
      RC_ASSERT(numbers(grid.around(static_cast<std::uint32_t>(itself - order.begin()))) == expected);
  }
}

}  // namespace
}  // namespace hushed::detail
