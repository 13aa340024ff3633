// SPDX-License-Identifier: MIT
#pragma once

// [crowd.NAME]: many objects from one description.

#include <vector>

#include "scene/object_reader.hpp"

namespace hushed::detail {

/// The objects of one crowd: NAME-1, NAME-2, ... Where each starts is drawn from `box` by `seed`, and every behaviour
/// with a seed has one of its own.
std::vector<ObjectDraft> read_crowd(const Value::Entry& entry, ObjectReading& reading);

}  // namespace hushed::detail
