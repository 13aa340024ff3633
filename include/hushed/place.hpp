// SPDX-License-Identifier: MIT
#pragma once

#include <string>
#include <utility>
#include <vector>

#include <hushed/detail/export.hpp>
#include <hushed/detail/field_type.hpp>
#include <hushed/space.hpp>
#include <hushed/vector.hpp>

namespace hushed HUSHED_API {

/// An object in the values of a behaviour: by its handle, or by its name, which is resolved when the behaviour is given
/// to a scene. `Follow{.target = ferry}` or `{.target = "ferry"}`.
class Target {
 public:
  Target() = default;
  Target(Object handle) : object{handle} {}
  Target(std::string by_name) : name{std::move(by_name)} {}
  Target(const char* by_name) : name{by_name} {}

  Object object = {};     ///< of generation 0 until the name is resolved
  std::string name = {};  ///< empty where it is given by its handle
  TextPlace where = {};   ///< its place in the file; 0 where there is none

  bool is_given() const { return object.generation != 0 || !name.empty(); }
  std::optional<Diagnostic> check() const;

  friend HUSHED_API std::optional<Diagnostic> read(const Value& from, const Unit& unit, Target& to);
  friend HUSHED_API std::optional<Value> write(const Target& from, const Unit& unit);
  friend HUSHED_API Form form_of(const Target*, const Unit& unit);
  friend HUSHED_API std::optional<Diagnostic> resolve(Target& to, const detail::Names& names);
  friend HUSHED_API void add_objects(const Target& from, detail::References& to);
  friend void aim(Target& to, Object at) { to = Target{at}; }
};

/// A point in the parent's space, the position of an object, or a point at an offset from an object.
///
///     Place still = Vec3{0, 2, 0};
///     Place above_the_mast{mast, {0, 2, 0}};
class Place {
 public:
  Place() = default;
  template <class Vector>
  Place(const Eigen::MatrixBase<Vector>& in_parents_space) : point{in_parents_space} {}
  Place(double x, double y, double z) : point{x, y, z} {}
  Place(Target of, const Vec3& offset = {0.0, 0.0, 0.0}, Space along = Space::world)
      : target{std::move(of)}, point{offset}, offset_space{along} {}
  Place(Object of) : Place{Target{of}} {}
  Place(const char* of) : Place{Target{of}} {}

  Target target = {};                 ///< not given: the point itself is meant
  Vec3 point = {0.0, 0.0, 0.0};       ///< m: in the parent's space, or from the target
  Space offset_space = Space::world;  ///< axes of an offset from a target: world or target

  bool moves() const { return target.is_given(); }
  std::optional<Diagnostic> check() const;

  friend HUSHED_API std::optional<Diagnostic> read(const Value& from, const Unit& unit, Place& to);
  friend HUSHED_API std::optional<Value> write(const Place& from, const Unit& unit);
  friend HUSHED_API Form form_of(const Place*, const Unit& unit);
  friend HUSHED_API std::optional<Diagnostic> resolve(Place& to, const detail::Names& names);
  friend HUSHED_API void add_objects(const Place& from, detail::References& to);
  friend HUSHED_API void aim(Place& to, Object at);
};

bool operator==(const Target& a, const Target& b);
bool operator==(const Place& a, const Place& b);

}  // namespace hushed
