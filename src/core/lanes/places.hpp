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
      in_lanes<spread>(*common.block, common.lane, to);
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
  /// Writes the position of one pose to all lanes.
  static void spread(const PoseBlock& from, int from_lane, Row (&to)[3]) {
    const auto position = load<double>(from.position, from_lane);
    for_each_lane([&](int lane) { store(to, lane, VecOf<Real>{position.x, position.y, position.z}); });
  }
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

/// Places that are objects, or points at an offset from them, of eight behaviours.
class MovingPlaces {
 public:
  void set(int lane, const Place& place, std::uint32_t behaviour) {
    objects_.set(lane, place.target.object, behaviour);
    store(offset_, lane, numbers(place.point));
    const bool turns = place.offset_space == Space::target;
    turns_.at[lane] = turns ? 1.0 : 0.0;
    some_turn_ = some_turn_ || turns;
  }
  /// The objects alone.
  TargetLanes& objects() { return objects_; }

  /// The points in the space of `frame`, as `where_is` finds them, of active lanes.
  void gather(const EvalContext& context, const PoseBlock& frame, Row (&to)[3]) {
    if (some_turn_) {
      PoseBlock targets{};
      objects_.gather(context, targets);
      in_lanes<find_turned>(targets, offset_, turns_, frame, to);
    } else {
      Row targets[3] = {};
      objects_.gather_positions(context, targets);
      in_lanes<find_beside>(targets, offset_, frame, to);
    }
  }

 private:
  static void find_beside(const Row (&target)[3], const Row (&offset)[3], const PoseBlock& frame, Row (&to)[3]) {
    for_each_lane([&](int lane) {
      const VecOf<Real> point = load<Real>(target, lane) + load<Real>(offset, lane);
      store(to, lane, brought_into(load<Real>(frame, lane), point));
    });
  }
  static void find_turned(const PoseBlock& target, const Row (&offset)[3], const Row& turns, const PoseBlock& frame,
                          Row (&to)[3]) {
    for_each_lane([&](int lane) {
      const PoseOf<Real> pose = load<Real>(target, lane);
      const VecOf<Real> still = load<Real>(offset, lane), turned = rotate(pose.rotation, still);
      const auto does_turn = load<Real>(turns, lane) > 0.0;
      const VecOf<Real> arm{select(does_turn, turned.x, still.x), select(does_turn, turned.y, still.y),
                            select(does_turn, turned.z, still.z)};
      store(to, lane, brought_into(load<Real>(frame, lane), pose.position + arm));
    });
  }

  TargetLanes objects_;
  Row offset_[3];
  Row turns_;  ///< 1 where the offset turns with the object, otherwise 0
  bool some_turn_ = false;
};

}  // namespace hushed::detail
