// SPDX-License-Identifier: MIT
#pragma once

// The loop over the lanes of a block. Its iterations are independent, which the compiler is told where possible, so
// that it vectorises them. The explicit vectors of every instruction set come in here, by calling the same kernel with
// a wider R.

#include "lanes/real.hpp"

namespace hushed::detail {

using Real = double;  ///< what the kernels are compiled for

// A function that loops over lanes takes in all it calls, is compiled twice, and the wider instructions are taken where
// the machine has them. Neither fuses a multiplication with an addition, so the bits are the same. (The sanitizers are
// not up when such a choice is made, at the start of a program.)
#if defined(__x86_64__) && !defined(__SANITIZE_ADDRESS__) && !defined(__clang__)
#define HUSHED_KERNEL __attribute__((flatten, target_clones("avx2", "default")))
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
