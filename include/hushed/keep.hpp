// SPDX-License-Identifier: MIT
#pragma once

// Keeping what was tuned: writing values into the scene file that they come from. In the library HushedOrbit::files.

#include <filesystem>
#include <optional>
#include <span>
#include <string>
#include <vector>

#include <hushed/detail/export.hpp>
#include <hushed/error.hpp>
#include <hushed/value.hpp>

namespace hushed HUSHED_API {

/// A scene file, and all that it includes, as they were read.
class SceneSource {
 public:
  struct File {
    std::filesystem::path path;
    std::string text;
  };

  /// Throws `LoadError` where one cannot be read, or is no TOML.
  explicit SceneSource(const std::filesystem::path& file);

  /// The scene file itself is the first.
  const std::vector<File>& files() const { return files_; }

 private:
  std::vector<File> files_;
};

/// A value by its path, "lamp.spin.speed" or "preset.bobbing.swell.frequency"; nothing where the file is not to give
/// it any more.
struct ValueToKeep {
  std::string path;
  std::optional<Value> value;
};

/// What is to be done to keep some values.
struct KeepPlan {
  /// A line that changes, or comes new.
  struct Line {
    std::string path;
    std::filesystem::path file;
    int number;                 ///< of the line, as it will be
    std::string before, after;  ///< one of them is empty where the line comes or goes
    std::string note;           ///< what else it changes; empty for nothing
  };
  /// A value that has no place of its own in the file, and why.
  struct Refusal {
    std::string path, why;
  };

  std::vector<Line> lines;
  std::vector<Refusal> refusals;
  std::vector<SceneSource::File> before, after;  ///< the files that change
};

/// Finds the place of each value. Only its characters change; one that is not in the file yet comes after those that
/// stand with it. What it would write has been read back, and found to differ in these values alone.
KeepPlan plan_keep(const SceneSource& source, std::span<const ValueToKeep> values);

/// A file has been changed since it was read. Nothing was written.
class FileChanged : public Error {
 public:
  using Error::Error;
};

/// Writes the files of a plan: each is replaced whole or not at all, and not before all are known to be as they were
/// when they were read. Throws `FileChanged`, or `Error` where one cannot be written.
void keep(const KeepPlan& plan);

}  // namespace hushed
