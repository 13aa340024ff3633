// SPDX-License-Identifier: MIT
#pragma once

// Keeping tuned values: writing them into the scene file that they come from. In the library HushedOrbit::files.

#include <filesystem>
#include <optional>
#include <span>
#include <string>
#include <utility>
#include <vector>

#include <hushed/detail/export.hpp>
#include <hushed/error.hpp>
#include <hushed/value.hpp>

namespace hushed HUSHED_API {

/// The texts of a scene file and of all files that it includes, as they were read.
class SceneSource {
 public:
  struct File {
    std::filesystem::path path;
    std::string text;
  };

  /// Throws `LoadError` where a file cannot be read or is not TOML.
  explicit SceneSource(const std::filesystem::path& file);

  /// All files; the scene file itself is the first.
  const std::vector<File>& files() const { return files_; }
  /// With another text of the scene file itself.
  SceneSource with_text(std::string text) const {
    SceneSource made = *this;
    made.files_.front().text = std::move(text);
    return made;
  }

 private:
  std::vector<File> files_;
};

/// A path, "lamp.spin.speed" or "preset.bobbing.swell.frequency", and the value to be written; no value removes it from
/// the file.
struct ValueToKeep {
  std::string path;
  std::optional<Value> value;
};

/// The changes that keep some values.
struct KeepPlan {
  /// A line that changes, is added or is removed.
  struct Line {
    std::string path;  ///< of the value; empty for a line of an edit
    std::filesystem::path file;
    int number;                 ///< of the line after the change
    std::string before, after;  ///< the line; `before` is empty where it is added, `after` where it is removed
    std::string note;           ///< what else changes with it; may be empty
  };
  /// A value that cannot be kept, and why.
  struct Refusal {
    std::string path, why;
  };

  std::vector<Line> lines;
  std::vector<Refusal> refusals;
  std::vector<SceneSource::File> before, after;  ///< the files that change
};

/// Finds the place of each value in the files. Only the characters of the values change; a new value is added to the
/// table of its behaviour. The changed text is read back to verify that only these values differ.
KeepPlan plan_keep(const SceneSource& source, std::span<const ValueToKeep> values);

/// A file has been changed since it was read. Nothing was written.
class FileChanged : public Error {
 public:
  using Error::Error;
};

/// Writes the files of a plan. Each is replaced as a whole or not at all, after verifying that all are unchanged since
/// they were read. Throws `FileChanged`, or `Error` where a file cannot be written.
void keep(const KeepPlan& plan);

}  // namespace hushed
