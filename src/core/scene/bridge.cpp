// SPDX-License-Identifier: MIT
#include "scene/bridge.hpp"

#include "lanes/conversions.hpp"
#include "lanes/geometry.hpp"

namespace hushed::detail {

namespace {

constexpr Time default_bridge = std::chrono::milliseconds{250};

/// 3x^2 - 2x^3, where x is the share of `length` that has passed.
double smoothstep(Time passed, Time length) {
  if (passed >= length) return 1.0;
  if (passed <= Time{0}) return 0.0;
  const double x = static_cast<double>(passed.count()) / static_cast<double>(length.count());
  return x * x * (3.0 - 2.0 * x);
}

}  // namespace

double fade_level(const Run& run, Time now) {
  if (!run.transition) return 1.0;
  const Transition& fading = *run.transition;
  const double done = smoothstep(now - fading.level_since, fading.level_length);
  if (done == 1.0) return fading.level_to;
  return fading.level_from + (fading.level_to - fading.level_from) * done;
}

void bridge(BehaviourRecord& behaviour, const Pose& displayed, const Pose& out, Time now) {
  if (now == Time{0} || !behaviour.kind->traits().bridges) return;
  Transition& over = behaviour.run.transition.make();
  over.position = displayed.position - out.position;
  over.scale = displayed.scale - out.scale;
  over.rotation = rotation_vector(vector(numbers(displayed.rotation) * inverse(numbers(out.rotation))));
  over.bridge_since = now;
  const bool lands_there = over.position.isZero(0.0) && over.scale.isZero(0.0) && over.rotation.isZero(0.0);
  over.bridge_length = lands_there ? Time{0} : behaviour.common.fade > Time{0} ? behaviour.common.fade : default_bridge;
  behaviour.run.transition_has_changed();
}

Pose bridged(const Run& run, const Pose& out, Time now) {
  if (!run.transition) return out;
  const Transition& over = *run.transition;
  if (now >= over.bridge_since + over.bridge_length) return out;
  const double left = 1.0 - smoothstep(now - over.bridge_since, over.bridge_length);
  const auto turn = numbers(rotation(vector(numbers(over.rotation) * left)));
  return {vector(numbers(out.position) + numbers(over.position) * left),
          vector(near_unit(turn * numbers(out.rotation))), vector(numbers(out.scale) + numbers(over.scale) * left)};
}

}  // namespace hushed::detail
