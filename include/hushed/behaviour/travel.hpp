// SPDX-License-Identifier: MIT
#pragma once

#include <hushed/box.hpp>
#include <hushed/detail/export.hpp>
#include <hushed/detail/kind_of.hpp>
#include <hushed/space.hpp>
#include <hushed/vector.hpp>

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
  Vec3 velocity = {0.0, 0.0, 0.0};  ///< m/s
  Space space = Space::parent;      ///< whose axes; own and world are taken as they are at the start
  Box between = {};                 ///< m, in the parent's space; infinite where there is no bound
  Edge at_edge = Edge::bounce;

  static constexpr auto kind = "travel";
};

template <>
const detail::Kind& detail::kind_of<Travel>();

}  // namespace hushed
