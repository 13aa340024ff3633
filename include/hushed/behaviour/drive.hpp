// SPDX-License-Identifier: MIT
#pragma once

#include <optional>
#include <string>
#include <vector>

#include <hushed/angle.hpp>
#include <hushed/detail/export.hpp>
#include <hushed/detail/field_type.hpp>
#include <hushed/detail/kind_of.hpp>
#include <hushed/place.hpp>
#include <hushed/space.hpp>
#include <hushed/time.hpp>

namespace hushed HUSHED_API {

/// The keys of a `Drive`, any of several for each direction. An axis with the name of a direction works as well.
struct DriveKeys {
  using Names = std::vector<std::string>;

  Names forward{"W", "Up"};
  Names back{"S", "Down"};
  Names left{"A", "Left"};
  Names right{"D", "Right"};
  Names rise{"E"};
  Names sink{"Q"};

  std::optional<Diagnostic> check() const;

  friend HUSHED_API std::optional<Diagnostic> read(const Value& from, const Unit& unit, DriveKeys& to);
  friend HUSHED_API std::optional<Value> write(const DriveKeys& from, const Unit& unit);
  friend HUSHED_API Form form_of(const DriveKeys*, const Unit& unit);
};

/// The frame in which "forward" is taken: that of the world, of the object itself, or of another object, of which only
/// the yaw counts.
///
///     Drive{.space = Space::own}
///     Drive{.space = camera}
class Heading {
 public:
  Heading() = default;
  Heading(Space in) : space{in} {}
  Heading(Target other) : space{Space::target}, target{std::move(other)} {}
  Heading(Object other) : Heading{Target{other}} {}
  Heading(const char* other) : Heading{Target{other}} {}

  Space space = Space::world;  ///< world, own, or target: the object that `target` names
  Target target = {};

  std::optional<Diagnostic> check() const;

  friend HUSHED_API std::optional<Diagnostic> read(const Value& from, const Unit& unit, Heading& to);
  friend HUSHED_API std::optional<Value> write(const Heading& from, const Unit& unit);
  friend HUSHED_API Form form_of(const Heading*, const Unit& unit);
  friend HUSHED_API std::optional<Diagnostic> resolve(Heading& to, const detail::Names& names);
  friend HUSHED_API void add_objects(const Heading& from, detail::References& to);
};

/// Whether left and right move the object sideways or turn it.
enum class DriveMode { strafe, turn };

constexpr auto choices(DriveMode) {
  return Choices<DriveMode, 2>{{{DriveMode::strafe, "strafe"}, {DriveMode::turn, "turn"}}};
}

/// Moves an object by keys and axes: a displacement, added to the incoming pose. With memory; keys are read at
/// ticks, and act while they are held. Forward is +Z, left is +X, rise is +Y; diagonal motion is not faster.
///
/// v' = ln 2 / half_life * (wanted - v), and the displacement is its exact integral from tick to tick. While it turns,
/// the wanted velocity turns with it at a constant rate: without a half-life it moves along an arc.
struct Drive {
  DriveKeys keys = {};
  double speed = 5.0;   ///< m/s
  Time half_life = {};  ///< until half of the difference to the wanted velocity is left
  Heading space = {};
  DriveMode mode = DriveMode::strafe;
  Angle turn_speed = degrees(90);  ///< per second

  static constexpr auto kind = "drive";
};

template <>
const detail::Kind& detail::kind_of<Drive>();

}  // namespace hushed
