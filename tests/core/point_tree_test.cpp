// SPDX-License-Identifier: MIT
#include "point_tree.hpp"

#include <rapidcheck/gtest.h>

#include <cstdint>
#include <vector>

namespace hushed::detail {
namespace {

/// The nearest point, by comparison with each.
std::uint32_t nearest_by_hand(const std::vector<VecOf<double>>& points, const VecOf<double>& from,
                              const std::vector<bool>& is_meant) {
  std::uint32_t best = PointTree::none;
  double least = 0.0;
  for (std::uint32_t i = 0; i < points.size(); ++i) {
    const double squared = squared_length(points[i] - from);
    if (!is_meant[i] || (best != PointTree::none && squared >= least)) continue;
    least = squared;
    best = i;
  }
  return best;
}

RC_GTEST_PROP(PointTree, FindsTheResultOfComparingWithEach, ()) {
  // At few positions, so that many are equally near, or anywhere.
  const int places = *rc::gen::element(3, 1'000'000);
  const double unit = places == 3 ? 0.1 : 997.3;
  const auto number = rc::gen::map(rc::gen::inRange(-places, places + 1), [unit](int n) { return n * unit; });
  std::vector<VecOf<double>> points;
  std::vector<bool> is_meant;
  const auto count = *rc::gen::inRange<std::size_t>(0, 300);
  PointTree tree;
  tree.reserve(count);
  for (std::size_t i = 0; i < count; ++i) {
    points.push_back({*number, *number, *number});
    is_meant.push_back(*rc::gen::inRange(0, 8) != 0);
    tree.add(points.back(), static_cast<std::uint32_t>(i));
  }
  tree.build();
  for (int i = 0; i < 20; ++i) {
    const VecOf<double> from{*number, *number, *number};
    RC_ASSERT(tree.nearest(from, [&](std::uint32_t each) { return is_meant[each]; }) ==
              nearest_by_hand(points, from, is_meant));
  }
}

}  // namespace
}  // namespace hushed::detail
