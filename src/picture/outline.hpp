// SPDX-License-Identifier: MIT
#pragma once

// What a shape looks like from outside.

#include <algorithm>
#include <optional>
#include <vector>

#include <hushed/pose.hpp>
#include <hushed/shape.hpp>

#include "canvas.hpp"

namespace hushed::detail {

/// Points on a body's surface that have its outline between them, from wherever it is seen; none without a shape.
std::vector<Vec3> corners_of(const std::optional<Shape>& shape, const Pose& pose);

/// The corners of the smallest convex figure around the points, in order.
std::vector<Point> convex_outline(std::vector<Point> points);

}  // namespace hushed::detail
