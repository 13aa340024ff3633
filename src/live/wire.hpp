// SPDX-License-Identifier: MIT
#pragma once

// What is sent as bytes: frames, and stretches of them. docs/reference/live.md says how they lie.

#include <cstdint>
#include <span>
#include <string>
#include <vector>

#include <hushed/play_mode.hpp>

namespace hushed::detail {

/// The frame that is current, and the numbers of the one before.
std::string frame_bytes(const PlayMode& mode);

/// Which of the kept frames, and of which objects.
struct Stretch {
  std::uint32_t ask;  ///< the number of the question, which the answer carries
  std::vector<std::size_t> objects;
  std::int64_t first, last, stride;
};

/// Times, numbers of the watches and poses, frame by frame.
std::string past_bytes(const PlayMode& mode, const Stretch& stretch);
/// Times and poses, frame by frame, of what comes next.
std::string ahead_bytes(const Recording& ahead, const Stretch& stretch);

}  // namespace hushed::detail
