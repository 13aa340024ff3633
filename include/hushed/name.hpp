// SPDX-License-Identifier: MIT
#pragma once

#include <optional>
#include <string>
#include <string_view>

#include <hushed/detail/export.hpp>

namespace hushed HUSHED_API {

/// True for a valid name of an object, a behaviour or a tag: one or more of letters, digits, `-` and `_`.
bool is_name(std::string_view name);

/// The problem with the name of `of_what` ("an object"), with a hint; nothing for a valid name.
std::optional<std::string> wrong_with_name(std::string_view name, std::string_view of_what);

}  // namespace hushed
