// SPDX-License-Identifier: MIT
#pragma once

#include <array>
#include <cstddef>
#include <cstdint>
#include <span>
#include <utility>
#include <vector>

#include <hushed/detail/export.hpp>
#include <hushed/detail/reading.hpp>
#include <hushed/vector.hpp>

namespace hushed HUSHED_API {

/// How a path goes through its points.
enum class PathShape { straight, smooth };

constexpr auto choices(PathShape) {
  return Choices<PathShape, 2>{{{PathShape::straight, "straight"}, {PathShape::smooth, "smooth"}}};
}

/// A curve through points, of straight pieces or smooth, parameterised by arc length.
///
///     const Path fairway{points, PathShape::smooth};
///     fairway.length();           // metres
///     fairway.at(12.5).position;  // 12.5 m from the first point
///
/// A smooth one is a centripetal Catmull-Rom curve (Catmull and Rom 1974; Yuksel, Schaefer, Keyser 2011): knots at the
/// square roots of the distances, beyond an open end the neighbour mirrored. Its length comes from Gauss-Legendre
/// quadrature on arcs that are halved until they agree to 1e-12, and its way back, from length to parameter, is a
/// polynomial of degree 9 on each, halved until the speed along it is even to 1e-7.
class Path {
 public:
  Path() = default;
  /// Whether it is computed for many readings, or for a few before its points change.
  enum class Readings { many, few };

  /// `closed`: continues from the last point to the first. Equal neighbouring points count once.
  explicit Path(std::span<const Vec3> points, PathShape shape = PathShape::straight, bool closed = false);

  double length() const { return length_; }
  bool is_closed() const { return closed_; }
  /// The arc length at point `number`, in m.
  double distance_of(std::size_t number) const { return distances_[number]; }
  std::size_t points() const { return distances_.size(); }

  /// The side of a corner for which a direction is returned.
  enum class Side { behind, ahead };
  struct Spot {
    Vec3 position = Vec3::Zero();
    Vec3 direction = Vec3::Zero();  ///< along the path, of unit length; zero where it has no length
  };
  /// The place `distance` m along the path; clamped on an open path, wrapped on a closed one. O(log n).
  Spot at(double distance, Side side = Side::ahead) const;
  /// The place `distance` along the path, as above. The piece of number `near` is looked at first; the number of the
  /// piece where it was found is written there.
  Spot at(double distance, Side side, std::uint32_t& near) const;

  /// A part of the path by itself: a line, or a piece of a smooth path that is short enough for its polynomial.
  struct Arc {
    double begin = 0.0, length = 0.0;  ///< m along the path
    /// A line's ends; or a cubic in u from 0 to 1 between two points.
    Vec3 c[4] = {Vec3::Zero(), Vec3::Zero(), Vec3::Zero(), Vec3::Zero()};
    /// Smooth: u as a polynomial of the share of the arc's length; worked out for few readings, the arc's ends alone.
    std::array<double, 10> u = {};
  };
  std::span<const Arc> arcs() const { return {arcs_.data(), arcs_.size()}; }
  /// The arc that a distance is on, and the distance, held within an open path or wrapped round a closed one.
  struct OnArc {
    std::uint32_t number;
    double distance;
  };
  /// `near` is looked at first.
  OnArc find(double distance, Side side, std::uint32_t near = 0) const;
  /// The place at a share of an arc's length.
  Spot at_share(const Arc& arc, double share) const;
  /// Whether its arcs are cubics: it was to be smooth, and has more than two points.
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
