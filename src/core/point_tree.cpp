#include "point_tree.hpp"

#include <algorithm>

namespace hushed::inside {

void PointTree::build(std::size_t from, std::size_t to) {
  if (to - from <= few) return;
  const auto begin = points_.begin() + static_cast<std::ptrdiff_t>(from);
  const auto end = points_.begin() + static_cast<std::ptrdiff_t>(to);
  std::uint32_t axis = 0;
  double widest = -1.0;
  for (std::uint32_t each = 0; each < 3; ++each) {
    const auto [least, most] = std::minmax_element(
        begin, end, [each](const Point& a, const Point& b) { return a.place.at[each] < b.place.at[each]; });
    const double width = most->place.at[each] - least->place.at[each];
    if (width > widest) {
      widest = width;
      axis = each;
    }
  }
  const std::size_t middle = from + (to - from) / 2;
  std::nth_element(begin, points_.begin() + static_cast<std::ptrdiff_t>(middle), end,
                   [axis](const Point& a, const Point& b) { return a.place.at[axis] < b.place.at[axis]; });
  points_[middle].axis = axis;
  build(from, middle);
  build(middle + 1, to);
}

}  // namespace hushed::inside
