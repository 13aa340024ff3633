// SPDX-License-Identifier: MIT
#include "playing.hpp"

#include <unistd.h>

#include <algorithm>
#include <charconv>
#include <cmath>
#include <cstdio>
#include <sstream>
#include <utility>

#include <fmt/format.h>

#include <hushed/key_file.hpp>
#include <hushed/recording_file.hpp>
#include <hushed/script.hpp>

#include "command.hpp"

namespace hushed::cli {

namespace {

constexpr std::int64_t most_frames = 1'000'000'000;

/// The name of a validator contains the words that completions offer.
constexpr std::string_view words_prefix = "words:";
std::string words_in_name(const std::vector<std::string>& words) {
  std::string name{words_prefix};
  for (const std::string& word : words) name += ' ' + word;
  return name;
}

/// Parses "A:B" or "B". Nothing for another text.
std::optional<std::pair<std::int64_t, std::int64_t>> frames_of(const std::string& text, Zoom zoom) {
  const std::size_t colon = zoom == Zoom::yes ? text.find(':') : std::string::npos;
  std::pair<std::int64_t, std::int64_t> frames{0, 0};
  const char* const start = text.data();
  const char* const end = start + text.size();
  const auto reads = [](const char* from, const char* to, std::int64_t& number) {
    const auto [stop, error] = std::from_chars(from, to, number);
    return error == std::errc{} && stop == to && number >= 0 && number <= most_frames;
  };
  const char* const last = colon == std::string::npos ? start : start + colon + 1;
  if (colon != std::string::npos && !reads(start, start + colon, frames.first)) return std::nullopt;
  if (!reads(last, end, frames.second) || frames.first > frames.second) return std::nullopt;
  return frames;
}

}  // namespace

CLI::Validator number_from(double low, double high) {
  const std::string range = as_text(low) + " to " + as_text(high);
  const auto wrong_with = [low, high, range](const std::string& text) {
    double number = 0.0;
    const auto [end, error] = std::from_chars(text.data(), text.data() + text.size(), number);
    const bool is_in_range = number >= low && number <= high;  // false for nan
    const bool is_good = error == std::errc{} && end == text.data() + text.size() && is_in_range;
    return is_good ? std::string{} : "found " + in_quotes(text) + "; give a number from " + range;
  };
  return CLI::Validator{wrong_with, "NUMBER from " + range, ""};
}

CLI::Validator whole_number_from(std::int64_t low, std::int64_t high) {
  const std::string range = std::to_string(low) + " to " + std::to_string(high);
  const auto wrong_with = [low, high, range](const std::string& text) {
    std::int64_t number = 0;
    const auto [end, error] = std::from_chars(text.data(), text.data() + text.size(), number);
    const bool is_good = error == std::errc{} && end == text.data() + text.size() && number >= low && number <= high;
    return is_good ? std::string{} : "found " + in_quotes(text) + "; give a whole number from " + range;
  };
  return CLI::Validator{wrong_with, "NUMBER from " + range, ""};
}

CLI::Validator one_of(std::vector<std::string> words) {
  const std::string name = words_in_name(words);
  const auto wrong_with = [words = std::move(words)](const std::string& text) {
    if (std::find(words.begin(), words.end(), text) != words.end()) return std::string{};
    return "unknown value " + in_quotes(text) + suggestion(text, {words.begin(), words.end()});
  };
  return CLI::Validator{wrong_with, "", name};
}

CLI::Validator suggested(const std::vector<std::string>& words) {
  return CLI::Validator{[](const std::string&) { return std::string{}; }, "", words_in_name(words)};
}

std::vector<std::string> words_offered(CLI::Option& option) {
  std::vector<std::string> words;
  try {
    std::istringstream name{option.get_validator()->get_name()};
    std::string first;
    if (name >> first && first == words_prefix)
      for (std::string word; name >> word;) words.push_back(word);
  } catch (const CLI::OptionNotFound&) {  // it has no validator
  }
  return words;
}

std::int64_t Playing::first_frame() const { return frames.empty() ? 0 : frames_of(frames, Zoom::yes)->first; }

std::int64_t Playing::last_frame() const {
  if (!frames.empty()) return frames_of(frames, Zoom::yes)->second;
  return static_cast<std::int64_t>(std::floor(seconds.value_or(10.0) * fps));
}

std::int64_t Playing::last_stored_frame(const Scene& scene) const {
  constexpr std::int64_t most_poses = 20'000'000;
  const auto objects = static_cast<std::int64_t>(std::max<std::size_t>(scene.size(), 1));
  const std::int64_t last = last_frame();
  if (last - first_frame() >= most_poses / objects)
    throw WrongCommandLine{fmt::format("{} frames of {} objects do not fit into memory; give at most --frames {}.",
                                       last + 1, objects, most_poses / objects)};
  return last;
}

Kinds kinds_and_scripts() {
  Kinds known;
  add_scripts(known);
  return known;
}

SceneFile Playing::open(const std::string& file, std::optional<double> with_tick_rate) const {
  const Kinds known = kinds_and_scripts();
  SceneFile opened = read_scene_file(file, {.tick_rate = with_tick_rate, .kinds = &known});
  for (const std::string& assignment : sets) set_value(opened.scene, assignment);
  if (const auto input = keys.empty() ? opened.view.keys : std::filesystem::path{keys}; !input.empty())
    for (const InputChange& change : read_key_file(input)) opened.scene.input(change);
  if (!feed.empty()) feed_from(opened.scene, feed);
  return opened;
}

void add_scene_options(CLI::App& command, Playing& playing) {
  command.add_option("--tick-rate", playing.tick_rate, "ticks per second (default: tick_rate of the scene file)")
      ->check(number_from(1.0, 10'000.0));
  command.add_option("--set", playing.sets, "set a value before the play, such as lamp.spin.speed=60; repeatable")
      ->type_name("PATH=VALUE")
      ->expected(1)
      ->take_all();
  command
      .add_option("--keys", playing.keys, "recorded input, a CSV file of time,key,down|up (default: keys of [view])")
      ->type_name("FILE");
  command
      .add_option("--feed", playing.feed,
                  "a recording (.csv, .jsonl, .glb or .gltf) with the poses of objects that have fed = true")
      ->type_name("FILE");
}

void add_playing(CLI::App& command, Playing& playing, Zoom zoom) {
  command.add_option("--fps", playing.fps, "frames per second")->check(number_from(0.001, 1e6))->capture_default_str();
  const auto frames = command.add_option(
      "--frames", playing.frames,
      zoom == Zoom::yes ? "number of frames to play after frame 0; with A:B, only frames A to B are used"
                        : "number of frames to play after frame 0");
  frames->type_name(zoom == Zoom::yes ? "B or A:B" : "INT");
  frames->check([zoom](const std::string& text) {
    if (frames_of(text, zoom)) return std::string{};
    return "found " + in_quotes(text) + "; give a number from 0 to " + std::to_string(most_frames) +
           (zoom == Zoom::yes ? ", or a range such as 240:480" : "");
  });
  command.add_option("--seconds", playing.seconds, "seconds to play (default: 10)")
      ->check(number_from(0.0, 1e6))
      ->excludes(frames);
  command.add_option("--uneven", playing.uneven, "use frames of uneven length, random from this seed")
      ->type_name("SEED")
      ->check([](const std::string& text) {
        const bool is_whole = !text.empty() && text.size() <= 18 && text.find_first_not_of("0123456789") == text.npos;
        return is_whole ? std::string{} : "found " + in_quotes(text) + "; give a whole number of at most 18 digits";
      });
  add_scene_options(command, playing);
}

void feed_from(Scene& scene, const std::string& file) {
  try {
    if (feed(scene, read_recording(file)) > 0) return;
  } catch (const BadValue& error) {
    throw WrongCommandLine{"--feed " + file + ": " + error.what()};
  }
  throw WrongCommandLine{
      "--feed " + file +
      ": the scene has no object with fed = true whose name is in the recording; give one of the two."};
}

void set_value(Scene& scene, const std::string& assignment, const std::string& option) {
  const std::size_t equals = assignment.find('=');
  if (equals == std::string::npos)
    throw WrongCommandLine{option + ' ' + assignment + ": give PATH=VALUE, such as lamp.spin.speed=60."};
  try {
    scene.set(assignment.substr(0, equals), parse_value(assignment.substr(equals + 1)));
  } catch (const Error& error) {
    throw WrongCommandLine{option + ' ' + error.what()};
  }
}

CLI::Option* add_measures(CLI::App& command, std::vector<std::string>& measures, const std::string& help) {
  return command
      .add_option("--measure", measures,
                  help + ", such as \"overshoot(hook.position.x)\"; repeatable; `hushed describe measures` lists all")
      ->type_name("MEASURE")
      ->expected(1)
      ->take_all();
}

std::vector<Measure> measures_of(const std::vector<std::string>& texts, const Scene& scene, const std::string& option) {
  std::vector<Measure> measures;
  for (const std::string& text : texts) {
    try {
      measures.emplace_back(text, scene);
    } catch (const Error& error) {
      throw WrongCommandLine{option + ' ' + error.what()};
    }
  }
  return measures;
}

void add_watch_of(const Measure& measure, std::vector<Watch>& watches) {
  const Watch* const watch = measure.watch();
  const auto is_same = [&](const Watch& other) {
    const std::vector<std::string> columns = other.columns();
    return std::find(columns.begin(), columns.end(), watch->columns().front()) != columns.end();
  };
  if (watch && std::none_of(watches.begin(), watches.end(), is_same)) watches.push_back(*watch);
}

std::vector<Watch> watches_of(const std::vector<std::string>& given, const SceneFile& file, const std::string& name) {
  std::vector<Watch> watches;
  for (const std::string& list : given) {
    for (const std::string& watch : split_watches(list)) {
      try {
        watches.emplace_back(watch, file.scene);
      } catch (const Error& error) {
        throw WrongCommandLine{error.what()};
      }
    }
  }
  return watches.empty() ? hushed::watches_of(file, name) : watches;
}

Progress::Progress(std::int64_t last, Prints prints, std::string what)
    : last_{last},
      what_{std::move(what)},
      shows_{isatty(STDERR_FILENO) != 0 && (prints == Prints::no || isatty(STDOUT_FILENO) == 0)} {}

Progress::~Progress() { clear(); }

void Progress::clear() {
  if (shown_) std::fputs("\r\033[K", stderr);
  shown_ = false;
}

void Progress::at(std::int64_t frame) {
  const auto now = std::chrono::steady_clock::now();
  if (!shows_ || now < next_) return;
  next_ = now + std::chrono::milliseconds{250};
  shown_ = true;
  std::string left;
  if (const auto passed = std::chrono::duration<double>(now - start_).count(); frame > 0 && frame < last_)
    left = fmt::format(", {:.0f} s left",
                       std::ceil(passed * static_cast<double>(last_ - frame) / static_cast<double>(frame)));
  if (!note_.empty()) left += "; " + note_;
  fmt::print(stderr, "\r{} {} of {} ({} %{})\033[K", what_, frame, last_, last_ == 0 ? 100 : 100 * frame / last_, left);
}

}  // namespace hushed::cli
