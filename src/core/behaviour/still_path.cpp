// SPDX-License-Identifier: MIT
#include "behaviour/still_path.hpp"

#include <algorithm>
#include <cstddef>
#include <functional>
#include <unordered_map>

namespace hushed::detail {

namespace {

/// The hash function FNV-1a of Fowler, Noll and Vo, with hashes of numbers in place of bytes.
std::size_t hash_of(const std::vector<Place>& places, PathShape shape, bool closed) {
  std::size_t hash = 2 * static_cast<std::size_t>(shape) + (closed ? 1 : 0);
  for (const Place& place : places)
    for (int i = 0; i < 3; ++i) hash = (hash ^ std::hash<double>{}(place.point[i])) * 1099511628211U;
  return hash;
}

/// The paths in use that were made on one thread, so that scenes on different threads never wait for each other.
struct PathCache {
  std::unordered_multimap<std::size_t, std::weak_ptr<const StillPath>> paths;
  std::size_t limit = 64;  ///< at this number of entries, those of paths that are no longer in use are removed

  void remove_unused() {
    if (paths.size() < limit) return;
    std::erase_if(paths, [](const auto& each) { return each.second.expired(); });
    limit = std::max<std::size_t>(64, 2 * paths.size());
  }
};

}  // namespace

bool StillPath::goes_through(const std::vector<Place>& places, PathShape as, bool and_back) const {
  return shape == as && closed == and_back &&
         std::equal(points.begin(), points.end(), places.begin(), places.end(),
                    [](const Vec3& point, const Place& place) { return point == place.point; });
}

std::shared_ptr<const StillPath> still_path(const std::vector<Place>& places, PathShape shape, bool closed) {
  thread_local PathCache cache;
  const std::size_t hash = hash_of(places, shape, closed);
  const auto [first, last] = cache.paths.equal_range(hash);
  for (auto each = first; each != last; ++each)
    if (auto path = each->second.lock(); path && path->goes_through(places, shape, closed)) return path;

  auto made = std::make_shared<StillPath>(StillPath{{}, shape, closed, {}});
  for (const Place& place : places) made->points.push_back(place.point);
  made->path.set(made->points, shape, closed);
  cache.remove_unused();
  cache.paths.emplace(hash, made);
  return made;
}

}  // namespace hushed::detail
