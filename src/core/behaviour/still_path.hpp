// SPDX-License-Identifier: MIT
#pragma once

// Paths through points that stay. A crowd on the same way shares one.

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

/// The path through these, worked out if nobody has it. May be called from any thread.
std::shared_ptr<const StillPath> still_path(const std::vector<Place>& places, PathShape shape, bool closed);

}  // namespace hushed::detail
