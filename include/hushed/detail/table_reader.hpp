// SPDX-License-Identifier: MIT
#pragma once

// Reads a table key by key, and collects all problems instead of stopping at the first.

#include <string>
#include <string_view>
#include <vector>

#include <hushed/detail/export.hpp>
#include <hushed/detail/reading.hpp>
#include <hushed/value.hpp>

namespace hushed HUSHED_API {
namespace detail {

using Diagnostics = std::vector<Diagnostic>;

class TableReader {
 public:
  /// `whose` is the beginning of diagnostics ("lamp.spin"). A value that is no table is reported and read as an empty
  /// table.
  TableReader(const Value& table, std::string whose, Diagnostics& diagnostics);

  /// The entry of that name, or nullptr. Marks the key as read.
  const Value::Entry* find(std::string_view key);
  bool has(std::string_view key) { return find(key) != nullptr; }

  /// Reads the entry into `to`. Returns false, and leaves `to` unchanged, where it is missing or wrong.
  template <class T>
  bool read(std::string_view key, const Unit& unit, T& to) {
    const Value::Entry* entry = find(key);
    return entry && accept(key, read_any(entry->value, unit, to));
  }
  bool read_text(std::string_view key, std::string& to);
  bool read_names(std::string_view key, std::vector<Value>& to);
  /// Reads a number for all three axes, or three numbers.
  bool read_size(std::string_view key, const Unit& unit, Vec3& to);

  void report(TextPlace place, const std::string& text);
  Diagnostics& diagnostics() { return diagnostics_; }
  /// Adds the diagnostic, if there is one, to the others. Returns true where there is none.
  bool accept(std::string_view key, std::optional<Diagnostic> diagnostic);
  /// Reports every key that was not read.
  void refuse_the_rest();

  TextPlace place() const { return place_; }
  const std::string& whose() const { return whose_; }

 private:
  const Value::Table* table_;
  TextPlace place_;
  std::string whose_;
  Diagnostics& diagnostics_;
  std::vector<std::string_view> known_;
};

}  // namespace detail
}  // namespace hushed
