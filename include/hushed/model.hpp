// SPDX-License-Identifier: MIT
#pragma once

// What an artist has made to be drawn: triangles, their colours and textures.

#include <cstdint>
#include <memory>
#include <string>
#include <vector>

#include <hushed/colour.hpp>
#include <hushed/detail/export.hpp>

namespace hushed HUSHED_API {

/// A picture for the surface of a model.
struct Texture {
  enum class Format : std::uint8_t { png, jpeg };
  /// What continues it beyond its edges.
  enum class Wrap : std::uint8_t { repeat, mirror, clamp };

  std::string bytes;  ///< of the PNG or JPEG file
  Format format = Format::png;
  Wrap across = Wrap::repeat, down = Wrap::repeat;
  bool is_smooth = true;  ///< between its pixels
};

/// Triangles that an artist has made, in metres along the object's own axes. They are drawn, and nothing else.
struct Model {
  struct Part {
    std::vector<float> positions;        ///< three a corner
    std::vector<std::uint32_t> indices;  ///< three a triangle, counterclockwise from outside
    Colour colour = {};
    std::shared_ptr<const Texture> texture = {};  ///< multiplied by the colour
    /// Two a corner, where there is a texture: from its left edge and from its top, in widths and heights of it.
    std::vector<float> texture_coordinates = {};
  };
  std::vector<Part> parts;
  std::uint64_t digest = 0;  ///< of the parts: models with equal ones are alike
};

}  // namespace hushed
