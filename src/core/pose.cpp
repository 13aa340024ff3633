// SPDX-License-Identifier: MIT
#include <hushed/pose.hpp>

#include <cmath>

#include <hushed/detail/block.hpp>
#include <hushed/detail/constants.hpp>

#include "lanes/conversions.hpp"
#include "lanes/geometry.hpp"

namespace hushed {

namespace {

double in_half_turn(double degrees) {
  const double left = std::remainder(degrees, 360.0);  // exact, in [-180, 180]
  return left <= -180.0 ? 180.0 : left;
}

}  // namespace

Angle wrapped(Angle angle) { return degrees(in_half_turn(angle.in_degrees())); }

Pose at(double x, double y, double z) { return {.position = Vec3{x, y, z}}; }
Pose at(const Vec3& point) { return {.position = point}; }

Quat rotation(const Vec3& axis, Angle angle) {
  const auto [sine, cosine] = detail::sine_cosine_of_degrees(angle.in_degrees() * 0.5);
  // Scaled by the largest component first, so that neither a very long nor a very short axis overflows or underflows.
  const double largest = axis.cwiseAbs().maxCoeff();
  const Vec3 scaled = axis / largest;
  const double length = std::sqrt(detail::squared_length(detail::numbers(scaled)));
  const double factor = sine / length;
  return {cosine, scaled.x() * factor, scaled.y() * factor, scaled.z() * factor};
}

Quat rotation(Angle pitch, Angle yaw, Angle roll) {
  using detail::numbers;
  return detail::vector((numbers(rotation(axis::up, yaw)) * numbers(rotation(axis::right, pitch))) *
                        numbers(rotation(axis::forward, roll)));
}

Quat rotation(const Vec3& rotation_vector) {
  return detail::vector(detail::rotation_by(detail::numbers(rotation_vector)));
}

Vec3 rotation_vector(const Quat& turn) { return detail::vector(detail::rotation_vector_of(detail::numbers(turn))); }

Angle angle_between(const Quat& a, const Quat& b) { return radians(rotation_vector(b * a.conjugate()).norm()); }

PitchYawRoll pitch_yaw_roll(const Quat& q) {
  const double x = q.x(), y = q.y(), z = q.z(), w = q.w();
  // The turned +Z is (sin yaw cos pitch, -sin pitch, cos yaw cos pitch).
  const double forward_x = 2.0 * (x * z + w * y);
  const double forward_y = 2.0 * (y * z - w * x);
  const double forward_z = w * w - x * x - y * y + z * z;
  const double level = std::hypot(forward_x, forward_z);
  const double to_degrees = 180.0 / detail::pi;

  if (level < 1e-9) {  // straight up or down: the whole rotation about the vertical is yaw
    const double yaw = std::atan2(2.0 * (w * y - x * z), w * w + x * x - y * y - z * z);
    return {degrees(forward_y > 0.0 ? -90.0 : 90.0), degrees(in_half_turn(yaw * to_degrees)), degrees(0.0)};
  }
  const double pitch = std::atan2(-forward_y, level);
  const double yaw = std::atan2(forward_x, forward_z);
  const double roll = std::atan2(2.0 * (x * y + w * z), w * w - x * x + y * y - z * z);
  return {degrees(pitch * to_degrees), degrees(in_half_turn(yaw * to_degrees)),
          degrees(in_half_turn(roll * to_degrees))};
}

Pose compose(const Pose& frame, const Pose& local) {
  return detail::vector(detail::compose(detail::numbers(frame), detail::numbers(local)));
}

Pose into(const Pose& frame, const Pose& pose) {
  return detail::vector(detail::brought_into(detail::numbers(frame), detail::numbers(pose)));
}

Pose mix(const Pose& a, const Pose& b, double share) {
  if (share == 0.0) return a;
  if (share == 1.0) return b;
  return detail::vector(detail::mixed(detail::numbers(a), detail::numbers(b), share));
}

namespace detail {

Pose lane_of(const PoseBlock& block, int lane) { return vector(load<double>(block, lane)); }
void set_lane(PoseBlock& block, int lane, const Pose& pose) { store(block, lane, numbers(pose)); }

bool make_sound(Pose& pose) {
  const QuatOf<double> q = numbers(pose.rotation);
  const double squared = (q.x * q.x + q.y * q.y) + (q.z * q.z + q.w * q.w);
  const auto is_near = [](const Vec3& v) {  // false for a number that is not finite
    return std::abs(v.x()) <= furthest && std::abs(v.y()) <= furthest && std::abs(v.z()) <= furthest;
  };
  if (!is_near(pose.position) || !is_near(pose.scale) || !(squared > 1e-200 && squared < 1e200)) return false;
  // A quaternion of unit length is not changed, so that a pose that is passed through keeps its bits. Rounding leaves
  // up to 7e-16 where one has been normalised.
  if (std::abs(squared - 1.0) <= 1e-15) return true;
  const double length = std::sqrt(squared);
  pose.rotation = Quat{q.w / length, q.x / length, q.y / length, q.z / length};
  return true;
}

}  // namespace detail
}  // namespace hushed
