// SPDX-License-Identifier: MIT
#include "measuring.hpp"

#include <algorithm>

#include <fmt/format.h>
#include <nlohmann/json.hpp>

#include <hushed/value.hpp>

#include "command.hpp"
#include "output.hpp"

namespace hushed::cli {

namespace {

std::string in_table(std::span<const Measure> measures, std::span<const Measured> found) {
  std::size_t width = 7;
  for (const Measure& measure : measures) width = std::max(width, measure.text().size());
  std::string text = fmt::format("{:<{}}  {:>14}  {:<8}  {}\n", "measure", width, "value", "unit", "at");
  for (std::size_t i = 0; i < measures.size(); ++i) {
    const std::string value = found[i].value ? fmt::format("{:.6f}", *found[i].value + 0.0) : "none";
    const std::string at = found[i].at ? fmt::format("{:.6f} s", in_seconds(*found[i].at)) : "";
    std::string line =
        fmt::format("{:<{}}  {:>14}  {:<8}  {}", measures[i].text(), width, value, measures[i].unit(), at);
    line.erase(line.find_last_not_of(' ') + 1);
    text += line + '\n';
  }
  return text;
}

std::string in_csv(std::span<const Measure> measures, std::span<const Measured> found) {
  std::string text = "measure,value,unit,at\n";
  for (std::size_t i = 0; i < measures.size(); ++i) {
    const std::string name =
        measures[i].text().find(',') == std::string::npos ? measures[i].text() : '"' + measures[i].text() + '"';
    text += fmt::format("{},{},{},{}\n", name, found[i].value ? as_text(*found[i].value) : "", measures[i].unit(),
                        found[i].at ? as_text(in_seconds(*found[i].at)) : "");
  }
  return text;
}

std::string in_jsonl(std::span<const Measure> measures, std::span<const Measured> found) {
  std::string text;
  for (std::size_t i = 0; i < measures.size(); ++i) {
    nlohmann::ordered_json json{{"measure", measures[i].text()}, {"value", nullptr}, {"unit", measures[i].unit()}};
    if (found[i].value) json["value"] = *found[i].value;
    json["at"] = found[i].at ? nlohmann::ordered_json(in_seconds(*found[i].at)) : nlohmann::ordered_json();
    text += json.dump() + '\n';
  }
  return text;
}

}  // namespace

int print_measures(const Playing& playing, const std::vector<std::string>& texts, const std::string& format) {
  SceneFile file = playing.open();
  const std::vector<Measure> measures = measures_of(texts, file.scene);
  constexpr std::int64_t whole = 1000;
  Progress progress{whole, Prints::no, "per mille"};
  listen_for_stop();
  const Time length = frame_time(playing.last_frame(), playing.fps);
  std::vector<Measured> found;
  try {
    found = measure(file.scene, measures, length, [&](double share) {
      progress.at(static_cast<std::int64_t>(share * static_cast<double>(whole)));
      return !stop_asked();
    });
  } catch (const BadValue& error) {
    throw WrongCommandLine{std::string{"--measure "} + error.what()};
  }
  progress.clear();
  if (found.empty()) {
    fmt::print(stderr, "hushed: stopped before the end of the play; nothing was measured.\n");
    return interrupted;
  }
  Output output;
  output.write(format == "csv"     ? in_csv(measures, found)
               : format == "jsonl" ? in_jsonl(measures, found)
                                   : in_table(measures, found));
  output.flush();
  return done;
}

std::string list_of_measures() {
  std::string text = "Measures, of a whole play or from one time to another:\n\n";
  for (const MeasureInfo& each : measure_kinds()) {
    const std::string unit = each.unit.empty() ? "" : fmt::format(" ({})", each.unit);
    text += fmt::format("  {:<40}  {}{}\n", each.usage, each.help, unit);
  }
  return text +
         "\nEach also takes from = SECONDS and to = SECONDS.\n\n"
         "  hushed play scenes/harbour.toml --measure \"overshoot(hook.position.x)\"\n";
}

std::string measures_in_markdown() {
  std::string text = "| measure | unit | what it is |\n| --- | --- | --- |\n";
  for (const MeasureInfo& each : measure_kinds())
    text += fmt::format("| `{}` | {} | {} |\n", each.usage, each.unit, each.help);
  return text;
}

}  // namespace hushed::cli
