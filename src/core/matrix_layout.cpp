// SPDX-License-Identifier: MIT
#include <hushed/matrix_layout.hpp>

#include "lanes/pose_blocks.hpp"

namespace hushed {

Pose to_engine(const Pose& pose, const MatrixLayout& layout) {
  const detail::AxisMap map = detail::axis_map(layout);
  Pose to;
  double* const turned[] = {&to.rotation.x(), &to.rotation.y(), &to.rotation.z()};
  for (int i = 0; i < 3; ++i) {
    const int from = map.from[i];
    to.position[i] = map.sign[i] * (pose.position[from] - layout.origin[from]);
    *turned[i] = map.turn_sign[i] * pose.rotation.vec()[from];
    to.scale[i] = pose.scale[from];
  }
  to.rotation.w() = pose.rotation.w();
  return to;
}

Pose from_engine(const Pose& pose, const MatrixLayout& layout) {
  const detail::AxisMap map = detail::axis_map(layout);
  Pose to;
  double* const turned[] = {&to.rotation.x(), &to.rotation.y(), &to.rotation.z()};
  for (int i = 0; i < 3; ++i) {
    const int from = map.from[i];
    to.position[from] = map.sign[i] * pose.position[i] + layout.origin[from];
    *turned[from] = map.turn_sign[i] * pose.rotation.vec()[i];
    to.scale[from] = pose.scale[i];
  }
  to.rotation.w() = pose.rotation.w();
  return to;
}

detail::AxisMap detail::axis_map(const MatrixLayout& layout) {
  const bool is_left = layout.handedness == Handedness::left;
  AxisMap map = layout.up == Up::y ? AxisMap{{0, 1, 2}, {1.0, 1.0, is_left ? -1.0 : 1.0}, {}, {}}
                                   : AxisMap{{0, 2, 1}, {1.0, is_left ? 1.0 : -1.0, 1.0}, {}, {}};
  // A mirror image turns the other way round.
  for (int i = 0; i < 3; ++i) map.turn_sign[i] = is_left ? -map.sign[i] : map.sign[i];
  for (int i = 0; i < 3; ++i) map.origin[i] = layout.origin[i];
  return map;
}

}  // namespace hushed
