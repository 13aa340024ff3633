// SPDX-License-Identifier: MIT
#pragma once

// What is in an agent's way: which direction is free, and how fast it may go toward something that it must not enter.

#include <array>
#include <cstddef>
#include <optional>
#include <span>

#include <hushed/detail/kind.hpp>

#include "lanes/geometry.hpp"

namespace hushed::detail {

/// A ball or a box, grown by a margin.
struct Solid {
  bool is_round;
  VecOf<double> centre;
  QuatOf<double> rotation;  ///< of a box
  VecOf<double> half;       ///< m along its own axes; a ball's radius is each of them
  VecOf<double> velocity;   ///< m/s
};

Solid solid_of(const Obstacle& obstacle, double margin);

/// How far from the surface a point is, less than 0 inside, and which way is straight out.
struct Clearance {
  double distance;
  VecOf<double> out;
};
Clearance clearance(const Solid& solid, const VecOf<double>& point);

/// How far from a point, in a direction of unit length, until the solid is entered; infinite where it never is. In
/// closed form: a quadratic equation, or the slabs of a box (Kay and Kajiya 1986).
double free_way(const Solid& solid, const VecOf<double>& from, const VecOf<double>& direction);

/// A few things, and no more than a few: the rest is dropped.
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

/// Of all directions, of unit length.
struct FreeDirection {
  VecOf<double> direction;
  double way;  ///< m: how far it is free
};
/// The wanted one where it is free for `reach`; else, of those that just pass a solid's side, edge or corner, the free
/// one nearest to it; else the one that is free the furthest. `heading`, where it goes now, decides between sides that
/// are as near. `level`: level directions alone.
FreeDirection find_free(const Solids& solids, const VecOf<double>& from, const VecOf<double>& wanted,
                        const VecOf<double>& heading, double reach, bool level);

/// The speed from which something comes to rest at a distance, losing a * tick of it at each tick: with n ticks that
/// still move it, the last by a * tick or less, the distances add up to n u tick - a tick^2 n (n - 1) / 2. 0 without an
/// acceleration.
double braking_speed(double distance, double acceleration, double tick);

/// A velocity may go no slower than this along a normal: no faster than its opposite against it.
struct Limit {
  VecOf<double> normal;
  double least;  ///< m/s
};
using Limits = Few<Limit, 48>;

/// The velocity nearest to `wanted` that can be had from `now` by a change no longer than `change` and respects the
/// limits; where both cannot be, the limits are met as far as it goes. Nothing where the limits make no difference.
std::optional<VecOf<double>> held_back(const Limits& limits, const VecOf<double>& now, const VecOf<double>& wanted,
                                       double change);

}  // namespace hushed::detail
