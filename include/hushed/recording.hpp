// SPDX-License-Identifier: MIT
#pragma once

// Recordings: the poses of all objects, frame by frame. In the library HushedOrbit::analysis.

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
  /// An event during the recording.
  struct Happening {
    Time time;
    std::string object, name;   ///< names of the object (or rule) and of the event
    std::optional<int> number;  ///< the event's number, where it has one
    std::string words;          ///< the event in a sentence
  };

  std::vector<std::string> objects;          ///< names, in the order in which they were added
  std::vector<std::optional<Shape>> shapes;  ///< one for each object, where it is known
  std::vector<Time> times;                   ///< of the frames, rising
  std::vector<Pose> poses;                   ///< frame after frame, one for each object
  std::vector<bool> hidden;                  ///< one for each pose, where known: it was hidden, or had ended
  std::vector<Happening> happenings;         ///< in the order of their times

  std::size_t frames() const { return times.size(); }
  const Pose& at(std::size_t frame, std::size_t object) const { return poses[frame * objects.size() + object]; }
  bool is_hidden(std::size_t frame, std::size_t object) const {
    const std::size_t number = frame * objects.size() + object;
    return number < hidden.size() && hidden[number];
  }
  std::optional<std::size_t> find(std::string_view object) const;
  /// The greatest distance of an object from its first position, in m.
  double reach(std::size_t object) const;
};

/// The objects of a scene in the order in which they were added.
std::vector<Object> objects_in_order(const Scene& scene);

/// Watches of the position of every object, the default where nothing else is watched.
std::vector<Watch> every_position(const Scene& scene);

/// Adds frames to a recording of a scene that is played elsewhere.
class RecordingBuilder {
 public:
  RecordingBuilder(const Scene& scene, Recording& to);
  /// Adds the scene as it is now, and the events since the last frame.
  void add(Time time, std::span<const Event> events);

 private:
  const Scene& scene_;
  Recording& to_;
  std::vector<Object> objects_;
  std::vector<Pose> last_;
};

/// Plays a scene from its present time and records it, until `goes_on` (if given) returns false. `goes_on` gets the
/// number of the frame and is called every few ticks, also within a long frame.
///
///     Recording play = record(harbour, FrameTimes{60.0}, 600);
///     Vec3 last = play.at(600, *play.find("ferry")).position;
Recording record(Scene& scene, const FrameTimes& times, std::int64_t last_frame,
                 const std::function<bool(std::int64_t)>& goes_on = nullptr);
/// Plays a scene and records the pose of every object at each of `times`, which must rise and not be before the scene's
/// time. `goes_on` may stop it, as in `record`.
Recording record_at(Scene& scene, std::span<const Time> times,
                    const std::function<bool(std::int64_t)>& goes_on = nullptr);

/// Feeds the poses of a recording to all objects of the scene that have the behaviour `Fed` and the name of a recorded
/// object, ahead of their times. Poses up to the present time are skipped, but for the last of them, which the object
/// jumps to. Returns the number of objects. Throws `BadValue` for an object that takes poses in the space of a parent:
/// recorded ones are of the world.
///
///     feed(harbour, read_recording("pilot.csv"));
std::size_t feed(Scene& scene, const Recording& recording);

}  // namespace hushed
