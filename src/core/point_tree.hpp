// SPDX-License-Identifier: MIT
#pragma once

// Nearest neighbour among points: a k-d tree (J. L. Bentley, "Multidimensional binary search trees used for
// associative searching", 1975). Its result is exactly that of comparing with every point.

#include <cstdint>
#include <limits>
#include <vector>

#include "lanes/geometry.hpp"

namespace hushed::detail {

class PointTree {
 public:
  static constexpr auto none = ~std::uint32_t{0};

  /// Reserves memory; nothing is allocated up to so many points.
  void reserve(std::size_t points) { points_.reserve(points); }
  void clear() { points_.clear(); }
  void add(const VecOf<double>& point, std::uint32_t number) {
    points_.push_back({{point.x, point.y, point.z}, number, 0});
  }
  /// To be called once all points are added.
  void build();

  /// The number of the nearest point for which `is_meant(number)` is true; the least number of equally near ones;
  /// `none` where there is none.
  template <class IsMeant>
  std::uint32_t nearest(const VecOf<double>& from, IsMeant&& is_meant) const {
    Best best;
    search(0, points_.size(), {from.x, from.y, from.z}, is_meant, best);
    return best.number;
  }

 private:
  struct Coordinates {
    double at[3];
  };
  struct Point {
    Coordinates place;
    std::uint32_t number;
    std::uint32_t axis;  ///< 0 to 2: the axis on which this point separates the points before it from those after it
  };
  struct Best {
    double squared = std::numeric_limits<double>::infinity();
    std::uint32_t number = none;
  };
  static constexpr std::size_t few = 8;  ///< up to so many points are compared one by one

  /// Axis-aligned bounds of a range of points; they need not be tight.
  struct Box {
    static constexpr double infinity = std::numeric_limits<double>::infinity();
    Coordinates least = {{infinity, infinity, infinity}}, most = {{-infinity, -infinity, -infinity}};
    double width(std::uint32_t axis) const { return most.at[axis] - least.at[axis]; }
  };
  void build(std::size_t from, std::size_t to, const Box& box);

  template <class IsMeant>
  static void consider(const Point& point, const Coordinates& from, IsMeant& is_meant, Best& best) {
    const VecOf<double> way{point.place.at[0] - from.at[0], point.place.at[1] - from.at[1],
                            point.place.at[2] - from.at[2]};
    const double squared = squared_length(way);
    if (squared > best.squared || (squared == best.squared && point.number > best.number)) return;
    if (is_meant(point.number)) best = {squared, point.number};
  }

  template <class IsMeant>
  void search(std::size_t begin, std::size_t end, const Coordinates& from, IsMeant& is_meant, Best& best) const {
    if (end - begin <= few) {
      for (std::size_t i = begin; i < end; ++i) consider(points_[i], from, is_meant, best);
      return;
    }
    const std::size_t middle = begin + (end - begin) / 2;
    const Point& point = points_[middle];
    const double beyond = from.at[point.axis] - point.place.at[point.axis];
    const bool is_before = beyond < 0.0;
    is_before ? search(begin, middle, from, is_meant, best) : search(middle + 1, end, from, is_meant, best);
    consider(point, from, is_meant, best);
    // Rounding keeps the order of differences, squares and sums, so no point on the other side is nearer than this.
    if (beyond * beyond > best.squared) return;
    is_before ? search(middle + 1, end, from, is_meant, best) : search(begin, middle, from, is_meant, best);
  }

  std::vector<Point> points_;
};

}  // namespace hushed::detail
