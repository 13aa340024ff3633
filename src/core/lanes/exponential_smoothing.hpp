// SPDX-License-Identifier: MIT
#pragma once

// Memory of poses that follow a goal: x' = ln 2 / half_life * (g - x), solved exactly for a goal that goes from where
// it was when memory was last advanced to where it is now, in a straight line at a constant speed:
//
//     x1 = g1 + (x0 - g0) 2^-n - (g1 - g0) (1 - 2^-n) / (n ln 2),   n = step / half_life.
//
// A rotation does so as the rotation vector from the new goal to it, the shortest way, while the old goal's goes to 0.

#include <hushed/detail/kind.hpp>

#include "lanes/geometry.hpp"
#include "lanes/memory.hpp"

namespace hushed::detail {

/// The state of one behaviour, in its store.
struct PoseMemory {
  Pose pose, goal;
  Time until = {};  ///< when it was last advanced
};

/// The state of eight behaviours, in their block.
struct PoseMemories {
  PoseBlock pose, goal;
  Advanced advanced;

  void fill(int lane, const PoseMemory& from);
  void collect(int lane, PoseMemory& to) const;
  /// Keeps these parts of what has come out, if the moment is to be remembered. What is within a hair of its goal is
  /// put on it, in what is shown as well.
  void remember(const EvalContext& context, unsigned parts, PoseBlock& pose, const PoseBlock& goal) {
    remember(context, parts, pose, parts, goal);
  }
  void remember(const EvalContext& context, unsigned parts, PoseBlock& pose, unsigned goal_parts,
                const PoseBlock& goal);
  void remember_positions(const EvalContext& context, Row (&position)[3], const Row (&goal)[3]);
};

/// The two factors of a step, 2^-n and (1 - 2^-n) / (n ln 2), for one part of eight poses.
class ExponentialSmoothing {
 public:
  /// `half_life` in s. `at_once`: with 0, it is at its goal even where there is no step.
  void set(int lane, double half_life, bool at_once = true);

  struct Factors {
    Row remaining, lag;
    Row at_once;  ///< 1, or 0
  };
  const Factors& factors(const Steps& steps, const EvalContext& context, Factors& passing);

 private:
  PerStep<Factors> per_step_;
  Row rate_;     ///< 1 / half_life
  Row at_once_;  ///< 1 where the half-life is 0
};

/// Position and scale, on each axis by itself; where the step is 0 they stay.
void smooth_toward(const ExponentialSmoothing::Factors& factors, const Steps& steps, const Row (&from)[3],
                   const Row (&old_goal)[3], const Row (&goal)[3], Row (&to)[3]);
void smooth_toward(const ExponentialSmoothing::Factors& factors, const Steps& steps, const Row (&from)[4],
                   const Row (&old_goal)[4], const Row (&goal)[4], Row (&to)[4]);

/// Those within a hair of a goal that stands still are put on it: they would go on to numbers so small as to be slow.
void rest(const Row (&old_goal)[3], const Row (&goal)[3], Row (&x)[3]);

/// Rotations as rotation vectors from a goal: where they are, the shortest way, and where the goal was.
struct TurnsLeft {
  Row away[3], moved[3];
};
/// Which way is the shortest is settled where the step begins, so that it does not change within it while the goal
/// passes behind.
void turns_from_goal(const Row (&from)[4], const Row (&old_goal)[4], const Row (&goal)[4], TurnsLeft& to);
/// Back again; where `moves` is 0 it is as before.
void turn_from_goal(const Row& moves, const Row (&before)[4], const Row (&goal)[4], const Row (&away)[3], Row (&to)[4]);

inline bool is_nearly_half_a_turn(const VecOf<double>& way) { return squared_length(way) > 6.0; }
/// A way of nearly half a turn, or the one round the other side if that is nearer to the way that was begun.
VecOf<double> way_begun(const VecOf<double>& way, const VecOf<double>& begun);

/// Poses in the space of `frame` brought into the world, and back.
void into_world(const PoseBlock& frame, PoseBlock& poses);
void out_of_world(const PoseBlock& frame, PoseBlock& poses);
/// Restores all other parts of the incoming poses.
void restore_other_parts(unsigned parts, const PoseBlock& in, PoseBlock& poses);

}  // namespace hushed::detail
