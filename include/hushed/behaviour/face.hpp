// SPDX-License-Identifier: MIT
#pragma once

#include <optional>

#include <hushed/angle.hpp>
#include <hushed/detail/export.hpp>
#include <hushed/detail/field_type.hpp>
#include <hushed/detail/kind_of.hpp>
#include <hushed/place.hpp>
#include <hushed/time.hpp>
#include <hushed/vector.hpp>

namespace hushed HUSHED_API {

/// The target of a `Face`: a place, an object, or the direction of its own motion.
class FaceTarget {
 public:
  FaceTarget() = default;
  FaceTarget(Place at) : place{std::move(at)}, is_given{true} {}
  template <class Vector>
  FaceTarget(const Eigen::MatrixBase<Vector>& point) : FaceTarget{Place{point}} {}
  FaceTarget(Object of) : FaceTarget{Place{of}} {}
  FaceTarget(const char* of) : FaceTarget{Place{of}} {}
  static FaceTarget travel();

  Place place = {};
  bool is_travel = false;
  bool is_given = false;

  std::optional<Diagnostic> check() const { return place.check(); }
  bool operator==(const FaceTarget&) const = default;

  friend HUSHED_API std::optional<Diagnostic> read(const Value& from, const Unit& unit, FaceTarget& to);
  friend HUSHED_API std::optional<Value> write(const FaceTarget& from, const Unit& unit);
  friend HUSHED_API Form form_of(const FaceTarget*, const Unit& unit);
  friend std::optional<Diagnostic> resolve(FaceTarget& to, const detail::Names& names) {
    return resolve(to.place, names);
  }
  friend void add_objects(const FaceTarget& from, detail::References& to) { add_objects(from.place, to); }
  friend void aim(FaceTarget& to, Object at) {
    Place aimed = to.place;
    aim(aimed, at);
    to = std::move(aimed);
  }
};

/// The rotations that a `Face` may use.
enum class Turns { all, yaw };

constexpr auto choices(Turns) { return Choices<Turns, 2>{{{Turns::all, "all"}, {Turns::yaw, "yaw"}}}; }

/// Turns the object toward a place, or along its own motion. With memory; replaces the incoming rotation.
///
/// `forward` points there, and the object's +Y (+Z where forward is along Y) is as close to `up` as possible. With
/// `only = yaw` the direction is first projected onto the plane perpendicular to `up`. Nearer than 1e-9 m to the place,
/// or within 1e-6 of `up`, it keeps its last direction. The goal is approached as by `Smooth`, by the shortest
/// rotation, and no faster than `max_turn_speed`. It begins at its goal, or with the incoming rotation if it has a
/// half-life or a speed.
struct Face {
  FaceTarget target = {};
  Time half_life = {};                       ///< until half of the way is left; 0: at once
  std::optional<Angle> max_turn_speed = {};  ///< per second
  Turns only = Turns::all;
  Vec3 up = {0.0, 1.0, 0.0};       ///< in the parent's space
  Vec3 forward = {0.0, 0.0, 1.0};  ///< the object's own axis that points at the target

  static constexpr auto kind = "face";
};

template <>
const detail::Kind& detail::kind_of<Face>();

}  // namespace hushed
