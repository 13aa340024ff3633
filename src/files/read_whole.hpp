// SPDX-License-Identifier: MIT
#pragma once

#include <cstdint>
#include <filesystem>
#include <string>

#include <hushed/fwd.hpp>

namespace hushed::detail {

struct WhatToRead {
  std::string such_as;  ///< "a scene file, such as harbour.toml"
  std::uintmax_t most;  ///< bytes
};

/// Reads a whole file. Throws `LoadError`.
std::string read_whole(const std::filesystem::path& file, const WhatToRead& what);
/// Reads a whole file by the program's own reader, where it has set one. Throws `LoadError`.
std::string read_whole(const std::filesystem::path& file, const WhatToRead& what, const Kinds& kinds);

}  // namespace hushed::detail
