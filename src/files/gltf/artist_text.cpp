// SPDX-License-Identifier: MIT
// What a glTF file contains, in words.

#include <algorithm>
#include <vector>

#include <fmt/format.h>

#include <hushed/kinds.hpp>
#include <hushed/load.hpp>
#include <hushed/value.hpp>

#include "gltf/artist_file.hpp"

namespace hushed {

namespace {

std::string words_of(const detail::ArtistNode& node) {
  std::string words = node.what;
  const auto add = [&](const std::string& more) { words += (words.empty() ? "" : ", ") + more; };
  if (node.model) {
    const Vec3 size = node.bounds.max - node.bounds.min;
    add(fmt::format("{:.3g} x {:.3g} x {:.3g} m", size.x(), size.y(), size.z()));
  }
  if (!node.tags.empty()) add(fmt::format("tags {}", fmt::join(node.tags, ", ")));
  return words;
}

}  // namespace

std::string describe_artist_file(const std::filesystem::path& file) {
  const detail::ArtistFile read = detail::read_artist_file(file, Kinds{});
  std::string text = fmt::format("{}: {} objects, {} animations\n\nObjects:\n\n", file.filename().string(),
                                 read.nodes.size(), read.motions->clips.size());
  std::string renamed;
  std::vector<std::size_t> depths;  // parents first
  for (const detail::ArtistNode& node : read.nodes) {
    const std::size_t depth = depths.emplace_back(node.parent ? depths[*node.parent] + 1 : 1);
    std::string line = fmt::format("{:{}}{:<{}}  {}", "", 2 * std::min<std::size_t>(depth, 30), node.name,
                                   depth < 12 ? 28 - 2 * depth : 4, words_of(node));
    text += line.substr(0, line.find_last_not_of(' ') + 1) + '\n';
    if (!node.written.empty() && node.written != node.name)
      renamed += fmt::format("  {} is {}\n", in_quotes(node.written), node.name);
  }
  if (!read.motions->clips.empty()) text += "\nAnimations:\n\n";
  for (std::size_t clip = 0; clip < read.motions->clips.size(); ++clip) {
    std::vector<std::string> moved;
    for (const MotionFile::Entry& each : read.motions->entries)
      if (each.clip == clip) moved.push_back(each.object);
    const std::size_t most = 6, shown = std::min(moved.size(), most);
    text += fmt::format("  {:<16} {:>8.3g} s  moves {}{}\n", read.motions->clips[clip].name,
                        read.motions->clips[clip].length,
                        fmt::join(moved.begin(), moved.begin() + static_cast<std::ptrdiff_t>(shown), ", "),
                        moved.size() > most ? fmt::format(" and {} others", moved.size() - most) : "");
  }
  if (!renamed.empty()) text += "\nNames that are no names in a scene:\n\n" + renamed;
  if (!read.notes.empty()) text += "\nNot read as it is:\n\n";
  for (const std::string& note : read.notes) text += "  " + note + '\n';
  return text;
}

}  // namespace hushed
