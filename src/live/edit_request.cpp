// SPDX-License-Identifier: MIT
#include "edit_request.hpp"

#include <array>
#include <functional>
#include <string>
#include <utility>

#include <hushed/load.hpp>

namespace hushed::detail {

namespace {

Value table_of(const Request& request) {
  Value keys = parse_value(request.text("keys"));
  if (!keys.as<Value::Table>()) throw BadValue{"keys: give a table, such as { kind = \"spin\" }."};
  return keys;
}

std::optional<Value> value_of(const Request& request) {
  if (request.is_null("to")) return std::nullopt;
  return parse_value(request.text("to"));
}

std::string before_of(const Request& request) { return request.has("before") ? request.text("before") : ""; }

SceneEdit edit_of(const Request& request) {
  using Maker = std::pair<std::string_view, std::function<SceneEdit()>>;
  const auto text = [&](const char* key) { return request.text(key); };
  const std::array<Maker, 12> makers{{
      {"add object",
       [&] {
         return AddObject{text("name"), table_of(request)};
       }},
      {"copy object",
       [&] {
         return CopyObject{text("object"), text("name")};
       }},
      {"rename object",
       [&] {
         return RenameObject{text("object"), text("name")};
       }},
      {"remove object", [&] { return RemoveObject{text("object")}; }},
      {"set object",
       [&] {
         return SetObjectKey{text("object"), text("key"), value_of(request)};
       }},
      {"add behaviour",
       [&] {
         return AddBehaviour{text("object"), table_of(request), before_of(request)};
       }},
      {"remove behaviour", [&] { return RemoveBehaviour{text("behaviour")}; }},
      {"move behaviour",
       [&] {
         return MoveBehaviour{text("behaviour"), before_of(request)};
       }},
      {"set behaviour",
       [&] {
         return SetBehaviourKey{text("behaviour"), text("key"), value_of(request)};
       }},
      {"add rule", [&] { return AddRule{table_of(request)}; }},
      {"remove rule", [&] { return RemoveRule{text("rule")}; }},
      {"set rule",
       [&] {
         return SetRuleKey{text("rule"), text("key"), value_of(request)};
       }},
  }};
  const std::string what = request.text("edit");
  for (const auto& [name, make] : makers)
    if (name == what) return make();
  throw BadValue{"unknown edit " + in_quotes(what) + "."};
}

}  // namespace

std::vector<SceneEdit> edits_of(const Request& request) {
  constexpr std::size_t most = 100;
  std::vector<SceneEdit> edits;
  for (const Request& each : request.list("edits", most)) edits.push_back(edit_of(each));
  if (edits.empty()) throw BadValue{"edits: give at least one."};
  return edits;
}

}  // namespace hushed::detail
