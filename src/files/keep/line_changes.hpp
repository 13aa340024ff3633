// SPDX-License-Identifier: MIT
#pragma once

#include <string>
#include <string_view>
#include <vector>

namespace hushed::detail {

/// A line that differs between two texts.
struct LineChange {
  int number;                 ///< in the new text; of a removed line, that of the line after it
  std::string before, after;  ///< empty where it is added or removed
};

/// The lines that differ, without added and removed blank ones. Lines with the same key are one change.
std::vector<LineChange> line_changes(std::string_view before, std::string_view after);

}  // namespace hushed::detail
