// SPDX-License-Identifier: MIT
#pragma once

#include <string>

#include <hushed/detail/export.hpp>
#include <hushed/time.hpp>

namespace hushed HUSHED_API {

/// A key that goes down or up, or an axis that moves, at a time of the scene. It takes effect at the next tick, so the
/// same input at the same times gives the same motion at every frame rate.
struct InputChange {
  enum class What { down, up, axis };

  Time time;
  std::string name;  ///< of the key or the axis: any text, such as "H", "Up" or "forward"
  What what;
  double value = 0.0;  ///< of an axis: -1 to 1
};

}  // namespace hushed
