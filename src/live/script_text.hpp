// SPDX-License-Identifier: MIT
#pragma once

// The texts of the scripts of a scene, to be edited on the page.

#include <filesystem>
#include <optional>
#include <string>

#include <hushed/scene.hpp>

namespace hushed::detail {

struct ScriptText {
  std::string text;
  std::string version;  ///< differs wherever the text does
};

/// The file of the script of a behaviour; nothing where it has none.
std::optional<std::filesystem::path> script_of(const Scene& scene, AnyBehaviour behaviour);

/// Throws `BadValue` where the file cannot be read, is too long for the page or is not UTF-8.
ScriptText read_script(const std::filesystem::path& file);

/// Replaces the file as a whole and returns what is there now. Throws `FileChanged` where it has another version by
/// now, or `Error` where it cannot be written; it is unchanged then.
ScriptText write_script(const std::filesystem::path& file, const std::string& version, const std::string& text);

}  // namespace hushed::detail
