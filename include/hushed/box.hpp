// SPDX-License-Identifier: MIT
#pragma once

#include <limits>
#include <optional>

#include <hushed/detail/export.hpp>
#include <hushed/detail/field_type.hpp>
#include <hushed/vector.hpp>

namespace hushed HUSHED_API {

/// A box along the parent's axes, in metres. Without bounds unless given.
struct Box {
  static constexpr double unbounded = std::numeric_limits<double>::infinity();  ///< a side without a bound

  Vec3 min = {-unbounded, -unbounded, -unbounded};
  Vec3 max = {unbounded, unbounded, unbounded};
  bool operator==(const Box&) const = default;

  friend HUSHED_API std::optional<Diagnostic> read(const Value& from, const Unit& unit, Box& to);
  friend HUSHED_API std::optional<Value> write(const Box& from, const Unit& unit);
  friend HUSHED_API Form form_of(const Box*, const Unit& unit);
};

}  // namespace hushed
