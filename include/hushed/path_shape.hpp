// SPDX-License-Identifier: MIT
#pragma once

#include <hushed/detail/export.hpp>
#include <hushed/detail/field_type.hpp>

namespace hushed HUSHED_API {

/// The shape of a path between its points.
enum class PathShape { straight, smooth };

constexpr auto choices(PathShape) {
  return Choices<PathShape, 2>{{{PathShape::straight, "straight"}, {PathShape::smooth, "smooth"}}};
}

}  // namespace hushed
