// SPDX-License-Identifier: MIT
#include <hushed/seeded.hpp>

namespace hushed {

namespace {

std::uint64_t mixed(std::uint64_t x) {
  x = (x ^ (x >> 30)) * 0xBF58476D1CE4E5B9ULL;
  x = (x ^ (x >> 27)) * 0x94D049BB133111EBULL;
  return x ^ (x >> 31);
}

}  // namespace

double seeded_number(std::uint64_t seed, std::uint64_t n) {
  return static_cast<double>(mixed(seed + 0x9E3779B97F4A7C15ULL * (n + 1)) >> 11) * 0x1p-53;
}

}  // namespace hushed
