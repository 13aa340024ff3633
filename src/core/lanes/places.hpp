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
  }
  Pose of(int lane, const EvalContext& context) {
    if (!place_[lane]) place_[lane] = context.query->place_of(object_[lane], behaviour_[lane]);
    const PoseLane& place = place_[lane];
    return place ? lane_of(*place.block, place.lane) : context.query->world_of(object_[lane], behaviour_[lane]);
  }
  /// The world positions of the targets of active lanes.
  void gather_positions(const EvalContext& context, Row (&to)[3]) {
    for (int lane = 0; lane < lanes; ++lane) {
      if (!context.is_active(lane)) continue;
      if (!place_[lane]) place_[lane] = context.query->place_of(object_[lane], behaviour_[lane]);
      store(to, lane,
            place_[lane] ? load<double>(place_[lane].block->position, place_[lane].lane)
                         : numbers(context.query->world_of(object_[lane], behaviour_[lane]).position));
    }
  }
  /// The world poses of the targets of active lanes.
  void gather(const EvalContext& context, PoseBlock& to) {
    for (int lane = 0; lane < lanes; ++lane) {
      if (!context.is_active(lane)) continue;
      if (!place_[lane]) place_[lane] = context.query->place_of(object_[lane], behaviour_[lane]);
      if (const PoseLane& place = place_[lane])
        store(to, lane, load<double>(*place.block, place.lane));
      else
        set_lane(to, lane, context.query->world_of(object_[lane], behaviour_[lane]));
    }
  }

 private:
  Object object_[lanes];
  std::uint32_t behaviour_[lanes];
  PoseLane place_[lanes];  ///< its world pose in the scene, once it is known
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
