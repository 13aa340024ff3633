// SPDX-License-Identifier: MIT
#pragma once

// Scene files: TOML 1.0, see docs/reference/scene-file.md. In the library HushedOrbit::files.

#include <filesystem>
#include <optional>
#include <string>
#include <string_view>
#include <vector>

#include <hushed/check.hpp>
#include <hushed/detail/export.hpp>
#include <hushed/error.hpp>
#include <hushed/scene.hpp>
#include <hushed/value.hpp>
#include <hushed/watch.hpp>

namespace hushed HUSHED_API {

/// All that is wrong with a scene file. `what()` has a line for each complaint, `file:line:column: text`.
class LoadError : public Error {
 public:
  LoadError(std::string file, std::vector<Diagnostic> diagnostics);
  /// The places of the complaints say in which of the files.
  LoadError(std::vector<std::string> files, std::vector<Diagnostic> diagnostics);

  const std::string& file() const { return files_.front(); }
  /// The file, and all that it includes.
  const std::vector<std::string>& files() const { return files_; }
  /// In the order of the files. Places are 0 where the file itself could not be read.
  const std::vector<Diagnostic>& diagnostics() const { return diagnostics_; }

 private:
  std::vector<std::string> files_;
  std::vector<Diagnostic> diagnostics_;
};

/// What `[view]` says: what is looked at unless something else is asked for.
struct View {
  struct Watch {
    std::string text;
    TextPlace place;
  };
  std::vector<Watch> watches;
  std::optional<Box> area = {};     ///< m, in the world: where everything ought to stay
  std::filesystem::path keys = {};  ///< a file of recorded input, for whoever plays it with no other; empty for none
};

/// A scene as a file describes it, and what the file says besides.
struct SceneFile {
  Scene scene;
  std::string name;
  View view;
  std::vector<IgnoredFinding> ignored = {};      ///< findings of `check` that are left as they are
  std::vector<std::string> unused_presets = {};  ///< of the file itself, not of what it includes
};

struct LoadOptions {
  std::optional<double> tick_rate = {};  ///< instead of the file's
  const Scene* like = nullptr;           ///< whose handles it is to have, as `reload` needs it
};

/// Reads a scene file. Throws `LoadError` with all the mistakes that could be found.
///
///     Scene harbour = load("scenes/harbour.toml");
///     Object lamp = harbour.find("lamp").value();
Scene load(const std::filesystem::path& file);

/// Reads a scene file: the scene, and what the file says besides (its view, its watches). Throws `LoadError` with all
/// the mistakes that could be found.
SceneFile read_scene_file(const std::filesystem::path& file, const LoadOptions& options = {});

/// Reads the text of a scene file; errors call it `name`. Throws `LoadError` with all the mistakes that could be found.
SceneFile read_scene_text(std::string_view text, const std::string& name, const LoadOptions& options = {});

/// The watches that a file asks for, or every position where it asks for none. Throws `LoadError` with their places;
/// `name` is what it calls the file.
std::vector<Watch> watches_of(const SceneFile& file, const std::string& name);

/// Reads the file of a scene that is playing anew: the scene goes on with what the file says now, and keeps the time,
/// the handles, and the state of all that is the same. Returns what could not be kept, in sentences. Throws
/// `LoadError`, and the scene plays on as it was.
std::vector<std::string> reload(Scene& scene, const std::filesystem::path& file, const LoadOptions& options = {});
/// Reads the file of a scene that is playing anew, as above, and takes over what the file says besides.
std::vector<std::string> reload(SceneFile& playing, const std::filesystem::path& file, const LoadOptions& options = {});

/// A value as it would stand in a scene file: `60`, `[0, 1, 0]`, `"own"`; a bare word is a string. Throws
/// `BadValue`.
Value parse_value(std::string_view text);

/// A JSON Schema (draft 2020-12) of scene files, for editors.
std::string scene_file_schema();

}  // namespace hushed
