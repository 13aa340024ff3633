// SPDX-License-Identifier: MIT
#pragma once

// [crowd.NAME]: many objects from one description.

#include <span>
#include <vector>

#include "scene/object_reader.hpp"

namespace hushed::detail {

/// The objects of one crowd: NAME-1, NAME-2, ... Where each starts is drawn from `box` by `seed`, and every behaviour
/// with a seed has one of its own.
std::vector<ObjectDraft> read_crowd(const Value::Entry& entry, ObjectReading& reading);
/// [crowd.NAME] for the instances of a node of an artist's file: gives each of them behaviours below its own, and tags.
void give_to_instances(const Value::Entry& entry, std::span<ObjectDraft* const> instances, ObjectReading& reading);

}  // namespace hushed::detail
