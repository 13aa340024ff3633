// SPDX-License-Identifier: MIT
#pragma once

#include <chrono>
#include <cstdint>
#include <ratio>

#include <hushed/detail/export.hpp>

namespace hushed HUSHED_API {

/// A time, counted in 1/705 600 000 s: a frame at 24, 25, 30, 48, 50, 60, 90, 100, 120, 144 or 240 per
/// second is a whole number of them, so that nothing accumulates a rounded step. Milliseconds and
/// seconds of `std::chrono` convert to it exactly (`500ms`).
using Time = std::chrono::duration<std::int64_t, std::ratio<1, 705'600'000>>;

/// The number of units of `Time` in a second.
inline constexpr std::int64_t units_per_second = Time::period::den;

/// A number of seconds as a time, rounded to the nearest unit; held at one thousand million seconds
/// either way, and 0 for what is not a number.
Time seconds(double value);

/// The double nearest to the time in seconds.
double in_seconds(Time time);

/// The exact time of frame `number` at `per_second` frames per second, rounded to the unit.
/// `per_second` is in (0, 1e6], `number` at least 0 and at most 1e12.
Time frame_time(std::int64_t number, double per_second);

}  // namespace hushed
