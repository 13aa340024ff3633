// SPDX-License-Identifier: MIT
#pragma once

#include <optional>
#include <string>
#include <string_view>

namespace hushed::detail {

/// What is wrong with the header and the length of a glTF file, as a sentence; nothing where these are right.
std::optional<std::string> wrong_with_header(std::string_view file);
/// What is wrong with its JSON, with the place. Its header must be right.
std::optional<std::string> wrong_with_json(std::string_view file);

}  // namespace hushed::detail
