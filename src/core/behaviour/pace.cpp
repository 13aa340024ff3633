// SPDX-License-Identifier: MIT
// The behaviour leaves the pose as it is: `ObjectClocks` reads its rate.

#include <hushed/behaviour/pace.hpp>

#include "lanes/kernel_kind.hpp"

namespace hushed {

namespace {

using namespace detail;

struct PaceKernel {
  using Values = Pace;

  static constexpr auto summary = "sets the rate at which time passes for the object and its children";
  static constexpr auto example = R"(
[object.tower]
pace = 0.25   # slow motion, for its lamp too: a quarter of the speed

[object.lamp]
parent = "tower"

[[object.lamp.behaviour]]
kind  = "spin"
speed = 40
)";
  static constexpr auto fields =
      std::tuple{field("rate", &Pace::rate, unit::time_rate,
                       "seconds of the object's time in a second of the scene; 0 halts it", slider(0, 2))};
  struct State {};
  struct Block {};

  static constexpr bool one_an_object = true;

  static unsigned variant(const Pace&, const State&) { return 0; }
  static unsigned touches(unsigned) { return 0; }
  static bool needs_start(const Pace&) { return false; }
  static void begin(State&, const Pace&, const Start&) {}
  static void fill(Block&, int, const Pace&, State&) {}
  static void evaluate(const Block&, unsigned, PoseBlock&, const EvalContext&) {}
  static std::optional<Diagnostic> check(const Pace&, const Pose*) { return std::nullopt; }
};

}  // namespace

template <>
const detail::Kind& detail::kind_of<Pace>() {
  static const KernelKind<PaceKernel> kind;
  return kind;
}

}  // namespace hushed
