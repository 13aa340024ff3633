// SPDX-License-Identifier: MIT
#pragma once

// Obstacle avoidance: free directions, and limits of the velocity toward surfaces.

#include <array>
#include <cstddef>
#include <optional>
#include <span>

#include <hushed/detail/kind.hpp>

#include "lanes/geometry.hpp"

namespace hushed::detail {

/// A sphere or a box, enlarged by a margin.
struct Solid {
  bool is_round;
  VecOf<double> centre;
  QuatOf<double> rotation;  ///< of a box
  VecOf<double> half;       ///< m along its own axes; for a sphere, each is the radius
  VecOf<double> velocity;   ///< m/s
};

Solid solid_of(const Obstacle& obstacle, double margin);

/// The distance of a point from the surface, negative inside, and the outward normal there.
struct Clearance {
  double distance;
  VecOf<double> out;
};
Clearance clearance(const Solid& solid, const VecOf<double>& point);

/// The distance from a point to the solid in a direction of unit length; infinite where the ray misses it. In closed
/// form: a quadratic equation, or the slabs of a box (Kay and Kajiya 1986).
double free_way(const Solid& solid, const VecOf<double>& from, const VecOf<double>& direction);

/// A list of fixed capacity. Items beyond it are dropped.
template <class T, std::size_t most>
class Few {
 public:
  void add(const T& one) {
    if (count_ < most) all_[count_++] = one;
  }
  bool is_empty() const { return count_ == 0; }
  const T* begin() const { return all_.data(); }
  const T* end() const { return all_.data() + count_; }

 private:
  std::array<T, most> all_;
  std::size_t count_ = 0;
};

using Solids = Few<Solid, 32>;

/// A direction of unit length.
struct FreeDirection {
  VecOf<double> direction;
  double way;  ///< m: the free distance
};
/// Returns the wanted direction where it is free for `reach` (m). Otherwise, of the directions that just pass a side,
/// edge or corner of a solid, the free one nearest to it, or the one with the greatest free distance where none is
/// free. `heading`, the present direction of motion, decides between equally near ones. `level`: level directions only.
FreeDirection find_free(const Solids& solids, const VecOf<double>& from, const VecOf<double>& wanted,
                        const VecOf<double>& heading, double reach, bool level);

/// The greatest speed u (m/s) from which braking by a * tick at each tick stops within a distance: in n ticks, the last
/// of them at a * tick or less, the movements add up to n u tick - a tick^2 n (n - 1) / 2. 0 where a is 0.
double braking_speed(double distance, double acceleration, double tick);

/// A lower bound for the component of a velocity along a normal.
struct Limit {
  VecOf<double> normal;
  double least;  ///< m/s
};
using Limits = Few<Limit, 48>;

/// Returns the velocity nearest to `wanted` that meets the limits and differs from `now` by at most `change` (m/s).
/// Where no velocity does both, the limits are met as far as possible. Nothing where the limits have no effect.
std::optional<VecOf<double>> held_back(const Limits& limits, const VecOf<double>& now, const VecOf<double>& wanted,
                                       double change);

}  // namespace hushed::detail
