// SPDX-License-Identifier: MIT
#pragma once

#include <array>
#include <cstddef>

#include <hushed/detail/export.hpp>

namespace hushed HUSHED_API {

/// One value for all three axes, or one for each: `.frequency = 0.2` or `.frequency = {0.2, 0.5, 0.2}`.
template <class T>
class PerAxis {
 public:
  constexpr PerAxis(T for_all = {}) : each_{for_all, for_all, for_all} {}
  constexpr PerAxis(T x, T y, T z) : each_{x, y, z} {}

  constexpr const T& operator[](int axis) const { return each_[static_cast<std::size_t>(axis)]; }
  constexpr T& operator[](int axis) { return each_[static_cast<std::size_t>(axis)]; }
  bool operator==(const PerAxis&) const = default;

 private:
  std::array<T, 3> each_;
};

}  // namespace hushed
