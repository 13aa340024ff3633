// SPDX-License-Identifier: MIT
// hushed check: finds mistakes in the motion, and reports their place and a hint.

#include <algorithm>
#include <cmath>
#include <memory>
#include <string>
#include <vector>

#include <fmt/format.h>
#include <nlohmann/json.hpp>

#include <hushed/check.hpp>
#include <hushed/expectation.hpp>

#include "command.hpp"
#include "output.hpp"
#include "playing.hpp"

namespace hushed::cli {

namespace {

struct CheckCommand {
  Playing playing;
  std::string format = "text";
  bool codes = false;
};

constexpr std::string_view unexpected = "unexpected";

std::string_view name_of(Severity severity) { return severity == Severity::mistake ? "mistake" : "doubt"; }

std::string text_of(const std::vector<Finding>& findings, const CheckCommand& command) {
  std::string text;
  std::size_t ignored = 0;
  for (const Finding& each : findings) {
    if (!each.ignored_because.empty()) {
      ++ignored;
      continue;
    }
    const std::string when = each.frame ? fmt::format(", frame {} ({:.3f} s)", *each.frame,
                                                      static_cast<double>(*each.frame) / command.playing.fps)
                                        : "";
    text += fmt::format("{}: {}: {} [{}]{}\n    {}.\n    Hint: {}.\n", command.playing.scene, each.object,
                        name_of(each.severity), each.code, when, each.text, each.hint);
  }
  const std::size_t open = findings.size() - ignored;
  text += open == 0 ? "Nothing found" : fmt::format("{} found", open);
  if (ignored > 0) text += fmt::format("; {} ignored by the scene file", ignored);
  return text + ".\n";
}

std::string in_xml(std::string_view text) {
  std::string escaped;
  for (const char c : text)
    escaped += c == '&' ? "&amp;" : c == '<' ? "&lt;" : c == '>' ? "&gt;" : c == '"' ? "&quot;" : std::string{c};
  return escaped;
}

/// JUnit's XML, as build servers read it: a test case for each expectation and for each finding.
std::string junit_of(const std::vector<Finding>& findings, const SceneFile& file) {
  std::string cases;
  std::size_t tests = 0, failures = 0;
  const auto add = [&](const std::string& group, const std::string& name, const std::string& failure) {
    ++tests;
    cases += fmt::format("    <testcase classname=\"{}\" name=\"{}\"", in_xml(group), in_xml(name));
    if (failure.empty()) {
      cases += "/>\n";
      return;
    }
    ++failures;
    cases += fmt::format(">\n      <failure message=\"{}\"/>\n    </testcase>\n", in_xml(failure));
  };
  bool is_clean = true;
  for (const Finding& each : findings) {
    if (!each.ignored_because.empty() || each.code == unexpected) continue;
    is_clean = false;
    const std::string where = each.frame ? fmt::format(", frame {}", *each.frame) : "";
    add("check", each.object + ' ' + each.code, each.text + where + ". Hint: " + each.hint + '.');
  }
  if (is_clean) add("check", "nothing found", "");
  for (const Expectation& expected : file.expectations) {
    const std::string name = expected.name.empty() ? expected.words() : expected.name;
    const auto failed = std::find_if(findings.begin(), findings.end(), [&](const Finding& each) {
      return each.code == unexpected && each.object == name;
    });
    const bool is_met = failed == findings.end();
    const std::string where = !is_met && failed->frame ? fmt::format(", frame {}", *failed->frame) : "";
    add("expect", name, is_met ? "" : failed->text + where + '.');
  }
  return fmt::format(
      "<?xml version=\"1.0\" encoding=\"UTF-8\"?>\n<testsuites>\n"
      "  <testsuite name=\"{}\" tests=\"{}\" failures=\"{}\">\n{}  </testsuite>\n</testsuites>\n",
      in_xml(file.name.empty() ? "scene" : file.name), tests, failures, cases);
}

std::string json_of(const std::vector<Finding>& findings) {
  nlohmann::ordered_json json = nlohmann::ordered_json::array();
  for (const Finding& each : findings) {
    json.push_back({{"code", each.code},
                    {"severity", name_of(each.severity)},
                    {"object", each.object},
                    {"frame", nullptr},
                    {"text", each.text},
                    {"hint", each.hint}});
    if (each.frame) json.back()["frame"] = *each.frame;
    if (!each.ignored_because.empty()) json.back()["ignored_because"] = each.ignored_because;
  }
  return json.dump(2) + '\n';
}

/// Tests the expectations of the file, and adds those that are not met to the findings. Throws `LoadError`.
void test(const SceneFile& file, const CheckCommand& command, std::vector<Finding>& findings) {
  const Playing& playing = command.playing;
  for (const Expectation& expected : file.expectations) {
    try {
      const Measure checked{expected.measure, file.scene};
    } catch (const BadValue& error) {
      throw LoadError{playing.scene, {{expected.place, std::string{"expect: "} + error.what()}}};
    }
  }
  const Time length = frame_time(playing.last_frame(), playing.fps);
  std::vector<Tested> results;
  try {
    results = test_expectations([&] { return playing.open().scene; }, file.expectations, length,
                                [](std::size_t) { return !stop_asked(); });
  } catch (const BadValue& error) {
    throw LoadError{playing.scene, {{{}, std::string{"expect: "} + error.what()}}};
  }
  for (std::size_t i = 0; i < results.size(); ++i) {
    const Expectation& expected = file.expectations[i];
    if (results[i].is_met) continue;
    std::optional<std::int64_t> frame;
    if (results[i].measured.at)
      frame = static_cast<std::int64_t>(std::ceil(in_seconds(*results[i].measured.at) * playing.fps - 1e-9));
    findings.push_back(
        {std::string{unexpected}, Severity::mistake, expected.name.empty() ? expected.words() : expected.name, frame,
         expected.measure + ' ' + results[i].words + ", but must be" + expected.words().substr(expected.measure.size()),
         fmt::format("change the motion, or the limit in line {}", expected.place.line)});
  }
}

int list_codes() {
  std::string text;
  text += fmt::format("  {:<14} {}\n", unexpected, "the motion is not what [[expect]] in the file says");
  for (const FindingCode& each : finding_codes()) text += fmt::format("  {:<14} {}\n", each.code, each.meaning);
  Output output;
  output.write(text);
  output.flush();
  return done;
}

int run(const CheckCommand& command) {
  if (command.codes) return list_codes();
  if (command.playing.scene.empty())
    throw WrongCommandLine{"check: the scene file is missing; give one, such as scenes/harbour.toml."};
  const Playing& playing = command.playing;
  const SceneFile file = playing.open();
  const double ticks = file.scene.tick_rate();
  listen_for_stop();
  CheckOptions options{
      playing.fps, playing.last_stored_frame(file.scene), file.view.area, file.ignored, file.unused_presets, nullptr};
  int plays = 2;  // with the scene's tick rate, and with a higher one
  for (const Object object : file.scene.objects()) {
    const auto stacked = static_cast<int>(file.scene.behaviours(object).size());
    if (stacked > 1) plays += stacked;
  }
  Progress progress{plays, Prints::no, "play"};
  options.goes_on = [&](int play) {
    progress.at(play);
    return !stop_asked();
  };
  std::vector<Finding> findings = check(
      [&](double times) { return playing.open(playing.scene, std::min(ticks * times, 10'000.0)).scene; }, options);
  if (!stop_asked()) test(file, command, findings);
  progress.clear();
  if (stop_asked()) {
    fmt::print(stderr, "hushed: stopped before the check was complete; the list has the findings so far.\n");
  }
  Output output;
  output.write(command.format == "json"    ? json_of(findings)
               : command.format == "junit" ? junit_of(findings, file)
                                           : text_of(findings, command));
  output.flush();
  if (stop_asked()) return interrupted;
  const auto is_open = [](const Finding& finding) { return finding.ignored_because.empty(); };
  return std::any_of(findings.begin(), findings.end(), is_open) ? not_as_asked : done;
}

}  // namespace

void add_check(CLI::App& app, int& status) {
  const auto command = std::make_shared<CheckCommand>();
  CLI::App* check = app.add_subcommand("check", "Find mistakes in the motion, with place and hint");
  check->add_option("SCENE", command->playing.scene, "the scene file");
  check->add_flag("--codes", command->codes, "list all findings that exist");
  check->add_option("--format", command->format, "text, json, or junit for build servers")
      ->check(one_of({"text", "json", "junit"}))
      ->capture_default_str();
  add_playing(*check, command->playing);
  check->footer(
      "\nThe exit status is 1 if something is found. If a finding is intended, ignore it in the scene file, with\n"
      "a reason: ignore = { rings = \"a bell does\" }.\n\n"
      "Examples:\n"
      "  hushed check scenes/harbour.toml\n"
      "  hushed check scenes/harbour.toml --seconds 60 --format json\n"
      "  hushed check scenes/harbour.toml --format junit > report.xml");
  check->callback([command, &status] { status = run(*command); });
}

}  // namespace hushed::cli
