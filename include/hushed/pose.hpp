// SPDX-License-Identifier: MIT
#pragma once

#include <hushed/angle.hpp>
#include <hushed/detail/export.hpp>
#include <hushed/vector.hpp>

namespace hushed HUSHED_API {

/// Position in metres, rotation, and a scale for each of its own axes.
struct Pose {
  Vec3 position = {0.0, 0.0, 0.0};
  Quat rotation = {1.0, 0.0, 0.0, 0.0};
  Vec3 scale = {1.0, 1.0, 1.0};

  Pose with_position(const Vec3& value) const { return {value, rotation, scale}; }
  Pose with_rotation(const Quat& value) const { return {position, value, scale}; }
  Pose with_scale(const Vec3& value) const { return {position, rotation, value}; }
};

/// The pose at a point, unturned and in its natural size: `at(0, 12, 0)`.
Pose at(double x, double y, double z);
Pose at(const Vec3& point);

/// The turn by `angle` about `axis` (any non-zero length), by the right-hand rule.
Quat rotation(const Vec3& axis, Angle angle);

/// Ry(yaw) * Rx(pitch) * Rz(roll): yaw about +Y first, then pitch about the turned +X, then roll about
/// the twice-turned +Z.
Quat rotation(Angle pitch, Angle yaw, Angle roll);

/// The turn about the vector's direction by as many radians as it is long.
Quat rotation(const Vec3& rotation_vector);

/// The shortest rotation vector of a rotation, in radians: its length is at most pi.
Vec3 rotation_vector(const Quat& turn);

/// The angle between two rotations: 0 to 180 degrees.
Angle angle_between(const Quat& a, const Quat& b);

/// Pitch in [-90, 90] degrees, yaw and roll in (-180, 180]; roll is 0 where pitch is +-90.
struct PitchYawRoll {
  Angle pitch, yaw, roll;
};
PitchYawRoll pitch_yaw_roll(const Quat& rotation);

/// The local pose seen from where its frame is: position p + R(s * local), rotation R * local, scale
/// s * local, factor by factor and so without shear. Held within 1e150, far outside any scene, so that no
/// chain of scales ends in an infinity.
Pose compose(const Pose& frame, const Pose& local);

/// A pose of the frame's own surroundings brought into the frame: R^-1(x - p) / s, the inverse of
/// `compose`. Along an axis on which the frame's scale is within 1e-12 of nothing, it gives 0.
Pose into(const Pose& frame, const Pose& pose);

/// Between two poses: position and scale linearly, rotation along the shortest arc. 0 gives `a`, 1 gives
/// `b`, both exactly.
Pose mix(const Pose& a, const Pose& b, double share);

}  // namespace hushed
