// SPDX-License-Identifier: MIT
#include "script_text.hpp"

#include <fstream>
#include <functional>
#include <iterator>

#include <nlohmann/json.hpp>

#include <hushed/detail/new_file.hpp>
#include <hushed/detail/scene_access.hpp>
#include <hushed/keep.hpp>
#include <hushed/kinds.hpp>

namespace hushed::detail {

namespace {

constexpr std::size_t longest = 40'000;  ///< bytes, so that a message has room for the text with its escapes

std::string version_of(const std::string& text) { return std::to_string(std::hash<std::string>{}(text)); }

bool is_utf8(const std::string& text) {
  try {
    (void)nlohmann::json(text).dump();
    return true;
  } catch (const nlohmann::json::type_error&) {
    return false;
  }
}

/// A page has only plain line breaks; the file keeps the sort that it has.
std::string with_line_breaks_of(const std::string& before, const std::string& text) {
  if (before.find("\r\n") == std::string::npos) return text;
  std::string all;
  for (std::size_t i = 0; i < text.size(); ++i)
    all += text[i] == '\n' && (i == 0 || text[i - 1] != '\r') ? std::string{"\r\n"} : std::string{text[i]};
  return all;
}

}  // namespace

std::optional<std::filesystem::path> script_of(const Scene& scene, AnyBehaviour behaviour) {
  const Kind& kind = SceneAccess::kind(scene, behaviour);
  const auto kinds = SceneAccess::kinds(scene);
  if (!kinds || kinds->file_reader()) return std::nullopt;  // the program's own files cannot be written
  for (const auto& [file, loaded] : kinds->loaded())
    if (loaded.get() == &kind) return file;
  return std::nullopt;
}

ScriptText read_script(const std::filesystem::path& file) {
  const std::string name = file.filename().string();
  std::ifstream in{file, std::ios::binary};
  std::string text{std::istreambuf_iterator<char>{in}, {}};
  if (!in.is_open() || in.bad()) throw BadValue{name + ": the file cannot be read; check that it still exists."};
  if (text.size() > longest)
    throw BadValue{name + " is longer than " + std::to_string(longest / 1000) + " KB; edit it in an editor."};
  if (!is_utf8(text)) throw BadValue{name + " is not UTF-8; edit it in an editor."};
  std::string version = version_of(text);
  return {std::move(text), std::move(version)};
}

ScriptText write_script(const std::filesystem::path& file, const std::string& version, const std::string& text) {
  const std::string name = file.filename().string();
  const ScriptText before = read_script(file);
  const auto refuse = [&] {
    throw FileChanged{name + " was changed since its text was opened. Copy your text, and open it again."};
  };
  if (before.version != version) refuse();
  std::string after = with_line_breaks_of(before.text, text);
  if (after.size() > longest)
    throw BadValue{name + " would be longer than " + std::to_string(longest / 1000) + " KB; edit it in an editor."};
  NewFile out{file};
  out.write(after);
  if (!out.replace_if_unchanged(before.text)) refuse();
  std::string now = version_of(after);
  return {std::move(after), std::move(now)};
}

}  // namespace hushed::detail
