#pragma once

// Watches: what of a scene is looked at, frame by frame. In the library HushedOrbit::study.

#include <functional>
#include <optional>
#include <span>
#include <string>
#include <string_view>
#include <vector>

#include <hushed/scene.hpp>

namespace hushed {

/// One thing to look at: `lamp.rotation.yaw`, `local:lamp.position`, `distance(tug,ferry)`. See
/// docs/reference/watches.md for all of them.
class Watch {
 public:
  enum class Quantity { position, rotation, scale, velocity, acceleration, speed, distance, bearing };
  enum class Part { all, x, y, z, w, yaw, pitch, roll };

  /// Throws `BadValue`, with a suggestion, where the words mean nothing or name nothing in the scene.
  Watch(std::string_view text, const Scene& scene);

  /// The names of its columns: `lamp.position.x`, ... for a vector, otherwise its text.
  std::vector<std::string> columns() const;

  /// Whether it compares moments: a speed, a velocity, an acceleration.
  bool looks_back() const;

  /// What is at an earlier moment, for those that compare: the pose's position.
  Vec3 position(const Scene& scene) const;

  /// The numbers of the columns; not for those that look back.
  void read(const Scene& scene, std::vector<double>& to) const;
  /// The numbers of the columns of one that looks back, from its velocity and acceleration.
  void read_motion(const Vec3& velocity, const Vec3& acceleration, std::vector<double>& to) const;

 private:
  std::string text_;
  bool local_ = false;
  Quantity quantity_ = Quantity::position;
  Part part_ = Part::all;
  Object object_, other_;
};

/// Splits a list at its commas, but for those within brackets.
std::vector<std::string> split_watches(std::string_view list);

/// Every object's position: what is watched where nobody says what to watch.
std::vector<Watch> every_position(const Scene& scene);

/// The times of the frames of a play.
class FrameTimes {
 public:
  /// `per_second` frames per second, in (0, 1e6].
  explicit FrameTimes(double per_second) : per_second_{per_second} {}
  /// Frames of uneven length, (0.25 + 1.5 * u(seed, k)) / per_second for frame k, u in [0, 1).
  FrameTimes(double per_second, std::uint64_t seed) : per_second_{per_second}, seed_{seed} {}

  /// The time of the next frame; the first is at 0.
  Time next();

 private:
  double per_second_;
  std::optional<std::uint64_t> seed_;
  std::int64_t number_ = 0;
  Time time_ = {};
};

/// One frame of a play: its number, its time, and the numbers of all columns.
struct Frame {
  std::int64_t number;
  Time time;
  std::span<const double> values;
};

/// Plays a scene from where it is, `last_frame` frames after frame 0, and shows each frame to `see`, until
/// that returns false. Velocities compare the poses shown one tick apart, as docs/reference/watches.md says.
void play(Scene& scene, std::span<const Watch> watches, const FrameTimes& times, std::int64_t last_frame,
          const std::function<bool(const Frame&)>& see);

/// A number that depends on a seed and a count alone, in [0, 1): the published mixing function splitmix64 (Steele,
/// Lea, Flood 2014) of seed + 0x9E3779B97F4A7C15 * (n + 1), its upper 53 bits.
double seeded_number(std::uint64_t seed, std::uint64_t n);

}  // namespace hushed
