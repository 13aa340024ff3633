// SPDX-License-Identifier: MIT
#pragma once

#include <cstdint>
#include <filesystem>
#include <string>

namespace hushed::detail {

struct WhatToRead {
  std::string such_as;  ///< "a scene file, such as harbour.toml"
  std::uintmax_t most;  ///< bytes
};

/// Reads a whole file. Throws `LoadError`.
std::string read_whole(const std::filesystem::path& file, const WhatToRead& what);

}  // namespace hushed::detail
