// SPDX-License-Identifier: MIT
#pragma once

// Long advances in slices, so that whoever waits can be told, and can stop them.

#include <functional>

#include <hushed/detail/export.hpp>
#include <hushed/scene.hpp>

namespace hushed HUSHED_API {
namespace detail {

/// Moves a scene to a time as one advance does, and asks `goes_on` (if there is one) before it and every few ticks.
/// False where it said no; the scene is somewhere on the way then, and its events are not delivered.
bool advance_to(Scene& scene, Time time, const std::function<bool()>& goes_on);
/// Moves a scene to a time, and asks `goes_on` (if there is one) every few ticks. The events wait for the next advance.
/// False where `goes_on` said no; the scene is somewhere on the way then.
bool play_on_to(Scene& scene, Time time, const std::function<bool()>& goes_on);

}  // namespace detail
}  // namespace hushed
