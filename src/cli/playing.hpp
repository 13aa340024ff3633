// SPDX-License-Identifier: MIT
#pragma once

// The common options of commands that play a scene, and the report of progress.

#include <chrono>
#include <cstdint>
#include <optional>
#include <string>
#include <vector>

#include <CLI/CLI.hpp>

#include <hushed/frames.hpp>
#include <hushed/kinds.hpp>
#include <hushed/load.hpp>
#include <hushed/measure.hpp>
#include <hushed/recording.hpp>
#include <hushed/watch.hpp>

namespace hushed::cli {

struct Playing {
  std::string scene;
  double fps = 60.0;
  std::string frames;  ///< "600", or "240:480" for commands that accept a range
  std::optional<double> seconds;
  std::optional<std::uint64_t> uneven;
  std::optional<double> tick_rate;
  std::vector<std::string> sets;
  std::string keys;  ///< a file of recorded input; empty for none
  std::string feed;  ///< a recording to feed from; empty for none

  FrameTimes times() const { return uneven ? FrameTimes{fps, *uneven} : FrameTimes{fps}; }
  /// For commands without frames: that of --seconds.
  Time length() const { return hushed::seconds(seconds.value_or(10.0)); }
  /// True where the command line gives a length.
  bool says_how_long() const { return !frames.empty() || seconds; }
  std::int64_t first_frame() const;
  std::int64_t last_frame() const;
  /// The number of the last frame, for a command that stores all frames in memory. Throws `WrongCommandLine` where
  /// there are too many.
  std::int64_t last_stored_frame(const Scene& scene) const;
  /// Loads the scene and sets the values of --set. Throws `LoadError`, `WrongCommandLine`.
  SceneFile open() const { return open(scene); }
  SceneFile open(const std::string& file) const { return open(file, tick_rate); }
  SceneFile open(const std::string& file, std::optional<double> with_tick_rate) const;
};

/// Whether --frames accepts a range A:B.
enum class Zoom { no, yes };

/// What scene files may name: the built-in kinds, and scripts.
Kinds kinds_and_scripts();

/// Declares --tick-rate, --set, --keys and --feed.
void add_scene_options(CLI::App& command, Playing& playing);
/// These, --fps, --frames, --seconds and --uneven.
void add_playing(CLI::App& command, Playing& playing, Zoom zoom = Zoom::no);

/// Feeds the scene from a file. Throws `LoadError`, `WrongCommandLine`.
void feed_from(Scene& scene, const std::string& file);

/// Parses a value on the command line, "lamp.spin.speed=60". `option` is for errors. Throws `WrongCommandLine`.
void set_value(Scene& scene, const std::string& assignment, const std::string& option = "--set");

/// Declares --measure. `help` says what is done with them.
CLI::Option* add_measures(CLI::App& command, std::vector<std::string>& measures, const std::string& help);

/// Measures of the command line. `option` is for errors. Throws `WrongCommandLine`.
std::vector<Measure> measures_of(const std::vector<std::string>& texts, const Scene& scene,
                                 const std::string& option = "--measure");

/// Adds what a measure watches, unless it is among the watches already.
void add_watch_of(const Measure& measure, std::vector<Watch>& watches);

/// The watches of the command line, or those of the file, or all positions. Throws `LoadError`, `WrongCommandLine`.
std::vector<Watch> watches_of(const std::vector<std::string>& given, const SceneFile& file, const std::string& name);

/// Whether rows are printed while a scene plays.
enum class Prints { no, yes };

/// Reports the progress of long work, and the time that is left, on a terminal, unless rows are printed there.
class Progress {
 public:
  Progress(std::int64_t last, Prints prints, std::string what = "frame");
  ~Progress();
  Progress(const Progress&) = delete;
  Progress& operator=(const Progress&) = delete;
  void at(std::int64_t frame);
  void note(std::string text) { note_ = std::move(text); }  ///< what else there is to say
  void clear();                                             ///< removes the report, before other output

 private:
  std::int64_t last_;
  std::string what_, note_;
  bool shows_;
  bool shown_ = false;
  std::chrono::steady_clock::time_point start_ = std::chrono::steady_clock::now(),
                                        next_ = start_ + std::chrono::seconds{1};
};

}  // namespace hushed::cli
