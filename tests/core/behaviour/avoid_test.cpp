// SPDX-License-Identifier: MIT
// Agents that must not enter obstacles: a corpus of hard cases.

#include <gtest/gtest.h>

#include <cmath>
#include <random>

#include <hushed/hushed.hpp>

namespace hushed {
namespace {

using namespace std::chrono_literals;

struct Rock {
  Vec3 at, size;
  double yaw = 0.0;  ///< degrees
  bool is_round = false;
};

struct Case {
  std::string name;
  std::vector<Rock> rocks;
  Vec3 from, to;
  bool passes;  ///< it can come to its target
  double margin = 0.0;
};
std::ostream& operator<<(std::ostream& out, const Case& each) { return out << each.name; }

/// The distance of a point from a rock, negative inside. Not by the nearest point, as in the library.
double outside(const Rock& rock, const Vec3& point) {
  const Vec3 local = rotation(axis::up, degrees(-rock.yaw)) * (point - rock.at);
  if (rock.is_round) return local.norm() - rock.size.x() / 2;
  return (local.cwiseAbs() - rock.size / 2).maxCoeff();
}

class Avoiding : public testing::TestWithParam<std::tuple<Case, bool>> {};

TEST_P(Avoiding, NeverEntersWhatIsInItsWay) {
  const auto& [hard, planar] = GetParam();
  for (const double acceleration : {4.0, 10.0, 60.0}) {
    for (const bool arrives : {false, true}) {
      Scene harbour;
      for (const Rock& rock : hard.rocks) {
        NewObject draft{.rest = {rock.at, rotation(axis::up, degrees(rock.yaw)), Vec3::Ones()}, .tags = {"rock"}};
        draft.shape = Shape{rock.is_round ? Shape::Kind::sphere : Shape::Kind::box, rock.size};
        harbour.add(draft);
      }
      const Object gull = harbour.add({.rest = at(hard.from.x(), hard.from.y(), hard.from.z())});
      const Urge goes = arrives ? Urge{urge::Arrive{hard.to}} : Urge{urge::Seek{hard.to}};
      harbour.give(gull, Steer{.urges = {goes, urge::Avoid{.tag = "rock", .margin = hard.margin}},
                               .max_acceleration = acceleration,
                               .planar = planar});
      double nearest = 1e9;
      for (int i = 0; i < 15 * 120; ++i) {
        harbour.advance(seconds(1 / 120.0));
        const Vec3 here = harbour.world(gull).position;
        for (const Rock& rock : hard.rocks) EXPECT_GE(outside(rock, here), hard.margin > 0 ? 0.0 : -1e-9);
        nearest = std::min(nearest, (here - hard.to).norm());
        if (testing::Test::HasFailure()) return;
      }
      EXPECT_TRUE(!hard.passes || nearest < 0.7)
          << nearest << " m, " << acceleration << (arrives ? " arrives" : " seeks");
    }
  }
}

const Rock wall{{0, 0, 0}, {8, 8, 1}};
INSTANTIATE_TEST_SUITE_P(
    Avoid, Avoiding,
    testing::Combine(
        testing::Values(
            Case{"ahead", {{{0, 0, 0}, {6, 6, 6}, 0, true}}, {0, 0, -12}, {0, 0, 12}, true},
            Case{"a-hair-beside", {{{0, 0, 0}, {6, 6, 6}, 0, true}}, {1e-9, 0, -12}, {0, 0, 12}, true},
            Case{"wall", {wall}, {0, 0, -10}, {0, 0, 10}, true},
            Case{"corner", {wall, {{3.5, 0, -4}, {1, 8, 8}}}, {-2, 0, -12}, {8, 0, 3}, false},
            Case{"corridor", {{{-1.2, 0, 0}, {1, 8, 16}}, {{1.2, 0, 0}, {1, 8, 16}}}, {3, 0, -14}, {0, 0, 14}, true},
            Case{"target-in-it", {{{0, 0, 0}, {4, 4, 4}, 0, true}}, {1, 0, -12}, {0, 0, 0.5}, false},
            Case{"target-in-a-box", {{{0, 0, 0}, {4, 4, 4}, 30}}, {1, 0, -12}, {0, 0, 0}, false},
            Case{"gap-too-small",
                 {{{-2.6, 0, 0}, {5, 8, 5}, 0}, {{2.6, 0, 0}, {5, 8, 5}, 0}},
                 {0.02, 0, -12},
                 {0, 0, 12},
                 true,
                 0.3},
            Case{"wedge",
                 {{{-2.5, 0, 0}, {1, 8, 12}, 20}, {{2.5, 0, 0}, {1, 8, 12}, -20}},
                 {0, 0, -14},
                 {0, 0, 12},
                 false},
            Case{"many",
                 {{{0, 0, 0}, {3, 3, 3}, 0, true},
                  {{2, 0, 3}, {3, 3, 3}, 10},
                  {{-2, 0, 4}, {3, 3, 3}, 0, true},
                  {{1, 0, 8}, {4, 4, 1}, 70}},
                 {0, 0, -12},
                 {0, 0, 14},
                 true}),
        testing::Bool()),
    [](const auto& each) {
      std::string name = std::get<0>(each.param).name + (std::get<1>(each.param) ? "-planar" : "");
      std::erase(name, '-');
      return name;
    });

TEST(Avoid, NeverEntersAnyOfManyRocksAtRandom) {
  std::mt19937_64 random{11};
  const auto real = [&](double low, double high) {
    return low + (high - low) * static_cast<double>(random() >> 11) * 0x1p-53;
  };
  Scene harbour;
  std::vector<Rock> rocks;
  for (int i = 0; i < 25; ++i) {
    const Rock rock{{real(-20, 20), real(-4, 4), real(-20, 20)}, Vec3::Constant(real(1, 5)), real(0, 90), i % 2 == 0};
    rocks.push_back(rock);
    NewObject draft{.rest = {rock.at, rotation(axis::up, degrees(rock.yaw)), Vec3::Ones()}, .tags = {"rock"}};
    draft.shape = Shape{rock.is_round ? Shape::Kind::sphere : Shape::Kind::box, rock.size};
    harbour.add(draft);
  }
  std::vector<Object> gulls;
  for (int i = 0; i < 24; ++i) {
    gulls.push_back(harbour.add(
        {.name = "gull-" + std::to_string(i), .rest = at(real(-20, 20), 12, real(-20, 20)), .tags = {"gull"}}));
    harbour.give(gulls.back(), Steer{.urges = {urge::Wander{.rate = degrees(120)}, urge::Seek{Vec3{0, 0, 0}, 0.5},
                                               urge::Separation{.tag = "gull", .within = 2},
                                               urge::Avoid{.tag = "rock", .ahead = real(1, 8)}},
                                     .max_speed = real(2, 9),
                                     .max_acceleration = real(4, 30)});
  }
  for (int i = 0; i < 8 * 120; ++i) {
    harbour.advance(seconds(1 / 120.0));
    for (const Object gull : gulls)
      for (const Rock& rock : rocks) ASSERT_GE(outside(rock, harbour.world(gull).position), -1e-9) << i;
  }
}

}  // namespace
}  // namespace hushed
