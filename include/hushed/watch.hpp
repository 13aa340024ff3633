// SPDX-License-Identifier: MIT
#pragma once

// Watches: numbers of a scene by name, for tables, pictures and rules.

#include <optional>
#include <string>
#include <string_view>
#include <vector>

#include <hushed/detail/export.hpp>
#include <hushed/handle.hpp>
#include <hushed/pose.hpp>
#include <hushed/time.hpp>

namespace hushed HUSHED_API {

class Scene;

namespace detail {
class ObjectNames;
}

/// One number or vector of a scene: `lamp.rotation.yaw`, `local:lamp.position`, `distance(tug,ferry)`. See
/// docs/reference/watches.md for all of them.
class Watch {
 public:
  enum class Quantity {
    position,
    rotation,
    scale,
    velocity,
    acceleration,
    speed,
    angular_velocity,
    angular_speed,
    distance,
    bearing
  };
  enum class Part { all, x, y, z, w, yaw, pitch, roll };

  /// Throws `BadValue`, with a suggestion, where the text is no watch or names nothing in the scene.
  Watch(std::string_view text, const Scene& scene);
  Watch(std::string_view text, const detail::ObjectNames& names);

  /// The names of its columns: `lamp.position.x`, ... for a vector, otherwise its text.
  std::vector<std::string> columns() const;

  /// True for numbers that compare several moments: speeds, velocities, accelerations.
  bool needs_past() const { return past_samples() > 0; }
  /// The number of earlier moments that it needs: 1 for a velocity or a speed, 2 for an acceleration, 0 for all others.
  int past_samples() const;
  /// The unit of its numbers: "m", "deg/s"; empty for quaternions and factors.
  std::string_view unit() const;

  /// True while its object, and the other where there is one, have not ended.
  bool is_known(const Scene& scene) const;

  Object object() const { return object_; }
  std::optional<Object> other() const;  ///< the second object of a distance or bearing
  bool is_local() const { return local_; }
  const std::string& text() const { return text_; }

  /// The pose that `motion` needs of each moment, for watches that compare moments.
  Pose pose(const Scene& scene) const;

  /// Appends the numbers of the columns. Not for watches that compare moments.
  void read(const Scene& scene, std::vector<double>& to) const;
  /// Appends the numbers of the columns, from the poses of the object and of the other object where there is one.
  void read(const Pose& pose, const Pose& other, std::vector<double>& to) const;
  /// Velocities and acceleration of an object.
  struct Motion {
    Vec3 velocity, acceleration;  ///< m/s, m/s^2
    Vec3 turning;                 ///< angular velocity, rad/s
  };
  /// A pose and its time. `motion` takes three, in the order of time; its result is 0 where no time has passed.
  struct Sample {
    Pose pose;
    Time time;
  };
  static Motion motion(const Sample& two_back, const Sample& one_back, const Sample& now);
  void read_motion(const Motion& motion, std::vector<double>& to) const;

 private:
  std::string text_;
  bool local_ = false;
  Quantity quantity_ = Quantity::position;
  Part part_ = Part::all;
  Object object_, other_;
};

/// The quaternion or its opposite, as it is printed: with w > 0, or its first component other than 0 positive.
Quat as_printed(const Quat& q);

/// Splits a list at commas outside brackets.
std::vector<std::string> split_watches(std::string_view list);

}  // namespace hushed
