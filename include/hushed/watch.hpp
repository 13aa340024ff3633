#pragma once

// Watches: what of a scene is looked at, frame by frame. In the library HushedOrbit::study.

#include <string>
#include <string_view>
#include <vector>

#include <hushed/scene.hpp>

namespace hushed {

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

  /// The names of its columns: `lamp.position.x`, ... for a vector, otherwise its text.
  std::vector<std::string> columns() const;

  /// Whether it compares moments: a speed, a velocity, an acceleration.
  bool looks_back() const;
  /// What its numbers are measured in: "m", "deg/s"; empty for quaternions and factors.
  std::string_view unit() const;

  /// What those that compare are to be shown of each moment.
  Pose pose(const Scene& scene) const;

  /// The numbers of the columns; not for those that look back.
  void read(const Scene& scene, std::vector<double>& to) const;
  /// The numbers of the columns of one that looks back.
  struct Motion {
    Vec3 velocity, acceleration;  ///< m/s, m/s^2
    Vec3 turning;                 ///< rad/s, about the axes of the space it is seen in
  };
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

/// Every object's position: what is watched where nobody says what to watch.
std::vector<Watch> every_position(const Scene& scene);

}  // namespace hushed
