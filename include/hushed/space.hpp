#pragma once

#include <hushed/field.hpp>

namespace hushed {

/// Whose axes a value is along: the object's own, its parent's, or the world's.
enum class Space { own, parent, world };

constexpr auto choices(Space) {
  return Choices<Space, 3>{{{Space::own, "own"}, {Space::parent, "parent"}, {Space::world, "world"}}};
}

/// Where a motion with memory remembers: in its parent's space, so that it rides along; or in the world's.
enum class OuterSpace { parent, world };

constexpr auto choices(OuterSpace) {
  return Choices<OuterSpace, 2>{{{OuterSpace::parent, "parent"}, {OuterSpace::world, "world"}}};
}

}  // namespace hushed
