// SPDX-License-Identifier: MIT
#pragma once

#include <tuple>

#include <hushed/detail/export.hpp>
#include <hushed/detail/kind.hpp>
#include <hushed/field.hpp>
#include <hushed/space.hpp>

namespace hushed HUSHED_API {

/// What `Travel` does at the bounds of its box.
enum class Edge { bounce, wrap, stop };

constexpr auto choices(Edge) {
  return Choices<Edge, 3>{{{Edge::bounce, "bounce"}, {Edge::wrap, "wrap"}, {Edge::stop, "stop"}}};
}

/// Moves an object at a constant velocity, within bounds if there are any. A function of time alone.
///
/// position = edge(in + velocity * t), on each axis by itself and in closed form: a triangle wave (bounce),
/// a saw over [min, max) (wrap), or a clamp (stop), so that no bound is ever overshot.
struct Travel {
  Vec3 velocity = Vec3::Zero();  ///< m/s
  Space space = Space::parent;   ///< whose axes; own and world are taken as they are at the start
  Box between = {};              ///< m, in the parent's space; infinite where there is no bound
  Edge at_edge = Edge::bounce;

  static constexpr auto kind = "travel";
  static constexpr auto summary = "moves an object at a constant velocity, within bounds if there are any";
  static constexpr auto example = R"(
[[object.skiff.behaviour]]
kind     = "travel"
velocity = [1.5, 0, 0]                             # metres per second
between  = [[-6, -inf, -inf], [6, inf, inf]]       # to and fro along x
)";
  static constexpr auto fields =
      std::tuple{field("velocity", &Travel::velocity, unit::metres_per_second, "how fast, and where to", required),
                 field("space", &Travel::space, unit::none,
                       "whose axes the velocity is along; own and world as they are at the start",
                       allowed(Space::own, Space::parent, Space::world)),
                 field("between", &Travel::between, unit::metres,
                       "the bounds [[min], [max]] in the parent's space; inf where there is none"),
                 field("at_edge", &Travel::at_edge, unit::none, "what happens at a bound")};
};

template <>
const detail::Kind& detail::kind_of<Travel>();

}  // namespace HUSHED_API
