// SPDX-License-Identifier: MIT
#pragma once

#include <array>
#include <cstdint>
#include <optional>
#include <tuple>

#include <hushed/detail/export.hpp>
#include <hushed/detail/kind.hpp>
#include <hushed/easing.hpp>
#include <hushed/field.hpp>

namespace hushed HUSHED_API {

/// Goes to one random place after another. A function of time alone.
///
/// On axis i, place k is min + (max - min) * `seeded_number(seed, 3 k + i)`, so that it is known without those before
/// it; the first leg sets out from where the object is when it starts. Only the position is changed; it replaces what
/// comes in.
struct Roam {
  Box box = {};                       ///< m, in the parent's space; finite
  std::optional<Time> duration = {};  ///< of each leg
  std::optional<double> speed = {};   ///< m/s, instead
  Easing easing = {};                 ///< of each leg
  Time pause = {};                    ///< after each arrival
  std::int64_t seed = 0;

  static constexpr auto kind = "roam";
  static constexpr auto summary = "goes to one random place after another";
  static constexpr auto example = R"(
[[object.lantern.behaviour]]
kind   = "roam"
box    = [[-8, 0, -8], [8, 0, 8]]
speed  = 0.4                        # metres per second
easing = "in-out-sine"
seed   = 3                          # another seed, other places
)";
  static constexpr std::array exactly_one{OneOf{{"duration", "speed"}}};
  static constexpr auto fields = std::tuple{
      field("box", &Roam::box, unit::metres, "where the places are, [[min], [max]] in the parent's space", required),
      field("duration", &Roam::duration, unit::seconds, "how long each leg takes", slider(0, 20)),
      field("speed", &Roam::speed, unit::pace, "how fast it goes, instead", slider(0, 10)),
      field("easing", &Roam::easing, unit::none, "how each leg is spread over its time"),
      field("pause", &Roam::pause, unit::seconds, "how long it stands at each place", slider(0, 5)),
      field("seed", &Roam::seed, unit::none, "which places they are")};
};

template <>
const detail::Kind& detail::kind_of<Roam>();

}  // namespace HUSHED_API
