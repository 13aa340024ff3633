// SPDX-License-Identifier: MIT
#include <hushed/frames.hpp>
#include <hushed/own.hpp>
#include <hushed/watch.hpp>

#include <gtest/gtest.h>

#include <cmath>

#include <hushed/seeded.hpp>

namespace hushed {
namespace {

using namespace std::chrono_literals;

struct Sine {
  Pose apply(const Pose& in, const Moment& now) const { return in.with_position({0, std::sin(now.since_start), 0}); }
};

/// The values of watches in every frame of a play.
std::vector<std::vector<double>> play_all(Scene& scene, const std::vector<std::string>& texts, const FrameTimes& times,
                                          std::int64_t last) {
  std::vector<Watch> watches;
  for (const auto& text : texts) watches.emplace_back(text, scene);
  std::vector<std::vector<double>> rows;
  play(scene, watches, times, last, [&](const Frame& frame) {
    rows.emplace_back(frame.values.begin(), frame.values.end());
    rows.back().insert(rows.back().begin(), in_seconds(frame.time));
    return true;
  });
  return rows;
}

Scene quay() {
  Scene scene;
  const Object quay =
      scene.add({.name = "quay", .rest = {{1, 2, 3}, rotation(degrees(0), degrees(90), degrees(0)), {2, 2, 2}}});
  scene.add({.name = "lamp",
             .parent = quay,
             .rest = {{0, 0, 4}, rotation(degrees(10), degrees(20), degrees(30)), {1, 1, 1}}});
  scene.add({.name = "gull", .rest = at(1, 2, 3)});
  return scene;
}

TEST(Watch, ReadsEachQuantity) {
  Scene scene = quay();
  const auto rows = play_all(
      scene,
      {"lamp.position", "local:lamp.position.z", "lamp.scale.y", "local:lamp.rotation.yaw", "local:lamp.rotation.pitch",
       "local:lamp.rotation.roll", "quay.rotation", "distance(gull,lamp)", "bearing(gull, lamp)", "bearing(gull,quay)"},
      FrameTimes{60.0}, 0);
  const std::vector<double> expected{0, 9, 2, 3, 4, 2, 20, 10, 30, 0, std::sqrt(0.5), 0, std::sqrt(0.5), 8, 90, 0};
  ASSERT_EQ(rows[0].size(), expected.size());
  for (std::size_t i = 0; i < expected.size(); ++i) EXPECT_NEAR(rows[0][i], expected[i], 1e-12) << i;
}

TEST(Watch, NamesItsColumns) {
  const Scene scene = quay();
  EXPECT_EQ(Watch("local:lamp.rotation", scene).columns(),
            (std::vector<std::string>{"local:lamp.rotation.x", "local:lamp.rotation.y", "local:lamp.rotation.z",
                                      "local:lamp.rotation.w"}));
  EXPECT_EQ(Watch("lamp.speed", scene).columns(), std::vector<std::string>{"lamp.speed"});
  EXPECT_EQ(split_watches("lamp.speed,distance(a,b), x.y"),
            (std::vector<std::string>{"lamp.speed", "distance(a,b)", " x.y"}));
}

TEST(Watch, RefusesInvalidText) {
  const Scene scene = quay();
  const auto said = [&](const char* text) {
    try {
      Watch{text, scene};
    } catch (const BadValue& error) {
      return std::string{error.what()};
    }
    return std::string{"accepted"};
  };
  EXPECT_EQ(said("lmap.position"), "watch \"lmap.position\": no object \"lmap\" in this scene; did you mean \"lamp\"?");
  EXPECT_EQ(said("lamp.positoin"),
            "watch \"lamp.positoin\": unknown quantity \"positoin\"; did you mean \"position\"?");
  EXPECT_EQ(said("lamp.position.yaw"), "watch \"lamp.position.yaw\": position has no \"yaw\"; give x, y or z.");
  EXPECT_EQ(said("lamp.speed.x"), "watch \"lamp.speed.x\": speed is a single number; remove .x.");
  EXPECT_EQ(said("lamp"), "watch \"lamp\": the quantity is missing; give one, such as lamp.position.");
  EXPECT_EQ(said("distance(lamp)"), "watch \"distance(lamp)\": expected two objects, such as distance(tug,ferry).");
}

TEST(Watch, ComparesThePosesOneTickApart) {
  for (const double fps : {7.0, 60.0, 240.0, 1000.0}) {
    Scene scene{100.0};
    scene.give(scene.add({.name = "buoy"}), Sine{});
    const auto rows = play_all(scene, {"buoy.velocity.y", "buoy.acceleration.y", "buoy.speed"}, FrameTimes{fps}, 40);
    const double h = 0.01;
    for (const auto& row : rows) {
      const double t = row[0];
      const auto velocity = [&](double at) {
        const double back = std::max(at - h, 0.0);
        return at == 0.0 ? 0.0 : (std::sin(at) - std::sin(back)) / (at - back);
      };
      const double back = std::max(t - h, 0.0);
      EXPECT_NEAR(row[1], velocity(t), 1e-12) << t;
      EXPECT_NEAR(row[2], t == 0.0 ? 0.0 : (velocity(t) - velocity(back)) / (t - back), 1e-9) << t;
      EXPECT_NEAR(row[3], std::abs(velocity(t)), 1e-12);
    }
  }
}

struct Turntable {
  Pose apply(const Pose& in, const Moment& now) const {
    return in.with_rotation(rotation(axis::up, degrees(-200 * now.since_start)) * in.rotation);
  }
};

TEST(Watch, MeasuresAngularVelocityInTheAxesOfItsSpace) {
  Scene scene = quay();
  scene.give(*scene.find("lamp"), Turntable{});  // in the quay's space, whose +Y is the world's
  const auto rows = play_all(scene, {"lamp.angular_speed", "lamp.angular_velocity", "local:lamp.angular_velocity.y"},
                             FrameTimes{9.0}, 30);
  EXPECT_EQ(rows[0][1], 0.0);
  for (std::size_t i = 1; i < rows.size(); ++i) {
    EXPECT_NEAR(rows[i][1], 200, 1e-9);
    EXPECT_NEAR(rows[i][2], 0, 1e-9);
    EXPECT_NEAR(rows[i][3], -200, 1e-9);
    EXPECT_NEAR(rows[i][5], -200, 1e-9);
  }
}

TEST(Watch, MeasuresEqualMotionInUnevenFrames) {
  Scene even = quay(), uneven = quay();
  for (Scene* scene : {&even, &uneven}) scene->give(*scene->find("gull"), Sine{});
  const auto rows = play_all(uneven, {"gull.position.y", "gull.velocity.y"}, FrameTimes{60.0, 5}, 200);
  double shortest = 1.0, longest = 0.0;
  for (std::size_t i = 0; i < rows.size(); ++i) {
    EXPECT_NEAR(rows[i][1], std::sin(rows[i][0]), 1e-15);
    if (i == 0) continue;
    shortest = std::min(shortest, rows[i][0] - rows[i - 1][0]);
    longest = std::max(longest, rows[i][0] - rows[i - 1][0]);
  }
  EXPECT_GE(shortest, 0.25 / 60 - 1e-8);
  EXPECT_LE(longest, 1.75 / 60 + 1e-8);
  EXPECT_GT(longest, 3 * shortest);
  // The published splitmix64, begun at 0, gives 0xE220A8397B1DCDAF first.
  EXPECT_EQ(seeded_number(0, 0), static_cast<double>(0xE220A8397B1DCDAFULL >> 11) / 9007199254740992.0);
}

TEST(Frames, ContinueWhereTheWatchedObjectHasEnded) {
  Scene harbour;
  const Object rocket = harbour.add({.name = "rocket"});
  harbour.give(rocket, Travel{.velocity = {1, 0, 0}});
  harbour.add({.name = "pier"});
  harbour.when(after(seconds(0.5))).then(end("rocket"));
  std::vector<Watch> watches;
  for (const char* const text : {"rocket.position.x", "rocket.speed", "distance(pier,rocket)"})
    watches.emplace_back(text, harbour);
  std::int64_t known = 0, unknown = 0;
  play(harbour, watches, FrameTimes{10}, 10, [&](const Frame& frame) {
    EXPECT_EQ(frame.values.size(), 3U);
    for (const double value : frame.values) ++(std::isnan(value) ? unknown : known);
    return true;
  });
  EXPECT_EQ(known, 3 * 6);
  EXPECT_EQ(unknown, 3 * 5);
}

}  // namespace
}  // namespace hushed
