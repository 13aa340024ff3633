// SPDX-License-Identifier: MIT
#pragma once

// Paths through points that do not move. Routes with equal points share one, where they start on one thread.

#include <memory>
#include <vector>

#include <hushed/path.hpp>
#include <hushed/place.hpp>

namespace hushed::detail {

struct StillPath {
  std::vector<Vec3> points;
  PathShape shape;
  bool closed;
  Path path;

  bool goes_through(const std::vector<Place>& places, PathShape as, bool and_back) const;
};

/// Returns the path through these points, and computes it where it is not in use yet. May be called from any thread.
std::shared_ptr<const StillPath> still_path(const std::vector<Place>& places, PathShape shape, bool closed);

}  // namespace hushed::detail
