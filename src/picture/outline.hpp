// SPDX-License-Identifier: MIT
#pragma once

// Outlines of shapes.

#include <algorithm>
#include <optional>
#include <vector>

#include <hushed/pose.hpp>
#include <hushed/shape.hpp>

#include "canvas.hpp"

namespace hushed::detail {

/// Points on the surface of a body whose convex hull is its outline from every direction; none without a shape.
std::vector<Vec3> corners_of(const std::optional<Shape>& shape, const Pose& pose);

/// The corners of the convex hull of the points, in order.
std::vector<Point> convex_outline(std::vector<Point> points);

}  // namespace hushed::detail
