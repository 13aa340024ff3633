// hushed play: plays a scene without a screen and prints what is watched, frame by frame.

#include <unistd.h>

#include <chrono>
#include <cmath>
#include <cstdio>
#include <memory>
#include <optional>
#include <string>
#include <vector>

#include <fmt/format.h>

#include <hushed/frames.hpp>
#include <hushed/load.hpp>
#include <hushed/watch.hpp>

#include "command.hpp"
#include "output.hpp"

namespace hushed::cli {

namespace {

struct PlayOptions {
  std::string scene;
  double fps = 60.0;
  std::optional<std::int64_t> frames;
  std::optional<double> seconds;
  std::optional<std::uint64_t> uneven;
  std::optional<double> tick_rate;
  std::vector<std::string> sets;
  std::vector<std::string> watches;
  std::string format = "table";
};

void set_value(Scene& scene, const std::string& assignment) {
  const std::size_t equals = assignment.find('=');
  if (equals == std::string::npos)
    throw WrongCommandLine{"--set " + assignment + ": give PATH=VALUE, such as lamp.spin.speed=60."};
  try {
    scene.set(assignment.substr(0, equals), parse_value(assignment.substr(equals + 1)));
  } catch (const Error& error) {
    throw WrongCommandLine{std::string{"--set "} + error.what()};
  }
}

/// What the command line asks for, or the file, or every position.
std::vector<Watch> watches_of(const PlayOptions& options, const SceneFile& file) {
  std::vector<Watch> watches;
  for (const std::string& list : options.watches) {
    for (const std::string& watch : split_watches(list)) {
      try {
        watches.emplace_back(watch, file.scene);
      } catch (const Error& error) {
        throw WrongCommandLine{error.what()};
      }
    }
  }
  if (!watches.empty()) return watches;

  std::vector<Complaint> complaints;
  for (const View::Watch& watch : file.view.watches) {
    try {
      watches.emplace_back(watch.text, file.scene);
    } catch (const Error& error) {
      complaints.push_back({watch.place, std::string{"view: "} + error.what()});
    }
  }
  if (!complaints.empty()) throw LoadError{options.scene, complaints};
  return watches.empty() ? every_position(file.scene) : watches;
}

/// Says on a terminal how far a long play has come, while the rows go elsewhere.
class Progress {
 public:
  explicit Progress(std::int64_t last)
      : last_{last}, shows_{isatty(STDERR_FILENO) != 0 && isatty(STDOUT_FILENO) == 0} {}
  ~Progress() {
    if (shown_) std::fputs("\r\033[K", stderr);
  }
  void at(std::int64_t frame) {
    const auto now = std::chrono::steady_clock::now();
    if (!shows_ || now < next_) return;
    next_ = now + std::chrono::milliseconds{250};
    shown_ = true;
    fmt::print(stderr, "\rframe {} of {} ({} %)\033[K", frame, last_, last_ == 0 ? 100 : 100 * frame / last_);
  }

 private:
  std::int64_t last_;
  bool shows_;
  bool shown_ = false;
  std::chrono::steady_clock::time_point next_ = std::chrono::steady_clock::now() + std::chrono::seconds{1};
};

int run(const PlayOptions& options) {
  SceneFile file = read_scene_file(options.scene, {options.tick_rate});
  for (const std::string& assignment : options.sets) set_value(file.scene, assignment);
  const std::vector<Watch> watches = watches_of(options, file);

  std::vector<std::string> columns;
  for (const Watch& watch : watches)
    for (std::string& column : watch.columns()) columns.push_back(std::move(column));
  const std::unique_ptr<Rows> rows = make_rows(options.format, std::move(columns));

  const std::int64_t last =
      options.frames.value_or(static_cast<std::int64_t>(std::floor(options.seconds.value_or(10.0) * options.fps)));
  const FrameTimes times = options.uneven ? FrameTimes{options.fps, *options.uneven} : FrameTimes{options.fps};

  listen_for_stop();
  Output output;
  Progress progress{last};
  bool read = output.write(rows->header());
  std::int64_t complete = -1;
  if (read)
    play(file.scene, watches, times, last, [&](const Frame& frame) {
      if (stop_asked()) return false;
      read = output.write(rows->row(frame.number, frame.time, frame.values));
      complete = frame.number;
      progress.at(frame.number);
      return read;
    });
  read = output.flush() && read;
  if (!read || complete == last) return done;
  fmt::print(stderr, "hushed: stopped after frame {} of {}; what is printed is complete.\n", complete, last);
  return interrupted;
}

}  // namespace

void add_play(CLI::App& app, int& status) {
  const auto options = std::make_shared<PlayOptions>();
  CLI::App* play =
      app.add_subcommand("play", "Play a scene without a screen and print what is watched, frame by frame");
  play->add_option("SCENE", options->scene, "the scene file")->required();
  play->add_option("--fps", options->fps, "frames per second")->check(CLI::Range(0.001, 1e6))->capture_default_str();
  const auto frames = play->add_option("--frames", options->frames, "how many frames to play after frame 0");
  frames->check(CLI::Range(std::int64_t{0}, std::int64_t{1'000'000'000}));
  play->add_option("--seconds", options->seconds, "how long to play, in seconds (10 unless told)")
      ->check(CLI::Range(0.0, 1e6))
      ->excludes(frames);
  play->add_option("--uneven", options->uneven, "play with frames of uneven length, from this seed")->type_name("SEED");
  play->add_option("--tick-rate", options->tick_rate, "ticks per second, instead of the scene's")
      ->check(CLI::Range(1.0, 10'000.0));
  play->add_option("--set", options->sets, "set a value before the play, such as lamp.spin.speed=60; repeatable")
      ->type_name("PATH=VALUE")
      ->expected(1)
      ->take_all();
  play->add_option("--watch", options->watches,
                   "what to print, such as lamp.rotation.yaw or \"distance(skiff,lamp)\"; repeatable, or with commas")
      ->type_name("WATCH")
      ->expected(1)
      ->take_all();
  play->add_option("--format", options->format, "table, csv or jsonl")
      ->check(CLI::IsMember({"table", "csv", "jsonl"}))
      ->capture_default_str();
  play->footer(
      "\nA watch is OBJECT.position, .rotation, .scale, .velocity, .acceleration or .speed, one number of them\n"
      "(.position.x, .rotation.yaw), distance(A,B) or bearing(A,B); local: before it takes the parent's\n"
      "space. Without any, those of the scene's [view] are printed, or every object's position.\n\n"
      "Examples:\n"
      "  hushed play scenes/harbour.toml\n"
      "  hushed play scenes/harbour.toml --seconds 3 --fps 24 --watch lamp.rotation.yaw,skiff.position.x\n"
      "  hushed play scenes/harbour.toml --set lamp.spin.speed=60 --format csv > lamp.csv");
  play->callback([options, &status] { status = run(*options); });
}

}  // namespace hushed::cli
