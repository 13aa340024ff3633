// SPDX-License-Identifier: MIT
// Wishes: "overshoot(hook.position.x) < 10 %".

#include <charconv>
#include <cmath>
#include <utility>

#include <hushed/error.hpp>
#include <hushed/solve.hpp>
#include <hushed/value.hpp>

#include "trimmed.hpp"

namespace hushed {

namespace {

using detail::trimmed;

/// Reads a number at the beginning of a text, and removes it.
std::optional<double> number_before(std::string_view& text) {
  text = trimmed(text);
  double value = 0.0;
  const auto [end, error] = std::from_chars(text.data(), text.data() + text.size(), value);
  if (error != std::errc{} || !(std::abs(value) <= 1e9)) return std::nullopt;
  text.remove_prefix(static_cast<std::size_t>(end - text.data()));
  return value;
}

}  // namespace

Wish Wish::read(std::string_view text, const Scene& scene) {
  const auto fail = [&](const std::string& why) { throw BadValue{std::string{text} + ": " + why}; };
  const std::size_t close = text.rfind(')');
  const std::size_t sign = close == text.npos ? text.npos : text.find_first_of("=<>", close);
  if (sign == text.npos) fail("give a measure, =, < or >, and a number, such as settled(hook.position.x) = 0.8 s.");
  Wish wish{std::string{trimmed(text.substr(0, sign))}};
  wish.relation = text[sign] == '=' ? Relation::equal : text[sign] == '<' ? Relation::below : Relation::above;
  const Measure measure{wish.measure, scene};

  std::string_view rest = text.substr(sign + 1);
  const std::optional<double> value = number_before(rest);
  if (!value) fail("give a number from -1e9 to 1e9 after " + std::string{text[sign]} + '.');
  wish.value = *value;
  const std::size_t comma = std::min(rest.find(','), rest.size());
  const std::string_view unit = trimmed(rest.substr(0, comma));
  if (!unit.empty() && unit != measure.unit())
    fail("the unit " + in_quotes(unit) + " is not that of " + std::string{measure.name()} +
         (measure.unit().empty() ? "; give the number alone." : "; give " + in_quotes(measure.unit()) + " or none."));
  rest.remove_prefix(comma);
  if (rest.empty()) return wish;
  rest = trimmed(rest.substr(1));
  constexpr std::string_view word = "weight";
  const bool is_weight = rest.starts_with(word);
  if (is_weight) rest.remove_prefix(word.size());
  const std::optional<double> weight = is_weight ? number_before(rest) : std::nullopt;
  if (!weight || !(*weight > 0.0) || !trimmed(rest).empty())
    fail("give nothing after the number, or a weight above 0, such as \", weight 2\".");
  wish.weight = *weight;
  return wish;
}

std::string Wish::words(std::string_view unit) const {
  std::string text = measure + (relation == Relation::equal ? " = " : relation == Relation::below ? " < " : " > ");
  text += as_text(value);
  if (!unit.empty()) text += ' ' + std::string{unit};
  return text;
}

bool Wish::is_met_by(const std::optional<double>& measured) const {
  if (!measured) return false;
  if (relation == Relation::below) return *measured < value;
  if (relation == Relation::above) return *measured > value;
  return std::abs(*measured - value) <= 1e-3 * (value == 0.0 ? 1.0 : std::abs(value));
}

}  // namespace hushed
