// SPDX-License-Identifier: MIT
#include <hushed/time.hpp>

#include <cmath>

namespace hushed {

Time seconds(double value) {
  constexpr double longest = 1e9;
  if (std::isnan(value)) return Time{0};
  const double held = std::fmin(std::fmax(value, -longest), longest);
  const double whole = std::floor(held);
  const double rest = (held - whole) * static_cast<double>(units_per_second);  // both factors exact
  return Time{static_cast<std::int64_t>(whole) * units_per_second + std::llround(rest)};
}

double in_seconds(Time time) {
  // A count below 2^53 is exact as a double, so one division rounds correctly; beyond, whole seconds and the rest are
  // exact.
  constexpr std::int64_t exact = std::int64_t{1} << 53;
  const std::int64_t count = time.count();
  if (count < exact && count > -exact) return static_cast<double>(count) / static_cast<double>(units_per_second);
  const std::int64_t whole = count / units_per_second;
  return static_cast<double>(whole) +
         static_cast<double>(count % units_per_second) / static_cast<double>(units_per_second);
}

Time frame_time(std::int64_t number, double per_second) {
  const double whole_rate = std::floor(per_second);
  if (whole_rate == per_second) {
    const auto rate = static_cast<std::int64_t>(per_second);
    const std::int64_t rest = number % rate * units_per_second;
    return Time{number / rate * units_per_second + (2 * rest + rate) / (2 * rate)};
  }
  // In whole seconds and a rest, so that the count stays exact for long plays.
  const double whole = std::floor(static_cast<double>(number) / per_second);
  const double rest = (static_cast<double>(number) - whole * per_second) / per_second;
  return Time{static_cast<std::int64_t>(whole) * units_per_second +
              std::llround(rest * static_cast<double>(units_per_second))};
}

}  // namespace hushed
