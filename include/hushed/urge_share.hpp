// SPDX-License-Identifier: MIT
#pragma once

#include <string_view>

#include <hushed/detail/export.hpp>
#include <hushed/vector.hpp>

namespace hushed HUSHED_API {

/// What one urge of an agent wants, and how much it counts.
struct UrgeShare {
  std::string_view urge;  ///< its name; "wanted" for what comes of all, which stands last
  Vec3 velocity;          ///< m/s, in the world
  double share;           ///< of all that is wanted, from 0 to 1
};

}  // namespace hushed
