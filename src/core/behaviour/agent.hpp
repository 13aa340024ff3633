// SPDX-License-Identifier: MIT
#pragma once

// The decision of an agent: each urge wants a velocity, or nothing; the agent wants their weighted mean.

#include <cstdint>
#include <memory>
#include <vector>

#include <hushed/behaviour/steer.hpp>
#include <hushed/detail/kind.hpp>
#include <hushed/urge_share.hpp>

#include "lanes/geometry.hpp"

namespace hushed::detail {

/// Values of a `Steer` in the form that decisions use. Agents with equal values share one object.
struct SteeringParams {
  SteeringParams(const Steer& steer, double rate);
  bool are(const Steer& steer, double rate) const;

  std::vector<Urge> urges;
  bool planar;
  double tick_rate;
  bool has_even_ticks;               ///< each tick is a whole number of time units, and so all are equally long
  std::vector<std::size_t> answers;  ///< for each urge that needs neighbours, in order: the index of its neighbour sums
  std::size_t tracked_count = 0;     ///< how many urges pursue or evade
};

/// Returns the shared parameters for these values, so that a whole flock reads one object. May be called from any
/// thread.
std::shared_ptr<const SteeringParams> shared_params(const Steer& steer, double tick_rate);

/// The neighbour queries of all urges, without duplicates.
std::vector<NeighbourQuery> neighbour_queries_of(const std::vector<Urge>& urges, bool planar);

/// The state that a decision needs, in one cache line.
struct alignas(64) AgentState {
  const SteeringParams* params = nullptr;
  std::uint64_t number = 0;         ///< of its name
  VecOf<double> wander_point = {};  ///< of `urge::Wander`: a point on the unit sphere
  Time decided = never;             ///< the tick of the last decision
  std::uint32_t behaviour = 0, object = 0;

  static constexpr Time never = Time::min();
};

/// Position and velocity of a pursued or evaded target at the last decision.
struct TrackedTarget {
  VecOf<double> place = {}, velocity = {};
  bool is_known = false;

  void archive(Archive& archive) { archive(place.x, place.y, place.z, velocity.x, velocity.y, velocity.z, is_known); }
};
/// True where both lists pursue and evade the same targets in the same order.
bool track_same_targets(const std::vector<Urge>& a, const std::vector<Urge>& b);

/// Position, velocity and limits of an agent at a tick.
struct AgentMotion {
  VecOf<double> place, velocity;
  QuatOf<double> facing;
  double max_speed, max_acceleration;
};

/// What a decision reads from outside the agent.
struct Surroundings {
  const Pose& parent;
  Time now;
  const SceneQuery& query;
  bool knows_others = true;  ///< the neighbours and obstacles of the last tick
};

/// Points the wandering in the direction that the agent faces.
void start_wander(AgentState& agent, const Quat& facing);

/// Returns the wanted velocity (m/s) from this tick to the next, and updates `tracked_targets`, one for each urge that
/// pursues or evades.
VecOf<double> decide(const AgentMotion& body, AgentState& agent, TrackedTarget* tracked_targets,
                     const Surroundings& surroundings);

/// Returns what each urge would want in `decide`. Changes no state; the wander point is the present one.
std::vector<UrgeShare> shares(const AgentMotion& body, const AgentState& agent, const TrackedTarget* tracked_targets,
                              const Surroundings& surroundings);

}  // namespace hushed::detail
