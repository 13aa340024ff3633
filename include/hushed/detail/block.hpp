// SPDX-License-Identifier: MIT
#pragma once

// Numbers and poses of eight objects, without any other header. Part of the interface between the library and
// behaviours that users write; programs do not use it directly.

#include <hushed/detail/export.hpp>

namespace hushed HUSHED_API {

struct Pose;

namespace detail {

/// Objects with the same stack go through it eight at a time.
inline constexpr int lanes = 8;
inline constexpr unsigned all_lanes = 0xFF;  ///< as bits

/// One number of each of eight objects. Its alignment is part of its type, whatever the compiler's flags.
struct alignas(64) Row {
  double at[lanes];
};

/// Eight poses.
struct PoseBlock {
  Row position[3];
  Row rotation[4];  ///< x, y, z, w
  Row scale[3];
};

/// Parts of a pose, as bits.
namespace part {
inline constexpr unsigned position = 1, rotation = 2, scale = 4, all = 7;
}

/// One of eight poses.
struct PoseLane {
  const PoseBlock* block = nullptr;
  int lane = 0;

  explicit operator bool() const { return block != nullptr; }
  bool operator==(const PoseLane&) const = default;
};

Pose lane_of(const PoseBlock& block, int lane);
void set_lane(PoseBlock& block, int lane, const Pose& pose);

}  // namespace detail
}  // namespace hushed
