// SPDX-License-Identifier: MIT
#pragma once

// [preset.NAME], in the file itself and in those that it includes; `use` and [object.NAME.tune].

#include <deque>
#include <filesystem>
#include <string>
#include <vector>

#include "scene/drafts.hpp"
#include "scene/object_reader.hpp"

namespace hushed::detail {

/// Presets of a file and of all that it includes.
class PresetReader {
 public:
  /// The file at the root is number 0 of `files`; those that it includes are added.
  PresetReader(std::vector<std::string>& files, KindReader& kinds, Diagnostics& diagnostics)
      : files_{files}, kinds_{kinds}, diagnostics_{diagnostics} {}

  /// Reads `include` and `preset` of a document.
  void read(TableReader& document, const std::filesystem::path& file);
  PresetDrafts take() { return std::move(presets_); }

 private:
  void include(const Value& name, const std::filesystem::path& from);
  void read_presets(const Value& value);

  std::vector<std::string>& files_;
  KindReader& kinds_;
  Diagnostics& diagnostics_;
  PresetDrafts presets_;
  std::deque<Value> documents_;
  std::vector<std::filesystem::path> open_;  ///< what is being read, each included by the one before
  std::vector<std::filesystem::path> done_;

 public:
  /// What the drafts point into.
  std::deque<Value>& documents() { return documents_; }
};

/// What an object uses, and the values that are its own.
void read_uses(TableReader& table, ObjectDraft& draft, ObjectReading& reading);

}  // namespace hushed::detail
