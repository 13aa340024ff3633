// SPDX-License-Identifier: MIT
#include "keep/line_changes.hpp"

#include <algorithm>
#include <cstddef>

namespace hushed::detail {

namespace {

using Lines = std::vector<std::string_view>;

Lines lines_of(std::string_view text) {
  Lines lines;
  while (!text.empty()) {
    const std::size_t end = text.find('\n');
    std::string_view line = text.substr(0, end);
    if (line.ends_with('\r')) line.remove_suffix(1);
    lines.push_back(line);
    text.remove_prefix(end == std::string_view::npos ? text.size() : end + 1);
  }
  return lines;
}

/// A longest common subsequence of the lines between those that are equal at the beginning and the end: which lines of
/// each stay. Texts that differ in too many lines count as wholly different.
struct Kept {
  std::vector<bool> before, after;
};

Kept kept_in(const Lines& before, const Lines& after) {
  constexpr std::size_t most_cells = 4'000'000;
  Kept kept{std::vector<bool>(before.size()), std::vector<bool>(after.size())};
  const std::size_t shorter = std::min(before.size(), after.size());
  std::size_t head = 0, tail = 0;
  while (head < shorter && before[head] == after[head]) ++head;
  while (tail < shorter - head && before[before.size() - 1 - tail] == after[after.size() - 1 - tail]) ++tail;
  std::fill_n(kept.before.begin(), head, true);
  std::fill_n(kept.after.begin(), head, true);
  std::fill_n(kept.before.rbegin(), tail, true);
  std::fill_n(kept.after.rbegin(), tail, true);

  const std::size_t rows = before.size() - head - tail, columns = after.size() - head - tail;
  if (rows * columns == 0 || rows * columns > most_cells) return kept;
  std::vector<int> length((rows + 1) * (columns + 1));
  const auto at = [&](std::size_t row, std::size_t column) -> int& { return length[row * (columns + 1) + column]; };
  for (std::size_t i = rows; i-- > 0;)
    for (std::size_t j = columns; j-- > 0;)
      at(i, j) = before[head + i] == after[head + j] ? at(i + 1, j + 1) + 1 : std::max(at(i + 1, j), at(i, j + 1));
  for (std::size_t i = 0, j = 0; i < rows && j < columns;) {
    if (before[head + i] == after[head + j])
      kept.before[head + i++] = kept.after[head + j++] = true;
    else if (at(i + 1, j) >= at(i, j + 1))
      ++i;
    else
      ++j;
  }
  return kept;
}

bool has_same_key(std::string_view a, std::string_view b) {
  const std::size_t sign = a.find('=');
  return sign != std::string_view::npos && a.substr(0, sign + 1) == b.substr(0, std::min(sign + 1, b.size()));
}

bool is_blank(std::string_view line) { return line.find_first_not_of(" \t") == std::string_view::npos; }

}  // namespace

std::vector<LineChange> line_changes(std::string_view before, std::string_view after) {
  const Lines old = lines_of(before), now = lines_of(after);
  const Kept kept = kept_in(old, now);
  std::vector<LineChange> changes;
  std::size_t i = 0, j = 0;
  while (i < old.size() || j < now.size()) {
    const bool is_removed = i < old.size() && !kept.before[i], is_added = j < now.size() && !kept.after[j];
    const auto number = static_cast<int>(j + 1);
    if (is_removed && is_added && has_same_key(old[i], now[j])) {
      changes.push_back({number, std::string{old[i++]}, std::string{now[j++]}});
    } else if (is_removed) {
      if (!is_blank(old[i])) changes.push_back({number, std::string{old[i]}, ""});
      ++i;
    } else if (is_added) {
      if (!is_blank(now[j])) changes.push_back({number, "", std::string{now[j]}});
      ++j;
    } else {
      ++i;
      ++j;
    }
  }
  return changes;
}

}  // namespace hushed::detail
