// SPDX-License-Identifier: MIT
#pragma once

// Exponential smoothing of poses toward a goal: x' = ln 2 / half_life * (g - x), solved exactly for a goal that moves
// from its value at the last advance of the state to its present value on a straight line at constant speed:
//
//     x1 = g1 + (x0 - g0) 2^-n - (g1 - g0) (1 - 2^-n) / (n ln 2),   n = step / half_life.
//
// A rotation is smoothed as the shortest rotation vector from the new goal to it, while that of the old goal goes to 0.

#include <hushed/detail/constants.hpp>
#include <hushed/detail/kind.hpp>

#include "archived_time.hpp"
#include "lanes/geometry.hpp"
#include "lanes/memory.hpp"

namespace hushed::detail {

/// The state of one behaviour, in its store.
struct PoseMemory {
  Pose pose, goal;
  Time until = {};  ///< the time to which it was last advanced

  void archive(Archive& archive) {
    archive(pose, goal);
    archive_times(archive, until);
  }
};

/// The two factors of a step, 2^-n and (1 - 2^-n) / (n ln 2), for one part of eight poses.
class ExponentialSmoothing {
 public:
  /// `half_life` in s. `at_once`: with a half-life of 0, the value is at its goal even where the step is 0.
  void set(int lane, double half_life, bool at_once = true);

  struct Factors {
    Row remaining, lag;
    Row at_once;  ///< 1, or 0
  };
  const Factors& factors(const Steps& steps, const EvalContext& context, Factors& passing);
  /// Those of the last tick, where it was as long as that; otherwise nullptr.
  const Factors* valid_for(double step) const { return per_step_.valid_for(step); }

 private:
  PerStep<Factors> per_step_;
  Row rate_{};     ///< 1 / half_life
  Row at_once_{};  ///< 1 where the half-life is 0
};

/// The state of eight behaviours, in their block.
struct PoseMemories {
  PoseBlock pose, goal;
  Advanced advanced;

  void fill(int lane, const PoseMemory& from);
  void collect(int lane, PoseMemory& to) const;
  /// Stores these parts of the output as state, if the evaluation advances state. Values extremely near to their goal
  /// are put onto it, in the output too.
  void remember(const EvalContext& context, unsigned parts, PoseBlock& pose, const PoseBlock& goal) {
    remember(context, parts, pose, parts, goal);
  }
  void remember(const EvalContext& context, unsigned parts, PoseBlock& pose, unsigned goal_parts,
                const PoseBlock& goal);
};

/// The state of eight behaviours that change positions only: a third of the memory.
struct PositionMemories {
  Row pose[3], goal[3];
  Advanced advanced;

  void fill(int lane, const PoseMemory& from);
  void collect(int lane, PoseMemory& to) const;
  /// As `PoseMemories::remember`.
  void remember(const EvalContext& context, Row (&position)[3], const Row (&new_goal)[3]);
  /// The factors of a tick as long as the last, by which all eight are advanced, and none is put to rest; otherwise
  /// nullptr.
  const ExponentialSmoothing::Factors* factors_of_tick(const ExponentialSmoothing& smoothing,
                                                       const EvalContext& context) const {
    const auto step = advanced.common_step(context, 1);
    return step > 0.0 && !context.may_rest ? smoothing.valid_for(*step) : nullptr;
  }
};

/// The state of eight behaviours that change rotations only.
struct RotationMemories {
  Row pose[4], goal[4];
  Advanced advanced;

  void fill(int lane, const PoseMemory& from);
  void collect(int lane, PoseMemory& to) const;
  /// Stores the rotations as state, if the evaluation advances state.
  void remember(const EvalContext& context, const Row (&rotation)[4], const Row (&new_goal)[4]);
};

/// x1 as defined at the top of this file, of numbers or vectors.
template <class T, class R>
T smoothed(const T& from, const T& old_goal, const T& goal, R remaining, R lag) {
  return goal + ((from - old_goal) * remaining - (goal - old_goal) * lag);
}

/// Smooths position or scale, each axis by itself. Lanes whose step is 0 do not change.
void smooth_toward(const ExponentialSmoothing::Factors& factors, const Steps& steps, const Row (&from)[3],
                   const Row (&old_goal)[3], const Row (&goal)[3], Row (&to)[3]);
void smooth_toward(const ExponentialSmoothing::Factors& factors, const Steps& steps, const Row (&from)[4],
                   const Row (&old_goal)[4], const Row (&goal)[4], Row (&to)[4]);

/// Puts values that are extremely near to a resting goal onto it. Otherwise the difference would become subnormal,
/// which is slow.
void rest(const Row (&old_goal)[3], const Row (&goal)[3], Row (&x)[3]);

/// Rotations as shortest rotation vectors from a goal: the present rotation, and the previous goal.
struct TurnsLeft {
  Row away[3], moved[3];
};
/// The shortest direction is determined at the beginning of a step, so that it does not change within the step while
/// the goal passes through the opposite direction.
void turns_from_goal(const Row (&from)[4], const Row (&old_goal)[4], const Row (&goal)[4], TurnsLeft& to);
/// Converts back to rotations. Lanes whose `moves` is 0 keep the previous rotation.
void turn_from_goal(const Row& moves, const Row (&before)[4], const Row (&goal)[4], const Row (&away)[3], Row (&to)[4]);

inline bool is_nearly_half_a_turn(const VecOf<double>& way) { return squared_length(way) > 6.0; }
/// A rotation vector of nearly half a turn, or the opposite one if that is nearer to the direction of the last step.
template <class R>
VecOf<R> way_begun(const VecOf<R>& way, const VecOf<R>& begun) {
  const VecOf<R> other = way * (1.0 - two_pi / square_root(squared_length(way)));
  const auto is_other = squared_length(other - begun) < squared_length(way - begun);
  return {select(is_other, other.x, way.x), select(is_other, other.y, way.y), select(is_other, other.z, way.z)};
}

}  // namespace hushed::detail
