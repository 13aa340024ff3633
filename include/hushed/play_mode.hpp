// SPDX-License-Identifier: MIT
#pragma once

// Play mode: a scene that is played, halted, stepped through frame by frame, forward and back, and tuned on the way.
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

/// How the frames of a play follow each other.
struct Rhythm {
  /// Frames per second of the scene's time, 0.001 to 1e6; nothing: each `pass` is one frame, as long as it says.
  std::optional<double> per_second = 60.0;
  /// Frames of uneven length, as `FrameTimes` has them, from this seed.
  std::optional<std::uint64_t> uneven = {};
  double pace = 1.0;  ///< seconds of the scene's time in one second: 0.01 to 100
};

/// A scene in play mode. Every frame that it plays is kept, with the numbers of the watches; an earlier one can be
/// shown as it was, and the play goes on from there to the same bits as before. What is tuned stays tuned.
///
///     PlayMode mode{harbour, every_position(harbour)};
///     mode.play();
///     mode.pass(seconds(2.0));              // two seconds of somebody's time
///     mode.step(-30);                       // shows the frame of half a second ago
///     mode.set("lamp.spin.speed", Value{60.0});
///     mode.step(1);                         // the frame after it, now with the new speed
///
/// While it is in use, the scene is called through it alone.
class PlayMode {
 public:
  /// Frame 0 is the scene as it is. Once the kept frames take more than `most_bytes`, the oldest are dropped.
  explicit PlayMode(Scene& scene, std::vector<Watch> watches = {}, std::size_t most_bytes = std::size_t{256} << 20);

  // --- time -----------------------------------------------------------------------------------------------

  void play() { playing_ = true; }
  void pause() { playing_ = false; }
  bool playing() const { return playing_; }

  const Rhythm& rhythm() const { return rhythm_; }
  /// Throws `BadValue` where a number is out of its range.
  void set_rhythm(const Rhythm& rhythm);

  /// Somebody's time passes. Plays the frames that fall due, if it is playing, and returns how many. Where `goes_on`
  /// (if there is one) returns false after one of them, the others are left out: the scene is slower than it should be.
  std::int64_t pass(Time real, const std::function<bool()>& goes_on = nullptr);
  /// How much of somebody's time has to pass until a frame falls due; 0 where none does by itself.
  Time until_next_frame() const;
  /// Forward or back by so many frames, and halts. Frames that were played are shown as they were; beyond the last
  /// one, new ones are played. Stays at the first and the last that there can be.
  void step(std::int64_t by);
  /// Shows a kept frame, and halts. Beyond either end, the one at that end.
  void go_to(std::int64_t frame);

  /// The scene is as it was at the frame that is shown, and later ones are forgotten. Playing, tuning and input do so
  /// by themselves. Throws `BadValue` before `playable_from()`.
  void resume();

  // --- the past -------------------------------------------------------------------------------------------

  std::int64_t first() const { return first_; }  ///< the number of the earliest frame that is kept
  std::int64_t last() const { return first_ + static_cast<std::int64_t>(past_.frames()) - 1; }
  std::int64_t current() const { return current_; }
  /// The earliest frame from which can be played on: that of the last `rebuilt`, or the first that is kept.
  std::int64_t playable_from() const;

  /// The kept frames; row 0 is the frame called `first()`.
  const Recording& past() const { return past_; }
  Time time(std::int64_t frame) const { return past_.times[row(frame)]; }
  /// The poses of a kept frame, in the order of `past().objects`.
  std::span<const Pose> poses(std::int64_t frame) const;
  bool is_hidden(std::int64_t frame, std::size_t object) const { return past_.is_hidden(row(frame), object); }
  /// The numbers of the columns of all watches in a kept frame; not a number where that was not watched yet.
  /// Velocities compare moments one tick apart, or frames where those come more often.
  std::span<const double> values(std::int64_t frame) const;
  /// A number that changes whenever kept frames change other than by new ones at the end.
  std::uint64_t edition() const { return edition_; }

  const std::vector<Watch>& watches() const { return watches_; }
  /// Watches something else from now on. What needs only poses is known of the past as well.
  void watch(std::vector<Watch> watches);

  /// Where these objects would go from the frame that is shown, if nothing more were called: `frames` frames after it,
  /// `per_second` frames per second. Plays the scene ahead and takes it back; later frames that are kept are forgotten.
  Recording play_ahead(std::int64_t frames, double per_second);

  /// A look ahead that is played in pieces. What is called between two of them does not change it.
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
  Ahead begin_ahead(std::int64_t frames, double per_second);
  /// Plays on as long as `goes_on` returns true, one frame at least.
  void continue_ahead(Ahead& ahead, const std::function<bool()>& goes_on);

  /// What the urges of a behaviour want in the frame that is shown, as `Scene::urges` tells it; nothing before
  /// `playable_from()`. Where others have followed, the scene goes back to that frame and returns: none is forgotten.
  std::vector<UrgeShare> urges(AnyBehaviour behaviour);

  // --- tuning ---------------------------------------------------------------------------------------------

  /// Sets a value, from the frame that is shown on: later ones are forgotten. Changes of one value within one
  /// `gesture` (0: none) are undone at once. Throws `BadValue`.
  void set(std::string_view path, const Value& value, std::uint64_t gesture = 0);
  /// Sets a value to its default, from the frame that is shown on: later frames are forgotten. `gesture` is as for
  /// `set`. Throws `BadValue`.
  void reset(std::string_view path, std::uint64_t gesture = 0);
  bool can_undo() const { return done_ > 0; }
  bool can_redo() const { return done_ < steps_.size(); }
  /// Takes the last change back, or makes it again; returns its path, empty where there is none.
  std::string undo();
  std::string redo();

  /// A value that is not what it was at the beginning.
  struct Changed {
    std::string path;
    std::optional<Value> before, now;  ///< nothing where it is left out
  };
  std::vector<Changed> changed() const;  ///< in the order of their paths
  /// A value as it is now; of an object that has ended, as it was last tuned. Throws `BadValue` where there is none.
  std::optional<Value> value(const std::string& path) const;
  /// That value is where it should be: as it is now is how it was at the beginning.
  void mark_kept(std::string_view path);

  // --- answering ------------------------------------------------------------------------------------------

  /// Input from the frame that is shown on; later frames are forgotten.
  void press(std::string_view key);
  void release(std::string_view key);
  void axis(std::string_view name, double value);
  /// The keys that are down at the last frame, by `press`.
  const std::vector<std::string>& held() const { return held_; }

  // --- building -------------------------------------------------------------------------------------------

  /// The scene has become another one, of which `beginning` says what a value was at its beginning. Frames before
  /// are kept, if it has the same objects, but cannot be played on from.
  void rebuilt(std::vector<Watch> watches, const std::function<std::optional<Value>(const std::string&)>& beginning);
  /// The scene as it is becomes frame 0, and nothing of before is kept. These values are set once more, but for those
  /// whose beginning is another now.
  void start_over(std::vector<Watch> watches, std::span<const Changed> changes = {});
  /// Whether the scene has an object that it did not have when this play began.
  bool has_new_objects() const;

 private:
  struct Call {
    enum class What { set, press, release, axis, by_callbacks };
    What what;
    std::string name;
    std::optional<Value> value;    ///< of a set
    double amount = 0.0;           ///< of an axis
    std::int64_t frame = 0;        ///< at which it was made
    detail::Journal journal = {};  ///< of what callbacks have called
  };
  struct StoredSnapshot {
    std::int64_t frame;
    std::size_t calls;  ///< how many of them are in it
    std::vector<std::string> held;
    Snapshot snapshot;
  };
  struct Step {
    std::string path;
    std::optional<Value> before, after;
    std::uint64_t gesture;
  };
  /// Poses of those watches that look back, at an earlier moment.
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
  void make(Call call);
  void execute(const Call& call);
  void change(std::string_view path, const std::optional<Value>& value, std::uint64_t gesture);
  void put(const std::string& path, const std::optional<Value>& value);
  /// Whether the value belongs to something that has not ended.
  bool is_there(const std::string& path) const;
  void drop_orphaned_steps();

  Scene* scene_;
  std::vector<Object> original_objects_;  ///< those that it began with, in the order of their handles
  std::vector<Watch> watches_;
  std::size_t most_bytes_;
  std::size_t columns_ = 0;
  Rhythm rhythm_;
  bool playing_ = false;
  Time due_ = {};  ///< how far the scene's time ought to have come

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
  std::size_t done_ = 0;  ///< how many of them are not undone
  using Values = std::map<std::string, std::optional<Value>, std::less<>>;
  Values beginnings_;  ///< of what was ever changed
  Values tuned_;       ///< what it was tuned to last
};

}  // namespace hushed
