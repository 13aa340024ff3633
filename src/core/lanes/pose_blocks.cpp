// SPDX-License-Identifier: MIT
#include "lanes/pose_blocks.hpp"

#include <algorithm>
#include <cstddef>

#include <hushed/matrix_layout.hpp>

#include "lanes/geometry.hpp"
#include "lanes/loop.hpp"

namespace hushed::detail {

static void compose_lanes(const PoseBlock& frame, PoseBlock& poses) {
  for_each_lane([&](int lane) { store(poses, lane, compose(load<Real>(frame, lane), load<Real>(poses, lane))); });
}

static void place_lanes(const PoseBlock& frame, PoseBlock& poses) {
  for_each_lane([&](int lane) {
    const auto outer = load<Real>(frame, lane);
    store(poses.position, lane, composed_position(outer, load<Real>(poses.position, lane)));
    store(poses.rotation, lane, near_unit(outer.rotation * load<Real>(poses.rotation, lane)));
  });
}

static void bring_lanes_into(const PoseBlock& frame, PoseBlock& poses) {
  for_each_lane([&](int lane) { store(poses, lane, brought_into(load<Real>(frame, lane), load<Real>(poses, lane))); });
}

void into_world(const PoseBlock& frame, PoseBlock& poses) { in_lanes<compose_lanes>(frame, poses); }
void place_in_world(const PoseBlock& frame, PoseBlock& poses) { in_lanes<place_lanes>(frame, poses); }
void out_of_world(const PoseBlock& frame, PoseBlock& poses) { in_lanes<bring_lanes_into>(frame, poses); }

/// The entries of a rotation matrix times the scales of its columns, row by row of lanes.
template <class Number>
static void find_entries(const PoseBlock& poses, Number (&to)[12][lanes]) {
  for_each_lane([&](int lane) {
    const auto pose = load<Real>(poses, lane);
    const auto& [x, y, z, w] = pose.rotation;
    const auto& scale = pose.scale;
    const auto put = [&](int entry, Real value) { to[entry][lane] = static_cast<Number>(value); };
    put(0, (1.0 - 2.0 * (y * y + z * z)) * scale.x);
    put(1, 2.0 * (x * y + w * z) * scale.x);
    put(2, 2.0 * (x * z - w * y) * scale.x);
    put(3, 2.0 * (x * y - w * z) * scale.y);
    put(4, (1.0 - 2.0 * (x * x + z * z)) * scale.y);
    put(5, 2.0 * (y * z + w * x) * scale.y);
    put(6, 2.0 * (x * z + w * y) * scale.z);
    put(7, 2.0 * (y * z - w * x) * scale.z);
    put(8, (1.0 - 2.0 * (x * x + y * y)) * scale.z);
    put(9, pose.position.x);
    put(10, pose.position.y);
    put(11, pose.position.z);
  });
}

static void exchange_axes(const PoseBlock& poses, const AxisMap& map, PoseBlock& to) {
  for (int i = 0; i < 3; ++i) {
    const int from = map.from[i];
    for_each_lane([&](int lane) {
      store(to.position[i], lane, map.sign[i] * (load<Real>(poses.position[from], lane) - map.origin[from]));
      store(to.rotation[i], lane, map.turn_sign[i] * load<Real>(poses.rotation[from], lane));
      store(to.scale[i], lane, load<Real>(poses.scale[from], lane));
    });
  }
  to.rotation[3] = poses.rotation[3];
}

template <class Number>
static void write(const PoseBlock& poses, int count, const AxisMap& map, MatrixOrder order, Number* to) {
  PoseBlock exchanged;
  if (!map.is_identity()) in_lanes<exchange_axes>(poses, map, exchanged);
  Number entries[12][lanes];
  in_lanes<find_entries<Number>>(map.is_identity() ? poses : exchanged, entries);
  const std::ptrdiff_t step_of_row = order == MatrixOrder::by_column ? 1 : 4, step_of_column = 5 - step_of_row;
  for (int lane = 0; lane < count; ++lane, to += 16) {
    for (int column = 0; column < 4; ++column) {
      Number* const first = to + column * step_of_column;
      for (int row = 0; row < 3; ++row) first[row * step_of_row] = entries[3 * column + row][lane];
      first[3 * step_of_row] = column == 3 ? Number{1} : Number{0};
    }
  }
}

void write_matrices(const PoseBlock& poses, int count, const AxisMap& map, MatrixOrder order, float* to) {
  write(poses, count, map, order, to);
}
void write_matrices(const PoseBlock& poses, int count, const AxisMap& map, MatrixOrder order, double* to) {
  write(poses, count, map, order, to);
}

void restore_other_parts(unsigned parts, const PoseBlock& in, PoseBlock& poses) {
  if ((parts & part::position) == 0) std::copy(in.position, in.position + 3, poses.position);
  if ((parts & part::rotation) == 0) std::copy(in.rotation, in.rotation + 4, poses.rotation);
  if ((parts & part::scale) == 0) std::copy(in.scale, in.scale + 3, poses.scale);
}

}  // namespace hushed::detail
