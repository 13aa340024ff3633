// SPDX-License-Identifier: MIT
#include "toml.hpp"

#define TOML_HEADER_ONLY 0
#define TOML_ENABLE_UNRELEASED_FEATURES 0
#include <toml++/toml.h>

#include <algorithm>
#include <optional>
#include <string>

namespace hushed::detail {

namespace {

TextPlace place_of(const toml::source_region& region, int file) {
  return {static_cast<int>(region.begin.line), static_cast<int>(region.begin.column), file};
}

Value converted(const toml::node& node, int file) {
  const TextPlace place = place_of(node.source(), file);
  if (const auto* yes = node.as_boolean()) return {yes->get(), place};
  if (const auto* whole = node.as_integer()) return {whole->get(), place};
  if (const auto* real = node.as_floating_point()) return {real->get(), place};
  if (const auto* text = node.as_string()) return {text->get(), place};
  if (const auto* array = node.as_array()) {
    Value::List list;
    list.reserve(array->size());
    for (const toml::node& item : *array) list.push_back(converted(item, file));
    return {std::move(list), place};
  }
  if (const auto* inner = node.as_table()) {
    Value::Table table;
    table.reserve(inner->size());
    for (const auto& [key, value] : *inner)
      table.push_back({std::string{key.str()}, place_of(key.source(), file), converted(value, file)});
    std::sort(table.begin(), table.end(), [](const Value::Entry& a, const Value::Entry& b) {
      return a.place.line != b.place.line ? a.place.line < b.place.line : a.place.column < b.place.column;
    });
    return {std::move(table), place};
  }
  Value date;
  date.place = place;
  return date;
}

/// Refuses keys with too many dots: the parser recurses for each dot of a key, without a limit. Scans the text once,
/// skips strings and comments, and counts the dots of each key.
std::optional<Diagnostic> too_many_dots(std::string_view text, int file) {
  constexpr int most = 64;
  int dots = 0, line = 1, column = 1;
  std::size_t i = 0;
  const auto step = [&](std::size_t count) {
    for (; count > 0 && i < text.size(); --count, ++i) {
      const bool continues = (static_cast<unsigned char>(text[i]) & 0xC0) == 0x80;
      if (text[i] == '\n') {
        ++line;
        column = 1;
      } else if (!continues) {
        ++column;
      }
    }
  };
  const auto skip_string = [&](char quote) {
    const std::string three(3, quote);
    const bool is_long = text.substr(i).starts_with(three);
    step(is_long ? 3 : 1);
    while (i < text.size()) {
      if (quote == '"' && text[i] == '\\') {
        step(2);
      } else if (is_long ? text.substr(i).starts_with(three) : text[i] == quote || text[i] == '\n') {
        return step(is_long ? 3 : 1);
      } else {
        step(1);
      }
    }
  };
  while (i < text.size()) {
    const char c = text[i];
    if (c == '"' || c == '\'') {
      skip_string(c);
      continue;
    }
    if (c == '#') {
      while (i < text.size() && text[i] != '\n') step(1);
      continue;
    }
    if (c == '.' && ++dots > most)
      return Diagnostic{{line, column, file}, "the key has more than 64 dots; keys of a scene file have at most five."};
    if (c == '\n' || c == '=' || c == ',' || c == '{' || c == '}' || c == '[' || c == ']') dots = 0;
    step(1);
  }
  return std::nullopt;
}

Diagnostic in_our_words(const toml::parse_error& error, int file) {
  std::string text{error.description()};
  if (text.find("redefine") != std::string::npos)
    text = "this name or key exists already; rename it, or remove one of the two.";
  else
    text = "not valid TOML: " + text + ".";
  return {place_of(error.source(), file), text};
}

}  // namespace

Value parse_toml(std::string_view text, int file) {
  if (auto diagnostic = too_many_dots(text, file)) throw *diagnostic;
  try {
    return converted(toml::parse(text), file);
  } catch (const toml::parse_error& error) {
    throw in_our_words(error, file);
  }
}

}  // namespace hushed::detail
