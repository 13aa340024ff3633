// SPDX-License-Identifier: MIT
#pragma once

#include <optional>
#include <tuple>

#include <hushed/detail/export.hpp>
#include <hushed/detail/kind.hpp>
#include <hushed/field.hpp>
#include <hushed/space.hpp>

namespace hushed HUSHED_API {

/// A half-life for each part of a pose, or one for all: `.half_life = 0.3s` or `.half_life = {.position = 0.3s}`. A
/// part whose half-life is 0 is left as it is.
struct HalfLives {
  HalfLives() = default;
  template <class Rep, class Period>
  HalfLives(std::chrono::duration<Rep, Period> all) : position{all}, rotation{all}, scale{all} {}
  HalfLives(Time of_position, Time of_rotation, Time of_scale)
      : position{of_position}, rotation{of_rotation}, scale{of_scale} {}

  Time position = {}, rotation = {}, scale = {};

  bool operator==(const HalfLives&) const = default;
  std::optional<Diagnostic> check() const;

  friend std::optional<Diagnostic> read(const Value& from, const Unit& unit, HalfLives& to);
  friend std::optional<Value> write(const HalfLives& from, const Unit& unit);
  friend Form form_of(const HalfLives*, const Unit& unit);
};

/// Softens the pose that comes in: after each half-life, half of the way to it is left. With memory.
///
/// x' = ln 2 / half_life * (g - x), g being the pose that comes in, solved exactly from tick to tick for a g that moves
/// in a straight line in between (a rotation: along the shortest arc, at a constant rate). At a constant speed it
/// trails behind by speed * half_life / ln 2.
struct Smooth {
  HalfLives half_life = {};
  Space space = Space::parent;  ///< in the world, what the parent does is softened too

  static constexpr auto kind = "smooth";
  static constexpr auto summary = "softens the motion below it";
  static constexpr auto example = R"(
[[object.pennant.behaviour]]
kind      = "smooth"
half_life = 0.2              # seconds until half of the way is left
)";
  static constexpr auto fields = std::tuple{
      field("half_life", &Smooth::half_life, unit::seconds, "how long until half of the way is left", required,
            slider(0, 2)),
      field("space", &Smooth::space, unit::none, "whether it rides with its parent, or lags behind in the world",
            allowed(Space::parent, Space::world))};
};

template <>
const detail::Kind& detail::kind_of<Smooth>();

}  // namespace HUSHED_API
