// SPDX-License-Identifier: MIT
#include "lanes/loop.hpp"

#include <algorithm>
#include <cstdlib>
#include <string_view>

namespace hushed::detail {

static Instructions widest() {
#if defined(__x86_64__) && defined(__GNUC__)
  __builtin_cpu_init();
  if (__builtin_cpu_supports("avx512f")) return Instructions::of_eight;
  if (__builtin_cpu_supports("avx2")) return Instructions::of_four;
#endif
  return Instructions::of_two;
}

static Instructions chosen() {
  const char* const wanted = std::getenv("HUSHED_LANES");
  for (const auto& [word, instructions] :
       {std::pair{"2", Instructions::of_two}, {"4", Instructions::of_four}, {"8", Instructions::of_eight}})
    if (wanted && std::string_view{wanted} == word) return std::min(instructions, widest());
  return widest();
}

const Instructions instructions = chosen();

}  // namespace hushed::detail
