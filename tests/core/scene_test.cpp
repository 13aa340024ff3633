// SPDX-License-Identifier: MIT
#include <hushed/hushed.hpp>
#include <hushed/own.hpp>

#include <gtest/gtest.h>

#include <cmath>
#include <tuple>

#include <Eigen/Geometry>

#include "support/own_behaviours.hpp"
#include "support/refusal.hpp"

namespace hushed {
namespace {

using namespace std::chrono_literals;
using tests::Above;
using tests::Bob;
using tests::Chase;

const Travel east{.velocity = {1, 0, 0}};

TEST(Scene, InheritsOnlyWhatAChildAsksFor) {
  Scene harbour;
  const Pose rolled{{3, 0, 0}, rotation(axis::up, degrees(90)), {2, 2, 2}};
  const Object ball = harbour.add({.name = "ball", .rest = rolled});
  const auto child = [&](Inherit inherit) {
    return harbour.world(harbour.add({.parent = ball, .rest = at(0, 0, 1), .inherit = inherit}));
  };
  EXPECT_NEAR((child({}).position - Vec3(5, 0, 0)).norm(), 0.0, 1e-15);
  EXPECT_EQ(child({true, false, false}).position, Vec3(3, 0, 1));
  EXPECT_EQ(child({true, false, false}).rotation.coeffs(), Quat::Identity().coeffs());
  EXPECT_NEAR((child({false, true, false}).position - Vec3(1, 0, 0)).norm(), 0.0, 1e-15);
  EXPECT_EQ(child({false, false, true}).scale, Vec3(2, 2, 2));
}

TEST(Scene, DetectsStaleHandles) {
  Scene harbour, other;
  const Object boat = harbour.add({.name = "boat"}), lantern = harbour.add({.name = "lantern", .parent = boat});
  const auto spin = harbour.give(lantern, Spin{});
  harbour.end(boat);  // takes the lantern along
  EXPECT_FALSE(harbour.alive(lantern));
  EXPECT_THROW(harbour.world(boat), StaleHandle);
  EXPECT_THROW(harbour.tune(spin)->speed = degrees(1), StaleHandle);
  EXPECT_THROW(other.world(lantern), StaleHandle);
  EXPECT_THROW(harbour.world(Object{}), StaleHandle);
  const Object again = harbour.add({.name = "boat"});
  harbour.advance(1s);
  EXPECT_THROW(harbour.world(boat), StaleHandle);
  EXPECT_EQ(harbour.find("boat"), again);
  EXPECT_EQ(harbour.size(), 1U);
}

TEST(Scene, RefusesInvalidNamesAndPoses) {
  Scene harbour;
  harbour.add({.name = "boat"});
  EXPECT_THROW(harbour.add({.name = "boat"}), BadValue);
  EXPECT_THROW(harbour.add({.name = "a boat"}), BadValue);
  EXPECT_THROW(harbour.add({.rest = at(std::nan(""), 0, 0)}), BadValue);
  EXPECT_THROW(harbour.add({.rest = Pose{}.with_rotation(Quat{2, 0, 0, 0})}), BadValue);
  EXPECT_THROW(Scene{0.5}, BadValue);
  EXPECT_EQ(harbour.name(harbour.add({})), "object-1");
}

TEST(Scene, EvaluatesALeaderBeforeItsFollowersHoweverTheyAreDeclared) {
  Scene harbour;
  const Object last = harbour.add({.name = "last"}), middle = harbour.add({.name = "middle"});
  const Object first = harbour.add({.name = "first"});
  harbour.give(last, Above{middle, 1.0});
  harbour.give(middle, Above{first, 1.0});
  harbour.give(first, east);
  harbour.advance(2s);
  EXPECT_EQ(harbour.world(last).position, Vec3(2, 2, 0));
}

TEST(Scene, NamesTheMembersOfACycle) {
  Scene harbour;
  const Object ferry = harbour.add({.name = "ferry"}), tug = harbour.add({.name = "tug"});
  const Object pilot = harbour.add({.name = "pilot", .parent = tug});
  harbour.give(tug, Chase{ferry});
  try {
    harbour.give(ferry, Chase{pilot});
    FAIL() << "a circle was accepted";
  } catch (const DependencyCycle& circle) {
    EXPECT_EQ(circle.members(), (std::vector<std::string>{"ferry", "pilot", "tug"}));
    EXPECT_NE(std::string{circle.what()}.find("ferry -> pilot -> tug -> ferry"), std::string::npos);
  }
  EXPECT_THROW(harbour.give(ferry, Above{ferry}), DependencyCycle);
  EXPECT_NO_THROW(harbour.give(ferry, Chase{pilot}, {.reads = Reads::last_tick}));
}

TEST(Scene, ReadsTheLastTickForTheWholeStepFromIt) {
  Scene harbour{10.0};
  const Object ferry = harbour.add({.name = "ferry"}), mark = harbour.add({.name = "mark"});
  harbour.give(ferry, east);
  harbour.give(mark, Above{ferry, 0.0}, {.reads = Reads::last_tick});
  for (const auto& [time, seen] : {std::pair{50, 0.0}, {100, 0.0}, {101, 0.1}, {199, 0.1}, {200, 0.1}, {201, 0.2}}) {
    harbour.advance(std::chrono::milliseconds{time} - harbour.time());
    EXPECT_NEAR(harbour.world(mark).position.x(), seen, 1e-15) << time;
  }
}

TEST(Scene, AdvancesStateAtTicksOnlyAndEvaluatesEveryMoment) {
  Scene harbour{4.0};
  const Object ferry = harbour.add({.rest = at(8, 0, 0)}), tug = harbour.add({});
  harbour.give(tug, Chase{ferry, 0.25});  // one tick is one half-life
  harbour.advance(250ms);
  EXPECT_NEAR(harbour.world(tug).position.x(), 4.0, 1e-15);
  harbour.advance(125ms);
  EXPECT_NEAR(harbour.world(tug).position.x(), 8.0 - 4.0 * std::exp2(-0.5), 1e-15);
  harbour.advance(125ms);
  EXPECT_NEAR(harbour.world(tug).position.x(), 6.0, 1e-15);
}

TEST(Scene, BlendsAFadedAndWeightedBehaviour) {
  Scene harbour;
  const Object half = harbour.add({}), fading = harbour.add({}), late = harbour.add({});
  harbour.give(half, east, {.weight = 0.5});
  harbour.give(fading, east, {.delay = 1s, .fade = 2s});
  harbour.give(late, Spin{.speed = degrees(90)}, {.delay = 1s});
  harbour.advance(2s);
  EXPECT_EQ(harbour.world(half).position.x(), 1.0);
  EXPECT_NEAR(harbour.world(fading).position.x(), 0.5, 1e-15);  // half of the way up a smoothstep, after 1 s
  EXPECT_NEAR(pitch_yaw_roll(harbour.world(late).rotation).yaw.in_degrees(), 90.0, 1e-13);
}

TEST(Scene, FadesOutAndInAgainFromWhereItIs) {
  Scene harbour;
  const Object boat = harbour.add({});
  const auto lift = harbour.give(boat, Bob{2.0}, {.fade = 1s});
  const auto height = [&] {
    return harbour.world(boat).position.y() / (2.0 * std::cos(3.0 * in_seconds(harbour.time())));
  };
  harbour.advance(2s);
  EXPECT_NEAR(height(), 1.0, 1e-14);
  harbour.stop(lift);
  harbour.advance(500ms);
  EXPECT_NEAR(height(), 0.5, 1e-14);
  harbour.start(lift);
  harbour.advance(500ms);
  EXPECT_NEAR(height(), 0.75, 1e-14);
  harbour.stop(lift);
  harbour.advance(3s);
  EXPECT_EQ(harbour.world(boat).position.y(), 0.0);
  EXPECT_FALSE(harbour.running(lift));
}

TEST(Scene, HoldsThePoseOfAFollowerWhoseLeaderIsLostAndReportsIt) {
  for (const bool ends : {false, true}) {
    Scene harbour;
    const Object ferry = harbour.add({.name = "ferry"}), tug = harbour.add({.name = "tug"});
    harbour.give(ferry, east);
    const auto above = harbour.give(tug, Above{ferry});
    harbour.advance(2s);
    ends ? harbour.end(ferry) : harbour.hide(ferry);
    ASSERT_EQ(harbour.events().size(), 1U);
    EXPECT_EQ(harbour.events()[0].name, "lost");
    EXPECT_EQ(harbour.events()[0].subject, tug);
    EXPECT_EQ(harbour.describe(harbour.events()[0]), "tug.above lost ferry");
    harbour.advance(3s);
    EXPECT_EQ(harbour.events().size(), 1U);  // still delivered to a program that reads events once a frame
    EXPECT_EQ(harbour.world(tug).position, Vec3(2, 2, 0));
    harbour.advance(1s);
    EXPECT_TRUE(harbour.events().empty());
    if (ends) {
      const Object next = harbour.add({.name = "cutter", .rest = at(0, 0, 7)});
      harbour.tune(above)->below = next;
    } else {
      harbour.show(ferry);
      EXPECT_NEAR(harbour.world(tug).position.x(), 2.0, 1e-12);  // no jump
    }
    harbour.advance(1s);
    EXPECT_NEAR((harbour.world(tug).position - (ends ? Vec3(0, 2, 7) : Vec3(7, 2, 0))).norm(), 0.0, 1e-12);
  }
}

struct Faulty {
  static constexpr auto kind = "faulty";
  Pose apply(const Pose& in, const Moment& now) const {
    if (now.since_start > 1.0) throw std::runtime_error{"out of oil"};
    return in.with_position({1, 0, 0});
  }
};

struct Endless {
  Pose apply(const Pose& in, const Moment&) const { return in.with_position({std::nan(""), 0, 0}); }
};

struct Nosy {
  Object other;
  Pose apply(const Pose&, const Moment& now) const { return now.world(other); }
};

TEST(Scene, StopsAnOwnBehaviourThatThrows) {
  Scene harbour;
  const Object lamp = harbour.add({.name = "lamp"}), buoy = harbour.add({.name = "buoy"}),
               gull = harbour.add({.name = "gull"});
  harbour.give(lamp, Faulty{});
  harbour.give(buoy, Endless{});
  harbour.give(gull, Nosy{lamp});
  harbour.advance(1s);
  EXPECT_EQ(harbour.world(lamp).position.x(), 1.0);
  ASSERT_EQ(harbour.events().size(), 2U);
  EXPECT_EQ(harbour.describe(harbour.events()[0]), "buoy.own failed: it returned a pose that is not finite");
  EXPECT_EQ(harbour.describe(harbour.events()[1]),
            "gull.own failed: it reads an object that it does not name in dependencies()");
  harbour.advance(1s);
  ASSERT_EQ(harbour.events().size(), 1U);
  EXPECT_EQ(harbour.events()[0].name, "failed");
  EXPECT_EQ(harbour.describe(harbour.events()[0]), "lamp.faulty failed: out of oil");
  EXPECT_EQ(harbour.world(lamp).position.x(), 0.0);
}

TEST(Scene, SetsAndReadsValuesByTheirPath) {
  Scene harbour;
  const Object lamp = harbour.add({.name = "lamp"});
  harbour.give(lamp, Spin{.speed = degrees(40)});
  harbour.give(lamp, Bob{}, {.name = "bobbing"});
  harbour.set("lamp.spin.speed", Value{60.0});
  harbour.set("lamp.bobbing.height", Value{std::int64_t{2}});
  harbour.set("lamp.bobbing.weight", Value{0.5});
  EXPECT_EQ(as_text(*harbour.get("lamp.spin.speed")), "60");
  EXPECT_EQ(as_text(*harbour.get("lamp.spin.axis")), "\"y\"");
  EXPECT_EQ(harbour.world(lamp).position.y(), 1.0);
  const auto hint = [&](const char* path, const Value& value) {
    try {
      harbour.set(path, value);
    } catch (const BadValue& error) {
      return std::string{error.what()};
    }
    return std::string{"accepted"};
  };
  EXPECT_EQ(hint("lmap.spin.speed", Value{1.0}),
            "lmap.spin.speed: no object \"lmap\" in this scene; did you mean \"lamp\"?");
  EXPECT_EQ(hint("lamp.spin.sped", Value{1.0}), "lamp.spin.sped: unknown key \"sped\"; did you mean \"speed\"?");
  EXPECT_EQ(hint("lamp.spin.speed", Value{2e9}),
            "lamp.spin.speed: 2000000000 is out of range; give a number from -1e9 to 1e9 (deg/s).");
  EXPECT_EQ(hint("lamp.spin.speed", Value{std::string{"fast"}}),
            "lamp.spin.speed: found a string (\"fast\"); give a number.");
  EXPECT_EQ(hint("lamp.spin.velocity", Value{Value::List{Value{0.0}, Value{9.0}, Value{0.0}}}), "accepted");
  EXPECT_EQ(hint("lamp.spin.speed", Value{1.0}),
            "lamp.spin.speed: velocity is given and excludes this key; set velocity instead.");
}

TEST(Scene, FindsABehaviourOfAKindByItsPath) {
  Scene harbour;
  harbour.give(harbour.add({.name = "lamp"}), Spin{.speed = degrees(40)});
  const auto turning = harbour.find_behaviour<Spin>("lamp.spin");
  ASSERT_TRUE(turning);
  EXPECT_EQ(harbour.values(*turning).speed.in_degrees(), 40.0);
  EXPECT_FALSE(harbour.find_behaviour<Travel>("lamp.spin"));
  EXPECT_FALSE(harbour.find_behaviour<Spin>("lamp.turning"));
}

/// A second way to a matrix in other conventions: by Eigen, with the change of axes written out as a matrix.
Eigen::Matrix4d matrix_in(const Pose& pose, const Eigen::Matrix3d& axes, const Vec3& origin) {
  Eigen::Affine3d change = Eigen::Affine3d::Identity(), moved = Eigen::Affine3d::Identity();
  change.linear() = axes;
  moved.translate(pose.position - origin).rotate(pose.rotation).scale(pose.scale);
  return (change * moved * change.inverse()).matrix();
}

TEST(Scene, WritesMatricesInTheConventionsOfAnEngine) {
  Scene harbour;
  const Vec3 far{1e6, -20, 3e5};
  const Object hull = harbour.add({.rest = {far, rotation(Vec3{1, 2, 3}, degrees(77)), {2, 3, 0.5}}});
  const Object mast =
      harbour.add({.parent = hull, .rest = {{1, 2, 3}, rotation(Vec3{-1, 1, 0}, degrees(40)), {1, 2, 1}}});
  Eigen::Matrix3d y_left, z_right, z_left;
  y_left << 1, 0, 0, 0, 1, 0, 0, 0, -1;
  z_right << 1, 0, 0, 0, 0, -1, 0, 1, 0;
  z_left << 1, 0, 0, 0, 0, 1, 0, 1, 0;
  const std::tuple<Up, Handedness, Eigen::Matrix3d> all[] = {{Up::y, Handedness::right, Eigen::Matrix3d::Identity()},
                                                             {Up::y, Handedness::left, y_left},
                                                             {Up::z, Handedness::right, z_right},
                                                             {Up::z, Handedness::left, z_left}};
  for (const auto& [up, handedness, axes] : all) {
    for (const MatrixOrder order : {MatrixOrder::by_column, MatrixOrder::by_row}) {
      const MatrixLayout layout{up, handedness, order, far};
      std::vector<float> floats(32);
      std::vector<double> doubles(32);
      harbour.write_matrices(floats, layout);
      harbour.write_matrices(doubles, layout);
      for (std::size_t i = 0; i < 2; ++i) {
        const Pose pose = harbour.world(harbour.objects()[i]);
        const Eigen::Matrix4d expected = matrix_in(pose, axes, far);
        for (int row = 0; row < 4; ++row)
          for (int column = 0; column < 4; ++column) {
            const auto at =
                16 * i + static_cast<std::size_t>(order == MatrixOrder::by_row ? 4 * row + column : 4 * column + row);
            EXPECT_NEAR(doubles[at], expected(row, column), 1e-8);
            EXPECT_NEAR(floats[at], expected(row, column), 1e-6 * 10);  // far from 0, a float is exact to 6 cm only
          }
        const Pose there = to_engine(pose, layout), back = from_engine(there, layout);
        EXPECT_LE((matrix_in(there, Eigen::Matrix3d::Identity(), Vec3::Zero()) - expected).norm(), 1e-8);
        EXPECT_LE((back.position - pose.position).norm() + (back.scale - pose.scale).norm(), 1e-9);
        EXPECT_EQ(back.rotation.coeffs(), pose.rotation.coeffs());
      }
    }
  }
  EXPECT_EQ(harbour.parent(mast), hull);
}

TEST(Scene, WritesMatricesColumnByColumn) {
  Scene harbour;
  harbour.add({.rest = {{1, 2, 3}, rotation(axis::up, degrees(90)), {2, 3, 4}}});
  std::vector<float> m(16);
  harbour.write_matrices(m);
  const std::vector<float> expected{0, 0, -2, 0, 0, 3, 0, 0, 4, 0, 0, 0, 1, 2, 3, 1};
  for (std::size_t i = 0; i < 16; ++i) EXPECT_NEAR(m[i], expected[i], 1e-6) << i;
  EXPECT_THROW(harbour.write_matrices(std::span{m}.first(15)), BadValue);
}

TEST(Scene, ReturnsAHandleForEveryPose) {
  Scene harbour;
  for (int i = 0; i < 5000; ++i) {
    const Object boat = harbour.add({.rest = at(i, 0, 0)});
    if (i % 3 == 0) harbour.give(boat, east);
    if (i % 7 == 0) harbour.give(harbour.add({.parent = boat}), Spin{});
  }
  harbour.advance(1s);
  ASSERT_EQ(harbour.world_poses().size(), harbour.size());
  for (std::size_t i = 0; i < harbour.size(); ++i)
    ASSERT_EQ(harbour.world(harbour.objects()[i]).position, harbour.world_poses()[i].position);
}

TEST(Scene, SeeksToTheSamePosesForwardAndBack) {
  Scene harbour;
  const Object ferry = harbour.add({.name = "ferry"}), tug = harbour.add({.name = "tug"});
  const auto sailing = harbour.give(ferry, east);
  harbour.give(tug, Chase{ferry});
  std::vector<Vec3> seen;
  for (int second = 0; second <= 40; ++second) {
    if (second == 20) harbour.stop(sailing);
    seen.push_back(harbour.world(tug).position);
    harbour.advance(1s);
  }
  for (const int second : {40, 3, 0, 25, 24, 39}) {
    const bool forgotten = second > 3 && second != 40;  // the stop was after 3 s, so going back forgot it
    harbour.seek(std::chrono::seconds{second});
    if (forgotten) continue;
    EXPECT_EQ(harbour.world(tug).position, seen[static_cast<std::size_t>(second)]) << second;
  }
  EXPECT_NEAR(harbour.world(ferry).position.x(), 39.0, 1e-12);
  EXPECT_THROW(harbour.seek(-1s), BadValue);
  harbour.add({});
  EXPECT_THROW(harbour.seek(1s), BadValue);
}

TEST(Scene, RepeatsCommandsUpToTheSoughtTime) {
  Scene harbour;
  const Object lamp = harbour.add({});
  const auto turning = harbour.give(lamp, Spin{.speed = degrees(10)});
  harbour.advance(2s);
  harbour.stop(turning);
  harbour.advance(2s);
  harbour.start(turning);
  harbour.advance(2s);
  const auto yaw = [&] { return pitch_yaw_roll(harbour.world(lamp).rotation).yaw.in_degrees(); };
  harbour.seek(5s);
  EXPECT_NEAR(yaw(), 30.0, 1e-12);
  harbour.seek(3s);
  EXPECT_NEAR(yaw(), 20.0, 1e-12);
  harbour.tune(turning)->speed = degrees(1);  // tuned values stay
  harbour.seek(1s);
  EXPECT_NEAR(yaw(), 1.0, 1e-12);
}

TEST(Scene, RefusesASnapshotThatDoesNotFit) {
  Scene harbour, other;
  EXPECT_THROW(harbour.restore(other.snapshot()), BadValue);
  EXPECT_THROW(harbour.restore(Snapshot{}), BadValue);
}

TEST(Scene, AddsUpFrameTimesOfAnyUnitWithoutDrift) {
  Scene nanoseconds, floats;
  for (int i = 0; i < 100'000; ++i) nanoseconds.advance(1ns);
  EXPECT_EQ(nanoseconds.time(), Time{70'560});
  const std::chrono::duration<float> frame{1.0F / 60.0F};
  for (int i = 0; i < 60'000; ++i) floats.advance(frame);
  const double exact = static_cast<double>(1.0F / 60.0F) * 60'000;
  EXPECT_NEAR(in_seconds(floats.time()), exact, 2.0 / units_per_second);
}

TEST(Scene, KeepsTheRoundingErrorThroughASnapshot) {
  Scene harbour;
  harbour.advance(1ns);
  const Snapshot here = harbour.snapshot();
  for (int i = 0; i < 2; ++i) {
    harbour.restore(here);
    for (int j = 1; j < 1000; ++j) harbour.advance(1ns);
    EXPECT_EQ(harbour.time(), Time{706});
  }
}

TEST(Scene, TreatsTunedCommonValuesAsTheObjectsOwn) {
  Scene harbour;
  const Object boat = harbour.add({.name = "boat"});
  harbour.add_to_preset("bobbing", Sway{.amplitude = {0, 1, 0}});
  harbour.use(boat, "bobbing");
  harbour.tune_common(*harbour.find_behaviour("boat.sway"))->weight = 0.25;
  EXPECT_TRUE(harbour.is_own("boat.sway.weight"));
  EXPECT_FALSE(harbour.is_own("boat.sway.fade"));
  harbour.set("preset.bobbing.sway.weight", Value{0.75});
  EXPECT_EQ(harbour.get("boat.sway.weight")->number(), 0.25);
}

TEST(Scene, UsesAPresetWholeOrNotAtAll) {
  Scene harbour;
  const Object boat = harbour.add({.name = "boat"}), quay = harbour.add({.name = "quay"});
  harbour.add_to_preset("bobbing", Sway{.amplitude = {0, 1, 0}});
  harbour.add_to_preset("bobbing", Spin{});
  const OwnValue no_behaviour[]{{"sway.phase", Value{10.0}}, {"swya.frequency", Value{0.4}}};
  const OwnValue no_field[]{{"spin.speeed", Value{0.4}}};
  for (const std::span<const OwnValue> own : {std::span{no_behaviour}.first(2), std::span{no_field}.first(1)}) {
    EXPECT_THROW(harbour.use(boat, "bobbing", own), BadValue);
    EXPECT_TRUE(harbour.behaviours(boat).empty());
  }
  harbour.give(quay, Spin{});
  EXPECT_THROW(harbour.use(quay, "bobbing"), BadValue);  // it has a "spin" already
  EXPECT_EQ(harbour.behaviours(quay).size(), 1U);
}

TEST(Scene, RefusesInvalidEnumerators) {
  Scene harbour;
  const Object boat = harbour.add({.name = "boat"}), buoy = harbour.add({});
  EXPECT_THROW(harbour.give(boat, Spin{.space = static_cast<Space>(77)}), BadValue);
  EXPECT_THROW(harbour.give(boat, Sway{.wave = static_cast<Wave>(-1)}), BadValue);
  EXPECT_THROW(harbour.give(boat, Drive{.space = static_cast<Space>(9)}), BadValue);
  EXPECT_THROW(harbour.give(boat, Drive{.space = Space::parent}), BadValue);
  EXPECT_EQ(tests::refusal(harbour, boat, Spring{.space = Space::target}),
            "boat.spring: space: \"target\" is not allowed here; give parent or world.");
  EXPECT_THROW(harbour.give(boat, Orbit{.centre = Place{buoy, {0, 1, 0}, static_cast<Space>(5)}, .period = 3.0}),
               BadValue);
  EXPECT_THROW(harbour.give(boat, Sway{}, {.reads = static_cast<Reads>(3)}), BadValue);
  EXPECT_THROW(harbour.add({.shape = Shape{static_cast<Shape::Kind>(8)}}), BadValue);
  EXPECT_THROW(harbour.input({{}, "W", static_cast<InputChange::What>(8)}), BadValue);
  Rule rule{.when = {happened("fog")}, .then = {raise("blast")}, .fires = static_cast<Fires>(4)};
  EXPECT_THROW(harbour.add_rule(rule), BadValue);
  EXPECT_TRUE(harbour.behaviours(boat).empty());
}

/// Scales that never change are computed once; these are all the ways in which they do change.
TEST(Scene, ScalesChildrenWithTheirParents) {
  Scene harbour;
  const Pose small = Pose{}.with_scale(Vec3::Constant(0.5));
  const Object mast = harbour.add({.name = "mast", .poses = {PoseParts{.name = "tall", .scale = Vec3{1, 3, 1}}}});
  const Object lamp = harbour.add({.name = "lamp", .parent = mast, .rest = small});
  const Object bulb = harbour.add({.name = "bulb", .parent = lamp, .rest = small});
  const Object flag = harbour.add({.name = "flag", .parent = mast, .inherit = {.scale = false}});
  harbour.give(lamp, Spin{});
  const auto sway = harbour.give(mast, Sway{.amplitude = {1, 0, 0}});
  const auto scales = [&](Vec3 of_lamp, Vec3 of_bulb) {
    return harbour.world(lamp).scale == of_lamp && harbour.world(bulb).scale == of_bulb &&
           harbour.world(flag).scale == Vec3::Ones();
  };
  const Vec3 half = Vec3::Constant(0.5), quarter = Vec3::Constant(0.25);
  harbour.advance(100ms);
  EXPECT_TRUE(scales(half, quarter));
  const Snapshot before = harbour.snapshot();
  harbour.place(mast, "tall");
  harbour.advance(100ms);
  EXPECT_TRUE(scales({0.5, 1.5, 0.5}, {0.25, 0.75, 0.25}));
  harbour.restore(before);
  EXPECT_TRUE(scales(half, quarter));

  harbour.when(after(1s)).then(place(mast, "tall"));
  harbour.advance(1s);
  EXPECT_TRUE(scales({0.5, 1.5, 0.5}, {0.25, 0.75, 0.25}));  // in the frame of the rule's tick

  harbour.tune(sway)->channel = Channel::scale;
  harbour.advance(800ms);
  EXPECT_NE(harbour.world(mast).scale.x(), 1.0);
  EXPECT_EQ(harbour.world(bulb).scale.x(), 0.25 * harbour.world(mast).scale.x());
  EXPECT_EQ(harbour.world(flag).scale, Vec3::Ones());
}

}  // namespace
}  // namespace hushed
