// SPDX-License-Identifier: MIT
#pragma once

// The arguments of kernels, without Eigen. Part of the interface between the library and behaviours that users write;
// programs do not use it directly.

#include <hushed/detail/block.hpp>
#include <hushed/detail/export.hpp>
#include <hushed/time.hpp>

namespace hushed HUSHED_API {
namespace detail {

class SceneQuery;

/// A behaviour's own time as whole seconds and the rest, so that its precision does not depend on its size.
struct OwnTime {
  double whole = 0.0;
  double rest = 0.0;  ///< in [0, 1)
  double seconds() const { return whole + rest; }
};

/// What an evaluation does to state.
enum class Remember {
  nothing,        ///< a frame: evaluates a partial step and discards it
  tick,           ///< advances it to this tick
  now,            ///< a change between ticks: advances it to this moment; not for behaviours of users
  standing_still  ///< as `now`, of a behaviour that has not moved since its state was last advanced
};

/// The arguments of the evaluation of eight behaviours.
struct EvalContext {
  Time time;  ///< of the objects: the scene's, at their pace
  Time scene_time;
  const Row* whole;         ///< own times: whole seconds
  const Row* rest;          ///< own times: the rest
  const PoseBlock* parent;  ///< as inherited
  bool in_world;            ///< without a parent: its space is that of the world
  unsigned active;          ///< one bit a lane: started and not frozen, or unused
  unsigned used;            ///< one bit a lane: it has a behaviour. Unused lanes repeat the first one
  Remember remember;
  bool may_rest;        ///< a tick at which a motion that is nearly at rest may be put to rest
  bool emit_events;     ///< emit the events since the last evaluation that emitted
  double step;          ///< s of the objects' time since the last committed tick
  double step_units;    ///< `step` in time units
  double to_next_tick;  ///< s of the objects' time until the next tick
  const SceneQuery* query;

  bool is_active(int lane) const { return ((active & used) >> lane & 1U) != 0; }
};

}  // namespace detail
}  // namespace hushed
