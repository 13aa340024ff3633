// SPDX-License-Identifier: MIT
#pragma once

// Own behaviours for tests, written as a user would write them.

#include <cmath>
#include <vector>

#include <hushed/hushed.hpp>

namespace hushed::tests {

/// A function of time whose first pose differs from the incoming one: it jumps up when it starts, and bobs.
struct Bob {
  double height = 1.0;

  static constexpr auto kind = "bob";
  static constexpr bool thread_safe = true;
  static constexpr auto fields = std::tuple{field("height", &Bob::height, unit::metres, "how high", slider(0, 3))};

  Pose apply(const Pose& in, const Moment& now) const {
    return in.with_position(in.position + Vec3{0, height * std::cos(3.0 * now.since_start), 0});
  }
};

/// Has state: halves the distance to its leader in every half-life.
struct Chase {
  Target leader;
  double half_life = 0.3;

  struct State {
    Vec3 place = Vec3::Zero();
  };

  static constexpr auto kind = "chase";
  static constexpr auto fields = std::tuple{field("leader", &Chase::leader, unit::none, "the object that it follows"),
                                            field("half_life", &Chase::half_life, unit::ratio, "in seconds")};
  static constexpr bool thread_safe = true;

  State begin(const Pose& in, const Moment&) const { return {in.position}; }
  Pose apply(State& memory, const Pose& in, const Moment& now) const {
    const Vec3 goal = into(now.parent, now.world(leader.object)).position;
    memory.place += (goal - memory.place) * (1.0 - std::exp2(-now.step / half_life));
    return in.with_position(memory.place);
  }
};

/// Reads another object and has no state: stays above it.
struct Above {
  Target below;
  double height = 2.0;

  static constexpr auto kind = "above";
  static constexpr auto fields = std::tuple{field("below", &Above::below, unit::none, "the object below"),
                                            field("height", &Above::height, unit::metres, "how high above it")};
  static constexpr bool thread_safe = true;

  Pose apply(const Pose& in, const Moment& now) const {
    return in.with_position(into(now.parent, now.world(below.object)).position + Vec3{0, height, 0});
  }
};

}  // namespace hushed::tests
