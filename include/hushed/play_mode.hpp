// SPDX-License-Identifier: MIT
#pragma once

// Play mode: playing, pausing and stepping a scene frame by frame, forward and back, and tuning it on the way.
// In the library HushedOrbit::analysis.

#include <cstdint>
#include <deque>
#include <functional>
#include <map>
#include <memory>
#include <optional>
#include <span>
#include <string>
#include <string_view>
#include <variant>
#include <vector>

#include <hushed/detail/export.hpp>
#include <hushed/detail/scene_access.hpp>
#include <hushed/frames.hpp>
#include <hushed/recording.hpp>
#include <hushed/scene.hpp>
#include <hushed/watch.hpp>

namespace hushed HUSHED_API {

/// The lengths of frames.
struct Rhythm {
  /// Frames per second of the scene's time, 0.001 to 1e6. Nothing: each `pass` is one frame of the length it is given.
  std::optional<double> per_second = 60.0;
  /// Frames of uneven length from this seed, as in `FrameTimes`.
  std::optional<std::uint64_t> uneven = {};
  double pace = 1.0;  ///< seconds of the scene's time in one real second: 0.01 to 100
};

/// A scene in play mode. Every frame is stored, with the numbers of the watches. An earlier frame can be displayed as
/// it was, and playing on from there gives the same bits as before. Tuned values stay tuned.
///
///     PlayMode mode{harbour, every_position(harbour)};
///     mode.play();
///     mode.pass(seconds(2.0));              // two seconds of real time
///     mode.step(-30);                       // goes to the frame of half a second ago
///     mode.set("lamp.spin.speed", Value{60.0});
///     mode.step(1);                         // the frame after it, now with the new speed
///
/// While a scene is in play mode, the program must not call the scene directly.
class PlayMode {
 public:
  /// Frame 0 is the scene as it is. When the stored frames take more than `most_bytes`, the oldest are dropped.
  explicit PlayMode(Scene& scene, std::vector<Watch> watches = {}, std::size_t most_bytes = std::size_t{256} << 20);

  // --- time -----------------------------------------------------------------------------------------------

  void play() { playing_ = true; }
  void pause() { playing_ = false; }
  bool playing() const { return playing_; }

  const Rhythm& rhythm() const { return rhythm_; }
  /// Throws `BadValue` where a number is out of range.
  void set_rhythm(const Rhythm& rhythm);

  /// Real time passes. Plays the frames that are due, if it is playing, and returns their number. Where `goes_on` (if
  /// given) returns false after a frame, the remaining ones are skipped and the scene is slower than real time.
  std::int64_t pass(Time real, const std::function<bool()>& goes_on = nullptr);
  /// The real time until the next frame is due; 0 where frames come with `pass` only.
  Time until_next_frame() const;
  /// Pauses and goes forward or back by a number of frames. Stored frames are displayed as they were; beyond the last,
  /// new frames are played. Stops at the first stored frame.
  void step(std::int64_t by);
  /// Pauses and goes to a stored frame; beyond either end, to the frame at that end.
  void go_to(std::int64_t frame);

  /// Returns the scene to the current frame and drops later frames. Playing, tuning and input do this by themselves.
  /// Throws `BadValue` for a frame before `playable_from()`.
  void resume();

  // --- the past -------------------------------------------------------------------------------------------

  std::int64_t first() const { return first_; }  ///< the number of the earliest stored frame
  std::int64_t last() const { return first_ + static_cast<std::int64_t>(past_.frames()) - 1; }
  std::int64_t current() const { return current_; }
  /// The earliest frame from which the scene can be played on: that of the last `rebuilt`, or the first stored one.
  std::int64_t playable_from() const;

  /// The stored frames; row 0 is frame `first()`.
  const Recording& past() const { return past_; }
  Time time(std::int64_t frame) const { return past_.times[row(frame)]; }
  /// The poses of a stored frame, in the order of `past().objects`.
  std::span<const Pose> poses(std::int64_t frame) const;
  bool is_hidden(std::int64_t frame, std::size_t object) const { return past_.is_hidden(row(frame), object); }
  /// The numbers of all watches in a stored frame; NaN where that was not watched then.
  /// Velocities compare moments one tick apart, or frames where those come more often.
  std::span<const double> values(std::int64_t frame) const;
  /// A number that changes whenever stored frames change, other than by new frames at the end.
  std::uint64_t edition() const { return edition_; }

  const std::vector<Watch>& watches() const { return watches_; }
  /// Replaces the watches. Numbers that need poses only are computed for the past as well.
  void watch(std::vector<Watch> watches);

  /// A value that differs from the beginning.
  struct Changed {
    std::string path;
    std::optional<Value> before, now;  ///< nothing where it is left out
  };

  /// Records `frames` frames after the current one, `per_second` frames per second, as they would be without further
  /// commands. Plays the scene ahead and restores it; stored frames after the current one are dropped.
  Recording play_ahead(std::int64_t frames, double per_second);

  /// A recording of the future that is played in pieces. Commands between two pieces do not change it.
  class Ahead {
   public:
    bool is_complete() const { return left_ == 0; }
    const Recording& recording() const { return *recording_; }

   private:
    friend class PlayMode;
    std::unique_ptr<Recording> recording_ = std::make_unique<Recording>();
    std::unique_ptr<RecordingBuilder> builder_;
    std::optional<FrameTimes> times_;
    Time start_ = {};
    Snapshot at_;
    std::int64_t left_ = 0;
  };
  /// `with`: values that are set at its beginning, for this recording only. Throws `BadValue`.
  Ahead begin_ahead(std::int64_t frames, double per_second, std::span<const Changed> with = {});
  /// Plays at least one frame more, and further ones while `goes_on` returns true.
  void continue_ahead(Ahead& ahead, const std::function<bool()>& goes_on);

  /// What the urges of an agent want in the current frame, as `Scene::urges`; nothing before `playable_from()`. Drops
  /// no frame.
  std::vector<UrgeShare> urges(AnyBehaviour behaviour);

  // --- tuning ---------------------------------------------------------------------------------------------

  /// Sets a value from the current frame on; later frames are dropped. Successive changes with the same `gesture`
  /// (other than 0) are undone together. Throws `BadValue`.
  void set(std::string_view path, const Value& value, std::uint64_t gesture = 0);
  /// Sets a value to its default from the current frame on; later frames are dropped. Successive changes with the same
  /// `gesture` (other than 0) are undone together. Throws `BadValue`.
  void reset(std::string_view path, std::uint64_t gesture = 0);
  bool can_undo() const { return undone_next() > 0; }
  bool can_redo() const { return redone_next() < steps_.size(); }
  /// Undo the last step, or redo it: a changed value, the values of one gesture, or a step of `mark`. Return the path
  /// of the value or the name of the mark; empty where there is none.
  std::string undo();
  std::string redo();
  /// Adds a step of the caller's own, such as an edit of the scene's content. Undoing and redoing it changes nothing
  /// here: the caller does that. `name` has a space, as no path of a value has.
  void mark(std::string_view name);
  /// The path or the name that `undo` or `redo` would return.
  std::string next_undo() const { return can_undo() ? steps_[undone_next() - 1].path : ""; }
  std::string next_redo() const { return can_redo() ? steps_[redone_next()].path : ""; }
  /// What an edit did to the path of an object or a behaviour.
  struct PathChange {
    std::string before, now;  ///< `now` is empty where it was removed
  };
  /// Removes the step of `mark` with that name, whose edit can no longer be undone. The values of steps before it are
  /// found by their new paths, and steps of what was removed are dropped.
  void forget_mark(std::string_view name, std::span<const PathChange> changes = {});

  std::vector<Changed> changed() const;  ///< all of them, in the order of their paths
  std::vector<Changed> tuned() const;    ///< all values that were ever changed, also those that are as before
  /// The present value at a path; where its object has ended, the value it was last tuned to. Throws `BadValue` where
  /// there is no such value.
  std::optional<Value> value(const std::string& path) const;
  /// The value was kept in its file: its present value counts as the one at the beginning.
  void mark_kept(std::string_view path);

  // --- input ----------------------------------------------------------------------------------------------

  /// Input from the current frame on; later frames are dropped.
  void press(std::string_view key);
  void release(std::string_view key);
  void axis(std::string_view name, double value);
  /// Announces changes of keys and axes from the current frame on, as from a recorded file; those of earlier times are
  /// skipped. Later frames are dropped.
  void announce(std::span<const InputChange> changes);
  /// The input since the first playable frame, without announced changes.
  std::vector<InputChange> input() const;
  /// Executes the actions of a rule at the current frame, whatever its conditions. Throws `BadValue` where there is no
  /// such rule.
  void fire(std::string_view rule);
  /// What is known of a rule in the current frame, as `Scene::report`; nothing before `playable_from()`. Drops no
  /// frame.
  std::optional<RuleReport> report(std::string_view rule);
  /// The keys that are held at the last frame.
  const std::vector<std::string>& held() const { return held_; }

  // --- building -------------------------------------------------------------------------------------------

  /// To be called after `Scene::hot_reload`. `beginning` gives the values at the beginning of the new content. Earlier
  /// frames stay stored where the objects are the same, but the scene cannot be played on from them.
  void rebuilt(std::vector<Watch> watches, const std::function<std::optional<Value>(const std::string&)>& beginning);
  /// Makes the scene as it is frame 0 and drops all stored frames. Sets `changes` again, except values whose beginning
  /// is another now.
  void start_over(std::vector<Watch> watches, std::span<const Changed> changes = {});
  /// Sets values again that were lost when their object or behaviour was removed, once it is back. Adds no step.
  void put_again(std::span<const Changed> changes);
  /// Renames an object, also in what is stored here. Steps of undo keep the names that objects had when they were made;
  /// add a step for the renaming with `mark`, and rename it back when that is undone.
  void rename(std::string_view object, const std::string& name);
  /// True where the scene has an object that it did not have when this play began.
  bool has_new_objects() const;

 private:
  struct Call {
    enum class What { set, press, release, axis, fire, by_callbacks };
    What what;
    std::string name;
    std::optional<Value> value;    ///< of a set
    double amount = 0.0;           ///< value of an axis
    std::int64_t frame = 0;        ///< the frame at which it was made
    detail::Journal journal = {};  ///< calls of callbacks
  };
  struct StoredSnapshot {
    std::int64_t frame;
    std::size_t calls;  ///< the number of calls before it
    std::vector<std::string> held;
    Snapshot snapshot;
  };
  struct Step {
    std::string path;
    std::optional<Value> before, after;
    std::uint64_t gesture;
  };
  /// Poses at an earlier moment, for watches that compare moments.
  struct PastPoses {
    Time time;
    std::vector<Pose> poses;
  };

  std::size_t row(std::int64_t frame) const { return static_cast<std::size_t>(frame - first_); }
  void begin(std::vector<Watch> watches);
  void play_frame(Time at);
  Time next_frame_after(Time time) const;
  void sample();
  void read_values();
  std::vector<double> values_from_poses(std::size_t row) const;
  void store_snapshot();
  void drop_oldest();
  void check_playable() const;
  void go_back_to_current();
  /// Calls `read` with the scene as it is in the current frame, which is playable. Drops no frame.
  void read_at_current(const std::function<void()>& read);
  void make(Call call);
  void execute(const Call& call);
  void change(std::string_view path, const std::optional<Value>& value, std::uint64_t gesture);
  void put(const std::string& path, const std::optional<Value>& value);
  /// True where the value's object has not ended.
  bool is_there(const std::string& path) const;
  /// True where the scene has a value at the path now.
  bool exists(const std::string& path) const;
  static bool is_mark(const Step& step);
  /// False for a value that does not exist: it went with its object or behaviour, and may come back.
  bool is_possible(const Step& step) const;
  /// The number of the step that is undone next, from 1 on, or 0; and of the one that is redone next, from 0 on.
  std::size_t undone_next() const;
  std::size_t redone_next() const;
  void put_step(const std::string& path, const std::optional<Value>& value);

  Scene* scene_;
  std::vector<Object> original_objects_;  ///< the objects at the beginning, in the order of their handles
  std::vector<Watch> watches_;
  std::size_t most_bytes_;
  std::size_t columns_ = 0;
  Rhythm rhythm_;
  bool playing_ = false;
  Time due_ = {};  ///< the time that the scene should have reached

  Recording past_;
  std::optional<RecordingBuilder> builder_;
  std::vector<double> values_;  ///< frame after frame, one for each column
  std::int64_t first_ = 0, current_ = 0;
  std::uint64_t edition_ = 0;
  std::deque<PastPoses> samples_;

  std::deque<StoredSnapshot> snapshots_;
  std::int64_t stride_ = 30;  ///< frames from one snapshot to the next
  std::vector<Call> calls_;
  std::vector<std::string> held_;

  std::vector<Step> steps_;
  std::size_t done_ = 0;  ///< the number of steps that are not undone
  using Values = std::map<std::string, std::optional<Value>, std::less<>>;
  Values beginnings_;  ///< values at the beginning, of all paths that were changed
  Values tuned_;       ///< the values they were last tuned to
};

}  // namespace hushed
