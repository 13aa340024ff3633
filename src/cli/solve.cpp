// SPDX-License-Identifier: MIT
// hushed solve: finds values with which a motion is as wished.

#include <algorithm>
#include <cmath>
#include <functional>
#include <memory>
#include <optional>
#include <string>
#include <vector>

#include <fmt/format.h>
#include <nlohmann/json.hpp>

#include <hushed/detail/rounded.hpp>
#include <hushed/keep.hpp>
#include <hushed/one_value.hpp>
#include <hushed/picture.hpp>
#include <hushed/solve.hpp>

#include "command.hpp"
#include "output.hpp"
#include "playing.hpp"
#include "ranges.hpp"

namespace hushed::cli {

namespace {

struct SolveCommand {
  Playing playing;
  std::vector<std::string> changes, wishes;
  std::string format = "table", picture;
  double most_seconds = 60.0;
  bool keeps = false;
  SolveOptions options;
};

double rounded(double value) { return detail::rounded(value, 6); }

std::string number_text(const std::optional<double>& value, const std::string& unit) {
  return as_text(Measured{value}, unit);
}

/// Columns of texts, the first one to the left and the others to the right.
std::string in_columns(const std::vector<std::vector<std::string>>& rows) {
  std::vector<std::size_t> widths;
  for (const auto& row : rows)
    for (std::size_t i = 0; i < row.size(); ++i) {
      if (i == widths.size()) widths.push_back(0);
      widths[i] = std::max(widths[i], row[i].size());
    }
  std::string text;
  for (const auto& row : rows) {
    std::string line = fmt::format("{:<{}}", row.front(), widths.front());
    for (std::size_t i = 1; i < row.size(); ++i) line += fmt::format("   {:>{}}", row[i], widths[i]);
    text += line.substr(0, line.find_last_not_of(' ') + 1) + '\n';
  }
  return text;
}

std::string conflict_words(const Solution& solution, const Solution::Conflict& conflict) {
  const auto wish = [&](std::size_t i) { return solution.results[i].wish.words(solution.results[i].unit); };
  if (conflict.size() == 1)
    return fmt::format("\"{}\" cannot be fulfilled within these ranges: nothing that was tried does.",
                       wish(conflict[0]));
  if (conflict.size() == 2)
    return fmt::format(
        "\"{}\" and \"{}\" contradict each other within these ranges: each can be fulfilled, but "
        "nothing that was tried fulfils both.",
        wish(conflict[0]), wish(conflict[1]));
  return "These wishes contradict each other within these ranges, although each two of them can be fulfilled.";
}

std::string text_of(const Solution& solution) {
  std::vector<std::vector<std::string>> rows{{"value", "before", "found"}};
  for (const Solution::Number& number : solution.numbers)
    rows.push_back({number.path, as_text(rounded(number.before)), as_text(rounded(number.after))});
  std::string text = in_columns(rows) + '\n';
  rows = {{"wish", "before", "found", ""}};
  for (const Solution::Result& result : solution.results)
    rows.push_back({result.wish.words(result.unit), number_text(result.before, result.unit),
                    number_text(result.after, result.unit), result.is_met ? "fulfilled" : "not fulfilled"});
  text += in_columns(rows) + '\n';
  rows = {{"by 1 % of the range of"}};
  for (const Solution::Number& number : solution.numbers) rows.front().push_back(number.path);
  bool is_known = false;
  for (const Solution::Result& result : solution.results) {
    rows.push_back({"changes " + result.wish.measure});
    for (const std::optional<double>& change : result.sensitivity) {
      is_known = is_known || change;
      const bool is_nothing = change && std::abs(*change) < 1e-9;  // as small as rounding
      const std::string number = !change ? "unknown" : is_nothing ? "0" : fmt::format("{:+.3g}", *change);
      rows.back().push_back(change && !result.unit.empty() ? number + ' ' + result.unit : number);
    }
  }
  if (is_known) text += in_columns(rows) + '\n';
  for (const Solution::Conflict& conflict : solution.conflicts) text += conflict_words(solution, conflict) + '\n';
  if (!solution.is_complete && !solution.is_met())
    text += "The search has ended at its limit; more plays (--plays) or time (--time-limit) may find more.\n";
  if (solution.is_met()) return text + fmt::format("All wishes are fulfilled, found in {} plays.\n", solution.plays);
  return text +
         fmt::format("Not all wishes are fulfilled; the values found are the nearest of {} plays.\n", solution.plays);
}

std::string json_of(const Solution& solution) {
  nlohmann::ordered_json json{
      {"met", solution.is_met()}, {"complete", solution.is_complete}, {"plays", solution.plays}};
  const auto number = [](const std::optional<double>& value) {
    return value ? nlohmann::ordered_json(*value) : nlohmann::ordered_json(nullptr);
  };
  for (const Solution::Number& each : solution.numbers)
    json["values"].push_back({{"path", each.path}, {"before", each.before}, {"after", each.after}});
  for (const Solution::Result& each : solution.results) {
    nlohmann::ordered_json sensitivity = nlohmann::ordered_json::object();
    for (std::size_t i = 0; i < each.sensitivity.size(); ++i)
      sensitivity[solution.numbers[i].path] = number(each.sensitivity[i]);
    json["wishes"].push_back({{"wish", each.wish.words(each.unit)},
                              {"unit", each.unit},
                              {"before", number(each.before)},
                              {"after", number(each.after)},
                              {"met", each.is_met},
                              {"sensitivity", sensitivity}});
  }
  json["conflicts"] = solution.conflicts;
  return json.dump(2) + '\n';
}

/// Plays a scene with the watches of measures, and measures it in another play.
Watched watch_measured(SceneFile file, const std::vector<std::string>& texts, const std::function<void(Scene&)>& change,
                       const SolveCommand& command) {
  std::vector<Watch> watches;
  for (const Measure& measure : measures_of(texts, file.scene)) add_watch_of(measure, watches);
  if (watches.empty()) watches = watches_of({}, file, command.playing.scene);
  const double fps = 60.0;
  const auto last = static_cast<std::int64_t>(in_seconds(command.playing.length()) * fps);
  Watched play = watch(file.scene, watches, FrameTimes{fps}, 0, last);
  Scene again = command.playing.open().scene;
  change(again);
  const std::vector<Measure> measures = measures_of(texts, again);
  const std::vector<Measured> found = measure(again, measures, command.playing.length());
  for (std::size_t i = 0; i < measures.size(); ++i) play.notes.push_back(note_of(measures[i], found[i]));
  return play;
}

/// Plays before and after.
void draw_picture(const SolveCommand& command, const Solution& solution, const std::vector<Wish>& wishes) {
  std::vector<Watched> plays;
  std::string title;
  for (const bool is_after : {false, true}) {
    SceneFile file = command.playing.open();
    title = file.name.empty() ? command.playing.scene : file.name;
    const auto change = [&](Scene& scene) {
      for (const Solution::Number& number : solution.numbers)
        if (is_after) OneValue{number.path, scene}.set(scene, Value{rounded(number.after)});
    };
    change(file.scene);
    std::vector<std::string> texts;
    for (const Wish& wish : wishes) texts.push_back(wish.measure);
    plays.push_back(watch_measured(std::move(file), texts, change, command));
    plays.back().label = is_after ? "after" : "before";
  }
  draw(plays, command.picture, {.title = title, .showing = Showing::curves});
  fmt::print(stderr, "hushed: drew the motion before and after in {}.\n", command.picture);
}

/// Writes the found values into the scene file.
void keep_values(const SolveCommand& command, const Solution& solution) {
  SceneFile file = command.playing.open();
  std::vector<ValueToKeep> values;
  for (const Solution::Number& number : solution.numbers) {
    const OneValue value{number.path, file.scene};
    value.set(file.scene, Value{rounded(number.after)});
    std::erase_if(values, [&](const ValueToKeep& other) { return other.path == value.whole_path(); });
    values.push_back({value.whole_path(), file.scene.get(value.whole_path())});
  }
  const KeepPlan plan = plan_keep(SceneSource{command.playing.scene}, values);
  if (!plan.refusals.empty())
    throw Error{"nothing was kept: " + plan.refusals.front().path + ": " + plan.refusals.front().why};
  keep(plan);
  for (const KeepPlan::Line& line : plan.lines)
    fmt::print(stderr, "hushed: kept {}: line {}: {}\n", line.path, line.number, line.after);
}

int run(SolveCommand command) {
  if (command.changes.empty())
    throw WrongCommandLine{"solve: give what may change, such as --change hook.spring.damping=0.1:1."};
  if (command.wishes.empty())
    throw WrongCommandLine{"solve: give a wish, such as --want \"settled(hook.position.x) = 0.8 s\"."};
  if (!command.picture.empty() && !command.picture.ends_with(".png") && !command.picture.ends_with(".svg"))
    throw WrongCommandLine{"--picture " + command.picture + ": unknown format; give a file that ends in .png or .svg."};
  const SceneFile file = command.playing.open();
  std::vector<Change> changes;
  for (const std::string& text : command.changes) changes.push_back(read_change(text, file.scene));
  std::vector<Wish> wishes;
  for (const std::string& text : command.wishes) {
    try {
      wishes.push_back(Wish::read(text, file.scene));
    } catch (const BadValue& error) {
      throw WrongCommandLine{std::string{"--want "} + error.what()};
    }
  }
  listen_for_stop();
  Progress progress{static_cast<std::int64_t>(command.options.plays), Prints::no, "play"};
  command.options.length = command.playing.length();
  command.options.time = seconds(command.most_seconds);
  command.options.goes_on = [&](std::size_t plays, std::size_t met) {
    progress.note(fmt::format("{} of {} wishes fulfilled", met, wishes.size()));
    progress.at(static_cast<std::int64_t>(plays));
    return !stop_asked();
  };
  Solution solution;
  try {
    solution = solve([&] { return command.playing.open().scene; }, changes, wishes, command.options);
  } catch (const BadValue& error) {
    throw WrongCommandLine{std::string{"solve: "} + error.what()};
  }
  progress.clear();
  if (solution.results.empty()) {
    fmt::print(stderr, "hushed: stopped before the first play was complete; nothing was found.\n");
    return interrupted;
  }
  Output output;
  output.write(command.format == "json" ? json_of(solution) : text_of(solution));
  output.flush();
  if (!command.picture.empty() && !stop_asked()) draw_picture(command, solution, wishes);
  if (command.keeps && solution.is_met() && !stop_asked()) keep_values(command, solution);
  if (command.keeps && !solution.is_met())
    fmt::print(stderr, "hushed: nothing was kept; only values that fulfil all wishes are.\n");
  if (stop_asked()) {
    fmt::print(stderr, "hushed: stopped; these are the best values up to there.\n");
    return interrupted;
  }
  return solution.is_met() ? done : not_as_asked;
}

}  // namespace

void add_solve(CLI::App& app, int& status) {
  const auto command = std::make_shared<SolveCommand>();
  CLI::App* solve = app.add_subcommand("solve", "Find values with which a motion is as wished");
  solve->add_option("SCENE", command->playing.scene, "the scene file")->required();
  solve
      ->add_option("--change", command->changes,
                   "a number that may change, and its range; without a range, the usual one; repeatable")
      ->type_name("PATH=LOW:HIGH")
      ->expected(1)
      ->take_all();
  solve
      ->add_option("--want", command->wishes,
                   "a measure, =, < or >, and a number, such as \"settled(hook.position.x) = 0.8 s\"; with a weight: "
                   "\"..., weight 2\"; repeatable")
      ->type_name("WISH")
      ->expected(1)
      ->take_all();
  solve->add_option("--seconds", command->playing.seconds, "seconds of each play (default: 10)")
      ->check(number_from(0.001, 1e6));
  add_scene_options(*solve, command->playing);
  solve->add_option("--plays", command->options.plays, "at most so many plays")
      ->check(whole_number_from(1, 1'000'000))
      ->capture_default_str();
  solve->add_option("--time-limit", command->most_seconds, "at most so many seconds of searching")
      ->check(number_from(0.1, 1e6))
      ->capture_default_str();
  solve->add_option("--seed", command->options.seed, "where else to search")->capture_default_str();
  solve
      ->add_option("--threads", command->options.threads,
                   "plays at the same time (default: as many as there are cores)")
      ->check(whole_number_from(1, 256));
  solve->add_option("--format", command->format, "table or json")
      ->check(one_of({"table", "json"}))
      ->capture_default_str();
  solve->add_flag("--keep", command->keeps, "write the values into the scene file, if all wishes are fulfilled")
      ->excludes(solve->get_option("--set"));
  solve->add_option("--picture", command->picture, "draw the motion before and after in this file, .png or .svg")
      ->type_name("FILE");
  solve->footer(
      "\nThe exit status is 1 if not all wishes are fulfilled.\n\n"
      "Examples:\n"
      "  hushed solve scenes/harbour.toml --change hook.spring.damping --want \"ringing(hook.position.x) = 2\"\n"
      "  hushed solve scenes/harbour.toml --change tug.follow.distance=1:20 \\\n"
      "      --want \"closest(ferry,tug) > 5 m\" --seconds 30 --picture tug.png");
  solve->callback([command, &status] { status = run(*command); });
}

}  // namespace hushed::cli
