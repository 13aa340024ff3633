// SPDX-License-Identifier: MIT
#pragma once

// Checks of the values of behaviours. All throw `BadValue` with the path of the behaviour, the problem and a hint.

#include <memory>
#include <string>

#include "scene/registry.hpp"

namespace hushed::detail {

/// Throws `BadValue`: the path of the behaviour, then `text`.
[[noreturn]] void refuse(const Registry& registry, const BehaviourRecord& behaviour, const std::string& text);

/// Checks values whose names are resolved. `in`: the incoming pose, or nullptr where it is not known.
void check_values(const Registry& registry, const BehaviourRecord& behaviour, const void* values, const Pose* in);
void check_common(const Registry& registry, const BehaviourRecord& behaviour, const Common& common);

/// A copy of the values in which all names are resolved to handles.
std::shared_ptr<void> resolved(const Registry& registry, const BehaviourRecord& behaviour, const void* values);
/// As `resolved`, for values of a behaviour that plays: they may go on naming objects that have ended.
std::shared_ptr<void> resolved_with_lost(const Registry& registry, const BehaviourRecord& behaviour,
                                         const void* values);

/// Checks a new behaviour of the object `owner`, except for what `Registry::check_new` checks. Returns a copy of its
/// values in which all names are resolved.
std::shared_ptr<void> check_new(const Registry& registry, Index owner, const Kind& kind, const void* values,
                                const Common& common);

}  // namespace hushed::detail
