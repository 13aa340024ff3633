// SPDX-License-Identifier: MIT
#pragma once

// The loop over the lanes of a block, and the instructions with which kernels are called.
//
// A kernel is a function that loops over lanes:
//
//     void drift(const TravelBlock& axis, Row& position, const EvalContext& context) {
//       for_each_lane([&](int lane) { store(position, lane, ...); });
//     }
//
// `in_lanes<drift>(axis, position, context)` calls it, compiled for the widest instructions that are in use. The
// compiler makes vector instructions of the loop. None of them fuses multiplication and addition, so that all give the
// same bits.

#include <utility>

#include "lanes/real.hpp"

namespace hushed::detail {

using Real = double;  ///< the type with which kernels are compiled

/// Calls `kernel` for each lane. The calls are independent of each other.
template <class Kernel>
inline void for_each_lane(Kernel&& kernel) {
#if defined(__clang__)
#pragma clang loop vectorize(assume_safety)
#elif defined(__GNUC__)
#pragma GCC ivdep
#endif
  for (int lane = 0; lane < lanes; lane += width<Real>) kernel(lane);
}

/// Vector instructions, by the number of lanes that they compute at once.
enum class Instructions : unsigned char { of_two, of_four, of_eight };

/// Those in use: the widest that the machine has, or narrower ones where the environment variable HUSHED_LANES is 2, 4
/// or 8. Before the start of `main`, those of two.
extern const Instructions instructions;

#if defined(__x86_64__) && defined(__GNUC__)
#define HUSHED_TARGET(features) target(features),
#else  // the instructions that the compiler's options name, and no others
#define HUSHED_TARGET(features)
#endif

/// A kernel with all that it calls, compiled for each sort of instructions.
template <auto kernel, class Type = decltype(kernel)>
struct Compiled;
template <auto kernel, class... Arguments>
struct Compiled<kernel, void (*)(Arguments...)> {
  __attribute__((flatten)) static void of_two(Arguments... with) { kernel(std::forward<Arguments>(with)...); }
  __attribute__((HUSHED_TARGET("avx2") flatten)) static void of_four(Arguments... with) {
    kernel(std::forward<Arguments>(with)...);
  }
  __attribute__((HUSHED_TARGET("avx512f") flatten)) static void of_eight(Arguments... with) {
    kernel(std::forward<Arguments>(with)...);
  }
  static constexpr void (*all[])(Arguments...) = {of_two, of_four, of_eight};
};
/// A member function is called with the object first.
template <auto kernel, class Object, class... Arguments>
void call_member(Object& object, Arguments... with) {
  (object.*kernel)(std::forward<Arguments>(with)...);
}
template <auto kernel, class Object, class... Arguments>
struct Compiled<kernel, void (Object::*)(Arguments...)> : Compiled<&call_member<kernel, Object, Arguments...>> {};

template <auto kernel, class... Arguments>
inline void in_lanes(Arguments&&... with) {
  Compiled<kernel>::all[static_cast<unsigned char>(instructions)](std::forward<Arguments>(with)...);
}

/// True where every lane of a row of ones and zeros is 1.
inline bool all_hold(const Row& row) {
  std::uint64_t common = ~std::uint64_t{0};
  for (int lane = 0; lane < lanes; ++lane) common &= std::bit_cast<std::uint64_t>(row.at[lane]);
  return common != 0;
}

}  // namespace hushed::detail
