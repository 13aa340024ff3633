// SPDX-License-Identifier: MIT
#pragma once

#include <utility>
#include <variant>

#include <hushed/rule.hpp>

namespace hushed::detail {

/// The values of a `Condition`.
struct AnyCondition {
  using Variant = std::variant<KeyCondition, DistanceCondition, AreaCondition, WatchCondition, TimeCondition,
                               EventCondition, RunningCondition>;
  Variant is = {};

  static const Variant& of(const Condition& condition) {
    static const AnyCondition key;
    return condition.values_ ? condition.values_->is : key.is;
  }
  static void set(Condition& condition, Variant values) {
    condition.values_ = std::make_shared<const AnyCondition>(AnyCondition{std::move(values)});
  }
};

}  // namespace hushed::detail
