// SPDX-License-Identifier: MIT
#include <hushed/detail/constants.hpp>

#include "outline.hpp"

#include <cmath>

namespace hushed::detail {

std::vector<Vec3> corners_of(const std::optional<Shape>& shape, const Pose& pose) {
  std::vector<Vec3> corners;
  if (!shape) return corners;
  const auto add = [&](double x, double y, double z) {
    corners.push_back(compose(pose, at(Vec3{x, y, z}.cwiseProduct(shape->size) + shape->centre)).position);
  };
  constexpr int around = 20;
  constexpr double step = two_pi / around;
  switch (shape->kind) {
    case Shape::Kind::box:
      for (const double x : {-0.5, 0.5})
        for (const double y : {-0.5, 0.5})
          for (const double z : {-0.5, 0.5}) add(x, y, z);
      break;
    case Shape::Kind::sphere:
      for (int row = -5; row <= 5; ++row)
        for (int i = 0; i < around; ++i)
          add(0.5 * std::cos(0.314159265 * row) * std::sin(step * i), 0.5 * std::sin(0.314159265 * row),
              0.5 * std::cos(0.314159265 * row) * std::cos(step * i));
      break;
    case Shape::Kind::cylinder:
    case Shape::Kind::cone:
      for (int i = 0; i < around; ++i) {
        add(0.5 * std::sin(step * i), -0.5, 0.5 * std::cos(step * i));
        if (shape->kind == Shape::Kind::cylinder) add(0.5 * std::sin(step * i), 0.5, 0.5 * std::cos(step * i));
      }
      if (shape->kind == Shape::Kind::cone) add(0.0, 0.5, 0.0);
      break;
  }
  return corners;
}

std::vector<Point> convex_outline(std::vector<Point> points) {
  if (points.size() < 3) return points;
  std::sort(points.begin(), points.end(), [](Point a, Point b) { return a.x != b.x ? a.x < b.x : a.y < b.y; });
  const auto turns_left = [](Point a, Point b, Point c) {
    return (b.x - a.x) * (c.y - a.y) - (b.y - a.y) * (c.x - a.x) > 0.0;
  };
  // The lower and the upper hull, each from one end to the other (Andrew 1979).
  std::vector<Point> outline;
  for (int half = 0; half < 2; ++half) {
    const std::size_t start = outline.size();
    for (const Point& point : points) {
      while (outline.size() >= start + 2 && !turns_left(outline[outline.size() - 2], outline.back(), point))
        outline.pop_back();
      outline.push_back(point);
    }
    outline.pop_back();
    std::reverse(points.begin(), points.end());
  }
  return outline;
}

}  // namespace hushed::detail
