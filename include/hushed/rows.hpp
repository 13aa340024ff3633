// SPDX-License-Identifier: MIT
#pragma once

// Rows of numbers as text. In the library HushedOrbit::files.

#include <cstdint>
#include <memory>
#include <span>
#include <string>
#include <vector>

#include <hushed/detail/export.hpp>
#include <hushed/time.hpp>

namespace hushed HUSHED_API {

/// Rows in one of the formats: a table for people, CSV (RFC 4180, lines end in LF) and JSON Lines for programs, whose
/// numbers read back to the same double.
class Rows {
 public:
  virtual ~Rows() = default;
  virtual std::string header() const = 0;
  /// A number that is not known (not a number) is an empty cell, or null in JSON.
  virtual std::string row(std::int64_t frame, Time time, std::span<const double> values) const = 0;
};

/// `format` is "table", "csv" or "jsonl".
std::unique_ptr<Rows> make_rows(const std::string& format, std::vector<std::string> columns);

}  // namespace hushed
