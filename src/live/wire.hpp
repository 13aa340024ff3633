// SPDX-License-Identifier: MIT
#pragma once

// Binary messages: frames, and sequences of frames. docs/reference/live.md describes their layout.

#include <cstdint>
#include <span>
#include <string>
#include <vector>

#include <hushed/model.hpp>
#include <hushed/play_mode.hpp>

namespace hushed::detail {

/// The current frame, and the numbers of the watches in the frame before.
std::string frame_bytes(const PlayMode& mode);

/// A request for stored frames of some objects.
struct Stretch {
  std::uint32_t ask;  ///< the number of the request, which the answer repeats
  std::vector<std::size_t> objects;
  std::int64_t first, last, stride;
};

/// Times, numbers of the watches and poses, frame by frame.
std::string past_bytes(const PlayMode& mode, const Stretch& stretch);
/// Times and poses of the predicted future, frame by frame.
std::string ahead_bytes(const Recording& ahead, const Stretch& stretch);

/// Triangles and colours, and textures, where there is room for them in `most` bytes. `name`: sixteen letters.
std::string model_bytes(const Model& model, const std::string& name, std::size_t most);

}  // namespace hushed::detail
