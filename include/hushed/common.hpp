// SPDX-License-Identifier: MIT
#pragma once

#include <string>

#include <hushed/detail/export.hpp>
#include <hushed/detail/reading.hpp>
#include <hushed/time.hpp>

namespace hushed HUSHED_API {

/// Whether a behaviour sees the objects it looks at as they are now (and comes after them), or as they
/// were at the last tick (and need not).
enum class Reads { now, last_tick };

constexpr auto choices(Reads) { return Choices<Reads, 2>{{{Reads::now, "now"}, {Reads::last_tick, "last tick"}}}; }

/// What every behaviour has besides its own values: the third argument of `Scene::give`.
struct Common {
  std::string name = {};  ///< how it is addressed; its kind where left empty
  bool enabled = true;    ///< false: it waits until `Scene::start`
  Time delay = {};        ///< how long after its start it begins to act
  double weight = 1.0;    ///< 0 to 1: how much of what it gives is mixed in
  Time fade = {};         ///< how long the weight takes to rise at a start and to fall at a stop
  Reads reads = Reads::now;
};

}  // namespace hushed
