// SPDX-License-Identifier: MIT
#include <hushed/easing.hpp>

#include <algorithm>
#include <array>
#include <charconv>
#include <cmath>
#include <optional>

#include <hushed/detail/reading.hpp>
#include <hushed/error.hpp>

#include "easing/curve.hpp"

namespace hushed {

using detail::Curve;
using detail::Stop;

namespace {

namespace formula = detail::formula;

struct Named {
  std::string_view name;
  Curve curve;
};

constexpr std::size_t name_count = formula::bezier + 6;

/// In the order of the formulas, then the names of CSS.
const std::array<Named, name_count>& all_named() {
  static const std::array<Named, name_count> all{{
      {"linear", {formula::linear}},
      {"smoothstep", {formula::smoothstep}},
      {"smootherstep", {formula::smootherstep}},
      {"in-sine", {3}},
      {"out-sine", {4}},
      {"in-out-sine", {5}},
      {"in-quad", {6}},
      {"out-quad", {7}},
      {"in-out-quad", {8}},
      {"in-cubic", {9}},
      {"out-cubic", {10}},
      {"in-out-cubic", {11}},
      {"in-quart", {12}},
      {"out-quart", {13}},
      {"in-out-quart", {14}},
      {"in-quint", {15}},
      {"out-quint", {16}},
      {"in-out-quint", {17}},
      {"in-expo", {18}},
      {"out-expo", {19}},
      {"in-out-expo", {20}},
      {"in-circ", {21}},
      {"out-circ", {22}},
      {"in-out-circ", {23}},
      {"in-back", {24}},
      {"out-back", {25}},
      {"in-out-back", {26}},
      {"in-elastic", {27}},
      {"out-elastic", {28}},
      {"in-out-elastic", {29}},
      {"in-bounce", {30}},
      {"out-bounce", {31}},
      {"in-out-bounce", {32}},
      {"ease", {formula::bezier, {0.25, 0.1, 0.25, 1.0}}},
      {"ease-in", {formula::bezier, {0.42, 0.0, 1.0, 1.0}}},
      {"ease-out", {formula::bezier, {0.0, 0.0, 0.58, 1.0}}},
      {"ease-in-out", {formula::bezier, {0.42, 0.0, 0.58, 1.0}}},
      {"step-start", {formula::steps, {1.0, 1.0, 1.0}}},
      {"step-end", {formula::steps, {1.0, 0.0, 1.0}}},
  }};
  return all;
}

/// A mistake in the text, and the number of bytes before it.
struct Mistake {
  std::size_t at;
  std::string text;
};

/// Reads a text from left to right, and throws `Mistake`.
class Parser {
 public:
  explicit Parser(std::string_view text) : text_{text} {}

  Curve parse() {
    skip_spaces();
    const std::size_t start = at_;
    const std::string_view word = read_word();
    if (word.empty()) throw Mistake{start, "no name found; give the name of an easing, such as \"in-out-sine\"."};
    const bool has_arguments = at_ < text_.size() && text_[at_] == '(';
    Curve curve = has_arguments ? parse_function(word, start) : find(word, start);
    skip_spaces();
    if (at_ < text_.size()) throw Mistake{at_, "unexpected text after the easing; remove it."};
    return curve;
  }

 private:
  static Curve find(std::string_view word, std::size_t at) {
    std::vector<std::string_view> names;
    for (const Named& named : all_named()) {
      if (named.name == word) return named.curve;
      names.push_back(named.name);
    }
    for (const char* function : {"cubic-bezier", "steps"})
      if (word == function)
        throw Mistake{
            at + word.size(),
            "its numbers are missing; give them in parentheses, such as cubic-bezier(.2, .8, .2, 1) or steps(4)."};
    throw Mistake{at, "unknown easing " + in_quotes(word) + suggestion(word, names)};
  }

  Curve parse_function(std::string_view word, std::size_t start) {
    ++at_;
    if (word == "cubic-bezier") return parse_bezier();
    if (word == "steps") return parse_steps();
    if (word == "linear") return parse_stops();
    throw Mistake{start, in_quotes(word) + " takes no numbers; only cubic-bezier, steps and linear do."};
  }

  Curve parse_bezier() {
    static constexpr std::string_view names[] = {"x1", "y1", "x2", "y2"};
    Curve curve{formula::bezier};
    for (std::size_t i = 0; i < 4; ++i) {
      if (i > 0) expect(',', "a comma and " + std::string{names[i]} + ", as in cubic-bezier(x1, y1, x2, y2)");
      skip_spaces();
      const std::size_t start = at_;
      curve.numbers[i] = read_number("the number " + std::string{names[i]});
      if (i % 2 == 0 && !(curve.numbers[i] >= 0.0 && curve.numbers[i] <= 1.0))
        throw Mistake{start, std::string{names[i]} + " is " + as_text(curve.numbers[i]) +
                                 "; give a number from 0 to 1: beyond these, time would run backwards."};
    }
    expect(')', "a closing parenthesis");
    return curve;
  }

  Curve parse_steps() {
    skip_spaces();
    const std::size_t start = at_;
    const double count = read_number("the number of steps");
    if (count != std::floor(count) || count < 1.0)
      throw Mistake{start, as_text(count) + " is not a number of steps; give a whole number, 1 or more."};
    std::string_view where = "jump-end";
    skip_spaces();
    if (at_ < text_.size() && text_[at_] == ',') {
      ++at_;
      skip_spaces();
      const std::size_t word_at = at_;
      where = read_word();
      const std::vector<std::string_view> known{"jump-start", "jump-end", "jump-none", "jump-both", "start", "end"};
      if (std::find(known.begin(), known.end(), where) == known.end())
        throw Mistake{word_at, "unknown position " + in_quotes(where) + " of steps" + suggestion(where, known)};
    }
    expect(')', "a closing parenthesis");
    const bool at_start = where == "jump-start" || where == "start" || where == "jump-both";
    const double outputs = where == "jump-both" ? count + 1.0 : where == "jump-none" ? count - 1.0 : count;
    if (outputs < 1.0) throw Mistake{start, "jump-none needs 2 steps or more."};
    return {formula::steps, {count, at_start ? 1.0 : 0.0, outputs}};
  }

  Curve parse_stops() {
    struct Draft {
      double out;
      std::optional<double> in;
    };
    std::vector<Draft> drafts;
    const std::size_t start = at_;
    do {
      if (!drafts.empty()) ++at_;
      std::optional<double> out;
      std::vector<double> percentages;
      for (skip_spaces(); at_ < text_.size() && text_[at_] != ',' && text_[at_] != ')'; skip_spaces()) {
        const std::size_t number_at = at_;
        const double number = read_number("a number, or a percentage");
        if (at_ < text_.size() && text_[at_] == '%') {
          ++at_;
          if (percentages.size() == 2) throw Mistake{number_at, "found a third percentage; a stop has at most two."};
          percentages.push_back(number / 100.0);
        } else if (out) {
          throw Mistake{number_at,
                        "found a second number in one stop; put a comma between stops, or % after a percentage."};
        } else {
          out = number;
        }
      }
      if (!out) throw Mistake{at_, "a stop has no number; give its output, such as linear(0, 0.5 20%, 1)."};
      if (percentages.empty()) drafts.push_back({*out, std::nullopt});
      for (const double percentage : percentages) drafts.push_back({*out, percentage});
    } while (at_ < text_.size() && text_[at_] == ',');
    expect(')', "a comma or a closing parenthesis");
    if (drafts.size() < 2) throw Mistake{start, "found fewer than two stops; give two or more, such as linear(0, 1)."};

    // Level 2 of the standard: the ends are at 0 and 1, inputs never decrease, missing inputs are spaced evenly.
    if (!drafts.front().in) drafts.front().in = 0.0;
    if (!drafts.back().in) drafts.back().in = 1.0;
    double largest = *drafts.front().in;
    for (Draft& draft : drafts)
      if (draft.in) draft.in = largest = std::max(largest, *draft.in);
    Curve curve{formula::stops};
    for (std::size_t i = 0, last = 0; i < drafts.size(); ++i) {
      if (!drafts[i].in) continue;
      for (std::size_t gap = last + 1; gap < i; ++gap) {
        const double share = static_cast<double>(gap - last) / static_cast<double>(i - last);
        curve.stops.push_back({*drafts[last].in + (*drafts[i].in - *drafts[last].in) * share, drafts[gap].out});
      }
      curve.stops.push_back({*drafts[i].in, drafts[i].out});
      last = i;
    }
    return curve;
  }

  void skip_spaces() {
    while (at_ < text_.size() && (text_[at_] == ' ' || text_[at_] == '\t' || text_[at_] == '\n')) ++at_;
  }

  std::string_view read_word() {
    const std::size_t start = at_;
    while (at_ < text_.size() && text_.substr(at_).find_first_of(" \t\n(),%") != 0) ++at_;
    return text_.substr(start, at_ - start);
  }

  double read_number(const std::string& what) {
    skip_spaces();
    const std::size_t start = at_;
    std::size_t first = at_;
    if (first < text_.size() && text_[first] == '+') ++first;
    double number = 0.0;
    const auto [end, error] = std::from_chars(text_.data() + first, text_.data() + text_.size(), number);
    if (error != std::errc{} || !std::isfinite(number)) throw Mistake{start, "expected " + what + "."};
    if (std::abs(number) > 1e9) throw Mistake{start, "the number is out of range; give one from -1e9 to 1e9."};
    at_ = static_cast<std::size_t>(end - text_.data());
    return number;
  }

  void expect(char c, const std::string& what) {
    skip_spaces();
    if (at_ >= text_.size() || text_[at_] != c) throw Mistake{at_, "expected " + what + "."};
    ++at_;
  }

  std::string_view text_;
  std::size_t at_ = 0;
};

int characters(std::string_view text) {
  int count = 0;
  for (const char c : text) count += (static_cast<unsigned char>(c) & 0xC0) != 0x80;
  return count;
}

std::shared_ptr<const Curve> parsed(std::string_view text) {
  return std::make_shared<const Curve>(Parser{text}.parse());
}

}  // namespace

Easing::Easing() : Easing{{std::shared_ptr<void>{}, &all_named().front().curve}, "linear"} {}
Easing::Easing(std::shared_ptr<const Curve> curve, std::string text)
    : curve_{std::move(curve)}, text_{std::move(text)} {}

Easing Easing::parse(std::string_view text) {
  try {
    return {parsed(text), std::string{text}};
  } catch (const Mistake& mistake) {
    throw BadValue{"easing " + in_quotes(text) + ", at character " +
                   std::to_string(characters(text.substr(0, mistake.at)) + 1) + ": " + mistake.text};
  }
}

double Easing::operator()(double x) const { return detail::on_curve(*curve_, x); }

std::span<const std::string_view> Easing::names() {
  static const auto names = [] {
    std::array<std::string_view, name_count> all;
    for (std::size_t i = 0; i < name_count; ++i) all[i] = all_named()[i].name;
    return all;
  }();
  return names;
}

std::optional<Diagnostic> read(const Value& from, const Unit& unit, Easing& to) {
  const auto* text = from.as<std::string>();
  if (!text) return detail::expected(from, form_of(static_cast<const Easing*>(nullptr), unit).description);
  try {
    to = Easing{parsed(*text), *text};
    return std::nullopt;
  } catch (const Mistake& mistake) {
    const int passed = characters(std::string_view{*text}.substr(0, mistake.at));
    TextPlace place = from.place;
    if (place.line > 0) place.column += 1 + passed;  // after the quotation mark
    return Diagnostic{place,
                      "at character " + std::to_string(passed + 1) + " of " + in_quotes(*text) + ": " + mistake.text};
  }
}

std::optional<Value> write(const Easing& from, const Unit&) { return Value{from.text()}; }

Form form_of(const Easing*, const Unit&) {
  return form::text("an easing, such as \"in-out-sine\" or \"cubic-bezier(.2, .8, .2, 1)\"");
}

}  // namespace hushed
