// SPDX-License-Identifier: MIT
#pragma once

#include <string>

#include <hushed/detail/export.hpp>
#include <hushed/time.hpp>

namespace hushed HUSHED_API {

/// A key going down or up, or an axis being moved, at a time of a scene. It takes effect at the next tick, so that the
/// same input at the same times gives the same motion, whatever the frames.
struct InputChange {
  enum class What { down, up, axis };

  Time time;
  std::string name;  ///< of the key or the axis: any text, such as "H", "Up" or "forward"
  What what;
  double value = 0.0;  ///< of an axis: -1 to 1
};

}  // namespace hushed
