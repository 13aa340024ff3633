// SPDX-License-Identifier: MIT
#pragma once

// Conversions between the types of kernels and those of Eigen. Headers with kernels alone do not include it.

#include <hushed/pose.hpp>

#include "lanes/geometry.hpp"

namespace hushed::detail {

inline VecOf<double> numbers(const Vec3& v) { return {v.x(), v.y(), v.z()}; }
inline QuatOf<double> numbers(const Quat& q) { return {q.x(), q.y(), q.z(), q.w()}; }
inline PoseOf<double> numbers(const Pose& p) { return {numbers(p.position), numbers(p.rotation), numbers(p.scale)}; }
inline Vec3 vector(const VecOf<double>& v) { return {v.x, v.y, v.z}; }
inline Quat vector(const QuatOf<double>& q) { return {q.w, q.x, q.y, q.z}; }
inline Pose vector(const PoseOf<double>& p) { return {vector(p.position), vector(p.rotation), vector(p.scale)}; }

}  // namespace hushed::detail
