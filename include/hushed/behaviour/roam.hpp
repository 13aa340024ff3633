// SPDX-License-Identifier: MIT
#pragma once

#include <cstdint>
#include <optional>

#include <hushed/box.hpp>
#include <hushed/detail/export.hpp>
#include <hushed/detail/kind_of.hpp>
#include <hushed/easing.hpp>
#include <hushed/time.hpp>

namespace hushed HUSHED_API {

/// Moves from one random point to the next. A function of time alone.
///
/// On axis i, place k is min + (max - min) * `seeded_number(seed, 3 k + i)`, so each is known without those before;
/// the first leg begins where the object is when it starts. Only the position is changed; it replaces what
/// comes in.
struct Roam {
  Box box = {};                       ///< m, in the parent's space; finite
  std::optional<Time> duration = {};  ///< of each leg
  std::optional<double> speed = {};   ///< m/s, instead
  Easing easing = {};                 ///< of each leg
  Time pause = {};                    ///< after each arrival
  std::int64_t seed = 0;

  static constexpr auto kind = "roam";
};

template <>
const detail::Kind& detail::kind_of<Roam>();

}  // namespace hushed
