// SPDX-License-Identifier: MIT
#pragma once

// Lines and cells of CSV (RFC 4180, one line a row).

#include <algorithm>
#include <cstddef>
#include <string>
#include <string_view>
#include <vector>

namespace hushed::detail {

/// A cell as it is written: in quotes where it contains a comma or a quote.
std::string csv_cell(std::string_view text);

/// The cells of a line, without quotes.
std::vector<std::string> cells_of(std::string_view line);

/// A number of a cell. Throws `Diagnostic`; lines and columns count from 1.
double number_of(const std::string& text, std::size_t line, std::size_t column);

/// Calls `take(line, number)` for every line that is not empty; numbers count from 1.
template <class Take>
void for_each_line(std::string_view text, Take&& take) {
  std::size_t number = 0;
  for (std::size_t from = 0; from < text.size();) {
    const std::size_t end = std::min(text.find('\n', from), text.size());
    std::string_view line = text.substr(from, end - from);
    if (line.ends_with('\r')) line.remove_suffix(1);
    from = end + 1;
    ++number;
    if (!line.empty()) take(line, number);
  }
}

}  // namespace hushed::detail
