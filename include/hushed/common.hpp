// SPDX-License-Identifier: MIT
#pragma once

#include <string>
#include <tuple>

#include <hushed/detail/export.hpp>
#include <hushed/field.hpp>
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

  static constexpr auto fields = std::tuple{
      field("enabled", &Common::enabled, unit::none, "false: it waits until it is started"),
      field("delay", &Common::delay, unit::seconds, "how long after its start it begins to act", slider(0, 5)),
      field("weight", &Common::weight, unit::share, "how much of what it gives is mixed in", slider(0, 1)),
      field("fade", &Common::fade, unit::seconds, "how long the weight takes to rise at a start and to fall at a stop",
            slider(0, 2)),
      field("reads", &Common::reads, unit::none,
            "what it looks at is seen as it is now, or as it was at the last tick")};
};

}  // namespace HUSHED_API
