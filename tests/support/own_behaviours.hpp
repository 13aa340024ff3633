// SPDX-License-Identifier: MIT
#pragma once

// Own behaviours for tests, written as a user would write them.

#include <cmath>
#include <memory>
#include <span>
#include <string_view>
#include <utility>
#include <vector>

#include <hushed/hushed.hpp>
#include <hushed/own.hpp>
#include <hushed/runtime_kind.hpp>

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

/// A kind that is made at run time. It is made anew where `version` has changed, as a script that is read again.
class KindInVersions {
 public:
  static inline int version = 0;

  template <class Make>
  const std::shared_ptr<const detail::Kind>& made_by(Make&& make) {
    if (std::exchange(version_, version) != version) kind_ = make();
    return kind_;
  }

 private:
  int version_ = -1;
  std::shared_ptr<const detail::Kind> kind_;
};

/// Made at run time: remembers a height, which comes closer to that of another object at each tick.
class Settle final : public RuntimeKind {
 public:
  Settle()
      : RuntimeKind{{.name = "settle",
                     .fields = {{.name = "share", .fallback = {0.1}, .low = 0, .high = 1},
                                {.name = "beside", .type = RuntimeField::Type::object}},
                     .memory = 1,
                     .thread_safe = true}} {}

  void begin(const RuntimeValues&, std::span<double> memory, const Pose& in, const Moment&) const override {
    memory[0] = in.position.y();
  }
  void apply(const RuntimeValues& values, std::span<double> memory, Pose& pose, const Moment& now) const override {
    const Vec3 there = into(now.parent, now.world(values.objects[0].object)).position;
    const double ticks = now.step * 120.0;
    memory[0] += (there.y() - memory[0]) * (1.0 - std::pow(1.0 - values.numbers[0], ticks));
    pose.position.y() = memory[0];
  }

  std::string_view made_from() const override { return "the same in every version"; }

  static AnyBehaviour give(Scene& scene, Object object, Object beside, const Common& common) {
    static KindInVersions settle;
    const auto& kind = settle.made_by([] { return std::make_shared<const Settle>(); });
    const auto values = kind->make(nullptr);
    static_cast<RuntimeValues*>(values.get())->objects[0] = beside;
    return scene.give(object, detail::AnyValues{*kind, values.get()}, common);
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
