// SPDX-License-Identifier: MIT
#pragma once

// Simple bodies to draw objects with.

#include <cstdint>
#include <optional>
#include <vector>

#include <hushed/model.hpp>
#include <hushed/shape.hpp>

namespace hushed::detail {

struct Mesh {
  std::vector<float> positions, normals;   ///< three each
  std::vector<float> texture_coordinates;  ///< two each, or none
  std::vector<std::uint16_t> indices;      ///< three for each triangle, counterclockwise from outside
};

/// A shape in its own axes, about its centre; round bodies about +Y, and a cone points along +Y. Without a shape, a
/// small octahedron marks the place.
Mesh mesh_of(const std::optional<Shape>& shape);

/// The triangles of a part of a model, with the normals of their faces; several where there are more than a mesh holds.
std::vector<Mesh> meshes_of(const Model::Part& part);

}  // namespace hushed::detail
