// SPDX-License-Identifier: MIT
#pragma once

// Operations on eight poses.

#include <hushed/detail/eval_context.hpp>

namespace hushed::detail {

/// Converts poses from the space of `frame` to that in which `frame` is given: its parent's, or the world's.
void into_world(const PoseBlock& frame, PoseBlock& poses);
/// As `into_world`, without the scales: these are in the world already.
void place_in_world(const PoseBlock& frame, PoseBlock& poses);
/// Converts poses to the space of `frame`: the inverse of `into_world`.
void out_of_world(const PoseBlock& frame, PoseBlock& poses);
/// Copies all parts but `parts` (see `part`) from `in` to `poses`.
void restore_other_parts(unsigned parts, const PoseBlock& in, PoseBlock& poses);

/// Eight matrices of 4 by 4 floats, column by column.
struct Matrices {
  float of[lanes][16];
};
/// The matrices that scale, rotate and move as the poses do.
void find_matrices(const PoseBlock& poses, Matrices& to);

}  // namespace hushed::detail
