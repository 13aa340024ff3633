// SPDX-License-Identifier: MIT
#pragma once

// What an agent wants: each of its urges wants a velocity, or nothing, and it wants what they want together.

#include <cstdint>
#include <memory>
#include <vector>

#include <hushed/behaviour/steer.hpp>
#include <hushed/urge_share.hpp>

#include "lanes/geometry.hpp"

namespace hushed::detail {

/// What agents with the same values have in common.
struct SteeringParams {
  SteeringParams(const Steer& steer, double rate);
  bool are(const Steer& steer, double rate) const;

  std::vector<Urge> urges;
  bool planar;
  double tick_rate;
  bool has_even_ticks;               ///< each tick takes a whole number of time units, and so all take the same
  std::vector<std::size_t> answers;  ///< which of what is sensed, to each urge in turn that goes by neighbours
  std::size_t tracked_count = 0;     ///< how many pursue or evade
};

/// The params of an agent. All agents with equal values get one object, so that a flock reads one. May be called from
/// any thread.
std::shared_ptr<const SteeringParams> shared_params(const Steer& steer, double tick_rate);

/// Of several urges that look about for the same neighbours, the first asks for all.
std::vector<NeighbourQuery> neighbour_queries_of(const std::vector<Urge>& urges, bool planar);

/// What an agent decides by, in a line of the caches.
struct alignas(64) AgentState {
  const SteeringParams* params = nullptr;
  std::uint64_t number = 0;         ///< of its name
  VecOf<double> wander_point = {};  ///< the point of its wandering, on the unit sphere
  Time decided = never;             ///< when it last decided what it wants
  std::uint32_t behaviour = 0, object = 0;

  static constexpr Time never = Time::min();
};

/// Where one that it pursues or evades was last, and how fast that went.
struct TrackedTarget {
  VecOf<double> place = {}, velocity = {};
  bool is_known = false;
};
/// ObjectOrTag they pursue and evade is the same.
bool track_same_targets(const std::vector<Urge>& a, const std::vector<Urge>& b);

/// What an agent is at a tick.
struct AgentMotion {
  VecOf<double> place, velocity;
  QuatOf<double> facing;
  double max_speed, max_acceleration;
};

/// Where it is, and what it can see.
struct Surroundings {
  const Pose& parent;
  Time now;
  const SceneQuery& query;
};

/// Wandering begins the way it faces.
void start_wander(AgentState& agent, const Quat& facing);

/// The velocity that it wants from this tick to the next. It remembers whom it meets in `tracked_targets`, one each.
VecOf<double> decide(const AgentMotion& body, AgentState& agent, TrackedTarget* tracked_targets,
                     const Surroundings& surroundings);

/// What `decide` would want, urge by urge. Wandering stays where it is, as if it had just been decided.
std::vector<UrgeShare> shares(const AgentMotion& body, AgentState agent, const TrackedTarget* tracked_targets,
                              const Surroundings& surroundings);

}  // namespace hushed::detail
