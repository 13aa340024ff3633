// SPDX-License-Identifier: MIT
#pragma once

// Times within which all times of a scene and of its objects lie, so that no difference of two overflows.

#include <cstdint>

#include <hushed/archive.hpp>
#include <hushed/error.hpp>
#include <hushed/time.hpp>

namespace hushed::detail {

/// About 180 years. The time of an object with a fast pace ends there.
inline constexpr Time furthest_time = Time{std::int64_t{4'000'000'000'000'000'000}};

[[noreturn]] inline void refuse_damaged_bytes() {
  throw BadValue{"the bytes are damaged, or were not written by this version; give those of Snapshot::to_bytes."};
}

/// Writes times, or reads them. Throws `BadValue` for one that is further away than a scene's can be.
template <class... Times>
void archive_times(Archive& archive, Times&... times) {
  archive(times...);
  if (((times > furthest_time || times < -furthest_time) || ...)) refuse_damaged_bytes();
}

}  // namespace hushed::detail
