// SPDX-License-Identifier: MIT
#pragma once

#include <optional>
#include <span>
#include <string_view>
#include <type_traits>
#include <utility>
#include <variant>
#include <vector>

#include <hushed/angle.hpp>
#include <hushed/box.hpp>
#include <hushed/detail/export.hpp>
#include <hushed/place.hpp>
#include <hushed/tagged.hpp>

namespace hushed HUSHED_API {

struct EntryKinds;

/// What an agent may want, each a velocity that it would have at this tick, or nothing. See `Steer`, which has a list
/// of them. Here x and v are where the agent is and how fast it goes, in its parent's space, s is its greatest speed
/// and a its greatest acceleration; "nearer than 1e-9 m" is "at the same place". Most are after C. W. Reynolds,
/// "Steering Behaviors for Autonomous Characters" (1999); separation, alignment and cohesion are his of 1987.
namespace urge {

/// Toward a place, at full speed: s * unit(target - x). At the place: nothing.
struct Seek {
  Place target = {};
  double weight = 1.0;
  bool operator==(const Seek&) const = default;
};

/// Away from a place, at full speed, while that is within some distance: s * unit(x - target). At the place itself it
/// goes on the way it goes, or the way it faces.
struct Flee {
  Place target = {};
  std::optional<double> within = {};  ///< m; however far it is, unless given
  double weight = 1.0;
  bool operator==(const Flee&) const = default;
};

/// To a place, and to rest there: s * r / slow_radius at a distance of r, no more than s, and no more than what can be
/// braked away in r at a: u with u^2 / 2a + u * tick / 2 = r, the exact sum over ticks.
struct Arrive {
  Place target = {};
  double slow_radius = 5.0;  ///< m: from here on it slows down
  double weight = 1.0;
  bool operator==(const Arrive&) const = default;
};

/// Here and there: s * unit(distance * heading + radius * w), where w is a point on the unit sphere (planar: the level
/// circle) that strays. From tick k to the next it moves by rate * sqrt(3 tick) * (2u - 1) on each axis, u being the
/// seeded numbers 3k to 3k + 2, and is brought back to the sphere: in a second it strays by about `rate`, whatever the
/// tick rate. It begins where the object faces.
struct Wander {
  double radius = 1.0;         ///< how far to the side it may want to go, beside `distance`
  double distance = 2.0;       ///< how much it keeps to its heading
  Angle rate = degrees(90.0);  ///< how far it strays in a second (standard deviation)
  std::int64_t seed = 0;       ///< mixed with the object's name, so that no two of a flock go the same way
  double weight = 1.0;
  bool operator==(const Wander&) const = default;
};

/// To where it meets what moves: with u the target's velocity, t the least time with |target + u t - x| = s t,
/// s * unit(target + u t - x). Of a target that keeps its velocity that is the shortest course (constant bearing).
/// Where there is no such time, toward the target.
struct Pursue {
  Place target = {};
  double weight = 1.0;
  bool operator==(const Pursue&) const = default;
};

/// Away from where it would meet what moves, as `Pursue` finds that, and from the target where they would not.
struct Evade {
  Place target = {};
  std::optional<double> within = {};  ///< m; however far it is, unless given
  double weight = 1.0;
  bool operator==(const Evade&) const = default;
};

/// Away from neighbours: with p = sum of unit(x - n) * (1 - |x - n| / within) over those nearer than `within`, and u
/// the mean of their velocities, u + s * unit(p), at a strength of |p| up to 1. Two push each other equally. Those at
/// the same place do not push.
struct Separation {
  Tag tag = {};
  double within = 5.0;  ///< m
  double weight = 1.0;
  bool operator==(const Separation&) const = default;
};

/// The way of the neighbours: u, the mean of their velocities, here as in the others no longer than s.
struct Alignment {
  Tag tag = {};
  double within = 5.0;  ///< m
  double weight = 1.0;
  bool operator==(const Alignment&) const = default;
};

/// Into the midst of the neighbours: with c = (mean of n - x) / within, and u the mean of their velocities,
/// u + s * unit(c), at a strength of |c|.
struct Cohesion {
  Tag tag = {};
  double within = 5.0;  ///< m
  double weight = 1.0;
  bool operator==(const Cohesion&) const = default;
};

/// Along a line of points, which is a loop where the last is the first: f = x + ahead * heading; while both x and f are
/// within half of `width` of the line, s * the line's direction beside f; else toward the point of the line that is
/// `ahead` further than the one nearest to f. It comes to rest at the end of a line that is no loop, as `Arrive` does.
struct Path {
  std::vector<Place> points = {};
  double ahead = 2.0;  ///< m
  double width = 1.0;  ///< m, of both sides together
  double weight = 1.0;
  bool operator==(const Path&) const = default;
};

/// Past what is in the way: acts on what the others want together. Where the straight way there is not free for
/// ahead * speed / s, it takes the free direction nearest to it: past a sphere's side, or a box's edge or corner. And
/// whatever the others want, it goes no faster toward an obstacle than what a third of a brakes away before the
/// surface. A weight below 1 turns it only so much.
struct Avoid {
  Tag tag = {};
  double ahead = 5.0;   ///< m at full speed
  double margin = 0.0;  ///< m to keep away from a surface
  double weight = 1.0;
  bool operator==(const Avoid&) const = default;
};

/// Within a box: where x + v * s / a leaves it, toward the image of that point in the walls. And whatever the others
/// want, it goes no faster toward a wall than what a third of a brakes away before it; outside, it comes back.
struct Contain {
  Box box = {};
  double weight = 1.0;
  bool operator==(const Contain&) const = default;
};

}  // namespace urge

/// One thing that an agent wants: `urge::Seek{.target = "buoy"}`, or any other of `hushed::urge`.
class Urge {
 public:
  using Any = std::variant<urge::Seek, urge::Flee, urge::Arrive, urge::Wander, urge::Pursue, urge::Evade,
                           urge::Separation, urge::Alignment, urge::Cohesion, urge::Path, urge::Avoid, urge::Contain>;

  Urge() = default;
  template <class One>
  requires(std::is_constructible_v<Any, One>) Urge(One one) : is{std::move(one)} {}

  Any is = {};

  std::string_view name() const;
  double weight() const;
  std::optional<Diagnostic> check() const;
  bool operator==(const Urge&) const = default;

  friend std::optional<Diagnostic> read(const Value& from, const Unit& unit, Urge& to);
  friend std::optional<Value> write(const Urge& from, const Unit& unit);
  friend Form form_of(const Urge*, const Unit& unit);
  friend std::optional<Diagnostic> resolve(Urge& to, const detail::Names& names);
  friend void add_objects(const Urge& from, detail::References& to);
};

/// What there is to want: its name in files, what it is in a few words, and its fields.
const EntryKinds& entry_kinds(const std::vector<Urge>*);

/// The first that has a target gets another.
void aim(std::vector<Urge>& to, Object at);

}  // namespace hushed
