// SPDX-License-Identifier: MIT
#pragma once

#include <hushed/detail/export.hpp>
#include <hushed/detail/field_type.hpp>

namespace hushed HUSHED_API {

/// The frame that a value refers to. Each field allows some of these; any other is refused, with the list of those that
/// it allows.
enum class Space {
  own,     ///< the axes of the object itself
  parent,  ///< the axes of the object's parent, or of the world where it has none: the motion rides along
  world,   ///< the axes of the world
  target   ///< the axes of the target object, without its scale
};

constexpr auto choices(Space) {
  return Choices<Space, 4>{
      {{Space::own, "own"}, {Space::parent, "parent"}, {Space::world, "world"}, {Space::target, "target"}}};
}

}  // namespace hushed
