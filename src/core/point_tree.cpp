// SPDX-License-Identifier: MIT
#include "point_tree.hpp"

#include <algorithm>

namespace hushed::detail {

void PointTree::build() {
  Box box;
  for (const Point& point : points_)
    for (int axis = 0; axis < 3; ++axis) {
      box.least.at[axis] = std::min(box.least.at[axis], point.place.at[axis]);
      box.most.at[axis] = std::max(box.most.at[axis], point.place.at[axis]);
    }
  build(0, points_.size(), box);
}

void PointTree::build(std::size_t from, std::size_t to, const Box& box) {
  if (to - from <= few) return;
  std::uint32_t axis = 0;
  for (std::uint32_t each = 1; each < 3; ++each)
    if (box.width(each) > box.width(axis)) axis = each;
  const auto at = [this](std::size_t i) { return points_.begin() + static_cast<std::ptrdiff_t>(i); };
  const std::size_t middle = from + (to - from) / 2;
  std::nth_element(at(from), at(middle), at(to),
                   [axis](const Point& a, const Point& b) { return a.place.at[axis] < b.place.at[axis]; });
  points_[middle].axis = axis;
  Box before = box, after = box;
  before.most.at[axis] = after.least.at[axis] = points_[middle].place.at[axis];
  build(from, middle, before);
  build(middle + 1, to, after);
}

}  // namespace hushed::detail
