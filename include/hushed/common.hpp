// SPDX-License-Identifier: MIT
#pragma once

#include <string>

#include <hushed/detail/export.hpp>
#include <hushed/detail/field_type.hpp>
#include <hushed/time.hpp>

namespace hushed HUSHED_API {

/// Whether a behaviour reads its dependencies as they are now (and is evaluated after them), or as they were at the
/// last tick.
enum class Reads { now, last_tick };

constexpr auto choices(Reads) { return Choices<Reads, 2>{{{Reads::now, "now"}, {Reads::last_tick, "last tick"}}}; }

/// The values that every behaviour has beside its own: the third argument of `Scene::give`.
struct Common {
  std::string name = {};  ///< its name in paths; its kind where left empty
  bool enabled = true;    ///< false: it waits until `Scene::start`
  Time delay = {};        ///< from its start until it acts
  double weight = 1.0;    ///< 0 to 1: the share of its output
  Time fade = {};         ///< time in which the weight rises at a start and falls at a stop
  Reads reads = Reads::now;
};

}  // namespace hushed
