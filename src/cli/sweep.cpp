// SPDX-License-Identifier: MIT
// hushed sweep: plays a scene with many values, and measures each play.

#include <unistd.h>

#include <algorithm>
#include <atomic>
#include <cerrno>
#include <charconv>
#include <cstdio>
#include <cstring>
#include <filesystem>
#include <functional>
#include <memory>
#include <optional>
#include <string>
#include <vector>

#include <fmt/format.h>

#include <hushed/one_value.hpp>
#include <hushed/picture.hpp>
#include <hushed/sweep.hpp>
#include <hushed/sweep_file.hpp>

#include "command.hpp"
#include "output.hpp"
#include "playing.hpp"
#include "ranges.hpp"

namespace hushed::cli {

namespace {

struct SweepCommand {
  Playing playing;
  std::vector<std::string> varied, measures, joined;
  std::string sampling = "grid", format = "table", file, picture, part;
  std::size_t plays = 0;
  std::uint64_t seed = 1;
  SweepOptions options;
};

/// Rows are printed, or added to the file of --continue the moment they are there.
class RowOutput {
 public:
  RowOutput(const std::string& file, std::size_t length) {
    if (file.empty()) return;
    file_ = std::fopen(file.c_str(), "ab");
    // What an interrupt has left of a line is removed.
    if (!file_ || ftruncate(fileno(file_), static_cast<off_t>(length)) != 0)
      throw std::runtime_error{file + ": it cannot be written: " + std::strerror(errno) + '.'};
  }
  ~RowOutput() {
    if (file_) std::fclose(file_);
  }
  RowOutput(const RowOutput&) = delete;
  RowOutput& operator=(const RowOutput&) = delete;

  /// False once the reader has closed the pipe.
  bool write(const std::string& text) {
    if (!file_) return output_.write(text) && output_.flush();
    if (std::fwrite(text.data(), 1, text.size(), file_) != text.size() || std::fflush(file_) != 0)
      throw std::runtime_error{std::string{"the file cannot be written: "} + std::strerror(errno) + '.'};
    return true;
  }

 private:
  Output output_;
  std::FILE* file_ = nullptr;
};

/// Reads "3/16".
void read_part(const std::string& text, SweepOptions& options) {
  if (text.empty()) return;
  const std::size_t slash = std::min(text.find('/'), text.size());
  const auto reads = [&](std::size_t from, std::size_t end, std::size_t& number) {
    const auto [stop, error] = std::from_chars(text.data() + from, text.data() + end, number);
    return error == std::errc{} && stop == text.data() + end;
  };
  if (slash == text.size() || !reads(0, slash, options.part) || !reads(slash + 1, text.size(), options.parts) ||
      options.part == 0 || options.part > options.parts)
    throw WrongCommandLine{"--part " + text + ": give a part and the number of parts, such as 3/16."};
}

SweepPlan plan_of(const SweepCommand& command) {
  SweepPlan plan;
  for (const std::string& text : command.varied) plan.varied.push_back(read_varied(text));
  plan.measures = command.measures;
  plan.length = command.playing.length();
  for (const auto& [value, name] : choices(Sampling{}))
    if (name == command.sampling) plan.sampling = value;
  plan.plays = command.plays;
  plan.seed = command.seed;
  if (plan.sampling == Sampling::grid && command.plays > 0)
    throw WrongCommandLine{"--plays: a grid has as many plays as there are combinations; give another --sampling."};
  if (plan.sampling != Sampling::grid && command.plays == 0)
    throw WrongCommandLine{"--sampling " + command.sampling + ": give the number of --plays."};
  return plan;
}

SweepTable empty_table(const SweepPlan& plan, std::size_t plays) {
  SweepTable table;
  for (const Varied& varied : plan.varied) table.paths.push_back(varied.path);
  table.measures = plan.measures;
  table.plays = plays;
  return table;
}

/// Compares an earlier file with the sweep; plays one of its plays again. Throws `WrongCommandLine` where it belongs to
/// another sweep.
void check_earlier(const SweepCommand& command, const SweepTable& earlier, const SweepPlan& plan,
                   const SweptValues& values, const std::function<Scene()>& make) {
  if (earlier.rows.empty()) return;
  const auto refuse = [&](const std::string& why) {
    throw WrongCommandLine{"--continue " + command.file + ": it is of another sweep: " + why +
                           " Give the options that it was made with, or another file."};
  };
  const SweepTable expected = empty_table(plan, values.plays());
  if (earlier.paths != expected.paths) refuse("it varies other values.");
  if (earlier.measures != expected.measures) refuse("it has other measures.");
  if (earlier.plays != expected.plays) refuse(fmt::format("it has {} plays, not {}.", earlier.plays, expected.plays));
  for (const SweepTable::Row& row : earlier.rows)
    if (row.values != SweepTable::row({row.number, values.of(row.number), {}}).values)
      refuse(fmt::format("its play {} has other values.", row.number));
  SweepOptions one{
      .threads = 1, .skipped = std::vector<bool>(values.plays(), true), .goes_on = command.options.goes_on};
  one.skipped[earlier.rows.front().number] = false;
  for (const SweptPlay& play : sweep(make, plan, one))
    if (SweepTable::row(play) != earlier.rows.front())
      refuse(fmt::format("play {} has another result now; the scene has changed.", play.number));
}

void draw_picture(const SweepCommand& command, SweepTable table, const SceneFile* file) {
  if (command.picture.empty() || table.rows.empty()) return;
  SweepPictureOptions options{.title = file ? (file->name.empty() ? command.playing.scene : file->name) : "Sweep"};
  if (file) {
    for (const Measure& measure : measures_of(table.measures, file->scene)) table.units.emplace_back(measure.unit());
    for (const std::string& path : table.paths) {
      const std::optional<Value> now = OneValue{path, file->scene}.get(file->scene);
      const auto* text = now ? now->as<std::string>() : nullptr;
      options.present.push_back(text ? *text : now ? as_text(*now) : "");
    }
  }
  draw_sweep(table, command.picture, options);
  fmt::print(stderr, "hushed: drew {} plays in {}.\n", table.rows.size(), command.picture);
}

/// The numbers of plays without a row: "3, 7, 8 and 12 others".
std::string missing_in(const SweepTable& table) {
  std::vector<bool> has(table.plays, false);
  for (const SweepTable::Row& row : table.rows) has[row.number] = true;
  std::string text;
  std::size_t count = 0;
  for (std::size_t i = 0; i < has.size(); ++i) {
    if (has[i]) continue;
    if (++count <= 10) text += (text.empty() ? "" : ", ") + std::to_string(i);
  }
  return count > 10 ? fmt::format("{} and {} others", text, count - 10) : text;
}

int join_parts(const SweepCommand& command) {
  std::vector<SweepTable> parts;
  for (const std::string& file : command.joined) parts.push_back(read_sweep(file));
  SweepTable whole;
  try {
    whole = join(parts);
  } catch (const BadValue& error) {
    throw WrongCommandLine{std::string{"--join: "} + error.what()};
  }
  const auto rows = make_sweep_rows(command.format, whole);
  Output output;
  output.write(rows->header());
  for (const SweepTable::Row& row : whole.rows) output.write(rows->row(row));
  output.flush();
  std::optional<SceneFile> file;
  if (!command.playing.scene.empty()) file = command.playing.open();
  draw_picture(command, whole, file ? &*file : nullptr);
  const std::string missing = missing_in(whole);
  if (missing.empty()) return done;
  fmt::print(stderr, "hushed: {} of {} plays; missing: {}.\n", whole.rows.size(), whole.plays, missing);
  return not_as_asked;
}

int run(SweepCommand command) {
  if (!command.picture.empty() && !command.picture.ends_with(".png") && !command.picture.ends_with(".svg"))
    throw WrongCommandLine{"--picture " + command.picture + ": unknown format; give a file that ends in .png or .svg."};
  if (!command.joined.empty()) return join_parts(command);
  if (command.playing.scene.empty()) throw WrongCommandLine{"sweep: the scene file is missing; give one."};
  if (command.varied.empty())
    throw WrongCommandLine{"sweep: give what varies, such as --vary hook.spring.damping=0.1:1:10."};
  if (command.measures.empty())
    throw WrongCommandLine{
        "sweep: give a measure, such as --measure \"settled(hook.position.x)\"; "
        "`hushed describe measures` lists all."};
  if (!command.file.empty() && !command.file.ends_with(".csv") && !command.file.ends_with(".jsonl"))
    throw WrongCommandLine{"--continue " + command.file + ": unknown format; give a file that ends in .csv or .jsonl."};
  const SceneFile file = command.playing.open();
  measures_of(command.measures, file.scene);
  const SweepPlan plan = plan_of(command);
  const auto make = [&] { return command.playing.open().scene; };
  listen_for_stop();
  command.options.goes_on = [] { return !stop_asked(); };
  try {
    const SweptValues values{plan};
    SweepTable table = empty_table(plan, values.plays());
    std::size_t length = 0;
    if (!command.file.empty()) {
      command.format = command.file.ends_with(".csv") ? "csv" : "jsonl";
      if (std::filesystem::exists(command.file)) {
        SweepTable earlier = read_sweep(command.file, &length);
        check_earlier(command, earlier, plan, values, make);
        table.rows = std::move(earlier.rows);
        command.options.skipped.resize(values.plays());
        for (const SweepTable::Row& row : table.rows) command.options.skipped[row.number] = true;
      }
    }
    const auto rows = make_sweep_rows(command.format, table);
    std::size_t left = 0;
    for (std::size_t play = command.options.part - 1; play < values.plays(); play += command.options.parts)
      if (command.options.skipped.empty() || !command.options.skipped[play]) ++left;
    RowOutput output{command.file, length};
    std::atomic<bool> is_read = length > 0 || output.write(rows->header());
    Progress progress{static_cast<std::int64_t>(left), command.file.empty() ? Prints::yes : Prints::no, "play"};
    std::int64_t finished = 0;
    command.options.goes_on = [&is_read] { return is_read && !stop_asked(); };
    command.options.on_play = [&](const SweptPlay& play) {
      table.rows.push_back(SweepTable::row(play));
      if (!output.write(rows->row(table.rows.back()))) is_read = false;
      progress.at(++finished);
    };
    sweep(make, plan, command.options);
    progress.clear();
    if (static_cast<std::size_t>(finished) < left) {
      fmt::print(
          stderr, "hushed: stopped after {} of {} plays; {}\n", finished, left,
          command.file.empty() ? "the rows up to there are complete." : "give the same command again to continue.");
      return interrupted;
    }
    draw_picture(command, table, &file);
    return done;
  } catch (const BadValue& error) {
    throw WrongCommandLine{std::string{"sweep: "} + error.what()};
  }
}

}  // namespace

void add_sweep(CLI::App& app, int& status) {
  const auto command = std::make_shared<SweepCommand>();
  CLI::App* sweep = app.add_subcommand("sweep", "Play with many values, and measure each play");
  sweep->add_option("SCENE", command->playing.scene, "the scene file");
  sweep
      ->add_option("--vary", command->varied,
                   "a value that varies: PATH=LOW:HIGH:COUNT, or a list, PATH=A,B,C; repeatable, for all combinations")
      ->type_name("PATH=VALUES")
      ->expected(1)
      ->take_all();
  add_measures(*sweep, command->measures, "what is measured");
  sweep->add_option("--seconds", command->playing.seconds, "seconds of each play (default: 10)")
      ->check(number_from(0.001, 1e6));
  add_scene_options(*sweep, command->playing);
  sweep
      ->add_option("--sampling", command->sampling,
                   "grid, latin-hypercube or sobol; the last two take ranges PATH=LOW:HIGH")
      ->check(one_of({"grid", "latin-hypercube", "sobol"}))
      ->capture_default_str();
  sweep->add_option("--plays", command->plays, "how many plays, unless it is a grid")
      ->check(whole_number_from(1, 1'000'000));
  sweep->add_option("--seed", command->seed, "another choice of values, unless it is a grid")->capture_default_str();
  sweep
      ->add_option("--threads", command->options.threads,
                   "plays at the same time (default: as many as there are cores)")
      ->check(whole_number_from(1, 256));
  sweep->add_option("--part", command->part, "play only one part of several, such as 3/16")->type_name("K/N");
  sweep->add_option("--format", command->format, "table, csv or jsonl")
      ->check(one_of({"table", "csv", "jsonl"}))
      ->capture_default_str();
  sweep
      ->add_option("--continue", command->file,
                   "add the rows to this file, .csv or .jsonl, and play only what it does not have yet")
      ->type_name("FILE");
  sweep->add_option("--join", command->joined, "print the rows of these files of parts as one, and play nothing")
      ->type_name("FILE")
      ->expected(1, 100'000);
  sweep->add_option("--picture", command->picture, "draw the result in this file, .png or .svg")->type_name("FILE");
  sweep->footer(
      "\nOne row is printed when a play ends; with several threads, rows may not be in order.\n\n"
      "Examples:\n"
      "  hushed sweep scenes/harbour.toml --vary hook.spring.damping=0.1:1:10 --measure \"peak(hook.position.x)\"\n"
      "  hushed sweep scenes/harbour.toml --vary hook.spring.damping=0.1:1:10 --vary hook.spring.frequency=0.2:1:9 \\\n"
      "      --measure \"overshoot(hook.position.x)\" --continue hook.csv --picture hook.png\n"
      "  hushed sweep --join part-1.csv part-2.csv --format csv");
  sweep->callback([command, &status] {
    read_part(command->part, command->options);
    status = run(*command);
  });
}

}  // namespace hushed::cli
