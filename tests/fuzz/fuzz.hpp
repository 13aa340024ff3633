// SPDX-License-Identifier: MIT
#pragma once

// The common part of the fuzz targets.

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

/// Writes a file of this process. The next call overwrites it.
inline std::filesystem::path file_with(std::string_view content, const char* ending) {
  const auto path = std::filesystem::temp_directory_path() / ("hushed-fuzz-" + std::to_string(getpid()) + ending);
  std::ofstream{path, std::ios::binary} << content;
  return path;
}

}  // namespace hushed::fuzz
