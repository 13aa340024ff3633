// SPDX-License-Identifier: MIT
// The parts of glTF recordings: meshes, and the reduction of keys.

#include <cmath>
#include <map>
#include <set>

#include <gtest/gtest.h>
// Must come after gtest, whose macros it uses.
#include <rapidcheck/gtest.h>

#include <hushed/pose.hpp>
#include <hushed/seeded.hpp>

#include "gltf/keys.hpp"
#include "gltf/mesh.hpp"

namespace hushed::tests {
namespace {

using detail::Key;
using detail::Keys;
using detail::KeyValue;
using detail::Mesh;

// --- bodies ---

Vec3 point_of(const std::vector<float>& all, std::size_t number) {
  return {static_cast<double>(all[3 * number]), static_cast<double>(all[3 * number + 1]),
          static_cast<double>(all[3 * number + 2])};
}

/// By the divergence theorem: a sixth of the triple products of the corners, if every triangle faces outward.
double volume_of(const Mesh& mesh) {
  double six_times = 0.0;
  for (std::size_t i = 0; i < mesh.indices.size(); i += 3)
    six_times +=
        point_of(mesh.positions, mesh.indices[i])
            .dot(point_of(mesh.positions, mesh.indices[i + 1]).cross(point_of(mesh.positions, mesh.indices[i + 2])));
  return six_times / 6.0;
}

struct Body {
  std::optional<Shape> shape;
  double volume, tolerance;  ///< of the smooth body; how much less the flat faces hold
};

std::vector<Body> bodies() {
  const double pi = std::acos(-1.0);
  return {{Shape{Shape::Kind::box, {2, 3, 4}}, 24.0, 1e-5},
          {Shape{Shape::Kind::sphere, {2, 3, 4}}, pi / 6 * 24, 0.04},
          {Shape{Shape::Kind::cylinder, {2, 3, 4}}, pi / 4 * 24, 0.02},
          {Shape{Shape::Kind::cone, {2, 3, 4}}, pi / 12 * 24, 0.02},
          {std::nullopt, 0.3 * 0.3 * 0.3 / 6, 1e-5}};
}

TEST(Mesh, HoldsTheVolumeOfItsBodyAndFacesOutward) {
  for (const Body& body : bodies()) {
    const double volume = volume_of(detail::mesh_of(body.shape));
    EXPECT_LE(volume, body.volume * (1.0 + 1e-6));
    EXPECT_GE(volume, body.volume * (1.0 - body.tolerance));
  }
}

TEST(Mesh, IsClosed) {
  for (const Body& body : bodies()) {
    const Mesh mesh = detail::mesh_of(body.shape);
    const auto place = [&](std::size_t corner) {
      const Vec3 point = point_of(mesh.positions, mesh.indices[corner]);
      return std::array{std::lround(point.x() * 1e5), std::lround(point.y() * 1e5), std::lround(point.z() * 1e5)};
    };
    // Each edge occurs once in each direction.
    std::map<std::pair<std::array<long, 3>, std::array<long, 3>>, int> edges;
    for (std::size_t i = 0; i < mesh.indices.size(); i += 3)
      for (std::size_t k = 0; k < 3; ++k) {
        const auto a = place(i + k), b = place(i + (k + 1) % 3);
        ++edges[{a, b}];
        --edges[{b, a}];
      }
    for (const auto& [edge, balance] : edges) EXPECT_EQ(balance, 0);
  }
}

TEST(Mesh, HasNormalsOfUnitLengthThatLeaveTheBody) {
  for (const Body& body : bodies()) {
    const Mesh mesh = detail::mesh_of(body.shape);
    for (std::size_t i = 0; i < mesh.positions.size() / 3; ++i) {
      EXPECT_NEAR(point_of(mesh.normals, i).norm(), 1.0, 1e-6);
      EXPECT_GE(point_of(mesh.normals, i).dot(point_of(mesh.positions, i)), -1e-6);
    }
  }
}

// --- keys ---

struct Sample {
  float time;
  KeyValue value;
};

std::vector<Key> thinned(const std::vector<Sample>& samples, int parts) {
  std::vector<Key> keys;
  Keys thinner{parts};
  const auto hand = [&](const Key& key) { keys.push_back(key); };
  for (const Sample& sample : samples) thinner.add(sample.time, sample.value, hand);
  thinner.finish(hand);
  return keys;
}

/// The values that a reader finds, by Eigen.
Eigen::Vector4d read_at(const std::vector<Key>& keys, float time, int parts) {
  std::size_t after = 0;
  while (after < keys.size() && keys[after].time <= time) ++after;
  const auto value = [&](std::size_t i) {
    return Eigen::Map<const Eigen::Vector4f>(keys[i].value.data()).cast<double>().eval();
  };
  if (after == 0 || after == keys.size()) return value(after == 0 ? 0 : after - 1);
  const double start = static_cast<double>(keys[after - 1].time), end = static_cast<double>(keys[after].time);
  const double share = (static_cast<double>(time) - start) / (end - start);
  if (parts == 3) return value(after - 1) + share * (value(after) - value(after - 1));
  return Eigen::Quaterniond{value(after - 1)}.slerp(share, Eigen::Quaterniond{value(after)}).coeffs();
}

/// Rests, straight stretches, curves and jumps, in turn.
std::vector<Sample> wandering(std::uint64_t seed, int parts) {
  std::vector<Sample> samples;
  Vec3 place = Vec3::Zero(), velocity = Vec3::Zero(), bend = Vec3::Zero();
  std::uint64_t n = 0;
  const auto random = [&] { return 2.0 * seeded_number(seed, n++) - 1.0; };
  for (int frame = 0; frame < 600; ++frame) {
    if (frame % 40 == 0) {
      const double sort = random();
      velocity = sort < -0.5 ? Vec3{Vec3::Zero()} : Vec3{random(), random(), random()};
      bend = sort > 0.3 ? Vec3{random(), random(), random()} : Vec3{Vec3::Zero()};
      if (sort > 0.8) place += Vec3{5, 0, 0};
    }
    velocity += bend / 60.0;
    place += velocity / 60.0;
    const Quat turn = rotation(place);
    samples.push_back({static_cast<float>(frame) / 60.0F, parts == 3
                                                              ? KeyValue{place.x(), place.y(), place.z(), 0.0}
                                                              : KeyValue{turn.x(), turn.y(), turn.z(), turn.w()}});
  }
  return samples;
}

RC_GTEST_PROP(Keys, ReducedGiveEqualPosesAtEveryFrame, (std::uint64_t seed)) {
  for (const int parts : {3, 4}) {
    const auto samples = wandering(seed, parts);
    const auto keys = thinned(samples, parts);
    RC_ASSERT(keys.front().time == samples.front().time);
    RC_ASSERT(keys.back().time == samples.back().time);
    for (std::size_t i = 1; i < keys.size(); ++i) RC_ASSERT(keys[i].time > keys[i - 1].time);
    for (const Sample& sample : samples) {
      const Eigen::Vector4d shown = Eigen::Map<const Eigen::Vector4d>(sample.value.data());
      const Eigen::Vector4d read = read_at(keys, sample.time, parts);
      const double nearest =
          parts == 4 ? std::min((read - shown).norm(), (read + shown).norm()) : (read - shown).norm();
      RC_ASSERT(nearest < 2e-7 + 6e-8 * shown.norm());  // a float has 24 bits
    }
  }
}

TEST(Keys, AreFewForSimpleMotion) {
  std::vector<Sample> rest, straight;
  for (int frame = 0; frame < 1000; ++frame) {
    const auto time = static_cast<float>(frame) / 64.0F;  // exact
    rest.push_back({time, {1.0 / 3.0 + 1e-13 * (frame % 3), 2, 3, 0}});
    straight.push_back({time, {0.5 * frame / 64.0, 0, 0, 0}});
  }
  EXPECT_EQ(thinned(rest, 3).size(), 2U);
  EXPECT_LE(thinned(straight, 3).size(), 1000U / 128 + 3);
  EXPECT_TRUE(thinned({}, 3).empty());
  EXPECT_EQ(thinned({rest[0]}, 3).size(), 1U);
}

TEST(Keys, RotateTheShortestWayWhereTheSignOfAQuaternionChanges) {
  std::vector<Sample> samples;
  for (int frame = 0; frame < 200; ++frame) {
    const Quat turn = rotation(axis::up, degrees(7.3 * frame));  // w goes below 0
    const double sign = frame % 2 == 0 ? 1.0 : -1.0;
    samples.push_back(
        {static_cast<float>(frame) / 60.0F, {sign * turn.x(), sign * turn.y(), sign * turn.z(), sign * turn.w()}});
  }
  const auto keys = thinned(samples, 4);
  for (std::size_t i = 1; i < keys.size(); ++i) {
    double dot = 0.0;
    for (std::size_t k = 0; k < 4; ++k)
      dot += static_cast<double>(keys[i].value[k]) * static_cast<double>(keys[i - 1].value[k]);
    EXPECT_GE(dot, 0.0);
  }
}

}  // namespace
}  // namespace hushed::tests
