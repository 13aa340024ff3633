// SPDX-License-Identifier: MIT
#include "csv.hpp"

#include <charconv>
#include <cmath>

#include <hushed/value.hpp>

namespace hushed::detail {

std::string csv_cell(std::string_view text) {
  if (text.find_first_of(",\"\n") == text.npos) return std::string{text};
  std::string cell = "\"";
  for (const char c : text) {
    if (c == '"') cell += c;
    cell += c;
  }
  return cell + '"';
}

std::vector<std::string> cells_of(std::string_view line) {
  std::vector<std::string> cells(1);
  bool quoted = false;
  for (std::size_t i = 0; i < line.size(); ++i) {
    const char c = line[i];
    if (quoted && c == '"' && i + 1 < line.size() && line[i + 1] == '"')
      cells.back() += line[++i];
    else if (c == '"')
      quoted = !quoted;
    else if (c == ',' && !quoted)
      cells.emplace_back();
    else
      cells.back() += c;
  }
  return cells;
}

double number_of(const std::string& text, std::size_t line, std::size_t column) {
  double value = 0.0;
  const auto [end, error] = std::from_chars(text.data(), text.data() + text.size(), value);
  if (error != std::errc{} || end != text.data() + text.size() || !std::isfinite(value))
    throw Diagnostic{{static_cast<int>(line), static_cast<int>(column)}, in_quotes(text) + " is not a number."};
  return value;
}

}  // namespace hushed::detail
