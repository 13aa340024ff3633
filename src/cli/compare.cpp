// SPDX-License-Identifier: MIT
// hushed compare: compares two scenes or recordings, and fails where they differ by more than a tolerance.

#include <cmath>
#include <cstdio>
#include <memory>
#include <string>
#include <vector>

#include <fmt/format.h>
#include <nlohmann/json.hpp>

#include <hushed/compare.hpp>
#include <hushed/measure.hpp>
#include <hushed/picture.hpp>
#include <hushed/recording_file.hpp>

#include "command.hpp"
#include "output.hpp"
#include "playing.hpp"

namespace hushed::cli {

namespace {

constexpr std::size_t most_drawn = 6;

struct CompareOptions {
  Playing playing;
  std::string first, second;
  std::string tolerance;
  std::string format = "table";
  std::string picture;
  std::vector<std::string> measures;

  /// Opens one of the two; --set changes the second.
  Scene open(bool is_second) const {
    const std::string& file = is_second ? second : first;
    if (is_recording(file)) return replay(read_recording(file));
    Playing with = playing;
    if (!is_second) with.sets.clear();
    return with.open(file).scene;
  }
};

/// A measure of both.
struct MeasuredTwice {
  std::string measure, unit;
  Measured first, second;

  std::optional<double> difference() const {
    if (!first.value || !second.value) return std::nullopt;
    return *second.value - *first.value;
  }
};

/// "position=1e-3,rotation=0.1deg": parts that are not named keep their default.
Tolerance tolerance_of(const std::string& text) {
  Tolerance tolerance;
  const auto refuse = [&](const std::string& part) {
    throw WrongCommandLine{"--tolerance " + part +
                           ": give position=METRES, rotation=DEGREES or scale=NUMBER, separated by commas, such as "
                           "position=1e-3,rotation=0.1deg."};
  };
  for (std::size_t from = 0; from < text.size();) {
    const std::size_t end = std::min(text.find(',', from), text.size());
    std::string part = text.substr(from, end - from);
    from = end + 1;
    const std::size_t equals = part.find('=');
    if (equals == std::string::npos) refuse(part);
    const std::string name = part.substr(0, equals), unit = name == "position" ? "m" : name == "rotation" ? "deg" : "";
    double* const value = name == "position"   ? &tolerance.position
                          : name == "rotation" ? &tolerance.rotation
                          : name == "scale"    ? &tolerance.scale
                                               : nullptr;
    std::string number = part.substr(equals + 1);
    if (!unit.empty() && number.ends_with(unit)) number.resize(number.size() - unit.size());
    std::size_t used = 0;
    double read = -1.0;
    try {
      read = std::stod(number, &used);
    } catch (const std::exception&) {
    }
    if (!value || used != number.size() || !(read >= 0.0)) refuse(part);
    *value = read;
  }
  return tolerance;
}

std::string with_unit(double value, Channel channel) {
  const char* unit = channel == Channel::position ? " m" : channel == Channel::rotation ? " deg" : "";
  return fmt::format("{:.4g}{}", value, unit);
}

std::string listed(const std::vector<std::string>& names) { return fmt::format("{}", fmt::join(names, ", ")); }

/// Measures both over the times that are compared.
std::vector<MeasuredTwice> measure_both(const Comparison& found, const CompareOptions& options) {
  std::vector<MeasuredTwice> measured;
  if (options.measures.empty()) return measured;
  if (found.to <= found.from) throw WrongCommandLine{"--measure: the two have less than two times in common."};
  for (const bool is_second : {false, true}) {
    Scene scene = options.open(is_second);
    scene.advance(found.from);
    const std::vector<Measure> measures = measures_of(options.measures, scene);
    std::vector<Measured> numbers;
    try {
      numbers = measure(scene, measures, found.to - found.from, [](double) { return !stop_asked(); });
    } catch (const BadValue& error) {
      throw WrongCommandLine{std::string{"--measure "} + error.what()};
    }
    for (std::size_t i = 0; i < numbers.size(); ++i) {
      if (!is_second) measured.push_back({measures[i].text(), std::string{measures[i].unit()}, numbers[i], {}});
      if (is_second && i < measured.size()) measured[i].second = numbers[i];
    }
  }
  return measured;
}

std::string table_of(const std::vector<MeasuredTwice>& measured) {
  if (measured.empty()) return "";
  std::size_t width = 16;
  for (const MeasuredTwice& each : measured) width = std::max(width, each.measure.size());
  std::string text = fmt::format("  {:<{}} {:>14} {:>14} {:>14}\n", "measure", width, "first", "second", "difference");
  for (const MeasuredTwice& each : measured)
    text += fmt::format("  {:<{}} {:>14} {:>14} {:>14}\n", each.measure, width, as_text(each.first, each.unit),
                        as_text(each.second, each.unit), as_text(Measured{each.difference()}, each.unit));
  return text;
}

std::string table_of(const Comparison& found, const Tolerance& tolerance, const CompareOptions& options) {
  std::string text = fmt::format("{} equal times, from {:.6g} s to {:.6g} s.\n", found.times, in_seconds(found.from),
                                 in_seconds(found.to));
  std::size_t equal = 0;
  std::string rows;
  for (const Difference& each : found.differences) {
    if (each.largest == 0.0) {
      ++equal;
      continue;
    }
    rows += fmt::format("  {:<16} {:<9} {:>14} {:>12} {:>14}  {}\n", each.object, name_of(each.channel),
                        with_unit(each.largest, each.channel), fmt::format("{:.4f} s", in_seconds(each.at)),
                        with_unit(each.typical, each.channel),
                        each.largest > tolerance.of(each.channel) ? "beyond the tolerance" : "");
  }
  if (!rows.empty())
    text +=
        fmt::format("  {:<16} {:<9} {:>14} {:>12} {:>14}\n", "object", "channel", "largest", "at", "typical") + rows;
  text += fmt::format("{} of {} channels are equal.\n", equal, found.differences.size());
  if (!found.only_in_first.empty())
    text += fmt::format("Only in {}: {}.\n", options.first, listed(found.only_in_first));
  if (!found.only_in_second.empty())
    text += fmt::format("Only in {}: {}.\n", options.second, listed(found.only_in_second));
  return text;
}

std::string json_of(const Comparison& found, const Tolerance& tolerance, const std::vector<MeasuredTwice>& measured) {
  nlohmann::ordered_json json{{"within", found.is_within(tolerance)},
                              {"times", found.times},
                              {"from", in_seconds(found.from)},
                              {"to", in_seconds(found.to)},
                              {"only_in_first", found.only_in_first},
                              {"only_in_second", found.only_in_second},
                              {"differences", nlohmann::ordered_json::array()}};
  for (const Difference& each : found.differences)
    json["differences"].push_back({{"object", each.object},
                                   {"channel", name_of(each.channel)},
                                   {"largest", each.largest},
                                   {"at", in_seconds(each.at)},
                                   {"typical", each.typical},
                                   {"tolerance", tolerance.of(each.channel)}});
  const auto number = [](const std::optional<double>& value) {
    return value ? nlohmann::ordered_json(*value) : nlohmann::ordered_json(nullptr);
  };
  for (const MeasuredTwice& each : measured)
    json["measures"].push_back({{"measure", each.measure},
                                {"unit", each.unit},
                                {"first", number(each.first.value)},
                                {"second", number(each.second.value)},
                                {"difference", number(each.difference())}});
  return json.dump(2) + '\n';
}

/// Plays a scene; at the times of the other input where that is a recording.
std::pair<Recording, Recording> both(const CompareOptions& options) {
  const Playing& playing = options.playing;
  const auto played = [&](bool is_second, const Recording* other) {
    Scene scene = options.open(is_second);
    const std::int64_t last = other ? static_cast<std::int64_t>(other->frames()) - 1 : playing.last_stored_frame(scene);
    Progress progress{last, Prints::no};
    const auto goes_on = [&](std::int64_t frame) {
      progress.at(frame);
      return !stop_asked();
    };
    return other ? record_at(scene, other->times, goes_on) : record(scene, playing.times(), last, goes_on);
  };
  Recording first, second;
  if (is_recording(options.first)) first = read_recording(options.first);
  if (is_recording(options.second)) second = read_recording(options.second);
  if (!is_recording(options.first)) first = played(false, second.frames() > 0 ? &second : nullptr);
  if (!is_recording(options.second)) second = played(true, is_recording(options.first) ? &first : nullptr);
  return {std::move(first), std::move(second)};
}

/// Draws curves of the greatest differences, and the paths of all objects that differ.
void draw_both(const Recording& first, const Recording& second, const Comparison& found, const Tolerance& tolerance,
               const CompareOptions& options) {
  std::vector<Difference> worst;
  PictureOptions picture{.title = "side by side"};
  for (const Difference& each : found.differences) {
    if (each.largest == 0.0) continue;
    worst.push_back(each);
    if (picture.only.empty() || picture.only.back() != each.object) picture.only.push_back(each.object);
  }
  const auto share = [&](const Difference& each) { return each.largest / (tolerance.of(each.channel) + 1e-300); };
  std::stable_sort(worst.begin(), worst.end(), [&](const auto& a, const auto& b) { return share(a) > share(b); });
  if (worst.size() > most_drawn) worst.resize(most_drawn);

  const bool same_name = options.first == options.second;
  std::vector<Watched> plays;
  for (const auto& [recording, label] :
       {std::pair{&first, same_name ? "first" : options.first}, {&second, same_name ? "second" : options.second}}) {
    Scene scene = replay(*recording);
    std::vector<Watch> watches;
    for (const Difference& each : worst) {
      const char* part = each.channel == Channel::position   ? ".position"
                         : each.channel == Channel::rotation ? ".rotation.yaw"
                                                             : ".scale";
      watches.emplace_back(each.object + part, scene);
    }
    scene.advance(found.from);
    const std::int64_t frames = std::llround(in_seconds(found.to - found.from) * options.playing.fps);
    plays.push_back(watch(scene, watches, FrameTimes{options.playing.fps}, 0, frames));
    plays.back().label = std::filesystem::path{label}.filename().string();
  }
  if (worst.empty()) picture.showing = Showing::paths;
  draw(plays, options.picture, picture);
}

int run(const CompareOptions& options) {
  const Tolerance tolerance = tolerance_of(options.tolerance);
  listen_for_stop();
  const auto [first, second] = both(options);
  if (stop_asked()) {
    fmt::print(stderr, "hushed: stopped before the plays were complete; nothing was compared.\n");
    return interrupted;
  }
  const Comparison found = compare(first, second);
  if (!options.picture.empty()) draw_both(first, second, found, tolerance, options);
  const std::vector<MeasuredTwice> measured = measure_both(found, options);
  if (stop_asked()) {
    fmt::print(stderr, "hushed: stopped before all was measured.\n");
    return interrupted;
  }
  Output output;
  output.write(options.format == "json" ? json_of(found, tolerance, measured)
                                        : table_of(found, tolerance, options) + table_of(measured));
  output.flush();
  return found.is_within(tolerance) ? done : not_as_asked;
}

}  // namespace

void add_compare(CLI::App& app, int& status) {
  const auto options = std::make_shared<CompareOptions>();
  CLI::App* compare = app.add_subcommand("compare", "Compare two scenes or recordings; fail if they differ");
  compare->add_option("A", options->first, "a scene or a recording")->required();
  compare->add_option("B", options->second, "another; --set changes this one")->required();
  compare->add_option("--tolerance", options->tolerance,
                      "allowed difference, such as position=1e-3,rotation=0.1deg (default: 1e-9 of each)");
  compare->add_option("--picture", options->picture, "draw the differing objects into this file, .png or .svg")
      ->type_name("FILE");
  compare->add_option("--format", options->format, "table or json")
      ->check(one_of({"table", "json"}))
      ->capture_default_str();
  add_measures(*compare, options->measures, "measure both, too");
  add_playing(*compare, options->playing);
  compare->footer(
      "\nPositions are compared in metres, rotations in degrees along the shortest arc, scales as numbers, at\n"
      "the times that both have. A scene is played with the given options; against a recording, at the times\n"
      "of the recording. The exit status is 1 if a difference exceeds the tolerance, or if only one of the two\n"
      "has an object.\n\n"
      "Examples:\n"
      "  hushed compare scenes/harbour.toml tests/harbour.csv --tolerance position=1e-6,rotation=1e-6deg\n"
      "  hushed compare scenes/harbour.toml scenes/harbour.toml --set hook.spring.damping=0.3 \\\n"
      "      --measure \"ringing(hook.position.x)\"");
  compare->callback([options, &status] { status = run(*options); });
}

}  // namespace hushed::cli
