// SPDX-License-Identifier: MIT
#pragma once

#include <optional>
#include <string>

#include <hushed/detail/export.hpp>
#include <hushed/detail/field_type.hpp>
#include <hushed/pose.hpp>
#include <hushed/vector.hpp>

namespace hushed HUSHED_API {

/// Some parts of a pose: `{.position = Vec3{0, 3, 0}}`. In the values of a behaviour also the parts of a named pose of
/// its object: `{.name = "open"}`; they are filled in when the behaviour is given and whenever its values change.
struct PoseParts {
  std::string name = {};
  std::optional<Vec3> position = {};  ///< m
  std::optional<Quat> rotation = {};
  std::optional<Vec3> scale = {};

  /// The pose with these parts replaced.
  Pose over(const Pose& pose) const;
  std::optional<Diagnostic> check() const;
  bool empty() const { return !position && !rotation && !scale; }

  friend HUSHED_API std::optional<Diagnostic> read(const Value& from, const Unit& unit, PoseParts& to);
  friend HUSHED_API std::optional<Value> write(const PoseParts& from, const Unit& unit);
  friend HUSHED_API Form form_of(const PoseParts*, const Unit& unit);
  friend HUSHED_API std::optional<Diagnostic> resolve(PoseParts& to, const detail::Names& names);
};

bool operator==(const PoseParts& a, const PoseParts& b);

namespace detail {

class TableReader;

/// The keys of a rest pose: position, scale, and one of rotation, axis_angle, quaternion.
PoseParts read_parts(TableReader& table);
Form form_of_parts();

}  // namespace detail
}  // namespace hushed
