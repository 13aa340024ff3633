// SPDX-License-Identifier: MIT
#pragma once

// The poses that the program has fed to objects, by time. What a fed object does at a moment depends on nothing else,
// so that going back in time needs no state but the number of jumps that have been shown.

#include <cstdint>
#include <span>
#include <vector>

#include <hushed/archive.hpp>
#include <hushed/detail/kind.hpp>
#include <hushed/handle.hpp>
#include <hushed/pose.hpp>
#include <hushed/time.hpp>

#include "scene/registry.hpp"
#include "scene/shared_log.hpp"

namespace hushed::detail {

class Feeds {
 public:
  /// True where something has been fed to the object that no going back has forgotten.
  bool knows(Object object) const;
  /// Stores where an object is at `now`, from where its first motion sets out. `is_ahead`: that motion is fed ahead.
  void set_out(Object object, const Pose& pose, Time now, bool is_ahead);
  /// The pose that the object reaches at the end of the next step. The last one before a step counts. Only for objects
  /// that are known.
  void feed(Object object, const Pose& pose);
  /// The pose that the object reaches at `at`, which is later than all that it was fed before. It sets out at `now`, or
  /// at the last of those where that is later. Only for objects that are known.
  void feed_ahead(Object object, const Pose& pose, Time now, Time at);
  /// The object is at the pose from `now` on, once `show_next_jump` is called.
  void jump(Object object, const Pose& pose, Time now);
  void show_next_jump();
  /// A step begins: all poses fed since the last one are reached at its end.
  void begin_step(Time now, Time end) noexcept;

  /// The time of the last pose that was fed to an object; `Time::min()` where there is none.
  Time last(Object object) const;
  /// The motion of an object at a moment. Its poses are valid until the next call that is not const.
  FedMotion motion(Object object, Time at) const noexcept;
  /// A number that changes whenever the result of `motion` for any object and time may have changed.
  std::uint64_t edition() const { return edition_; }

  // --- the past ---
  /// Forgets what was fed after a time, except what was fed ahead. Returns true where that was anything.
  bool forget_after(Time time, Time now);
  /// Forgets what no moment from `time` on depends on.
  void forget_before(Time time);
  /// True where nothing that a moment from `time` on depends on has been forgotten by `forget_before`.
  bool are_known_since(Time time) const { return time >= known_since_; }
  void forget(std::span<const Index> objects);
  /// The number of jumps that have been shown: part of the state of the scene.
  std::size_t shown_jumps() const { return shown_jumps_; }
  void go_back_to(std::size_t shown_jumps);
  /// What no later moment depends on must have been forgotten. `time` is the present, `objects` the number of objects
  /// that the scene has had.
  void archive(Archive& archive, Time time, Index objects);
  /// Returns to an earlier state of all feeds.
  void restore(const Feeds& then);

 private:
  struct Sample {
    Pose pose;
    Time since, at;  ///< it sets out, and arrives
    Time fed_at;     ///< when the program fed it; `Time::min()` where that was ahead, which going back does not forget
    std::size_t jump = 0;  ///< its number among all jumps, from 1 on; 0 for a motion, which has begun after `since`
  };
  struct Track {
    Object object;
    std::vector<std::uint32_t> samples;  ///< in `samples_`, in the order of their times
    bool is_pending = false;
    Pose pending;  ///< reached at the end of the next step
    Sample last;   ///< copies of the last sample and of the pose before it, as they are nearly always asked for
    Pose from;
  };

  Track* find(Object object);
  const Track* find(Object object) const;
  Track& track_of(Object object);
  const Sample& sample(const Track& track, std::size_t i) const { return samples_[track.samples[i]]; }
  bool has_begun(const Sample& sample, Time at) const noexcept {
    return sample.since < at || (sample.since == at && sample.jump != 0 && sample.jump <= shown_jumps_);
  }
  FedMotion motion(const Track& track, Time at) const noexcept;
  /// The number of samples of a track that have set out by a moment.
  std::size_t begun(const Track& track, Time at) const noexcept;
  /// Adds a sample in place of later ones. One that has not arrived stops on its way, unless the sample is a jump.
  void add(Track& track, const Sample& sample) noexcept;
  void append(Track& track, const Sample& sample) noexcept;
  /// To be called where the end of a track has changed.
  void update_last(Track& track) const noexcept;
  void reserve(Track& track);

  std::vector<Track> tracks_;
  std::vector<Index> track_numbers_;  ///< by object; none where it was never fed
  std::vector<Index> pending_;        ///< the tracks with a pending pose
  SharedLog<Sample> samples_;         ///< in the order in which they were fed
  std::size_t shown_jumps_ = 0;
  Time known_since_ = Time::min();
  std::uint64_t edition_ = 1;
};

}  // namespace hushed::detail
