// SPDX-License-Identifier: MIT
#pragma once

#include <hushed/detail/export.hpp>
#include <hushed/detail/reading.hpp>
#include <hushed/vector.hpp>

namespace hushed HUSHED_API {

/// How to draw an object. Motion does not depend on it; looking at motion does.
struct Shape {
  enum class Kind { box, sphere, cylinder, cone };

  Kind kind = Kind::box;
  Vec3 size = Vec3::Ones();  ///< metres along the object's own axes, each more than 0; round about +Y
};

constexpr auto choices(Shape::Kind) {
  return Choices<Shape::Kind, 4>{{{Shape::Kind::box, "box"},
                                  {Shape::Kind::sphere, "sphere"},
                                  {Shape::Kind::cylinder, "cylinder"},
                                  {Shape::Kind::cone, "cone"}}};
}

}  // namespace hushed
