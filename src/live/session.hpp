// SPDX-License-Identifier: MIT
#pragma once

// Play mode over messages: what a page asks for, done to a scene, and what it is told. No socket in it.

#include <chrono>
#include <cstdint>
#include <deque>
#include <filesystem>
#include <map>
#include <optional>
#include <set>
#include <string>
#include <string_view>
#include <vector>

#include <hushed/keep.hpp>
#include <hushed/load.hpp>
#include <hushed/play_mode.hpp>

#include "message.hpp"
#include "request.hpp"
#include "wire.hpp"

namespace hushed::detail {

/// A scene file, and how it was when it was last read.
struct OpenFile {
  std::filesystem::path path;
  SceneFile playing;
  SceneSource source;
};

class Session {
 public:
  /// What is told: to the tab that asked, or to all.
  struct Answer {
    Message message;
    bool to_all = false;
    int client = 0;  ///< where it is not the one that has just asked
  };

  /// A scene that a program plays; it has no file.
  explicit Session(Scene& scene);
  /// A scene that stands in a file.
  explicit Session(OpenFile& file);

  void begin(const Rhythm& rhythm, bool plays);
  /// Work that takes longer than this is done in slices, by `pass`. Without a limit, all is done at once.
  void limit_slices(std::chrono::nanoseconds longest) { longest_ = longest; }
  /// There is work left for the next `pass`.
  bool is_busy() const { return steps_left_ > 0 || !pending_aheads_.empty(); }

  /// All that a page needs to know at first.
  std::vector<Answer> greet() const;
  /// Does what a tab asks for. Whatever it says, it is answered and nothing is thrown.
  std::vector<Answer> handle(int client, std::string_view text);
  /// A tab has gone, and lets go of the keys that it held.
  std::vector<Answer> leave(int client);
  /// Time passes; reads the file again should it have changed.
  std::vector<Answer> pass(Time real);

  const PlayMode& mode() const { return mode_; }

 private:
  using Answers = std::vector<Answer>;
  struct Stamp {
    std::filesystem::file_time_type time;
    std::uintmax_t size;
    bool operator==(const Stamp&) const = default;
  };

  /// A value that is to be kept, and where: by its own path, or by its preset's.
  struct KeepTarget {
    std::string path, place;
    bool is_for_all() const { return place != path; }
  };

  Answers perform(int client, const Request& request);
  void press(int client, const std::string& key);
  void release(int client, const std::string& key);
  bool is_held(const std::string& key) const;
  void play(const Request& request);
  void step(const Request& request);
  void agree_on_keys();
  void begin_again();
  void set(const Request& request);
  void set_rhythm(const Request& request);
  Answers past(const Request& request);
  void ahead(int client, const Request& request);
  Answers plan(const Request& request);
  Answers keep_as_planned(const Request& request);
  std::vector<KeepTarget> targets_of(const Request& request) const;
  KeepPlan plan_for(const std::vector<KeepTarget>& targets) const;
  /// Does what is left of long work, as long as a slice takes.
  void work_on(Answers& answers);
  bool has_time() const { return !longest_ || std::chrono::steady_clock::now() < until_; }
  void begin_slice();
  /// What has changed since it was last told.
  void report_changes(Answers& answers);
  Answers check_file();
  void read_file_again();
  std::vector<Stamp> stamps() const;
  /// Where a program has built on its scene, what is known of it is of no use any more.
  void check_for_new_objects();
  std::vector<Watch> watches() const;
  std::vector<Watch> watches_for(const SceneFile* file, const Scene& scene) const;
  std::vector<std::size_t> objects_of(const Request& request) const;
  Json scene() const;
  Json state() const;
  Json marks() const;

  Scene& scene_;
  OpenFile* file_ = nullptr;
  std::vector<std::string> chosen_watches_;    ///< those of the file where it is empty
  PlayMode mode_;                              ///< after what its watches are made from
  std::map<int, std::set<std::string>> held_;  ///< the keys that each tab holds
  std::uint64_t values_edition_ = 0;           ///< rises whenever a value may have changed
  std::vector<Stamp> stamps_;
  std::chrono::steady_clock::time_point next_check_ = {};
  Json diagnostics_;               ///< of the file as it is now; null where it is in order
  std::vector<std::string> lost_;  ///< what of the play could not be kept when the file was last read again
  std::optional<Json> last_plan_;  ///< that was shown
  /// A look ahead that a tab has asked for.
  struct PendingAhead {
    int client;
    std::uint64_t values_edition;  ///< when it was asked for
    Stretch stretch;
    PlayMode::Ahead ahead;
  };
  std::optional<std::chrono::nanoseconds> longest_;
  std::chrono::steady_clock::time_point until_ = {};  ///< when the slice is over
  std::int64_t steps_left_ = 0;                       ///< frames to be played yet
  std::deque<PendingAhead> pending_aheads_;           ///< two of a tab at most
  // What was told last.
  bool is_scene_sent_ = true;
  std::string sent_state_;
  std::uint64_t sent_edition_ = 0;
  std::int64_t sent_frame_ = -1;
  std::size_t sent_happenings_ = 0;
};

}  // namespace hushed::detail
