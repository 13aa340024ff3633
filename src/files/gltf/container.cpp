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

}  // namespace

std::optional<std::string> wrong_with_header(std::string_view file) {
  if (!file.starts_with("glTF")) {
    const std::size_t first = file.find_first_not_of(" \t\r\n");
    if (first == file.npos || file[first] != '{') return "this is no glTF file; give a .glb or a .gltf file.";
    return std::nullopt;
  }
  if (file.size() < header + chunk_header) return "the file is incomplete; export or copy it again.";
  if (const std::uint32_t version = number_at(file, 4); version != 2)
    return fmt::format("its version is {}; export glTF 2.0.", version);
  if (const std::uint32_t length = number_at(file, 8); length > file.size())
    return fmt::format("the file is incomplete: it has {} of {} bytes; export or copy it again.", file.size(), length);
  if (number_at(file, header + 4) != json_chunk || number_at(file, header) > file.size() - header - chunk_header)
    return "its first part is not the JSON that a .glb file begins with; export it again.";
  return std::nullopt;
}

std::optional<std::string> wrong_with_json(std::string_view file) {
  const bool is_binary = file.starts_with("glTF");
  const std::string_view text = is_binary ? file.substr(header + chunk_header, number_at(file, header)) : file;
  try {
    const auto read = nlohmann::json::parse(text.begin(), text.end());
    static_cast<void>(read);
    return std::nullopt;
  } catch (const nlohmann::json::parse_error& error) {
    const std::string_view before = text.substr(0, std::min(error.byte > 0 ? error.byte - 1 : 0, text.size()));
    const std::size_t line_begin = before.rfind('\n') + 1;  // 0 in the first line
    return fmt::format("{} is wrong at line {}, column {}; export it again.", is_binary ? "the JSON in it" : "its JSON",
                       std::count(before.begin(), before.end(), '\n') + 1, before.size() - line_begin + 1);
  }
}

}  // namespace hushed::detail
