// SPDX-License-Identifier: MIT
#pragma once

// The loop over the lanes of a block. Its iterations are independent, and a pragma tells the compiler so where
// possible, so that it vectorises them. Explicit vectors belong here too: the kernel is called with a wider R.

#include "lanes/real.hpp"

namespace hushed::detail {

using Real = double;  ///< the type with which kernels are compiled

// A function that loops over lanes inlines all its calls and is compiled three times; the version with the widest
// instructions that the machine has is used. None fuses multiplication and addition, so all give the same bits. (Not
// with sanitizers, which are not initialised when the version is chosen at the start of a program.)
#if defined(__x86_64__) && !defined(__SANITIZE_ADDRESS__) && !defined(__clang__)
#define HUSHED_KERNEL __attribute__((flatten, target_clones("avx512f", "avx2", "default")))
#else
#define HUSHED_KERNEL __attribute__((flatten))
#endif

template <class Kernel>
inline void for_each_lane(Kernel&& kernel) {
#if defined(__GNUC__) && !defined(__clang__)
#pragma GCC ivdep
#endif
  for (int lane = 0; lane < lanes; lane += width<Real>) kernel(lane);
}

/// True where every lane of a row of ones and zeros is 1.
inline bool all_hold(const Row& row) {
  std::uint64_t common = ~std::uint64_t{0};
  for (int lane = 0; lane < lanes; ++lane) common &= std::bit_cast<std::uint64_t>(row.at[lane]);
  return common != 0;
}

}  // namespace hushed::detail
