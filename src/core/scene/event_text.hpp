// SPDX-License-Identifier: MIT
#pragma once

// The order of events, and their description in words.

#include <string>

#include <hushed/event.hpp>

#include "scene/registry.hpp"

namespace hushed::detail {

/// True where event `a` is delivered before event `b`: by time, then by the name of the subject, then by the number of
/// the behaviour.
bool comes_before(const Registry& registry, const Event& a, const Event& b);
/// One sentence without a full stop, such as "tug.travel reached point 2".
std::string describe(const Registry& registry, const Event& event);

}  // namespace hushed::detail
