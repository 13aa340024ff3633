// SPDX-License-Identifier: MIT
#pragma once

// Sweeps as rows and files: CSV and JSON Lines, see docs/reference/sweeps.md. In the library HushedOrbit::files.

#include <filesystem>
#include <memory>
#include <span>
#include <string>

#include <hushed/detail/export.hpp>
#include <hushed/sweep.hpp>

namespace hushed HUSHED_API {

/// A text of one row for each play, in any order of plays.
class SweepRows {
 public:
  virtual ~SweepRows() = default;
  virtual std::string header() const = 0;  ///< one line, or nothing
  virtual std::string row(const SweepTable::Row& row) const = 0;
};

/// `format`: "table", "csv" or "jsonl". `sweep`: its paths, measures and number of plays. Throws `BadValue`.
std::unique_ptr<SweepRows> make_sweep_rows(const std::string& format, const SweepTable& sweep);

/// Reads the rows of a sweep, in CSV or JSON Lines. An incomplete last line, as an interrupted play leaves it, is
/// ignored; `length`, if given, is set to the number of bytes before it. Throws `LoadError` with the line.
SweepTable read_sweep(const std::filesystem::path& file, std::size_t* length = nullptr);

/// Joins parts of one sweep; the rows are sorted by number, those found twice are merged. Throws `BadValue` where two
/// are not of the same sweep: other columns, another number of plays, or another result of the same play.
SweepTable join(std::span<const SweepTable> parts);

}  // namespace hushed
