// SPDX-License-Identifier: MIT
#pragma once

// Mathematical constants, each the double nearest to it.

namespace hushed::detail {

inline constexpr double pi = 3.141592653589793;
inline constexpr double two_pi = 6.283185307179586;
inline constexpr double ln_2 = 0.6931471805599453;
inline constexpr double one_over_ln_2 = 1.4426950408889634;
inline constexpr double radians_per_degree = 0.017453292519943295;
inline constexpr double degrees_per_radian = 57.29577951308232;

}  // namespace hushed::detail
