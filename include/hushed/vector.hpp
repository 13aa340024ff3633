// SPDX-License-Identifier: MIT
#pragma once

#include <Eigen/Core>
#include <Eigen/Geometry>

#include <hushed/detail/export.hpp>

namespace hushed HUSHED_API {

/// Three numbers: a point or a displacement in metres, a direction, or a scale. Never aligned
/// beyond a double, so that no compiler flag of yours changes its layout.
using Vec3 = Eigen::Matrix<double, 3, 1, Eigen::DontAlign>;

/// A rotation as a unit quaternion; stored, printed and read as x, y, z, w.
using Quat = Eigen::Quaternion<double, Eigen::DontAlign>;

/// The directions of the axes, unit vectors: `Spin{.axis = axis::up}`.
namespace axis {
inline const Vec3 right{1.0, 0.0, 0.0};    ///< +X
inline const Vec3 up{0.0, 1.0, 0.0};       ///< +Y
inline const Vec3 forward{0.0, 0.0, 1.0};  ///< +Z, an object's own forward
}  // namespace axis

}  // namespace hushed
