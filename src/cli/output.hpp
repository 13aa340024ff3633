#pragma once

// Rows of numbers on standard output.

#include <cstdint>
#include <memory>
#include <span>
#include <string>
#include <vector>

#include <hushed/time.hpp>

namespace hushed::cli {

/// Standard output, which may be closed by whoever reads it. Throws where it cannot be written for another reason.
class Output {
 public:
  /// False once nobody reads any more.
  bool write(const std::string& text);
  bool flush();

 private:
  bool note(bool went_well);

  bool open_ = true;
};

/// Rows in one of the formats: a table for people, CSV (RFC 4180, lines end in LF) and JSON Lines for programs, whose
/// numbers read back to the same double.
class Rows {
 public:
  virtual ~Rows() = default;
  virtual std::string header() const = 0;
  virtual std::string row(std::int64_t frame, Time time, std::span<const double> values) const = 0;
};

std::unique_ptr<Rows> make_rows(const std::string& format, std::vector<std::string> columns);

}  // namespace hushed::cli
