// SPDX-License-Identifier: MIT
#include <hushed/name.hpp>

#include <algorithm>

#include <hushed/value.hpp>

namespace hushed {

bool is_name(std::string_view name) {
  const auto plain = [](char c) {
    return (c >= 'a' && c <= 'z') || (c >= 'A' && c <= 'Z') || (c >= '0' && c <= '9') || c == '-' || c == '_';
  };
  return !name.empty() && std::all_of(name.begin(), name.end(), plain);
}

std::optional<std::string> wrong_with_name(std::string_view name, std::string_view of_what) {
  if (is_name(name)) return std::nullopt;
  if (name.empty()) return std::string{of_what} + " has an empty name; give one.";
  return in_quotes(name) + " cannot be the name of " + std::string{of_what} + "; use letters, digits, - and _.";
}

}  // namespace hushed
