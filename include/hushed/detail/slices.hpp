// SPDX-License-Identifier: MIT
#pragma once

// Long advances in slices, so that the caller can report progress and stop them.

#include <functional>

#include <hushed/detail/export.hpp>
#include <hushed/scene.hpp>

namespace hushed HUSHED_API {
namespace detail {

/// Advances a scene to a time like one call of `advance`. Calls `goes_on` (if given) before it and every few ticks.
/// Returns false where that returned false: the scene is then at a time in between, and its events are not delivered.
bool advance_to(Scene& scene, Time time, const std::function<bool()>& goes_on);
/// Advances a scene to a time. Calls `goes_on` (if given) every few ticks. Events wait for the next `advance`. Returns
/// false where `goes_on` returned false: the scene is then at a time in between.
bool play_on_to(Scene& scene, Time time, const std::function<bool()>& goes_on);

}  // namespace detail
}  // namespace hushed
