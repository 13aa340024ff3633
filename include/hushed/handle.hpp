// SPDX-License-Identifier: MIT
#pragma once

#include <cstdint>

#include <hushed/detail/export.hpp>

namespace hushed HUSHED_API {

/// The handle of an object of a scene. Small and copyable. It is checked at every use: after the object has ended it is
/// stale, and using it throws `StaleHandle`.
struct Object {
  std::uint32_t index = 0;
  std::uint32_t generation = 0;  ///< 0: no object
  std::uint32_t scene = 0;

  bool operator==(const Object&) const = default;
};

/// The handle of a behaviour of any kind. It is checked at every use, like `Object`.
struct AnyBehaviour {
  std::uint32_t index = 0;
  std::uint32_t generation = 0;
  std::uint32_t scene = 0;

  bool operator==(const AnyBehaviour&) const = default;
};

/// The handle of a behaviour of type B, so that `Scene::tune` gives access to its values.
template <class B>
struct Behaviour : AnyBehaviour {};

}  // namespace hushed
