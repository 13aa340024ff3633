#pragma once

// What an agent wants: each of its urges wants a velocity, or nothing, and it wants what they want together.

#include <cstdint>
#include <memory>
#include <vector>

#include <hushed/behaviour/steer.hpp>
#include <hushed/urge_share.hpp>

#include "lanes/geometry.hpp"

namespace hushed::inside {

/// What agents with the same values have in common.
struct Wishes {
  Wishes(const Steer& steer, double rate);
  bool are(const Steer& steer, double rate) const;

  std::vector<Urge> urges;
  bool planar;
  double tick_rate;
  bool has_even_ticks;               ///< each tick takes a whole number of time units, and so all take the same
  std::vector<std::size_t> answers;  ///< which of what is sensed, to each urge in turn that goes by neighbours
  std::size_t meetings = 0;          ///< how many pursue or evade
};

/// The wishes of an agent. All agents with equal values get one object, so that a flock reads one. May be called from
/// any thread.
std::shared_ptr<const Wishes> shared_wishes(const Steer& steer, double tick_rate);

/// Of several urges that look about for the same neighbours, the first asks for all.
std::vector<Sense> senses_of(const std::vector<Urge>& urges, bool planar);

/// What an agent decides by, in a line of the caches.
struct alignas(64) Mind {
  const Wishes* wishes = nullptr;
  std::uint64_t number = 0;     ///< of its name
  VecOf<double> straying = {};  ///< the point of its wandering, on the unit sphere
  Time decided = never;         ///< when it last decided what it wants
  std::uint32_t behaviour = 0, object = 0;

  static constexpr Time never = Time::min();
};

/// Where one that it pursues or evades was last, and how fast that went.
struct Sighting {
  VecOf<double> place = {}, velocity = {};
  bool is_known = false;
};
/// Whom they pursue and evade is the same.
bool meet_the_same(const std::vector<Urge>& a, const std::vector<Urge>& b);

/// What an agent is at a tick.
struct Body {
  VecOf<double> place, velocity;
  QuatOf<double> facing;
  double max_speed, max_acceleration;
};

/// Where it is, and what it can see.
struct Around {
  const Pose& parent;
  Time now;
  const Sight& sight;
};

/// Wandering begins the way it faces.
void face_at_first(Mind& mind, const Quat& facing);

/// The velocity that it wants from this tick to the next. It remembers whom it meets in `sightings`, one each.
VecOf<double> decide(const Body& body, Mind& mind, Sighting* sightings, const Around& around);

/// What `decide` would want, urge by urge. Wandering stays where it is, as if it had just been decided.
std::vector<UrgeShare> shares(const Body& body, Mind mind, const Sighting* sightings, const Around& around);

}  // namespace hushed::inside
