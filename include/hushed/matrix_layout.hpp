// SPDX-License-Identifier: MIT
#pragma once

#include <hushed/detail/export.hpp>
#include <hushed/pose.hpp>

namespace hushed HUSHED_API {

/// The axis that points up.
enum class Up { y, z };
enum class Handedness { right, left };
/// The order of the 16 numbers of a matrix in memory. In either, the matrix is multiplied by a column of coordinates.
enum class MatrixOrder { by_column, by_row };

/// The conventions of an engine. A scene is right-handed, with Y up. X is the same axis in all of them:
///
///     up   handedness   the scene's (x, y, z) is
///     y    right        (x, y, z)
///     y    left         (x, y, -z)
///     z    right        (x, -z, y)
///     z    left         (x, z, y)
struct MatrixLayout {
  Up up = Up::y;
  Handedness handedness = Handedness::right;
  MatrixOrder order = MatrixOrder::by_column;
  /// m, in the axes of the scene: the point that becomes 0. Near it, matrices of floats are exact to a millimetre,
  /// however far it is from the scene's own origin.
  Vec3 origin = {0.0, 0.0, 0.0};
};

/// A world pose in the conventions of an engine. A scale belongs to the object's own axes, which are exchanged
/// likewise.
Pose to_engine(const Pose& pose, const MatrixLayout& layout);
/// The inverse of `to_engine`: a pose of an engine, such as one to `feed`, in the scene's world.
Pose from_engine(const Pose& pose, const MatrixLayout& layout);

}  // namespace hushed
