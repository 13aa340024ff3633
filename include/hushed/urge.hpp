// SPDX-License-Identifier: MIT
#pragma once

#include <memory>
#include <optional>
#include <string_view>
#include <vector>

#include <hushed/angle.hpp>
#include <hushed/box.hpp>
#include <hushed/detail/export.hpp>
#include <hushed/place.hpp>
#include <hushed/tagged.hpp>

namespace hushed HUSHED_API {

struct EntryKinds;

namespace detail {
struct AnyUrge;
}

/// Urges of an agent, for the list in `Steer`. Each wants a velocity at a tick, or nothing. x and v are the position
/// and velocity of the agent in its parent's space, s its maximum speed and a its maximum acceleration. Points within
/// 1e-9 m of each other count as the same. Most are after C. W. Reynolds, "Steering Behaviors for Autonomous
/// Characters" (1999); separation, alignment and cohesion are his of 1987.
namespace urge {

/// Moves toward a place at full speed: s * unit(target - x). At the place it wants nothing.
struct Seek {
  Place target = {};
  double weight = 1.0;
  bool operator==(const Seek&) const = default;
};

/// Moves away from a place at full speed while it is within a distance: s * unit(x - target). At the place itself it
/// keeps its direction of motion, or moves the way it faces.
struct Flee {
  Place target = {};
  std::optional<double> within = {};  ///< m; at any distance unless given
  double weight = 1.0;
  bool operator==(const Flee&) const = default;
};

/// Moves to a place and rests there: at distance r with s * r / slow_radius, at most s, and at most the speed from
/// which it can brake within r at a: u with u^2 / 2a + u * tick / 2 = r, the exact sum over ticks.
struct Arrive {
  Place target = {};
  double slow_radius = 5.0;  ///< m: the distance at which it begins to slow down
  double weight = 1.0;
  bool operator==(const Arrive&) const = default;
};

/// Wanders at random: s * unit(distance * heading + radius * w), where w is a point on the unit sphere (planar: the
/// level circle) that moves at random. From tick k to the next it moves by rate * sqrt(3 tick) * (2u - 1) on each axis,
/// u being the seeded numbers 3k to 3k + 2, and is projected back onto the sphere: in a second it moves by about
/// `rate`, at every tick rate. It begins where the object faces.
struct Wander {
  double radius = 1.0;         ///< the sideways component, relative to `distance`
  double distance = 2.0;       ///< the component along its heading
  Angle rate = degrees(90.0);  ///< how far w moves in a second (standard deviation)
  std::int64_t seed = 0;       ///< combined with the object's name, so that members of a flock differ
  double weight = 1.0;
  bool operator==(const Wander&) const = default;
};

/// Moves to where it meets a moving target: with u the target's velocity, t the least time with |target + u t - x| = s
/// t, s * unit(target + u t - x). For a target of constant velocity this is the shortest course (constant bearing).
/// Where there is no such time, it moves toward the target.
struct Pursue {
  Place target = {};
  double weight = 1.0;
  bool operator==(const Pursue&) const = default;
};

/// Moves away from the point where it would meet a moving target, found as in `Pursue`, or away from the target where
/// they would not meet.
struct Evade {
  Place target = {};
  std::optional<double> within = {};  ///< m; at any distance unless given
  double weight = 1.0;
  bool operator==(const Evade&) const = default;
};

/// Moves away from neighbours: with p = sum of unit(x - n) * (1 - |x - n| / within) over those nearer than `within`,
/// and u the mean of their velocities, u + s * unit(p), at a strength of |p| up to 1. Two push each other equally.
/// Those at the same place do not push.
struct Separation {
  Tag tag = {};
  double within = 5.0;  ///< m
  double weight = 1.0;
  bool operator==(const Separation&) const = default;
};

/// Moves like its neighbours: u, the mean of their velocities. Here and in the other flocking urges u is at most s
/// long.
struct Alignment {
  Tag tag = {};
  double within = 5.0;  ///< m
  double weight = 1.0;
  bool operator==(const Alignment&) const = default;
};

/// Moves to the centre of its neighbours: with c = (mean of n - x) / within, and u the mean of their velocities,
/// u + s * unit(c), at a strength of |c|.
struct Cohesion {
  Tag tag = {};
  double within = 5.0;  ///< m
  double weight = 1.0;
  bool operator==(const Cohesion&) const = default;
};

/// Moves along a line of points, which is closed where the last equals the first. With f = x + ahead * heading: while x
/// and f are within half of `width` of the line, s * the line's direction next to f; otherwise toward the point of the
/// line `ahead` beyond the one nearest to f. It comes to rest at the end of an open line, as in `Arrive`.
struct Path {
  std::vector<Place> points = {};
  double ahead = 2.0;  ///< m
  double width = 1.0;  ///< m, both sides together
  double weight = 1.0;
  bool operator==(const Path&) const = default;
};

/// Avoids obstacles: changes the velocity that the other urges want together. Where the way in that direction is not
/// free for ahead * speed / s, it takes the nearest free direction: past a sphere's side, or a box's edge or corner.
/// Whatever the others want, it never moves toward an obstacle faster than a third of a can brake before the surface. A
/// weight below 1 turns it only by that share.
struct Avoid {
  Tag tag = {};
  double ahead = 5.0;   ///< m at full speed
  double margin = 0.0;  ///< m to keep away from a surface
  double weight = 1.0;
  bool operator==(const Avoid&) const = default;
};

/// Stays within a box: where x + v * s / a is outside, it moves toward the mirror image of that point in the walls.
/// Whatever the others want, it never moves toward a wall faster than a third of a can brake before it; from outside it
/// returns.
struct Contain {
  Box box = {};
  double weight = 1.0;
  bool operator==(const Contain&) const = default;
};

}  // namespace urge

/// One urge of an agent: `urge::Seek{.target = "buoy"}`, or any other of `hushed::urge`. Copies share its values until
/// one of them changes.
class Urge {
 public:
  Urge() = default;  ///< `urge::Seek{}`
  Urge(urge::Seek one);
  Urge(urge::Flee one);
  Urge(urge::Arrive one);
  Urge(urge::Wander one);
  Urge(urge::Pursue one);
  Urge(urge::Evade one);
  Urge(urge::Separation one);
  Urge(urge::Alignment one);
  Urge(urge::Cohesion one);
  Urge(urge::Path one);
  Urge(urge::Avoid one);
  Urge(urge::Contain one);

  /// The values where the urge is a One, such as `as<urge::Avoid>()`; otherwise nullptr.
  template <class One>
  const One* as() const;

  std::string_view name() const;  ///< "seek"
  double weight() const;
  std::optional<Diagnostic> check() const;
  bool operator==(const Urge& other) const;

  friend HUSHED_API std::optional<Diagnostic> read(const Value& from, const Unit& unit, Urge& to);
  friend HUSHED_API std::optional<Value> write(const Urge& from, const Unit& unit);
  friend HUSHED_API Form form_of(const Urge*, const Unit& unit);
  friend HUSHED_API std::optional<Diagnostic> resolve(Urge& to, const detail::Names& names);
  friend HUSHED_API void add_objects(const Urge& from, detail::References& to);

 private:
  friend struct detail::AnyUrge;
  std::shared_ptr<const detail::AnyUrge> values_;  ///< nullptr: `urge::Seek{}`
};

/// All urges: their names in files, summaries and fields.
const EntryKinds& entry_kinds(const std::vector<Urge>*);

/// Replaces the target of the first urge that has one.
void aim(std::vector<Urge>& to, Object at);

}  // namespace hushed
