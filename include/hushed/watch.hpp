// SPDX-License-Identifier: MIT
#pragma once

// Watches: what of a scene is looked at, frame by frame, or by a rule.

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

/// One thing to look at: `lamp.rotation.yaw`, `local:lamp.position`, `distance(tug,ferry)`. See
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

  /// Throws `BadValue`, with a suggestion, where the words mean nothing or name nothing in the scene.
  Watch(std::string_view text, const Scene& scene);
  Watch(std::string_view text, const detail::ObjectNames& names);

  /// The names of its columns: `lamp.position.x`, ... for a vector, otherwise its text.
  std::vector<std::string> columns() const;

  /// Whether it compares moments: a speed, a velocity, an acceleration.
  bool needs_past() const { return past_samples() > 0; }
  /// How many earlier moments it needs: 1 for a velocity or a speed, 2 for an acceleration, 0 for all others.
  int past_samples() const;
  /// What its numbers are measured in: "m", "deg/s"; empty for quaternions and factors.
  std::string_view unit() const;

  /// Whether what it watches is in the scene: its object, and the other where there is one, have not ended.
  bool is_known(const Scene& scene) const;

  Object object() const { return object_; }
  std::optional<Object> other() const;  ///< the second of two
  bool is_local() const { return local_; }
  const std::string& text() const { return text_; }

  /// What those that compare are to be shown of each moment.
  Pose pose(const Scene& scene) const;

  /// The numbers of the columns; not for those that look back.
  void read(const Scene& scene, std::vector<double>& to) const;
  /// The numbers of the columns from the pose of the watched object, and of the other object where there is one.
  void read(const Pose& pose, const Pose& other, std::vector<double>& to) const;
  /// The numbers of the columns of one that looks back.
  struct Motion {
    Vec3 velocity, acceleration;  ///< m/s, m/s^2
    Vec3 turning;                 ///< rad/s, about the axes of the space it is seen in
  };
  /// Of three poses, each a tick after the one before; 0 where no time has passed.
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

/// The one of two opposite quaternions that is printed: w >= 0, or its first part that is not 0 positive.
Quat as_printed(const Quat& q);

/// Splits a list at its commas, but for those within brackets.
std::vector<std::string> split_watches(std::string_view list);

}  // namespace hushed
