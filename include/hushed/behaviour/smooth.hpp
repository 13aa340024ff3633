// SPDX-License-Identifier: MIT
#pragma once

#include <optional>

#include <hushed/detail/export.hpp>
#include <hushed/detail/field_type.hpp>
#include <hushed/detail/kind_of.hpp>
#include <hushed/space.hpp>
#include <hushed/time.hpp>

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

  friend HUSHED_API std::optional<Diagnostic> read(const Value& from, const Unit& unit, HalfLives& to);
  friend HUSHED_API std::optional<Value> write(const HalfLives& from, const Unit& unit);
  friend HUSHED_API Form form_of(const HalfLives*, const Unit& unit);
};

/// Smooths the incoming pose: after each half-life, half of the difference is left. With memory.
///
/// x' = ln 2 / half_life * (g - x), g being the incoming pose, solved exactly from tick to tick for a g that moves
/// in a straight line in between (a rotation: along the shortest arc, at a constant rate). At a constant speed it
/// trails behind by speed * half_life / ln 2.
struct Smooth {
  HalfLives half_life = {};
  Space space = Space::parent;  ///< with world, the parent's motion is smoothed too

  static constexpr auto kind = "smooth";
};

template <>
const detail::Kind& detail::kind_of<Smooth>();

}  // namespace hushed
