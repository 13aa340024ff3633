// SPDX-License-Identifier: MIT
#pragma once

#include <cstdint>

#include <hushed/detail/export.hpp>

namespace hushed HUSHED_API {

/// Names one object of one scene. Small, copyable, and checked wherever it is used: after the object has
/// ended it is stale, and using it throws `StaleHandle`.
struct Object {
  std::uint32_t index = 0;
  std::uint32_t generation = 0;  ///< 0 names nothing
  std::uint32_t scene = 0;

  bool operator==(const Object&) const = default;
};

/// Names one behaviour of an object, whatever its kind. Checked like `Object`.
struct AnyBehaviour {
  std::uint32_t index = 0;
  std::uint32_t generation = 0;
  std::uint32_t scene = 0;

  bool operator==(const AnyBehaviour&) const = default;
};

/// Names one behaviour and knows its kind, so that `Scene::tune` gives its values by name.
template <class B>
struct Behaviour : AnyBehaviour {};

}  // namespace hushed
