// SPDX-License-Identifier: MIT
#include <hushed/detail/constants.hpp>

#include "gltf/mesh.hpp"

#include <cmath>
#include <span>

namespace hushed::detail {

namespace {

constexpr int around = 24, up_the_side = 12;

class Builder {
 public:
  explicit Builder(const Vec3& size, const Vec3& centre = Vec3::Zero()) : size_{size}, centre_{centre} {}

  /// In a body one metre wide; the normal is stretched as the surface is.
  std::uint16_t point(const Vec3& at, const Vec3& normal) {
    const Vec3 place = at.cwiseProduct(size_) + centre_, upright = normal.cwiseQuotient(size_).normalized();
    for (int i = 0; i < 3; ++i) {
      mesh_.positions.push_back(static_cast<float>(place[i]));
      mesh_.normals.push_back(static_cast<float>(upright[i]));
    }
    return static_cast<std::uint16_t>(mesh_.positions.size() / 3 - 1);
  }
  void triangle(int a, int b, int c) {
    for (const int each : {a, b, c}) mesh_.indices.push_back(static_cast<std::uint16_t>(each));
  }
  void flat(const std::vector<Vec3>& corners) {
    const Vec3 normal = (corners[1] - corners[0]).cross(corners[2] - corners[0]).normalized();
    const int first = point(corners[0], normal);
    for (std::size_t i = 1; i < corners.size(); ++i) point(corners[i], normal);
    for (int i = 1; i + 1 < static_cast<int>(corners.size()); ++i) triangle(first, first + i, first + i + 1);
  }
  /// Between two rings about +Y, at these heights and radii, with normals that rise by `rise`.
  void band(double low, double low_radius, double high, double high_radius, double rise) {
    const int first = static_cast<int>(mesh_.positions.size() / 3);
    for (int i = 0; i <= around; ++i) {
      const Vec3 out = outward(i);
      const Vec3 normal{out.x(), rise, out.z()};
      point(Vec3{low_radius * out.x(), low, low_radius * out.z()}, normal);
      point(Vec3{high_radius * out.x(), high, high_radius * out.z()}, normal);
    }
    for (int i = 0; i < around; ++i) {
      const int at = first + 2 * i;
      triangle(at, at + 2, at + 3);
      if (high_radius > 0.0) triangle(at, at + 3, at + 1);
    }
  }
  void disc(double height, bool faces_up) {
    std::vector<Vec3> corners;
    for (int i = 0; i < around; ++i) {
      const Vec3 out = outward(faces_up ? i : around - i);
      corners.emplace_back(0.5 * out.x(), height, 0.5 * out.z());
    }
    flat(corners);
  }
  Mesh take() { return std::move(mesh_); }

 private:
  /// From +Z towards +X, counterclockwise seen from above.
  static Vec3 outward(int step) {
    const double angle = 2.0 * pi * step / around;
    return {std::sin(angle), 0.0, std::cos(angle)};
  }

  Vec3 size_, centre_;
  Mesh mesh_;
};

void build_box(Builder& to) {
  for (int axis = 0; axis < 3; ++axis) {
    for (const double side : {-0.5, 0.5}) {
      std::vector<Vec3> corners;
      for (const auto& [u, v] : {std::pair{-0.5, -0.5}, {0.5, -0.5}, {0.5, 0.5}, {-0.5, 0.5}}) {
        Vec3 corner;
        corner[axis] = side;
        corner[(axis + 1) % 3] = side > 0.0 ? u : v;
        corner[(axis + 2) % 3] = side > 0.0 ? v : u;
        corners.push_back(corner);
      }
      to.flat(corners);
    }
  }
}

void build_sphere(Builder& to) {
  int first = -1;
  for (int row = 0; row <= up_the_side; ++row) {
    const double latitude = pi * (static_cast<double>(row) / up_the_side - 0.5);
    for (int i = 0; i <= around; ++i) {
      const double longitude = 2.0 * pi * i / around;
      const Vec3 out{std::cos(latitude) * std::sin(longitude), std::sin(latitude),
                     std::cos(latitude) * std::cos(longitude)};
      const int at = to.point(0.5 * out, out);
      if (first < 0) first = at;
    }
  }
  for (int row = 0; row < up_the_side; ++row) {
    for (int i = 0; i < around; ++i) {
      const int at = first + row * (around + 1) + i, above = at + around + 1;
      if (row > 0) to.triangle(at, at + 1, above + 1);
      if (row + 1 < up_the_side) to.triangle(at, above + 1, above);
    }
  }
}

void build_marker(Builder& to) {
  for (const double x : {-0.5, 0.5})
    for (const double y : {-0.5, 0.5})
      for (const double z : {-0.5, 0.5}) {
        const Vec3 a{x, 0, 0}, b{0, y, 0}, c{0, 0, z};
        x* y* z > 0.0 ? to.flat({a, b, c}) : to.flat({a, c, b});
      }
}

}  // namespace

Mesh mesh_of(const std::optional<Shape>& shape) {
  Builder builder{shape ? shape->size : Vec3{Vec3::Constant(0.3)}, shape ? shape->centre : Vec3{Vec3::Zero()}};
  if (!shape) {
    build_marker(builder);
    return builder.take();
  }
  switch (shape->kind) {
    case Shape::Kind::box: build_box(builder); break;
    case Shape::Kind::sphere: build_sphere(builder); break;
    case Shape::Kind::cylinder:
      builder.band(-0.5, 0.5, 0.5, 0.5, 0.0);
      builder.disc(-0.5, false);
      builder.disc(0.5, true);
      break;
    case Shape::Kind::cone:
      builder.band(-0.5, 0.5, 0.5, 0.0, 0.5);
      builder.disc(-0.5, false);
      break;
  }
  return builder.take();
}

std::vector<Mesh> meshes_of(const Model::Part& part) {
  constexpr std::size_t most_corners = 65'535;  // of indices of 16 bits; a multiple of three
  std::vector<Mesh> meshes;
  const auto corner = [&](std::size_t i) {
    const float* const at = part.positions.data() + 3 * std::size_t{part.indices[i]};
    return Vec3{at[0], at[1], at[2]};
  };
  for (std::size_t i = 0; i + 2 < part.indices.size(); i += 3) {
    const Vec3 a = corner(i), b = corner(i + 1), c = corner(i + 2), across = (b - a).cross(c - a);
    if (!(across.norm() > 0.0)) continue;  // no face
    if (meshes.empty() || meshes.back().indices.size() == most_corners) meshes.emplace_back();
    Mesh& mesh = meshes.back();
    const Vec3 normal = across.normalized();
    for (const std::size_t index : std::span{part.indices}.subspan(i, 3)) {
      mesh.indices.push_back(static_cast<std::uint16_t>(mesh.indices.size()));
      for (std::size_t axis = 0; axis < 3; ++axis) {
        mesh.positions.push_back(part.positions[3 * index + axis]);
        mesh.normals.push_back(static_cast<float>(normal[static_cast<Eigen::Index>(axis)]));
      }
      for (std::size_t axis = 0; part.texture && axis < 2; ++axis)
        mesh.texture_coordinates.push_back(part.texture_coordinates[2 * index + axis]);
    }
  }
  return meshes;
}

}  // namespace hushed::detail
