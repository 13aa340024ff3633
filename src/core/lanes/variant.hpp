// SPDX-License-Identifier: MIT
#pragma once

namespace hushed::detail {

/// A field in the number of a variant: a T in `width` bits from bit `first` on.
template <class T, unsigned first, unsigned width>
struct VariantField {
  static constexpr unsigned put(T value) { return static_cast<unsigned>(value) << first; }
  static constexpr T of(unsigned variant) { return static_cast<T>(variant >> first & ((1U << width) - 1U)); }
};

}  // namespace hushed::detail
