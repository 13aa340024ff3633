// SPDX-License-Identifier: MIT
#include "lanes/pose_blocks.hpp"

#include <algorithm>

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

void restore_other_parts(unsigned parts, const PoseBlock& in, PoseBlock& poses) {
  if ((parts & part::position) == 0) std::copy(in.position, in.position + 3, poses.position);
  if ((parts & part::rotation) == 0) std::copy(in.rotation, in.rotation + 4, poses.rotation);
  if ((parts & part::scale) == 0) std::copy(in.scale, in.scale + 3, poses.scale);
}

}  // namespace hushed::detail
