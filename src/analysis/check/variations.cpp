// SPDX-License-Identifier: MIT
// Checks that need more plays: at a higher tick rate, and without single behaviours.

#include <map>

#include "check/checked.hpp"

namespace hushed::detail {

namespace {

/// The largest differences of an object's local poses between two plays.
struct Differences {
  double position = 0.0, rotation = 0.0, scale = 0.0;  ///< m, degrees, factors
  std::size_t frame = 0;  ///< the frame of the largest difference in position or, where that is 0, in rotation
};

Differences differences(const Recording& a, const Recording& b, std::size_t object) {
  Differences most;
  for (std::size_t frame = 0; frame < std::min(a.frames(), b.frames()); ++frame) {
    const Pose &one = a.at(frame, object), &other = b.at(frame, object);
    const double position = (one.position - other.position).norm();
    const double rotation = angle_between(one.rotation, other.rotation).in_degrees();
    if (position > most.position || (most.position == 0.0 && rotation > most.rotation)) most.frame = frame;
    most.position = std::max(most.position, position);
    most.rotation = std::max(most.rotation, rotation);
    most.scale = std::max(most.scale, (one.scale - other.scale).norm());
  }
  return most;
}

/// The largest movement of an object from one frame to the next.
struct Fastest {
  double step = 0.0, turn = 0.0;  ///< m, degrees
};

Fastest fastest_of(const Recording& local, std::size_t object) {
  Fastest fastest;
  for (std::size_t frame = 1; frame < local.frames(); ++frame) {
    const Pose &a = local.at(frame - 1, object), &b = local.at(frame, object);
    fastest.step = std::max(fastest.step, (b.position - a.position).norm());
    fastest.turn = std::max(fastest.turn, angle_between(a.rotation, b.rotation).in_degrees());
  }
  return fastest;
}

void check_ticks(const std::function<Scene(double)>& make, const Played& played, const CheckOptions& options,
                 Plays& plays, Findings& to) {
  const Played finer = play_to_check(make(4.0), options, plays);
  const std::vector<bool> is_lively = who_is_lively(played);
  for (std::size_t object = 0; object < played.objects.size(); ++object) {
    if (is_lively[object]) continue;
    const Differences most = differences(played.local, finer.local, object);
    // A motion that is triggered at a tick begins up to two ticks earlier or later, which is this difference.
    const double slack = played.answers[object] ? 2.5 / played.scene.tick_rate() * options.frames_per_second : 0.0;
    const Fastest fastest = slack > 0.0 ? fastest_of(played.local, object) : Fastest{};
    const bool moves_apart = most.position > 0.005 + 0.01 * played.local.reach(object) + slack * fastest.step;
    if (!moves_apart && most.rotation <= 1.5 + slack * fastest.turn) continue;
    to.add("tick-rate", Severity::doubt, played.world.objects[object], most.frame,
           "with four times the tick rate its pose differs by " +
               (moves_apart ? few_digits(most.position) + " m" : few_digits(most.rotation) + " degrees") + "",
           "raise tick_rate in [scene], or smooth what changes abruptly from tick to tick");
  }
}

/// A play without one behaviour, and the motion of its object in it.
void check_without(const std::function<Scene(double)>& make, const Played& played, std::size_t object,
                   std::size_t number, Plays& plays, Findings& to) {
  Scene scene = make(1.0);
  const Object whose = objects_in_order(scene)[object];
  const auto stack = scene.behaviours(whose);
  scene.tune_common(stack[number])->weight = 0.0;
  Recording local;
  for (const Time time : played.local.times) {
    plays.go_on();
    scene.advance(time - scene.time());
    local.times.push_back(time);
    local.poses.push_back(scene.local(whose));
  }
  plays.one_is_done();
  for (std::size_t frame = 0; frame < local.frames(); ++frame) {
    const Pose &with = played.local.at(frame, object), &without = local.poses[frame];
    if ((with.position - without.position).norm() + (with.scale - without.scale).norm() > 1e-9 ||
        angle_between(with.rotation, without.rotation).in_degrees() > 1e-6)
      return;
  }
  const bool is_top = number + 1 == stack.size();
  to.add("no-effect", Severity::mistake, played.world.objects[object], std::nullopt,
         "without " + scene.path(stack[number]) + " the motion is the same" +
             (is_top ? "" : ": a behaviour above it overwrites its result"),
         is_top ? "check whether it has started, is enabled and has something to change; or remove it"
                : "change their order or their weights, or remove it");
}

/// In a crowd not every behaviour of every member is left out: the first few users of a preset represent the others.
constexpr int enough_of_a_preset = 4;

}  // namespace

void check_variations(const std::function<Scene(double)>& make, const Played& played, const CheckOptions& options,
                      Plays& plays, Findings& to) {
  check_ticks(make, played, options, plays, to);
  std::map<std::string, int> of_presets;
  for (std::size_t object = 0; object < played.objects.size(); ++object) {
    if (!played.scene.alive(played.objects[object])) continue;
    const std::size_t stacked = played.scene.behaviours(played.objects[object]).size();
    for (std::size_t number = 0; stacked > 1 && number < stacked; ++number) {
      if (waits_for_something(played.scene, played.scene.behaviours(played.objects[object])[number])) continue;
      const std::string preset = played.scene.preset_path(played.scene.behaviours(played.objects[object])[number]);
      if (!preset.empty() && ++of_presets[preset] > enough_of_a_preset) continue;
      check_without(make, played, object, number, plays, to);
    }
  }
}

}  // namespace hushed::detail
