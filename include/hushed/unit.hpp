// SPDX-License-Identifier: MIT
#pragma once

#include <string_view>

#include <hushed/detail/export.hpp>

namespace hushed HUSHED_API {

/// The unit of a number and its range.
struct Unit {
  std::string_view symbol;
  double low = -1e9;
  double high = 1e9;
  bool is_direction = false;
};

namespace unit {
inline constexpr Unit none{""};
inline constexpr Unit direction{"", -1e9, 1e9, true};  ///< an axis by name, or any vector but zero
inline constexpr Unit share{"", 0.0, 1.0};
inline constexpr Unit metres{"m"};
inline constexpr Unit length{"m", 0.0, 1e9};  ///< not negative
inline constexpr Unit metres_per_second{"m/s"};
inline constexpr Unit speed{"m/s", 0.0, 1e9};  ///< a speed that cannot be negative
inline constexpr Unit acceleration{"m/s^2", 0.0, 1e9};
inline constexpr Unit degrees{"deg"};
inline constexpr Unit degrees_per_second{"deg/s"};
inline constexpr Unit turning_speed{"deg/s", 0.0, 1e9};
inline constexpr Unit hertz{"Hz"};
inline constexpr Unit frequency{"Hz", 0.0, 1e9};  ///< a frequency that cannot be negative
inline constexpr Unit time_rate{"", 0.0, 100.0};  ///< seconds of one time in a second of another
inline constexpr Unit signed_time_rate{"", -1000.0, 1000.0};
inline constexpr Unit ratio{"", 0.0, 1e9};
inline constexpr Unit of_channel_per_second{"m/s, deg/s or 1/s"};
inline constexpr Unit seconds{"s", 0.0, 1e6};          ///< a duration; not negative
inline constexpr Unit signed_seconds{"s", -1e6, 1e6};  ///< a period; negative runs the other way
inline constexpr Unit of_channel{"m, deg or a factor"};
}  // namespace unit

}  // namespace hushed
