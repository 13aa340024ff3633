// SPDX-License-Identifier: MIT
#pragma once

// Lists of kinds of behaviours, built in and of a program's own, for scene files.

#include <hushed/behaviours.hpp>
#include <hushed/detail/export.hpp>
#include <hushed/detail/kind_of.hpp>
#include <hushed/value.hpp>

#include <functional>
#include <memory>
#include <optional>
#include <span>
#include <string>
#include <string_view>
#include <type_traits>
#include <utility>
#include <vector>

namespace hushed::detail {
class FileMemory;
}

namespace hushed HUSHED_API {

/// Every built-in kind, in the order of the list.
std::span<const detail::Kind* const> kinds();

/// The built-in kind of that name, or nullptr.
const detail::Kind* find_kind(std::string_view name);

/// What one call of a script may take before it fails.
struct ScriptLimits {
  int steps = 100'000;  ///< of the interpreter: 1 000 to 1e9
  double memory = 1.0;  ///< MB of new memory: 0.1 to 1 000
  bool operator==(const ScriptLimits&) const = default;
};

/// The kinds that a scene file may name: the built-in ones, and those that a program adds.
///
///     Kinds mine;
///     mine.add<Hop>();
///     SceneFile file = read_scene_file("harbour.toml", {.kinds = &mine});
class Kinds {
 public:
  Kinds();
  /// Adds a behaviour of the program's own, which must have a default and `static constexpr auto kind = "hop"`; the
  /// keys of its table in a file are its `fields`. Throws `BadValue` where a kind or a key of that name exists already.
  template <class B>
  Kinds& add() {
    static_assert(
        requires { B::kind; }, "a behaviour needs `static constexpr auto kind = \"hop\";` to be named in files");
    static_assert(std::is_default_constructible_v<B>, "a behaviour that files name needs default values");
    return add(std::shared_ptr<const detail::Kind>{std::shared_ptr<void>{}, &detail::kind_of<B>()});
  }
  /// Makes kinds from files that scene files name: `script = "circling.lua"`. `file`: its path. Adds what is wrong to
  /// `mistakes`, with places in the text, and returns nullptr then.
  using Loader = std::function<std::shared_ptr<const detail::Kind>(
      const std::string& file, std::string_view text, const ScriptLimits& limits, std::vector<Diagnostic>& mistakes)>;
  Kinds& set_loader(Loader loader);
  bool has_loader() const { return loader_ != nullptr; }
  /// The kind that a file describes: the one that it was before, where its text and limits have not changed.
  std::shared_ptr<const detail::Kind> load(const std::string& file, std::string_view text, const ScriptLimits& limits,
                                           std::vector<Diagnostic>& mistakes);
  /// All kinds that `load` has returned, each with its file.
  std::vector<std::pair<std::string, std::shared_ptr<const detail::Kind>>> loaded() const;

  /// A copy for a scene in another thread: its `load` makes new kinds from files, which share nothing with those of
  /// this list.
  Kinds anew() const;

  /// Reads the files that a scene consists of: its own, included ones and scripts. Returns the content; throws `Error`.
  /// `file`: the path as the scene names it, from the directory of the file that names it.
  using FileReader = std::function<std::string(const std::string& file)>;
  /// For programs that keep their files in an archive of their own. Otherwise files are read from the disk.
  Kinds& set_file_reader(FileReader reader);
  const FileReader& file_reader() const { return file_reader_; }

  /// Adds a kind that was made at run time.
  Kinds& add(std::shared_ptr<const detail::Kind> kind);

  /// The kind of that name, or nullptr.
  const detail::Kind* find(std::string_view name) const;
  /// All kinds, the built-in ones first.
  const std::vector<std::shared_ptr<const detail::Kind>>& all() const { return all_; }

 private:
  /// What is wrong with the fields of a kind.
  static std::optional<std::string> mistake_in(const detail::Kind& kind);

  struct Loaded {
    std::string file, text;
    ScriptLimits limits;
    std::shared_ptr<const detail::Kind> kind;
  };
  std::vector<std::shared_ptr<const detail::Kind>> all_;
  Loader loader_;
  FileReader file_reader_;
  std::vector<Loaded> loaded_;
  friend class detail::FileMemory;
  mutable std::shared_ptr<detail::FileMemory> memory_;  ///< of large files, so that they are read only when they change
};

}  // namespace hushed
