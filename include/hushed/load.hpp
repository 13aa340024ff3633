// SPDX-License-Identifier: MIT
#pragma once

// Scene files: TOML 1.0, see docs/reference/scene-file.md. In the library HushedOrbit::files.

#include <filesystem>
#include <memory>
#include <optional>
#include <string>
#include <string_view>
#include <vector>

#include <hushed/check.hpp>
#include <hushed/colour.hpp>
#include <hushed/detail/export.hpp>
#include <hushed/error.hpp>
#include <hushed/expectation.hpp>
#include <hushed/kinds.hpp>
#include <hushed/motion.hpp>
#include <hushed/scene.hpp>
#include <hushed/value.hpp>
#include <hushed/watch.hpp>

namespace hushed HUSHED_API {

/// All mistakes in a scene file. `what()` has a line for each, `file:line:column: text`.
class LoadError : public Error {
 public:
  LoadError(std::string file, std::vector<Diagnostic> diagnostics);
  /// `TextPlace::file` of each diagnostic is an index in `files`.
  LoadError(std::vector<std::string> files, std::vector<Diagnostic> diagnostics);

  const std::string& file() const { return files_.front(); }
  /// The file, and all files that it includes.
  const std::vector<std::string>& files() const { return files_; }
  /// In the order of the files. Places are 0 where a file could not be read.
  const std::vector<Diagnostic>& diagnostics() const { return diagnostics_; }

 private:
  std::vector<std::string> files_;
  std::vector<Diagnostic> diagnostics_;
};

/// The table `[view]`: defaults for commands that show a scene.
struct View {
  struct Watch {
    std::string text;
    TextPlace place;
  };
  std::vector<Watch> watches;
  std::optional<Box> area = {};      ///< m, in the world: where all objects should stay
  std::filesystem::path keys = {};   ///< a file of recorded input, used unless another is given; empty for none
  std::optional<Colour> sky = {};    ///< behind the scene, where it is drawn in space
  std::optional<double> water = {};  ///< m: the level of the water, which is drawn if given
};

/// The content of a scene file.
struct SceneFile {
  Scene scene;
  std::string name;
  View view;
  std::vector<IgnoredFinding> ignored = {};  ///< findings of `check` to be ignored
  /// All files that the scene depends on: itself, included ones and scripts. The first is the one that was read.
  std::vector<std::filesystem::path> files = {};
  std::vector<std::string> unused_presets = {};  ///< presets of the file itself that no object uses
  std::vector<Expectation> expectations = {};    ///< what its motion must be
};

namespace detail {
class SceneFileReader;
}

struct LoadOptions {
  std::optional<double> tick_rate = {};  ///< replaces that of the file
  const Scene* like = nullptr;           ///< a scene whose handles it gets, for `Scene::hot_reload`
  /// What the file may name. Unless it is given: the kinds of the file that `like` was read from, or that is reloaded;
  /// otherwise the built-in ones.
  const Kinds* kinds = nullptr;
};

/// Reads a scene file and returns its scene. Throws `LoadError` with all mistakes that could be found.
///
///     Scene bay = load("bay.toml");
///     Object lamp = bay.find("lamp").value();
Scene load(const std::filesystem::path& file);

/// Reads a scene file and returns all its content. Throws `LoadError` with all mistakes that could be found.
SceneFile read_scene_file(const std::filesystem::path& file, const LoadOptions& options = {});

/// Reads the text of a scene file; `name` is its name in errors. Throws `LoadError` with all mistakes that could be
/// found.
SceneFile read_scene_text(std::string_view text, const std::string& name, const LoadOptions& options = {});

/// The watches in the file's `[view]`, or the position of every object where it has none. Throws `LoadError` with their
/// places; `name` is the file's name in errors.
std::vector<Watch> watches_of(const SceneFile& file, const std::string& name);

namespace detail {
/// What a new version of a script reports, at its place in one of the files.
LoadError load_error_of(const VersionFails& error, const std::vector<std::filesystem::path>& files);
}

/// Reads the file of a playing scene again and replaces the scene's content by it, as `Scene::hot_reload` does. What
/// the program has added to the scene stays, unless `changes` says otherwise. Returns sentences about what was lost.
/// Throws `LoadError`, also for a changed script that fails when it is tried, and the scene plays on unchanged.
std::vector<std::string> reload(Scene& scene, const std::filesystem::path& file, const LoadOptions& options = {},
                                ProgramChanges changes = ProgramChanges::keep);
/// As `reload` of a scene, and replaces the view and all else of the file too.
std::vector<std::string> reload(SceneFile& playing, const std::filesystem::path& file, const LoadOptions& options = {},
                                ProgramChanges changes = ProgramChanges::keep);

/// A scene file that has been read and checked. `prepare` makes it in any thread while scenes play, and `adopt` puts it
/// into one of them between two frames.
class PreparedScene {
 public:
  PreparedScene(PreparedScene&&) noexcept;
  PreparedScene& operator=(PreparedScene&&) noexcept;
  ~PreparedScene();

 private:
  friend PreparedScene prepare(const std::filesystem::path& file, const LoadOptions& options);
  friend std::vector<std::string> adopt(Scene& scene, PreparedScene prepared, ProgramChanges changes);
  friend std::vector<std::string> adopt(SceneFile& playing, PreparedScene prepared, ProgramChanges changes);
  explicit PreparedScene(std::unique_ptr<detail::SceneFileReader> reader);
  detail::SceneFileReader& reader() const;

  std::unique_ptr<detail::SceneFileReader> reader_;
};

/// Reads and checks a scene file for `adopt`. Of `options.like` only the kinds are used, and it must not be playing in
/// another thread. Throws `LoadError`.
PreparedScene prepare(const std::filesystem::path& file, const LoadOptions& options = {});
/// Replaces a scene's content by that of a prepared file, as `reload` does. Returns sentences about what was lost.
/// Throws `BadValue` for one that was moved from.
std::vector<std::string> adopt(Scene& scene, PreparedScene prepared, ProgramChanges changes = ProgramChanges::keep);
/// As `adopt` for a scene, and replaces the view and all else of the file too.
std::vector<std::string> adopt(SceneFile& playing, PreparedScene prepared,
                               ProgramChanges changes = ProgramChanges::keep);

/// Gives an object a behaviour that is written like its table in a scene file, such as "kind = \"spin\"\nspeed = 60".
/// `kinds`: the kinds that it may be of. Throws `LoadError` with places in the text, or what `Scene::give` throws.
AnyBehaviour give_from_text(Scene& scene, Object object, std::string_view text, const Kinds& kinds);

/// Reads the motions of a glTF 2.0 file (its animations) or of a recording (one clip without a name, in the world's
/// space), for `Replay`. Throws `LoadError`.
std::shared_ptr<const MotionFile> read_motions(const std::filesystem::path& file);
std::shared_ptr<const MotionFile> read_motions(const std::filesystem::path& file, const Kinds& kinds);

/// What is in a glTF 2.0 file that a scene may be from: objects, animations, names that were changed, and what is not
/// read. Throws `LoadError`.
std::string describe_artist_file(const std::filesystem::path& file);

/// Parses a value as it is written in a scene file: `60`, `[0, 1, 0]`, `"own"`; a bare word is a string. Throws
/// `BadValue`.
Value parse_value(std::string_view text);

/// A JSON Schema (draft 2020-12) of scene files, for editors.
std::string scene_file_schema(const Kinds& kinds);
std::string scene_file_schema();  ///< with the built-in kinds

}  // namespace hushed
