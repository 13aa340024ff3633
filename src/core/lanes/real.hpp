// SPDX-License-Identifier: MIT
#pragma once

// The operations that a kernel may use on R, "a number in each lane". Kernels are templates over R. Here R is a double:
// one lane at a time, which is the reference. A vector of doubles has the same functions and gives the same bits. There
// is no fused multiply-add, no approximate reciprocal, and no other operation whose rounding IEEE 754 does not define.

#include <bit>
#include <cmath>
#include <cstdint>

#include <hushed/detail/block.hpp>

namespace hushed::detail {

/// The number of lanes in an R.
template <class R>
inline constexpr int width = 0;
template <>
inline constexpr int width<double> = 1;

template <class R>
R load(const Row& row, int lane);
template <>
inline double load<double>(const Row& row, int lane) {
  return row.at[lane];
}
inline void store(Row& row, int lane, double value) { row.at[lane] = value; }

inline double select(bool condition, double yes, double no) { return condition ? yes : no; }
/// `yes` where the condition is true, otherwise `no`; without a branch.
inline bool both_hold(bool a, bool b) { return (static_cast<int>(a) & static_cast<int>(b)) != 0; }
inline double absolute(double x) { return std::bit_cast<double>(std::bit_cast<std::uint64_t>(x) << 1 >> 1); }
inline double square_root(double x) { return std::sqrt(x); }
inline double smaller(double a, double b) { return a < b ? a : b; }
inline double larger(double a, double b) { return a > b ? a : b; }

/// Adding and subtracting 1.5 * 2^52 rounds to the nearest whole number. The low bits of the sum are that number in
/// two's complement. For |x| < 2^51.
inline constexpr double rounder = 6755399441055744.0;

inline double nearest(double x) { return (x + rounder) - rounder; }

/// The greatest whole number not above x. For |x| < 2^51.
inline double floor_of(double x) {
  const double near = nearest(x);
  return near - select(near > x, 1.0, 0.0);
}

/// The leading 26 bits of x, so that its product with a whole number below 2^27 is exact.
inline double leading(double x) {
  return std::bit_cast<double>(std::bit_cast<std::uint64_t>(x) & ~std::uint64_t{0x7FFFFFF});
}

}  // namespace hushed::detail
