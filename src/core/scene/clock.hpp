// SPDX-License-Identifier: MIT
#pragma once

// The time of a scene and the times of its ticks.

#include <cmath>
#include <cstdint>

#include <hushed/error.hpp>
#include <hushed/time.hpp>
#include <hushed/value.hpp>

namespace hushed::detail {

/// The greatest time of a scene.
inline constexpr Time latest = std::chrono::seconds{1'000'000'000};

/// Tick n is at n / `tick_rate` seconds, rounded to a unit of `Time`.
struct SceneClock {
  /// `rate`: ticks a second, 1 to 10 000. Throws `BadValue`.
  explicit SceneClock(double rate) : tick_rate{rate} {
    if (!(rate >= 1.0 && rate <= 10'000.0))
      throw BadValue{"tick rate " + as_text(rate) +
                     " is out of range; give a number from 1 to 10000 (ticks per second)."};
  }

  Time now = {};
  double tick_rate;
  double rounding = 0.0;  ///< units of `Time`: rounding error of `now`, -0.5 to 0.5

  /// The number of the last tick at or before a time.
  std::int64_t ticks_until(Time time) const {
    auto number = static_cast<std::int64_t>(std::floor(in_seconds(time) * tick_rate));
    while (frame_time(number + 1, tick_rate) <= time) ++number;
    while (number > 0 && frame_time(number, tick_rate) > time) --number;
    return number;
  }
  /// The time of the first tick after a time; 0 for a negative one.
  Time tick_after(Time time) const { return time < Time{0} ? Time{0} : frame_time(ticks_until(time) + 1, tick_rate); }
  /// Rounds a step of `step` plus `rest` units to whole units. The rounding error is carried over to the next step.
  Time rounded_step(Time step, double rest) {
    const double wanted = rest + rounding;
    const double whole = std::floor(wanted + 0.5);
    rounding = wanted - whole;
    return step + Time{static_cast<std::int64_t>(whole)};
  }
};

}  // namespace hushed::detail
