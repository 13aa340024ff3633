// SPDX-License-Identifier: MIT
#include <hushed/measure.hpp>

#include <algorithm>
#include <charconv>
#include <cmath>
#include <utility>

#include <hushed/detail/rounded.hpp>
#include <hushed/error.hpp>
#include <hushed/value.hpp>

#include "measure/words.hpp"
#include "trimmed.hpp"

namespace hushed {

namespace {

using detail::MeasureArguments;
using detail::MeasureWord;
using detail::trimmed;

/// The parts between commas outside brackets.
std::vector<std::string> parts_of(std::string_view text) {
  std::vector<std::string> parts;
  int depth = 0;
  std::string part;
  for (const char c : text) {
    if (c == '(' || c == '[') ++depth;
    if (c == ')' || c == ']') --depth;
    if (c == ',' && depth == 0)
      parts.emplace_back(trimmed(std::exchange(part, {})));
    else
      part += c;
  }
  if (!trimmed(part).empty() || !parts.empty()) parts.emplace_back(trimmed(part));
  return parts;
}

/// Reads the text of a measure.
class Reader {
 public:
  Reader(std::string_view text, const Scene& scene) : text_{text}, scene_{scene} {}

  std::pair<const MeasureWord*, MeasureArguments> read() {
    const std::size_t open = text_.find('(');
    const std::string_view name = trimmed(text_.substr(0, open)), rest = trimmed(text_);
    const auto words = detail::measure_words();
    const auto word =
        std::find_if(words.begin(), words.end(), [&](const MeasureWord& each) { return each.info.name == name; });
    if (word == words.end()) {
      std::vector<std::string_view> names;
      for (const MeasureWord& each : words) names.push_back(each.info.name);
      fail("no measure is called " + in_quotes(name) + suggestion(name, names));
    }
    word_ = &*word;
    given_.within = word->within;
    if (open == std::string_view::npos || !rest.ends_with(')')) fail("give " + std::string{word->info.usage} + ".");
    const std::string_view inside = text_.substr(open + 1, text_.rfind(')') - open - 1);
    std::vector<std::string> own;
    for (std::string& part : parts_of(inside)) {
      const std::size_t sign = part.find('=');
      if (sign == std::string::npos && word->has_within && part.ends_with('%'))
        take_named("within", part);
      else if (sign == std::string::npos)
        own.push_back(std::move(part));
      else
        take_named(std::string{trimmed(std::string_view{part}.substr(0, sign))},
                   trimmed(std::string_view{part}.substr(sign + 1)));
    }
    take_own(own);
    if (given_.to && *given_.to <= given_.from) fail("to: give a time after that of from.");
    return {word_, std::move(given_)};
  }

 private:
  [[noreturn]] void fail(const std::string& why) const { throw BadValue{std::string{text_} + ": " + why}; }

  void take_own(const std::vector<std::string>& own) {
    const std::string_view wanted = word_->arguments;
    const auto least =
        static_cast<std::size_t>(std::count_if(wanted.begin(), wanted.end(), [](char c) { return c != '?'; }));
    if (own.size() < least || own.size() > wanted.size()) fail("give " + std::string{word_->info.usage} + ".");
    if (wanted == "oo") {
      given_.signals.push_back({Watch{"distance(" + own[0] + ',' + own[1] + ')', scene_}});
      return;
    }
    for (std::size_t i = 0; i < own.size(); ++i) {
      const std::string& text = own[i];
      switch (wanted[i]) {
        case 'w': take_watch(text); break;
        case 'p':
        case 'o': given_.signals.push_back({Watch{text + ".position", scene_}}); break;
        case 'v': given_.value = number(text, "the value"); break;
        case 'e': given_.event = text; break;
        case 'b': given_.signals.back().box = box(text); break;
        default:
          if (!scene_.find(text)) fail("no object " + in_quotes(text) + " in this scene.");
          given_.object = text;
      }
    }
  }

  void take_watch(const std::string& text) {
    const Watch watch{text, scene_};
    if (watch.columns().size() != 1)
      fail(text + " is several numbers; give one of them, such as " + watch.columns().front() + ".");
    given_.signals.push_back({watch});
  }

  void take_named(const std::string& key, std::string_view text) {
    if (key == "from") {
      given_.from = seconds(least(number(text, key), 0.0, key));
    } else if (key == "to") {
      given_.to = seconds(least(number(text, key), 0.0, key));
    } else if (key == "of" && word_->has_of) {
      given_.of = number(text, key);
    } else if (key == "within" && word_->has_within) {
      given_.is_share = text.ends_with('%');
      given_.within = least(number(given_.is_share ? text.substr(0, text.size() - 1) : text, key), 0.0, key);
      if (given_.is_share) given_.within /= 100.0;
    } else {
      std::vector<std::string_view> keys{"from", "to"};
      if (word_->has_of) keys.push_back("of");
      if (word_->has_within) keys.push_back("within");
      fail("unknown key " + in_quotes(key) + suggestion(key, keys));
    }
  }

  double least(double value, double limit, std::string_view key) const {
    if (!(value >= limit)) fail(std::string{key} + ": give a number, 0 or more.");
    return value;
  }

  double number(std::string_view text, std::string_view what) const {
    text = trimmed(text);
    double value = 0.0;
    const auto [end, error] = std::from_chars(text.data(), text.data() + text.size(), value);
    if (error != std::errc{} || end != text.data() + text.size() || !(std::abs(value) <= 1e9))
      fail(std::string{what} + ": " + in_quotes(text) + " is not a number.");
    return value;
  }

  Box box(std::string_view text) const {
    std::vector<double> numbers;
    std::string word;
    for (const char c : std::string{text} + ',') {
      if (c != ',' && c != ']' && c != '[') {
        word += c;
      } else if (!trimmed(word).empty()) {
        numbers.push_back(number(word, "the box"));
        word.clear();
      }
    }
    if (numbers.size() != 6) fail("the box: give two corners, [[x, y, z], [x, y, z]].");
    Box box{{numbers[0], numbers[1], numbers[2]}, {numbers[3], numbers[4], numbers[5]}};
    if ((box.min.array() > box.max.array()).any())
      fail("the box: give the lowest corner first, and the highest second.");
    return box;
  }

  std::string_view text_;
  const Scene& scene_;
  const MeasureWord* word_ = nullptr;
  MeasureArguments given_;
};

}  // namespace

std::span<const MeasureInfo> measure_kinds() {
  static const std::vector<MeasureInfo> all = [] {
    std::vector<MeasureInfo> kinds;
    for (const MeasureWord& word : detail::measure_words()) kinds.push_back(word.info);
    return kinds;
  }();
  return all;
}

Measure::Measure(std::string_view text, const Scene& scene) : text_{text} {
  auto [word, arguments] = Reader{text_, scene}.read();
  word_ = word;
  arguments_ = std::make_shared<MeasureArguments>(std::move(arguments));
}

std::string_view Measure::name() const { return word_->info.name; }

std::string_view Measure::unit() const {
  return word_->info.unit == "of the watch" ? arguments_->signals.front().watch.unit() : word_->info.unit;
}

const Watch* Measure::watch() const {
  return arguments_->signals.empty() ? nullptr : &arguments_->signals.front().watch;
}

std::string as_text(const Measured& measured, std::string_view unit, int digits) {
  if (!measured.value) return "none";
  return as_text(detail::rounded(*measured.value, digits)) + (unit.empty() ? "" : ' ' + std::string{unit});
}

Watched::Note note_of(const Measure& measure, const Measured& measured) {
  const Watch* const watch = measure.watch();
  return {watch ? watch->columns().front() : "",
          std::string{measure.name()} + ' ' + as_text(measured, measure.unit(), 4), measured.at};
}

/// Plays for several measures at once.
class Measuring {
 public:
  static std::vector<Measured> run(Scene& scene, std::span<const Measure> measures, Time length,
                                   const std::function<bool(double)>& goes_on) {
    if (length <= Time{0}) throw BadValue{"the time to be measured is 0 or less; give a time above 0."};
    std::vector<detail::Signal> signals;
    for (const Measure& measure : measures) {
      if (measure.arguments_->from >= length || measure.arguments_->to.value_or(length) > length)
        throw BadValue{measure.text() + ": its time is not within the " + as_text(in_seconds(length)) +
                       " s of the play; play longer."};
      signals.insert(signals.end(), measure.arguments_->signals.begin(), measure.arguments_->signals.end());
    }
    const Time start = scene.time();
    detail::MeasuredPlay play{scene, signals};
    if (!play.run(length, goes_on)) return {};
    std::vector<Measured> found;
    std::size_t signal = 0;
    for (const Measure& measure : measures) {
      const MeasureArguments& given = *measure.arguments_;
      Measured measured = measure.word_->find(given, play, signal, given.from, given.to.value_or(length));
      if (measured.at) *measured.at += start;
      found.push_back(measured);
      signal += given.signals.size();
    }
    play.finish();
    return found;
  }
};

std::vector<Measured> measure(Scene& scene, std::span<const Measure> measures, Time length,
                              const std::function<bool(double)>& goes_on) {
  return Measuring::run(scene, measures, length, goes_on);
}

}  // namespace hushed
