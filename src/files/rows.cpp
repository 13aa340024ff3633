// SPDX-License-Identifier: MIT
#include <hushed/rows.hpp>

#include <algorithm>
#include <cmath>

#include <fmt/format.h>

#include <hushed/error.hpp>
#include <hushed/value.hpp>

#include "csv.hpp"

namespace hushed {

namespace {

class Table final : public Rows {
 public:
  explicit Table(std::vector<std::string> columns) : columns_{std::move(columns)} {}

  std::string header() const override {
    std::string line = fmt::format("{:>7}  {:>10}", "frame", "time");
    for (const std::string& column : columns_) line += fmt::format("  {:>{}}", column, width(column));
    return line + '\n';
  }
  std::string row(std::int64_t frame, Time time, std::span<const double> values) const override {
    std::string line = fmt::format("{:>7}  {:>10.6f}", frame, in_seconds(time));
    for (std::size_t i = 0; i < values.size(); ++i)
      line += fmt::format("  {:>{}}", number(values[i]), width(columns_[i]));
    return line + '\n';
  }

 private:
  static std::size_t width(const std::string& column) { return std::max<std::size_t>(column.size(), 12); }

  /// Writes a number with six decimal places, without a minus sign for 0, or with an exponent where six places show too
  /// few digits.
  static std::string number(double value) {
    if (std::isnan(value)) return "";
    if (std::abs(value) >= 1e9) return fmt::format("{:.6e}", value);
    const double rounded = std::abs(value) < 5e-7 ? 0.0 : value;
    return fmt::format("{:.6f}", rounded);
  }

  std::vector<std::string> columns_;
};

class Csv final : public Rows {
 public:
  explicit Csv(std::vector<std::string> columns) : columns_{std::move(columns)} {}

  std::string header() const override {
    std::string line = "frame,time";
    for (const std::string& column : columns_) line += ',' + detail::csv_cell(column);
    return line + '\n';
  }
  std::string row(std::int64_t frame, Time time, std::span<const double> values) const override {
    std::string line = std::to_string(frame) + ',' + as_text(in_seconds(time));
    for (const double value : values) line += ',' + (std::isnan(value) ? std::string{} : as_text(value));
    return line + '\n';
  }

 private:
  std::vector<std::string> columns_;
};

class JsonLines final : public Rows {
 public:
  explicit JsonLines(std::vector<std::string> columns) : columns_{std::move(columns)} {}

  std::string header() const override { return ""; }
  std::string row(std::int64_t frame, Time time, std::span<const double> values) const override {
    std::string line = fmt::format(R"({{"frame":{},"time":{})", frame, as_text(in_seconds(time)));
    for (std::size_t i = 0; i < values.size(); ++i)
      line += fmt::format(R"(,"{}":{})", columns_[i], std::isnan(values[i]) ? "null" : as_text(values[i]));
    line += "}\n";
    return line;
  }

 private:
  std::vector<std::string> columns_;  // names of objects and watches: nothing to escape
};

}  // namespace

std::unique_ptr<Rows> make_rows(const std::string& format, std::vector<std::string> columns) {
  if (format == "csv") return std::make_unique<Csv>(std::move(columns));
  if (format == "jsonl") return std::make_unique<JsonLines>(std::move(columns));
  return std::make_unique<Table>(std::move(columns));
}

}  // namespace hushed
