// SPDX-License-Identifier: MIT
#pragma once

// Play mode over messages: executes the requests of clients and produces the messages to them. It has no sockets.

#include <chrono>
#include <cstdint>
#include <filesystem>
#include <optional>
#include <string>
#include <string_view>
#include <vector>

#include <hushed/load.hpp>
#include <hushed/play_mode.hpp>

#include "comparing.hpp"
#include "edited_file.hpp"
#include "exporting.hpp"
#include "file_watch.hpp"
#include "held_keys.hpp"
#include "keeping.hpp"
#include "message.hpp"
#include "predicting.hpp"
#include "request.hpp"
#include "tries.hpp"
#include "value_search.hpp"
#include "wire.hpp"

namespace hushed::detail {

/// Rises when messages change, so that a page of another version says so rather than misreads them.
constexpr int protocol_version = 3;

/// A scene file, its content, and its text when it was last read.
struct OpenFile {
  std::filesystem::path path;
  SceneFile playing;
  EditedFile source;
  Recording feed = {};  ///< what the scene is fed
};

class Session {
 public:
  /// A message to the client that asked, or to all.
  struct Answer {
    Message message;
    bool to_all = false;
    int client = 0;  ///< its number, where it is not that of the present request
  };

  /// A scene that a program plays; it has no file.
  explicit Session(Scene& scene);
  /// A scene of a file.
  explicit Session(OpenFile& file);

  void begin(const Rhythm& rhythm, bool plays);
  /// Limits the time of one call; longer work is continued by `pass`. Without a limit, all work is done at once.
  void limit_slices(std::chrono::nanoseconds longest) { longest_ = longest; }
  /// True where work is left for the next `pass`.
  bool is_busy() const {
    return steps_left_ > 0 || predicting_.is_busy() || comparing_.is_busy() || exporting_.is_busy();
  }

  /// The messages for a new client.
  std::vector<Answer> greet() const;
  /// Handles a request. Every request is answered; nothing is thrown.
  std::vector<Answer> handle(int client, std::string_view text);
  /// A client has disconnected: releases the keys that it held.
  std::vector<Answer> leave(int client);
  /// Plays for the given time, and reads the file again where it has changed.
  std::vector<Answer> pass(Time real);

  const PlayMode& mode() const { return mode_; }

 private:
  using Answers = std::vector<Answer>;

  Answers perform(int client, const Request& request);
  void play(const Request& request);
  void step(const Request& request);
  void begin_again();
  void set(const Request& request);
  void set_rhythm(const Request& request);
  Answers past(const Request& request);
  void ahead(int client, const Request& request);
  Answers plan(const Request& request);
  Answers keep(const Request& request);
  Answers script(const Request& request) const;
  Answers write(const Request& request) const;
  std::filesystem::path script_file(const Request& request) const;
  /// Continues long work until the time limit.
  void work_on(Answers& answers);
  bool has_time() const { return !longest_ || std::chrono::steady_clock::now() < until_; }
  void begin_slice();
  /// Adds messages about everything that has changed since they were last sent.
  void report_changes(Answers& answers);
  void check_file();
  LoadOptions options() const { return {scene_.tick_rate(), &scene_}; }
  void read_file_again();
  /// Replaces the content of the scene by that of a text, at the last frame. Throws, and the scene plays on unchanged.
  /// `before`: the text that it replaces; tuned values stay where both texts give the same.
  void load_again(const SceneSource& source, const std::string& before);
  /// Makes the edits of a request, and undoes or redoes the last step.
  void edit(const Request& request);
  void undo();
  void redo();
  /// Replaces the content, at the current frame. `renamed`: the edits whose renames the playing scene shares;
  /// `is_undone`: in reverse.
  void load_edited(const SceneSource& source, const std::string& before, const std::vector<SceneEdit>& renamed,
                   bool is_undone);
  Try present() const;
  void use_try(const Request& request);
  void compare(int client, const Request& request);
  Answers export_file(int client, const Request& request);
  void find(int client, const Request& request);
  /// A scene of its own as the playing one would be if the try were used now.
  Scene scene_of(const Try& wanted) const;
  /// A scene of its own with the present values, at its beginning, for another thread.
  Scene separate_scene() const;
  /// Sends what the search has found, and keeps it as a try.
  void tell_found(Answers& answers);
  Answers model(const Request& request) const;
  void announce(const Request& request);
  Answers rules();
  Answers kinds(const Request& request) const;
  /// Starts over where the program has added objects.
  void check_for_new_objects();
  std::vector<Watch> watches() const;
  std::vector<Watch> watches_for(const SceneFile* file, const Scene& scene) const;
  std::vector<std::size_t> objects_of(const Request& request) const;
  Json scene() const;
  Json state() const;
  Json marks() const;

  Scene& scene_;
  OpenFile* file_ = nullptr;
  std::vector<std::string> chosen_watches_;  ///< empty: those of the file
  PlayMode mode_;                            ///< declared after the members that its watches need
  HeldKeys keys_{mode_};
  std::uint64_t values_edition_ = 0;  ///< rises whenever a value may have changed
  std::uint64_t files_edition_ = 0;   ///< rises whenever files of the scene have been saved
  FileWatch watch_;
  Json diagnostics_;               ///< the errors in the present file; null where there are none
  std::vector<std::string> lost_;  ///< what the last hot reload has lost
  Keeping keeping_;
  Tries tries_;
  Predicting predicting_;
  Comparing comparing_;
  Exporting exporting_;
  ValueSearch search_;
  std::uint64_t own_gesture_ = std::uint64_t{1} << 52;  ///< of changes that are made here
  std::optional<std::chrono::nanoseconds> longest_;
  std::chrono::steady_clock::time_point until_ = {};  ///< the end of the present slice
  std::int64_t steps_left_ = 0;                       ///< frames left to be played
  // What was sent last.
  bool is_scene_sent_ = true;
  std::string sent_scene_, sent_state_;
  std::uint64_t sent_edition_ = 0;
  std::int64_t sent_frame_ = -1;
  std::size_t sent_happenings_ = 0;
};

}  // namespace hushed::detail
