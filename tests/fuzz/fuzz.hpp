// SPDX-License-Identifier: MIT
#pragma once

// What the fuzz targets have in common.

#include <cstdint>
#include <filesystem>
#include <fstream>
#include <string>
#include <string_view>

#include <unistd.h>

namespace hushed::fuzz {

inline std::string_view text_of(const std::uint8_t* data, std::size_t size) {
  return {reinterpret_cast<const char*>(data), size};
}

/// A file of this process, which has the content until the next one is written.
inline std::filesystem::path file_with(std::string_view content, const char* ending) {
  const auto path = std::filesystem::temp_directory_path() / ("hushed-fuzz-" + std::to_string(getpid()) + ending);
  std::ofstream{path, std::ios::binary} << content;
  return path;
}

}  // namespace hushed::fuzz
