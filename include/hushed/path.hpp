// SPDX-License-Identifier: MIT
#pragma once

#include <array>
#include <cstddef>
#include <cstdint>
#include <span>
#include <utility>
#include <vector>

#include <hushed/detail/export.hpp>
#include <hushed/path_shape.hpp>
#include <hushed/vector.hpp>

namespace hushed HUSHED_API {

/// A curve through points, straight between them or smooth, parameterised by arc length.
///
///     const Path fairway{points, PathShape::smooth};
///     fairway.length();           // metres
///     fairway.at(12.5).position;  // 12.5 m from the first point
///
/// A smooth path is a centripetal Catmull-Rom curve (Catmull and Rom 1974; Yuksel, Schaefer, Keyser 2011): the knots
/// are at the square roots of the distances; beyond an open end, the neighbouring point is mirrored. The arc length is
/// computed by Gauss-Legendre quadrature on arcs that are halved until it is accurate to 1e-12. The parameter at an arc
/// length is a polynomial of degree 9 on each arc; arcs are halved until its speed is even to 1e-7.
class Path {
 public:
  Path() = default;
  /// The number of readings before its points change: the tables of a smooth path take time to compute.
  enum class Readings { many, few };

  /// `closed`: the path continues from the last point to the first. Equal neighbouring points count once.
  explicit Path(std::span<const Vec3> points, PathShape shape = PathShape::straight, bool closed = false);

  double length() const { return length_; }
  bool is_closed() const { return closed_; }
  /// The arc length at point `number`, in m.
  double distance_of(std::size_t number) const { return distances_[number]; }
  std::size_t points() const { return distances_.size(); }

  /// The side of a corner for which a direction is returned.
  enum class Side { behind, ahead };
  struct Spot {
    Vec3 position = {0.0, 0.0, 0.0};
    Vec3 direction = {0.0, 0.0, 0.0};  ///< along the path, of unit length; zero where it has no length
  };
  /// The point `distance` m along the path, clamped to an open path, wrapped on a closed one. O(log n).
  Spot at(double distance, Side side = Side::ahead) const;
  /// The point `distance` m along the path, clamped to an open path, wrapped on a closed one. The arc of number `near`
  /// is tried first; the number of the arc that was found is written to it.
  Spot at(double distance, Side side, std::uint32_t& near) const;

  /// A part of the path: a line, or a part of a smooth path that is short enough for its polynomial.
  struct Arc {
    double begin = 0.0, length = 0.0;  ///< m along the path
    /// The ends of a line, or the coefficients of a cubic in u, which is 0 to 1 between two points.
    Vec3 c[4] = {{0.0, 0.0, 0.0}, {0.0, 0.0, 0.0}, {0.0, 0.0, 0.0}, {0.0, 0.0, 0.0}};
    /// Smooth: the coefficients of u as a polynomial of the share of the arc's length; linear for `Readings::few`.
    std::array<double, 10> u = {};
  };
  std::span<const Arc> arcs() const { return {arcs_.data(), arcs_.size()}; }
  /// The number of an arc and a distance on it, in m along the path.
  struct OnArc {
    std::uint32_t number;
    double distance;
  };
  /// The arc at a distance, which is clamped to an open path and wrapped on a closed one. The arc `near` is tried
  /// first.
  OnArc find(double distance, Side side, std::uint32_t near = 0) const;
  /// The point at a share of an arc's length.
  Spot at_share(const Arc& arc, double share) const;
  /// True where its arcs are cubics: its shape is smooth, and it has more than two points.
  bool is_smooth() const { return smooth_; }

  /// Replaces the points. Allocates nothing where `reserve` was called for as many points.
  void set(std::span<const Vec3> points, PathShape shape, bool closed, Readings readings = Readings::many);
  void reserve(std::size_t points, PathShape shape);

 private:
  void add_smooth(const Vec3 (&curve)[4]);
  bool fits(double u0, double u1, double whole, Arc& arc) const;
  double parameter_at(const Arc& arc, double share) const;

  std::vector<Vec3> unique_;
  std::vector<double> distances_;
  std::vector<Arc> arcs_;
  double length_ = 0.0;
  bool closed_ = false;
  bool smooth_ = false;
  Readings readings_ = Readings::many;
};

}  // namespace hushed
