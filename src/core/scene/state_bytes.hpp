// SPDX-License-Identifier: MIT
#pragma once

// The state of a scene as bytes, for saved games and networks.

#include <cstddef>
#include <cstdint>
#include <span>
#include <vector>

#include "scene/history.hpp"

namespace hushed::detail {

/// A hash of the objects, behaviours and rules of a scene, and of their handles. Scenes that are built by the same
/// calls have equal ones.
std::uint64_t content_hash(const RegistryContent& registry, double tick_rate, const Rules& rules);

/// The bytes with this content: with a version, the hash and a checksum.
std::vector<std::byte> sealed(std::uint64_t hash, std::span<const std::byte> content);

/// Throws `BadValue` where a behaviour of the user cannot be written.
std::vector<std::byte> to_bytes(const SnapshotData& snapshot);

/// Reads bytes into a snapshot of the present state of a scene of equal content, which they replace. `state` is that of
/// the snapshot. Throws `BadValue` where the bytes are damaged or are of another scene.
void read_bytes(std::span<const std::byte> bytes, SnapshotData& to, SceneState& state, const Registry& registry,
                EventNames& names);

}  // namespace hushed::detail
