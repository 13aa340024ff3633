// SPDX-License-Identifier: MIT
#pragma once

#include <utility>
#include <variant>

#include <hushed/urge.hpp>

namespace hushed::detail {

/// The values of an `Urge`.
struct AnyUrge {
  using Variant =
      std::variant<urge::Seek, urge::Flee, urge::Arrive, urge::Wander, urge::Pursue, urge::Evade, urge::Separation,
                   urge::Alignment, urge::Cohesion, urge::Path, urge::Avoid, urge::Contain>;
  Variant is = {};

  static const Variant& of(const Urge& urge) {
    static const AnyUrge seek;
    return urge.values_ ? urge.values_->is : seek.is;
  }
  static void set(Urge& urge, Variant values) {
    urge.values_ = std::make_shared<const AnyUrge>(AnyUrge{std::move(values)});
  }
};

}  // namespace hushed::detail
