// SPDX-License-Identifier: MIT
// What a change of one number does to a motion: the scene is played before and after, compared, and checked.

#include <cstdio>

#include <hushed/check.hpp>
#include <hushed/compare.hpp>
#include <hushed/hushed.hpp>
#include <hushed/recording.hpp>

using namespace hushed;

/// A crane's trolley, and a hook that swings behind it.
Scene crane(double damping, double tick_rate = 120.0) {
  Scene harbour{tick_rate};
  const Object trolley = harbour.add({.name = "trolley", .rest = at(0, 10, 0)});
  harbour.give(
      trolley,
      Glide{.by = {{.position = Vec3{8, 0, 0}}}, .duration = seconds(4), .easing = Easing::parse("in-out-sine")});
  const Object hook = harbour.add({.name = "hook", .parent = trolley, .rest = at(0, -6, 0)});
  harbour.give(hook, Spring{.frequency = 0.4, .damping = damping, .space = Space::world});
  return harbour;
}

int main() {
  Scene before = crane(0.02), after = crane(0.3);
  const Comparison found = compare(record(before, FrameTimes{60.0}, 600), record(after, FrameTimes{60.0}, 600));
  for (const Difference& each : found.differences)
    if (each.largest > 0.0)
      std::printf("the %s is up to %.1f m elsewhere, at %.1f s; typically %.1f m\n", each.object.c_str(), each.largest,
                  in_seconds(each.at), each.typical);

  for (const double damping : {0.02, 0.3}) {
    const auto findings = check([&](double ticks) { return crane(damping, 120.0 * ticks); });
    std::printf("with a damping of %.2f: %s\n", damping, findings.empty() ? "nothing found" : findings[0].text.c_str());
  }
}

// Prints:
// the hook is up to 1.2 m elsewhere, at 2.4 s; typically 0.1 m
// with a damping of 0.02: hook.spring rings for 77.6 s after a push
// with a damping of 0.30: nothing found
