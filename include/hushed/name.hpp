// SPDX-License-Identifier: MIT
#pragma once

#include <optional>
#include <string>
#include <string_view>

#include <hushed/detail/export.hpp>

namespace hushed HUSHED_API {

/// Whether it can name an object, a behaviour or a tag: letters, digits, `-` and `_`, at least one of them.
bool is_name(std::string_view name);

/// What is wrong with the name of `of_what` ("an object"), and what would be right; nothing where all is well.
std::optional<std::string> wrong_with_name(std::string_view name, std::string_view of_what);

}  // namespace hushed
