// SPDX-License-Identifier: MIT
#pragma once

#include <optional>
#include <string>
#include <string_view>

namespace hushed::detail {

/// What is wrong with the outside of a glTF file, as a sentence: its header, its length, or its JSON with the place.
/// Nothing where these are right.
std::optional<std::string> wrong_with_container(std::string_view file);

}  // namespace hushed::detail
