// SPDX-License-Identifier: MIT
#include "keep/scene_document.hpp"

#include <filesystem>

#include "keep/toml_text.hpp"

namespace hushed::detail {

namespace {

const std::string* word(const Value& table, std::string_view key) {
  const Value* const value = inner(table, key);
  return value ? value->as<std::string>() : nullptr;
}

}  // namespace

std::vector<std::string> parts_of(std::string_view path) {
  std::vector<std::string> parts;
  while (true) {
    const std::size_t dot = path.find('.');
    parts.emplace_back(path.substr(0, dot));
    if (dot == std::string_view::npos) return parts;
    path.remove_prefix(dot + 1);
  }
}

const Value* inner(const Value& table, std::string_view key) {
  const auto* entry = entry_of(table, key);
  return entry ? &entry->value : nullptr;
}

const Value* inner(const Value& table, const std::vector<std::string>& path) {
  const Value* at = &table;
  for (const std::string& key : path)
    if (at) at = inner(*at, key);
  return at;
}

std::string name_in(const Value& table) {
  for (const char* key : {"name", "kind"})
    if (const auto* name = word(table, key)) return *name;
  const auto* script = word(table, "script");
  return script ? std::filesystem::path{*script}.stem().string() : "";
}

std::optional<std::size_t> index_of_name(const Value& list, std::string_view name) {
  const auto* items = list.as<Value::List>();
  for (std::size_t i = 0; items && i < items->size(); ++i)
    if (name_in((*items)[i]) == name) return i;
  return std::nullopt;
}

std::vector<std::string> owner_of(const Value& document, const std::string& object) {
  if (inner(document, {"object", object})) return {"object", object};
  const std::string crowd = object.substr(0, object.rfind('-'));
  if (crowd != object && inner(document, {"crowd", crowd})) return {"crowd", crowd};
  return {};
}

}  // namespace hushed::detail
