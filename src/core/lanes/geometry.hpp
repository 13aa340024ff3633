// SPDX-License-Identifier: MIT
#pragma once

// Vectors, rotations and poses of R. Every operation and its order are written out, so that the bits do not depend on a
// library or a compiler.

#include "lanes/real.hpp"
#include "lanes/trigonometry.hpp"

namespace hushed::detail {

template <class R>
struct VecOf {
  R x, y, z;
};

template <class R>
struct QuatOf {
  R x, y, z, w;
};

template <class R>
struct PoseOf {
  VecOf<R> position;
  QuatOf<R> rotation;
  VecOf<R> scale;
};

template <class R>
VecOf<R> operator+(const VecOf<R>& a, const VecOf<R>& b) {
  return {a.x + b.x, a.y + b.y, a.z + b.z};
}
template <class R>
VecOf<R> operator-(const VecOf<R>& a, const VecOf<R>& b) {
  return {a.x - b.x, a.y - b.y, a.z - b.z};
}
template <class R>
VecOf<R> operator*(const VecOf<R>& a, R factor) {
  return {a.x * factor, a.y * factor, a.z * factor};
}
template <class R>
VecOf<R> by_factors(const VecOf<R>& a, const VecOf<R>& b) {
  return {a.x * b.x, a.y * b.y, a.z * b.z};
}
template <class R>
VecOf<R> cross(const VecOf<R>& a, const VecOf<R>& b) {
  return {a.y * b.z - a.z * b.y, a.z * b.x - a.x * b.z, a.x * b.y - a.y * b.x};
}
/// Linear interpolation from a to b, exact at both ends.
template <class R>
VecOf<R> between(const VecOf<R>& a, const VecOf<R>& b, R share) {
  return a * (1.0 - share) + b * share;
}
template <class R>
R dot(const VecOf<R>& a, const VecOf<R>& b) {
  return a.x * b.x + a.y * b.y + a.z * b.z;
}
template <class R>
R squared_length(const VecOf<R>& a) {
  return a.x * a.x + a.y * a.y + a.z * a.z;
}

/// Hamilton's product: b first, then a.
template <class R>
QuatOf<R> operator*(const QuatOf<R>& a, const QuatOf<R>& b) {
  return {(a.w * b.x + a.x * b.w) + (a.y * b.z - a.z * b.y), (a.w * b.y + a.y * b.w) + (a.z * b.x - a.x * b.z),
          (a.w * b.z + a.z * b.w) + (a.x * b.y - a.y * b.x), (a.w * b.w - a.x * b.x) - (a.y * b.y + a.z * b.z)};
}
template <class R>
QuatOf<R> inverse(const QuatOf<R>& q) {
  return {-q.x, -q.y, -q.z, q.w};
}
/// v + 2w(u x v) + 2 u x (u x v), u being the quaternion's vector.
template <class R>
VecOf<R> rotate(const QuatOf<R>& q, const VecOf<R>& v) {
  const VecOf<R> u{q.x, q.y, q.z};
  const VecOf<R> once = cross(u, v);
  const VecOf<R> twice = cross(u, once);
  return {v.x + (q.w * once.x + twice.x) * 2.0, v.y + (q.w * once.y + twice.y) * 2.0,
          v.z + (q.w * once.z + twice.z) * 2.0};
}
/// Normalises a quaternion whose length differs from 1 by rounding only: one step of Newton's method for 1/sqrt,
/// without a root.
template <class R>
QuatOf<R> near_unit(const QuatOf<R>& q) {
  const R factor = 1.5 - 0.5 * ((q.x * q.x + q.y * q.y) + (q.z * q.z + q.w * q.w));
  return {q.x * factor, q.y * factor, q.z * factor, q.w * factor};
}

/// The rotation about the vector's direction by its length in radians.
template <class R>
QuatOf<R> rotation_by(const VecOf<R>& v) {
  const R squared = squared_length(v);
  const R angle = square_root(squared);
  const auto [sine, cosine] = sine_cosine(0.5 * angle);
  const R factor = select(angle > 1e-8, sine / select(angle > 1e-8, angle, R{1.0}), 0.5 - squared * (1.0 / 48.0));
  return {v.x * factor, v.y * factor, v.z * factor, cosine};
}

/// The shortest rotation vector of a rotation: its length is at most pi.
template <class R>
VecOf<R> rotation_vector_of(const QuatOf<R>& turn) {
  const R sign = select(turn.w < 0.0, R{-1.0}, R{1.0});
  const VecOf<R> v{turn.x * sign, turn.y * sign, turn.z * sign};
  const R sine = square_root(squared_length(v));
  const auto turns = sine > 1e-150;
  const R factor = select(turns, 2.0 * arc_tangent(sine, turn.w * sign) / select(turns, sine, R{1.0}), R{2.0});
  return v * factor;
}

/// m: the greatest distance between two poses.
inline constexpr double furthest = 1e150;
/// m: points nearer than that count as the same.
inline constexpr double same_place = 1e-9;

template <class R>
VecOf<R> within_reach(const VecOf<R>& v) {
  const auto held = [](R x) { return larger(smaller(x, R{furthest}), R{-furthest}); };
  return {held(v.x), held(v.y), held(v.z)};
}

/// See `compose` in <hushed/pose.hpp>: of the position, of the scale, and of a whole pose.
template <class R>
VecOf<R> composed_position(const PoseOf<R>& frame, const VecOf<R>& local) {
  return within_reach(frame.position + rotate(frame.rotation, within_reach(by_factors(frame.scale, local))));
}
template <class R>
VecOf<R> composed_scale(const VecOf<R>& frame, const VecOf<R>& local) {
  return within_reach(by_factors(frame, local));
}
template <class R>
PoseOf<R> compose(const PoseOf<R>& frame, const PoseOf<R>& local) {
  return {composed_position(frame, local.position), near_unit(frame.rotation * local.rotation),
          composed_scale(frame.scale, local.scale)};
}

/// See `mix` in <hushed/pose.hpp>; not exact at the ends.
template <class R>
PoseOf<R> mixed(const PoseOf<R>& a, const PoseOf<R>& b, R share) {
  const VecOf<R> turn = rotation_vector_of(b.rotation * inverse(a.rotation));
  return {a.position + (b.position - a.position) * share, near_unit(rotation_by(turn * share) * a.rotation),
          a.scale + (b.scale - a.scale) * share};
}

/// Divides by the factors of a scale; 0 where a factor is nearly 0.
template <class R>
VecOf<R> over_factors(const VecOf<R>& v, const VecOf<R>& scale) {
  const auto over = [](R value, R factor) {
    const auto is_flat = absolute(factor) < 1e-12;
    return select(is_flat, R{0.0}, value / select(is_flat, R{1.0}, factor));
  };
  return {over(v.x, scale.x), over(v.y, scale.y), over(v.z, scale.z)};
}

/// See `into` in <hushed/pose.hpp>: of the position alone, and of a whole pose.
template <class R>
VecOf<R> brought_into(const PoseOf<R>& frame, const VecOf<R>& position) {
  return over_factors(rotate(inverse(frame.rotation), position - frame.position), frame.scale);
}
template <class R>
PoseOf<R> brought_into(const PoseOf<R>& frame, const PoseOf<R>& pose) {
  return {brought_into(frame, pose.position), near_unit(inverse(frame.rotation) * pose.rotation),
          over_factors(pose.scale, frame.scale)};
}

template <class R>
VecOf<R> load(const Row (&rows)[3], int lane) {
  return {load<R>(rows[0], lane), load<R>(rows[1], lane), load<R>(rows[2], lane)};
}
template <class R>
QuatOf<R> load(const Row (&rows)[4], int lane) {
  return {load<R>(rows[0], lane), load<R>(rows[1], lane), load<R>(rows[2], lane), load<R>(rows[3], lane)};
}
template <class R>
PoseOf<R> load(const PoseBlock& block, int lane) {
  return {load<R>(block.position, lane), load<R>(block.rotation, lane), load<R>(block.scale, lane)};
}

template <class R>
void store(Row (&rows)[3], int lane, const VecOf<R>& v) {
  store(rows[0], lane, v.x);
  store(rows[1], lane, v.y);
  store(rows[2], lane, v.z);
}
template <class R>
void store(Row (&rows)[4], int lane, const QuatOf<R>& q) {
  store(rows[0], lane, q.x);
  store(rows[1], lane, q.y);
  store(rows[2], lane, q.z);
  store(rows[3], lane, q.w);
}
template <class R>
void store(PoseBlock& block, int lane, const PoseOf<R>& pose) {
  store(block.position, lane, pose.position);
  store(block.rotation, lane, pose.rotation);
  store(block.scale, lane, pose.scale);
}

}  // namespace hushed::detail
