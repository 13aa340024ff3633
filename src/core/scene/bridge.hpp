// SPDX-License-Identifier: MIT
#pragma once

// Fades and bridges: how the output of a behaviour passes from one pose to another.

#include "scene/records.hpp"

namespace hushed::detail {

/// The level to which a behaviour has faded in: 0 to 1.
double fade_level(const Run& run, Time now);

/// Starts a bridge from the pose that was displayed to the pose that the behaviour would give now.
void bridge(BehaviourRecord& behaviour, const Pose& displayed, const Pose& out, Time now);

/// The output of a behaviour with what is left of its bridge.
Pose bridged(const Run& run, const Pose& out, Time now);

}  // namespace hushed::detail
