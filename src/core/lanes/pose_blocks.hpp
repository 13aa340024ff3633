// SPDX-License-Identifier: MIT
#pragma once

// Operations on eight poses.

#include <hushed/detail/eval_context.hpp>

namespace hushed {
struct MatrixLayout;
enum class MatrixOrder;
}  // namespace hushed

namespace hushed::detail {

/// Converts poses from the space of `frame` to that in which `frame` is given: its parent's, or the world's.
void into_world(const PoseBlock& frame, PoseBlock& poses);
/// As `into_world`, without the scales: these are in the world already.
void place_in_world(const PoseBlock& frame, PoseBlock& poses);
/// Converts poses to the space of `frame`: the inverse of `into_world`.
void out_of_world(const PoseBlock& frame, PoseBlock& poses);
/// Copies all parts but `parts` (see `part`) from `in` to `poses`.
void restore_other_parts(unsigned parts, const PoseBlock& in, PoseBlock& poses);

/// Where the axes of an engine come from: its axis i is `sign[i]` times the scene's axis `from[i]`.
struct AxisMap {
  int from[3];
  double sign[3];
  double turn_sign[3];  ///< of the vector part of a rotation
  double origin[3];     ///< m: the point of the scene that becomes 0

  bool is_identity() const {
    return from[1] == 1 && sign[2] > 0.0 && origin[0] == 0.0 && origin[1] == 0.0 && origin[2] == 0.0;
  }
};
AxisMap axis_map(const MatrixLayout& layout);

/// Writes the matrices that scale, rotate and move as the first `count` poses do, 16 numbers each.
void write_matrices(const PoseBlock& poses, int count, const AxisMap& map, MatrixOrder order, float* to);
void write_matrices(const PoseBlock& poses, int count, const AxisMap& map, MatrixOrder order, double* to);

}  // namespace hushed::detail
