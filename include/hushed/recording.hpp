// SPDX-License-Identifier: MIT
#pragma once

// A play that is kept: where everything was, frame by frame. In the library HushedOrbit::analysis.

#include <functional>
#include <optional>
#include <span>
#include <string>
#include <vector>

#include <hushed/detail/export.hpp>
#include <hushed/frames.hpp>
#include <hushed/pose.hpp>
#include <hushed/scene.hpp>
#include <hushed/time.hpp>

namespace hushed HUSHED_API {

/// World poses of some objects, frame by frame.
struct Recording {
  /// Something that happened while it was played.
  struct Happening {
    Time time;
    std::string object, name;   ///< of the rule, where one fired
    std::optional<int> number;  ///< of the point that was reached
    std::string words;          ///< in a sentence
  };

  std::vector<std::string> objects;          ///< in the order in which they were added
  std::vector<std::optional<Shape>> shapes;  ///< of each object, where they are known
  std::vector<Time> times;                   ///< of the frames, rising
  std::vector<Pose> poses;                   ///< frame after frame, one for each object
  std::vector<bool> hidden;                  ///< of each pose, where it is known: it was hidden, or had ended
  std::vector<Happening> happenings;         ///< in the order of their times

  std::size_t frames() const { return times.size(); }
  const Pose& at(std::size_t frame, std::size_t object) const { return poses[frame * objects.size() + object]; }
  bool is_hidden(std::size_t frame, std::size_t object) const {
    const std::size_t number = frame * objects.size() + object;
    return number < hidden.size() && hidden[number];
  }
  std::optional<std::size_t> find(std::string_view object) const;
  /// How far an object ever is from where it began, in m.
  double reach(std::size_t object) const;
};

/// The objects of a scene in the order in which they were added, which no layout changes.
std::vector<Object> objects_in_order(const Scene& scene);

/// Every object's position: what is watched where nobody says what to watch.
std::vector<Watch> every_position(const Scene& scene);

/// Keeps frame after frame of a scene that somebody else plays.
class RecordingBuilder {
 public:
  RecordingBuilder(const Scene& scene, Recording& to);
  /// The scene as it is now, and what has happened since the last frame.
  void add(Time time, std::span<const Event> events);

 private:
  const Scene& scene_;
  Recording& to_;
  std::vector<Object> objects_;
  std::vector<Pose> last_;
};

/// Plays a scene from where it is and keeps what it shows, until `goes_on` (if there is one) returns false: it is told
/// the number of the frame, and asked every few ticks, also within a long frame.
///
///     Recording seen = record(harbour, FrameTimes{60.0}, 600);
///     Vec3 last = seen.at(600, *seen.find("ferry")).position;
Recording record(Scene& scene, const FrameTimes& times, std::int64_t last_frame,
                 const std::function<bool(std::int64_t)>& goes_on = nullptr);
/// Plays a scene, and keeps the pose of every object at each of `times`, which must rise and not lie before the
/// scene's time. `goes_on`, if there is one, may stop it, as for `record`.
Recording record_at(Scene& scene, std::span<const Time> times,
                    const std::function<bool(std::int64_t)>& goes_on = nullptr);

}  // namespace hushed
