// SPDX-License-Identifier: MIT
#pragma once

// Recorded motion: keys of a pose over time, as `Replay` plays them.

#include <array>
#include <cstddef>
#include <memory>
#include <string>
#include <vector>

#include <hushed/detail/export.hpp>
#include <hushed/pose.hpp>

namespace hushed HUSHED_API {

/// The pose of one object over time. Before its first key and after its last one, a channel keeps their values.
class Motion {
 public:
  /// How a channel goes from one key to the next, as glTF 2.0 defines it.
  enum class Between { step, linear, cubic };

  /// Position (m), rotation (quaternion x, y, z, w) or scale.
  struct Channel {
    std::vector<double> times;   ///< s, increasing
    std::vector<double> values;  ///< three numbers a key, or four; with `cubic` in-tangent, value, out-tangent
    Between between = Between::linear;
    friend bool operator==(const Channel&, const Channel&) = default;
  };

  Motion() = default;
  /// A channel without keys leaves its part of the pose as it is. Throws `BadValue` for times that do not increase,
  /// numbers that are not finite or beyond 1e9, rotations whose length is not 1 within 1 %, or wrong counts.
  Motion(Channel position, Channel rotation, Channel scale);

  const Channel& position() const { return position_; }
  const Channel& rotation() const { return rotation_; }
  const Channel& scale() const { return scale_; }
  /// The shortest way from one rotation to the next at constant speed, as a great circle of unit quaternions: after the
  /// share s of the time it is at middle cos((s - 1/2) angle) + aside sin((s - 1/2) angle).
  struct Arc {
    std::array<double, 4> middle, aside;
    double angle;  ///< radians between the two quaternions, at most pi/2: half of the turn
  };
  /// For linear rotations: from each key to the next.
  const std::vector<Arc>& arcs() const { return arcs_; }
  bool has_common_times() const { return has_common_times_; }  ///< position and rotation have the same times
  double begin() const { return begin_; }                      ///< s: the time of its first key
  double end() const { return end_; }                          ///< s: the time of its last key
  /// True where all keys are equal.
  friend bool operator==(const Motion& a, const Motion& b) {
    return a.position_ == b.position_ && a.rotation_ == b.rotation_ && a.scale_ == b.scale_;
  }

 private:
  Channel position_, rotation_, scale_;
  std::vector<Arc> arcs_;
  bool has_common_times_ = false;
  double begin_ = 0.0, end_ = 0.0;
};

/// The motions of a file, each of an object and in a clip.
struct MotionFile {
  struct Clip {
    std::string name;
    double length = 0.0;  ///< s: from 0 to the last key of all objects
    friend bool operator==(const Clip&, const Clip&) = default;
  };
  struct Entry {
    std::size_t clip;
    std::string object;
    std::shared_ptr<const Motion> motion;
    friend bool operator==(const Entry& a, const Entry& b) {
      return a.clip == b.clip && a.object == b.object && *a.motion == *b.motion;
    }
  };
  std::vector<Clip> clips;
  std::vector<Entry> entries;  ///< by object, then by clip

  /// Adds the motion of an object in the last clip.
  void add(std::string object, std::shared_ptr<const Motion> motion);
  /// The motion of an object; in the first clip that has it, where `clip` is empty. nullptr where there is none.
  const Entry* find(const std::string& clip, const std::string& object) const;
  friend bool operator==(const MotionFile&, const MotionFile&) = default;
};

}  // namespace hushed
