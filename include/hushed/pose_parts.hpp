// SPDX-License-Identifier: MIT
#pragma once

#include <optional>
#include <string>

#include <hushed/detail/export.hpp>
#include <hushed/detail/reading.hpp>
#include <hushed/pose.hpp>

namespace hushed HUSHED_API {

/// Some parts of a pose: `{.position = Vec3{0, 3, 0}}`; or, in the values of a behaviour, those of a pose that its
/// object has under a name: `{.name = "open"}`. Where it has a name, that pose's parts are put in when the behaviour is
/// given, and again whenever its values are changed.
struct PoseParts {
  std::string name = {};
  std::optional<Vec3> position = {};  ///< m
  std::optional<Quat> rotation = {};
  std::optional<Vec3> scale = {};

  /// The pose with these parts in the place of its own.
  Pose over(const Pose& pose) const;
  std::optional<Diagnostic> check() const;
  bool empty() const { return !position && !rotation && !scale; }

  friend std::optional<Diagnostic> read(const Value& from, const Unit& unit, PoseParts& to);
  friend std::optional<Value> write(const PoseParts& from, const Unit& unit);
  friend Form form_of(const PoseParts*, const Unit& unit);
  friend std::optional<Diagnostic> resolve(PoseParts& to, const detail::Names& names);
};

bool operator==(const PoseParts& a, const PoseParts& b);

namespace detail {

class TableReader;

/// The keys of a rest pose: position, scale, and one of rotation, axis_angle, quaternion.
PoseParts read_parts(TableReader& table);
Form form_of_parts();

}  // namespace detail
}  // namespace hushed
