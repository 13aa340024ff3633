// SPDX-License-Identifier: MIT
#pragma once

#include <cstdint>

#include <hushed/detail/export.hpp>

namespace hushed HUSHED_API {

/// A number that depends on a seed and a count alone, in [0, 1): the published mixing function splitmix64 (Steele,
/// Lea, Flood 2014) of seed + 0x9E3779B97F4A7C15 * (n + 1), its upper 53 bits.
double seeded_number(std::uint64_t seed, std::uint64_t n);

}  // namespace hushed
