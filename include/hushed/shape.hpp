// SPDX-License-Identifier: MIT
#pragma once

#include <memory>
#include <optional>

#include <hushed/colour.hpp>
#include <hushed/detail/export.hpp>
#include <hushed/detail/field_type.hpp>
#include <hushed/vector.hpp>

namespace hushed HUSHED_API {

struct Model;

/// The shape with which an object is drawn. It has no influence on motion, except that agents avoid it.
struct Shape {
  enum class Kind { box, sphere, cylinder, cone };

  Kind kind = Kind::box;
  Vec3 size = {1.0, 1.0, 1.0};    ///< metres along the object's own axes, each more than 0; round about +Y
  Vec3 centre = {0.0, 0.0, 0.0};  ///< of the shape, in metres along the object's own axes
  std::optional<Colour> colour = {};
  bool glow = false;  ///< it is drawn as a light
  /// Drawn instead of the kind, which remains what agents avoid and checks know.
  std::shared_ptr<const Model> model = {};
};

constexpr auto choices(Shape::Kind) {
  return Choices<Shape::Kind, 4>{{{Shape::Kind::box, "box"},
                                  {Shape::Kind::sphere, "sphere"},
                                  {Shape::Kind::cylinder, "cylinder"},
                                  {Shape::Kind::cone, "cone"}}};
}

}  // namespace hushed
