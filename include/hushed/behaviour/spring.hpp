// SPDX-License-Identifier: MIT
#pragma once

#include <optional>

#include <hushed/channel.hpp>
#include <hushed/detail/export.hpp>
#include <hushed/detail/field_type.hpp>
#include <hushed/detail/kind_of.hpp>
#include <hushed/place.hpp>
#include <hushed/pose.hpp>
#include <hushed/space.hpp>
#include <hushed/time.hpp>
#include <hushed/vector.hpp>

namespace hushed HUSHED_API {

/// What a `Spring` pulls towards: a place, another object, a rotation, three numbers; or nothing given, the pose that
/// comes in.
class SpringTarget {
 public:
  SpringTarget() = default;
  template <class Vector>
  SpringTarget(const Eigen::MatrixBase<Vector>& value) : place{value}, is_given{true} {}
  SpringTarget(const Quat& turn) : rotation{turn}, is_given{true} {}
  SpringTarget(Place at) : place{std::move(at)}, is_given{true} {}
  SpringTarget(Object of) : SpringTarget{Place{of}} {}
  SpringTarget(const char* of) : SpringTarget{Place{of}} {}

  Place place = {};  ///< its point in m; for a rotation pitch, yaw and roll in degrees; or factors
  std::optional<Quat> rotation = {};
  bool is_given = false;

  std::optional<Diagnostic> check() const;

  friend HUSHED_API std::optional<Diagnostic> read(const Value& from, const Unit& unit, SpringTarget& to);
  friend HUSHED_API std::optional<Value> write(const SpringTarget& from, const Unit& unit);
  friend HUSHED_API Form form_of(const SpringTarget*, const Unit& unit);
  friend std::optional<Diagnostic> resolve(SpringTarget& to, const detail::Names& names) {
    return resolve(to.place, names);
  }
  friend void add_objects(const SpringTarget& from, detail::References& to) { add_objects(from.place, to); }
  friend void aim(SpringTarget& to, Object at) { to = at; }
};

/// A damped spring between the object and its target, or, without one, between the object and the incoming pose.
/// With memory; `Scene::kick` adds to its velocity.
///
/// x'' = w^2 (g - x) - 2 damping w x', w = 2 pi frequency, solved exactly from tick to tick for a g that moves in a
/// straight line in between: stable at any frequency, and the same at any tick rate but for how g moves within a tick.
/// A rotation does so as the rotation vector from the target to it, the shortest way round.
struct Spring {
  Channel channel = Channel::position;
  double frequency = 1.0;           ///< Hz, of the same spring undamped; not negative
  double damping = 0.5;             ///< ratio: 0 swings for ever, 1 is critical, above it creeps
  SpringTarget target = {};         ///< in `space`
  Vec3 velocity = {0.0, 0.0, 0.0};  ///< at the start: m/s, deg/s about the axes of `space`, or 1/s
  Space space = Space::parent;

  static constexpr auto kind = "spring";
};

/// The overshoot of a spring after a jump of its target, as a share of the jump: exp(-pi z / sqrt(1 - z^2)) for a
/// damping z below 1, or else 0.
double overshoot(const Spring& spring);

/// The time after a jump of its target from which the spring stays within a share of the jump, to the unit of `Time`;
/// the greatest time that `seconds` returns where it never does.
Time settling_time(const Spring& spring, double within = 0.02);

/// The spring that overshoots a jump of its target by a share of the jump and, after the settling time, stays within a
/// share of it: the inverse of `overshoot` and `settling_time`, exact. An overshoot of 0 gives critical damping. Its
/// other values are the default ones. Throws `BadValue` for an overshoot that is not from 0 to below 1, a settling time
/// that is not above 0, or a `within` that is not between 0 and 1.
Spring spring_for(double overshoot, Time settling, double within = 0.02);

/// The time in which the distance to the target halves in the long run: ln 2 / (damping w) up to critical damping, and
/// ln 2 / (w (z - sqrt(z^2 - 1))) above. The greatest time that `seconds` returns where it never does.
Time half_life(const Spring& spring);

/// The frequency, in Hz, of a spring with that half-life and damping: the inverse of `half_life`. Throws `BadValue`
/// where there is none: a half-life or a damping that is not above 0.
double frequency_with(Time half_life, double damping);

template <>
const detail::Kind& detail::kind_of<Spring>();

}  // namespace hushed
