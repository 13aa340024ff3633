// SPDX-License-Identifier: MIT
// hushed play: plays a scene without a screen; prints watches and events frame by frame, and records.

#include <cstdio>
#include <memory>
#include <optional>
#include <string>
#include <vector>

#include <fmt/format.h>
#include <nlohmann/json.hpp>

#include <hushed/recording_file.hpp>
#include <hushed/rows.hpp>
#include <hushed/watch.hpp>

#include "command.hpp"
#include "measuring.hpp"
#include "output.hpp"
#include "playing.hpp"

namespace hushed::cli {

namespace {

struct PlayOptions {
  Playing playing;
  std::vector<std::string> watches, measures;
  std::string format = "table";
  bool has_format = false;
  bool events = false;
  std::string record;
};

/// The output for each frame.
class Printer {
 public:
  virtual ~Printer() = default;
  virtual std::string header() const = 0;
  virtual std::string frame(const Frame& frame) const = 0;
};

class WatchPrinter final : public Printer {
 public:
  WatchPrinter(const std::string& format, const std::vector<Watch>& watches) {
    std::vector<std::string> columns;
    for (const Watch& watch : watches)
      for (std::string& column : watch.columns()) columns.push_back(std::move(column));
    rows_ = make_rows(format, std::move(columns));
  }
  std::string header() const override { return rows_->header(); }
  std::string frame(const Frame& frame) const override { return rows_->row(frame.number, frame.time, frame.values); }

 private:
  std::unique_ptr<Rows> rows_;
};

class EventPrinter final : public Printer {
 public:
  EventPrinter(const std::string& format, const Scene& scene) : format_{format}, scene_{scene} {}

  std::string header() const override {
    if (format_ == "jsonl") return "";
    return format_ == "csv" ? "frame,time,object,event,words\n"
                            : fmt::format("{:>7}  {:>10}  {:<13} what\n", "frame", "time", "event");
  }
  std::string frame(const Frame& frame) const override {
    std::string text;
    for (const Event& event : frame.events) text += line(frame.number, event);
    return text;
  }

 private:
  std::string line(std::int64_t frame, const Event& event) const {
    const double time = in_seconds(event.time);
    const std::string words = scene_.describe(event),
                      object = scene_.alive(event.subject) ? scene_.name(event.subject) : "";
    if (format_ == "csv")
      return fmt::format("{},{},{},{},{}\n", frame, as_text(time), object, event.name, in_quotes(words));
    if (format_ == "table") return fmt::format("{:>7}  {:>10.6f}  {:<13} {}\n", frame, time, event.name, words);
    const nlohmann::ordered_json json{
        {"frame", frame}, {"time", time}, {"object", object}, {"event", event.name}, {"words", words}};
    return json.dump() + '\n';
  }

  std::string format_;
  const Scene& scene_;
};

/// A play with --record and without --watch prints no rows.
class NoPrinter final : public Printer {
 public:
  std::string header() const override { return ""; }
  std::string frame(const Frame&) const override { return ""; }
};

std::unique_ptr<Printer> printer_for(const PlayOptions& options, const Scene& scene,
                                     const std::vector<Watch>& watches) {
  if (options.events) return std::make_unique<EventPrinter>(options.format, scene);
  if (watches.empty()) return std::make_unique<NoPrinter>();
  return std::make_unique<WatchPrinter>(options.format, watches);
}

int run(const PlayOptions& options) {
  if (!options.measures.empty()) return print_measures(options.playing, options.measures, options.format);
  if (!options.record.empty() && !is_recording(options.record))
    throw WrongCommandLine{"--record " + options.record +
                           ": unknown format; give a file that ends in .csv, .jsonl, .glb or .gltf."};
  SceneFile file = options.playing.open();
  const bool only_records = !options.record.empty() && options.watches.empty() && !options.has_format;
  std::vector<Watch> watches;
  if (!options.events && !only_records) watches = watches_of(options.watches, file, options.playing.scene);
  const std::unique_ptr<Printer> printer = printer_for(options, file.scene, watches);
  std::optional<RecordingWriter> recording;
  if (!options.record.empty())
    recording.emplace(options.record, file.scene,
                      options.playing.uneven ? std::nullopt : std::optional{options.playing.fps}, file.name);

  const std::int64_t last = options.playing.last_frame();
  listen_for_stop();
  Output output;
  Progress progress{last, only_records ? Prints::no : Prints::yes};
  bool read = output.write(printer->header());
  std::int64_t complete = -1;
  if (read)
    play(
        file.scene, watches, options.playing.times(), last,
        [&](const Frame& frame) {
          if (recording) recording->add(file.scene);
          read = output.write(printer->frame(frame));
          complete = frame.number;
          progress.at(frame.number);
          return read;
        },
        [] { return !stop_asked(); });
  read = output.flush() && read;
  progress.clear();
  if (recording) {
    recording->finish();
    fmt::print(stderr, "hushed: recorded {} frames of {} objects in {}.\n", complete + 1, file.scene.size(),
               options.record);
  }
  if (!read || complete == last) return done;
  fmt::print(stderr, "hushed: stopped after frame {} of {}; the output up to there is complete.\n", complete, last);
  return interrupted;
}

}  // namespace

void add_play(CLI::App& app, int& status) {
  const auto options = std::make_shared<PlayOptions>();
  CLI::App* play =
      app.add_subcommand("play", "Play a scene and print watched numbers frame by frame, list events, or record it");
  play->add_option("SCENE", options->playing.scene, "the scene file")->required();
  add_playing(*play, options->playing);
  play->add_option(
          "--watch", options->watches,
          "numbers to print, such as lamp.rotation.yaw or \"distance(skiff,lamp)\"; repeatable, or separated by commas")
      ->type_name("WATCH")
      ->expected(1)
      ->take_all();
  const auto measure = add_measures(*play, options->measures, "print a number of the whole play instead");
  for (const char* other : {"--watch", "--uneven"}) measure->excludes(play->get_option(other));
  const auto events =
      play->add_flag("--events", options->events, "print the events with their times, instead of watched numbers");
  measure->excludes(events);
  const auto format = play->add_option("--format", options->format, "table, csv or jsonl")
                          ->check(one_of({"table", "csv", "jsonl"}))
                          ->capture_default_str();
  play->add_option("--record", options->record,
                   "record the poses of all objects in this file: .csv, .jsonl, .glb or .gltf")
      ->type_name("FILE")
      ->check([](const std::string& file) { return std::string{file.empty() ? "give the name of a file" : ""}; });
  measure->excludes(play->get_option("--record"));
  play->footer(
      "\nA watch is OBJECT.position, .rotation, .scale, .velocity, .acceleration, .speed, .angular_velocity\n"
      "or .angular_speed, one number of them (.position.x, .rotation.yaw), distance(A,B) or bearing(A,B);\n"
      "with local: in front, in the parent's space. Default: the watches of [view] in the scene file, or the\n"
      "position of every object. With --record and without --watch nothing is printed.\n\n"
      "Examples:\n"
      "  hushed play scenes/harbour.toml\n"
      "  hushed play scenes/harbour.toml --seconds 3 --fps 24 --watch lamp.rotation.yaw,skiff.position.x\n"
      "  hushed play scenes/harbour.toml --set lamp.spin.speed=60 --format csv > lamp.csv\n"
      "  hushed play scenes/harbour.toml --events --seconds 60\n"
      "  hushed play scenes/harbour.toml --measure \"closest(ferry,tug)\" --seconds 60\n"
      "  hushed play scenes/harbour.toml --record harbour.glb");
  play->callback([options, format, &status] {
    options->has_format = format->count() > 0;
    status = run(*options);
  });
}

}  // namespace hushed::cli
