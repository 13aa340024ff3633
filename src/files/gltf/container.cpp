// SPDX-License-Identifier: MIT
#include "gltf/container.hpp"

#include <algorithm>
#include <cstdint>
#include <cstring>

#include <fmt/format.h>
#include <nlohmann/json.hpp>

namespace hushed::detail {

namespace {

constexpr std::size_t header = 12, chunk_header = 8;
constexpr std::uint32_t json_chunk = 0x4E4F534A;

std::uint32_t number_at(std::string_view file, std::size_t place) {
  std::uint32_t number = 0;
  std::memcpy(&number, file.data() + place, sizeof number);
  return number;
}

/// `what`: the text in the file.
std::optional<std::string> wrong_with_json(std::string_view text, std::string_view what) {
  try {
    const auto read = nlohmann::json::parse(text.begin(), text.end());
    static_cast<void>(read);
    return std::nullopt;
  } catch (const nlohmann::json::parse_error& error) {
    const std::string_view before = text.substr(0, std::min(error.byte > 0 ? error.byte - 1 : 0, text.size()));
    const auto lines = std::count(before.begin(), before.end(), '\n');
    const std::size_t line_begin = before.rfind('\n') + 1;  // 0 in the first line
    return fmt::format("{} is wrong at line {}, column {}; export it again.", what, lines + 1,
                       before.size() - line_begin + 1);
  }
}

}  // namespace

std::optional<std::string> wrong_with_container(std::string_view file) {
  if (!file.starts_with("glTF")) {
    const std::size_t first = file.find_first_not_of(" \t\r\n");
    if (first == file.npos || file[first] != '{') return "this is no glTF file; give a .glb or a .gltf file.";
    return wrong_with_json(file, "its JSON");
  }
  if (file.size() < header + chunk_header) return "the file is incomplete; export or copy it again.";
  if (const std::uint32_t version = number_at(file, 4); version != 2)
    return fmt::format("its version is {}; export glTF 2.0.", version);
  const std::uint32_t length = number_at(file, 8), first_length = number_at(file, header);
  if (length > file.size())
    return fmt::format("the file is incomplete: it has {} of {} bytes; export or copy it again.", file.size(), length);
  if (number_at(file, header + 4) != json_chunk || first_length > file.size() - header - chunk_header)
    return "its first part is not the JSON that a .glb file begins with; export it again.";
  return wrong_with_json(file.substr(header + chunk_header, first_length), "the JSON in it");
}

}  // namespace hushed::detail
