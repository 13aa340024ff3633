// SPDX-License-Identifier: MIT
// Easings: any text is refused, or is an easing that begins at 0, ends at 1 and is finite in between.

#include <cmath>
#include <cstdlib>

#include <hushed/easing.hpp>
#include <hushed/error.hpp>

#include "fuzz.hpp"

extern "C" int LLVMFuzzerTestOneInput(const std::uint8_t* data, std::size_t size) {
  using namespace hushed;
  if (size > 512) return 0;
  try {
    const Easing easing = Easing::parse(fuzz::text_of(data, size));
    for (int i = -2; i <= 34; ++i)
      if (!std::isfinite(easing(i / 32.0))) std::abort();
  } catch (const Error&) {
  }
  return 0;
}
