// SPDX-License-Identifier: MIT
// Own behaviours: they change without a jump, and are called again after a failure.

#include <gtest/gtest.h>
#include <hushed/hushed.hpp>
#include <hushed/own.hpp>

#include <limits>
#include <stdexcept>

namespace hushed {
namespace {

using namespace std::chrono_literals;

/// Lifts by a height, and counts its ticks.
struct Lift {
  double height = 1.0;

  struct State {
    int ticks = 0;
  };
  Pose apply(State& memory, const Pose& in, const Moment& now) const {
    if (now.step > 0.0) ++memory.ticks;
    return in.with_position(in.position + Vec3{0, height, 0});
  }
};

struct JumpingLift : Lift {
  static constexpr bool bridges = false;
};

TEST(OwnBehaviour, WithStateIsTunedWithoutAJump) {
  Scene harbour;
  const Object flag = harbour.add({});
  const auto lift = harbour.give(flag, Lift{});
  harbour.advance(500ms);  // a tick
  harbour.tune(lift)->height = 5.0;
  EXPECT_NEAR(harbour.world(flag).position.y(), 1.0, 1e-12);
  harbour.advance(1ms);
  EXPECT_NEAR(harbour.world(flag).position.y(), 1.0, 1e-3);
  harbour.advance(2s);
  EXPECT_EQ(harbour.world(flag).position.y(), 5.0);
}

TEST(OwnBehaviour, MayChooseToJump) {
  Scene harbour;
  const Object flag = harbour.add({});
  const auto lift = harbour.give(flag, JumpingLift{});
  harbour.advance(500ms);
  harbour.tune(lift)->height = 5.0;
  EXPECT_EQ(harbour.world(flag).position.y(), 5.0);
}

/// Rises by 1 m/s from its state, and fails between two times.
struct Unsteady {
  double from, to;  // s
  bool throws = false;

  struct State {
    double height = 0.0;
  };
  Pose apply(State& memory, const Pose& in, const Moment& now) const {
    memory.height += now.step;
    const double time = in_seconds(now.time);
    const bool fails = time >= from && time < to;
    if (fails && throws) throw std::runtime_error{"no wind"};
    const double height = fails ? std::numeric_limits<double>::quiet_NaN() : memory.height;
    return in.with_position(in.position + Vec3{0, height, 0});
  }
};

TEST(OwnBehaviour, RecoversOnceItsPosesAreFiniteAgain) {
  for (const bool throws : {false, true}) {
    Scene harbour;
    const Object kite = harbour.add({});
    harbour.give(kite, Unsteady{1.0, 2.0, throws});
    double before = 0.0;
    int failures = 0;
    for (int frame = 0; frame < 300; ++frame) {
      harbour.advance(10ms);
      const double now = harbour.world(kite).position.y();
      EXPECT_LE(std::abs(now - before), 0.1) << frame;  // it neither drops nor comes back at once
      before = now;
      for (const Event& event : harbour.events()) failures += event.name == "failed";
    }
    EXPECT_EQ(failures, 1);
    EXPECT_NEAR(before, 2.0, 0.02);  // of three seconds it did not rise in one
  }
}

TEST(OwnBehaviour, FailsForGoodAtTicksOnly) {
  // It fails only at 1.001 s, between two ticks: a frame there shows the incoming pose and has no later effect.
  for (const double rate : {24.0, 144.0, 1000.0}) {
    Scene harbour;
    const Object kite = harbour.add({});
    harbour.give(kite, Unsteady{1.0005, 1.0015});
    for (std::int64_t frame = 1; frame_time(frame, rate) <= 2s; ++frame)
      harbour.advance(frame_time(frame, rate) - harbour.time());
    EXPECT_NEAR(harbour.world(kite).position.y(), 2.0, 1e-9) << rate;
  }
}

TEST(OwnBehaviour, IsNotPassedToRulesWhereOnlyAFrameFails) {
  for (const double rate : {24.0, 1000.0}) {
    Scene harbour;
    harbour.give(harbour.add({}), Unsteady{1.0005, 1.0015});
    harbour.when(happened("failed")).called("calm").then(raise("calm"));
    for (std::int64_t frame = 1; frame_time(frame, rate) <= 2s; ++frame)
      harbour.advance(frame_time(frame, rate) - harbour.time());
    EXPECT_EQ(harbour.report("calm").fired, 0) << rate;
  }
}

TEST(OwnBehaviour, WithoutStateIsEvaluatedAnewInEveryFrame) {
  struct Blinker {
    Pose apply(const Pose& in, const Moment& now) const {
      if (now.time > 1s && now.time < 2s) throw std::runtime_error{"dark"};
      return in.with_position({0, 1, 0});
    }
  };
  Scene harbour;
  const Object lamp = harbour.add({});
  harbour.give(lamp, Blinker{});
  harbour.advance(500ms);
  EXPECT_EQ(harbour.world(lamp).position.y(), 1.0);
  harbour.advance(1s);
  EXPECT_EQ(harbour.world(lamp).position.y(), 0.0);
  harbour.advance(1s);
  EXPECT_EQ(harbour.world(lamp).position.y(), 1.0);
}

}  // namespace
}  // namespace hushed
