// SPDX-License-Identifier: MIT
#pragma once

// The points that `Place` values denote, in the space of an object's parent.

#include <hushed/detail/kind.hpp>
#include <hushed/place.hpp>

#include "lanes/conversions.hpp"
#include "lanes/geometry.hpp"
#include "lanes/memory.hpp"

namespace hushed::detail {

/// The point of a place in the space of `frame`. `reader` is the behaviour that reads it.
inline Vec3 where_is(const Place& place, const Pose& frame, const SceneQuery& query, std::uint32_t behaviour) {
  if (!place.moves()) return place.point;
  const Pose target = query.world_of(place.target.object, behaviour);
  const VecOf<double> point = numbers(place.point);
  const VecOf<double> offset = place.offset_space == Space::target ? rotate(numbers(target.rotation), point) : point;
  return into(frame, at(vector(numbers(target.position) + offset))).position;
}

/// The target objects of eight behaviours.
class TargetLanes {
 public:
  void set(int lane, Object object, std::uint32_t behaviour) {
    object_[lane] = object;
    behaviour_[lane] = behaviour;
    place_[lane] = {};
    common_ = {};
    are_known_ = false;
  }
  Pose of(int lane, const EvalContext& context) {
    const PoseLane place = find(lane, context);
    return place ? lane_of(*place.block, place.lane) : context.query->world_of(object_[lane], behaviour_[lane]);
  }
  /// The world positions of the targets of active lanes.
  void gather_positions(const EvalContext& context, Row (&to)[3]) {
    if (const PoseLane common = common_place(context)) {
      for (int i = 0; i < 3; ++i)
        for (double& each : to[i].at) each = common.block->position[i].at[common.lane];
      return;
    }
    for (int lane = 0; lane < lanes; ++lane) {
      if (!context.is_active(lane)) continue;
      const PoseLane place = find(lane, context);
      store(to, lane,
            place ? load<double>(place.block->position, place.lane)
                  : numbers(context.query->world_of(object_[lane], behaviour_[lane]).position));
    }
  }
  /// The world poses of the targets of active lanes.
  void gather(const EvalContext& context, PoseBlock& to) {
    for (int lane = 0; lane < lanes; ++lane) {
      if (!context.is_active(lane)) continue;
      if (const PoseLane place = find(lane, context))
        store(to, lane, load<double>(*place.block, place.lane));
      else
        set_lane(to, lane, context.query->world_of(object_[lane], behaviour_[lane]));
    }
  }

 private:
  PoseLane find(int lane, const EvalContext& context) {
    if (!place_[lane]) place_[lane] = context.query->place_of(object_[lane], behaviour_[lane]);
    return place_[lane];
  }
  /// The place that all eight have in common; none where there is no such place.
  PoseLane common_place(const EvalContext& context) {
    if (are_known_ || context.active != all_lanes) return common_;
    common_ = find(0, context);
    for (int lane = 1; lane < lanes && common_; ++lane)
      if (!(find(lane, context) == common_)) common_ = {};
    are_known_ = true;
    return common_;
  }

  Object object_[lanes];
  std::uint32_t behaviour_[lanes];
  PoseLane place_[lanes];   ///< its world pose in the scene, once it is known
  PoseLane common_;         ///< of all eight
  bool are_known_ = false;  ///< all places were compared
};

/// The places of eight behaviours.
struct PlaceLanes {
  const Place* place[lanes];
  std::uint32_t behaviour[lanes];

  void gather(const EvalContext& context, Row (&to)[3]) const {
    for (int lane = 0; lane < lanes; ++lane) {
      const Vec3 point = context.is_active(lane)
                             ? where_is(*place[lane], lane_of(*context.parent, lane), *context.query, behaviour[lane])
                             : Vec3{Vec3::Zero()};
      for (int i = 0; i < 3; ++i) to[i].at[lane] = point[i];
    }
  }
};

}  // namespace hushed::detail
