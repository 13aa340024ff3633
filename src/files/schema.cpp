// SPDX-License-Identifier: MIT
// The JSON Schema of scene files, derived from the tables of fields that read them.

#include <cmath>

#include <nlohmann/json.hpp>

#include <hushed/colour.hpp>
#include <hushed/common.hpp>
#include <hushed/detail/kind.hpp>
#include <hushed/kinds.hpp>
#include <hushed/load.hpp>

namespace hushed {

namespace {

using OrderedJson = nlohmann::ordered_json;

OrderedJson number(const Unit& unit) { return {{"type", "number"}, {"minimum", unit.low}, {"maximum", unit.high}}; }

OrderedJson table(OrderedJson properties) {
  return {{"type", "object"}, {"properties", std::move(properties)}, {"additionalProperties", false}};
}

OrderedJson schema_of(const Form& form) {
  switch (form.kind) {
    case Form::Kind::boolean: return {{"type", "boolean"}};
    case Form::Kind::number: return std::isfinite(form.unit.low) ? number(form.unit) : OrderedJson{{"type", "number"}};
    case Form::Kind::whole: return {{"type", "integer"}, {"minimum", form.unit.low}, {"maximum", form.unit.high}};
    case Form::Kind::word: return {{"enum", form.names}};
    case Form::Kind::text: return {{"type", "string"}, {"minLength", 1}};
    case Form::Kind::list:
      return {
          {"type", "array"}, {"items", schema_of(form.parts[0])}, {"minItems", form.least}, {"maxItems", form.most}};
    case Form::Kind::table: {
      OrderedJson properties;
      for (std::size_t i = 0; i < form.names.size(); ++i)
        properties[std::string{form.names[i]}] = schema_of(form.parts[i]);
      return table(std::move(properties));
    }
    case Form::Kind::any_of: {
      OrderedJson ways = OrderedJson::array();
      for (const Form& way : form.parts) ways.push_back(schema_of(way));
      return {{"anyOf", ways}};
    }
  }
  return {};
}

OrderedJson as_json(const Value& value) {
  if (const auto* yes = value.as<bool>()) return *yes;
  if (const auto* text = value.as<std::string>()) return *text;
  if (const auto* list = value.as<Value::List>()) {
    OrderedJson items = OrderedJson::array();
    for (const Value& item : *list) items.push_back(as_json(item));
    return items;
  }
  return value.number().value_or(0.0);
}

void add_fields(OrderedJson& properties, std::span<const FieldInfo> fields) {
  for (const FieldInfo& field : fields) {
    OrderedJson entry = schema_of(field.form);
    std::string help{field.help};
    if (!field.unit.symbol.empty()) help += " (" + std::string{field.unit.symbol} + ")";
    entry["description"] = help;
    if (field.fallback) entry["default"] = as_json(*field.fallback);
    properties[std::string{field.name}] = std::move(entry);
  }
}

/// The table of a behaviour that begins with `key`, "kind" or "script", whose value is `chosen`.
OrderedJson behaviour(const detail::Kind& kind, const char* key, OrderedJson chosen) {
  OrderedJson properties;
  properties[key] = std::move(chosen);
  properties["name"] = {{"$ref", "#/$defs/name"}, {"description", "its name in paths; default: its kind"}};
  OrderedJson needed = OrderedJson::array({key});
  add_fields(properties, kind.fields());
  add_fields(properties, detail::common_fields());
  for (const FieldInfo& field : kind.fields())
    if (field.required) needed.push_back(field.name);
  OrderedJson schema{{"description", kind.summary()},
                     {"properties", properties},
                     {"required", needed},
                     {"additionalProperties", false}};
  OrderedJson excluded = OrderedJson::array();
  for (const Either& either : kind.alternatives())
    for (const std::string_view other : either.others)
      if (!other.empty()) excluded.push_back({{"not", {{"required", {either.key, other}}}}});
  for (const OneOf& one_of : kind.exactly_one()) {
    OrderedJson ways = OrderedJson::array();
    for (const std::string_view key : one_of.keys)
      if (!key.empty()) ways.push_back({{"required", {key}}});
    excluded.push_back({{"oneOf", ways}});
  }
  if (!excluded.empty()) schema["allOf"] = excluded;
  return schema;
}

OrderedJson shape_names() {
  OrderedJson names = OrderedJson::array();
  for (const auto& [kind, name] : choices(Shape::Kind{})) names.push_back(name);
  return names;
}

OrderedJson colour() {
  return {
      {"anyOf", {{{"enum", colour_names()}}, {{"type", "string"}, {"pattern", "^#([0-9A-Fa-f]{3}|[0-9A-Fa-f]{6})$"}}}},
      {"description", "as in CSS: a name, #rgb or #rrggbb"}};
}

OrderedJson ignored_findings() {
  OrderedJson reasons;
  for (const FindingCode& each : finding_codes())
    reasons[std::string{each.code}] = {
        {"type", "string"}, {"minLength", 1}, {"description", "why this is right here: " + std::string{each.meaning}}};
  return reasons;
}

OrderedJson stack(const Kinds& kinds) {
  OrderedJson behaviours = OrderedJson::array();
  for (const auto& kind : kinds.all()) behaviours.push_back({{"$ref", "#/$defs/" + std::string{kind->name()}}});
  for (const auto& [file, kind] : kinds.loaded())
    behaviours.push_back({{"$ref", "#/$defs/script " + std::string{kind->name()}}});
  behaviours.push_back({{"$ref", "#/$defs/script"}});
  return {{"type", "array"}, {"items", {{"type", "object"}, {"oneOf", behaviours}}}};
}

OrderedJson named(OrderedJson each) {
  return {{"type", "object"}, {"propertyNames", {{"$ref", "#/$defs/name"}}}, {"additionalProperties", std::move(each)}};
}

OrderedJson names() { return {{"type", "array"}, {"items", {{"$ref", "#/$defs/name"}}}}; }

OrderedJson object(const Kinds& kinds) {
  const OrderedJson pose = schema_of(detail::form_of_parts());
  OrderedJson properties{
      {"parent", {{"$ref", "#/$defs/name"}, {"description", "the object whose space contains the rest pose"}}}};
  properties.update(pose["properties"]);
  properties.update(
      {{"pose", named(pose)},
       {"use", names()},
       {"tune", {{"type", "object"}, {"description", "the object's own values: \"preset.behaviour.field\" = value"}}},
       {"inherit", {{"type", "array"}, {"items", {{"enum", {"position", "rotation", "scale"}}}}}},
       {"tags", names()},
       {"fed",
        {{"type", "boolean"}, {"default", false}, {"description", "the program, or --feed, gives it its poses"}}},
       {"pace",
        {{"type", "number"},
         {"minimum", 0},
         {"maximum", 100},
         {"default", 1},
         {"description", "seconds of the object's time, and its children's, in a second of the scene"}}},
       {"ignore", table(ignored_findings())},
       {"shape", table({{"kind", {{"enum", shape_names()}}},
                        {"size", pose["properties"]["scale"]},
                        {"centre", pose["properties"]["position"]},
                        {"colour", colour()},
                        {"glow", {{"type", "boolean"}, {"default", false}, {"description", "drawn as a light"}}}})},
       {"behaviour", stack(kinds)}});
  return table(properties);
}

/// A crowd: an object without a pose, the number of its copies, and their places.
OrderedJson crowd(const Kinds& kinds) {
  OrderedJson schema = object(kinds);
  OrderedJson& properties = schema["properties"];
  properties.erase("position");
  properties["count"] = {{"type", "integer"}, {"minimum", 1}, {"maximum", 100'000}};
  properties["seed"] = {{"type", "integer"}, {"default", 0}};
  properties["box"] = schema_of(form_of(static_cast<const Box*>(nullptr), unit::metres));
  schema["required"] = {"count", "box"};
  return schema;
}

/// The schema of one value or a list of such values.
OrderedJson some(const Form& form) {
  const OrderedJson one = schema_of(form);
  return {{"anyOf", {one, {{"type", "array"}, {"items", one}}}}};
}

OrderedJson rule() {
  const OrderedJson conditions{{"$ref", "#/$defs/conditions"}};
  OrderedJson schema = table({{"name", {{"$ref", "#/$defs/name"}}},
                              {"when", conditions},
                              {"any", conditions},
                              {"unless", conditions},
                              {"do", some(form_of(static_cast<const Action*>(nullptr), unit::none))},
                              {"fires", schema_of(detail::form_of_any<Fires>(unit::none))},
                              {"for", number(unit::seconds)},
                              {"enabled", {{"type", "boolean"}}},
                              {"ignore", table(ignored_findings())}});
  schema["required"] = {"name", "do"};
  return schema;
}

}  // namespace

std::string scene_file_schema() { return scene_file_schema(Kinds{}); }

std::string scene_file_schema(const Kinds& kinds) {
  OrderedJson definitions;
  definitions["name"] = {{"type", "string"}, {"pattern", "^[A-Za-z0-9_-]+$"}};
  definitions["conditions"] = some(form_of(static_cast<const Condition*>(nullptr), unit::none));
  for (const auto& kind : kinds.all())
    definitions[std::string{kind->name()}] = behaviour(*kind, "kind", {{"const", kind->name()}});

  // A script is recognised by the name of its file, wherever the scene is.
  std::string known;
  for (const auto& [file, kind] : kinds.loaded()) {
    const std::string name{kind->name()};
    known += (known.empty() ? "" : "|") + name;
    definitions["script " + name] = behaviour(*kind, "script", {{"pattern", "(^|/)" + name + "\\.lua$"}});
  }
  OrderedJson any_file{{"type", "string"}, {"description", "the file, from where this one is"}};
  if (!known.empty()) any_file["not"] = {{"pattern", "(^|/)(" + known + ")\\.lua$"}};
  definitions["script"] = {{"description", "a behaviour in Lua; its other keys are the fields of the script"},
                           {"properties", {{"script", any_file}}},
                           {"required", {"script"}}};

  OrderedJson schema;
  schema["$schema"] = "https://json-schema.org/draft/2020-12/schema";
  schema["title"] = "Hushed Orbit scene";
  schema["type"] = "object";
  schema["properties"] = {
      {"hushed", {{"const", 1}, {"description", "the version of this format"}}},
      {"scene", table({{"name", {{"type", "string"}}},
                       {"tick_rate", {{"type", "number"}, {"minimum", 1}, {"maximum", 10000}, {"default", 120}}},
                       {"script_steps",
                        {{"type", "number"},
                         {"minimum", 1000},
                         {"maximum", 1e9},
                         {"default", 100000},
                         {"description", "steps that one call of a script may take"}}},
                       {"script_memory",
                        {{"type", "number"},
                         {"minimum", 0.1},
                         {"maximum", 1000},
                         {"default", 1},
                         {"description", "new memory that one call of a script may take (MB)"}}}})},
      {"include", {{"type", "array"}, {"items", {{"type", "string"}}}, {"description", "files of presets"}}},
      {"object", named(object(kinds))},
      {"preset", named(table({{"behaviour", stack(kinds)}}))},
      {"crowd", named(crowd(kinds))},
      {"rule", {{"type", "array"}, {"items", rule()}}},
      {"expect",
       {{"type", "array"},
        {"items", table({{"name", {{"type", "string"}}},
                         {"measure", {{"type", "string"}, {"description", "a measure, such as closest(ferry, tug)"}}},
                         {"above", {{"type", "number"}}},
                         {"below", {{"type", "number"}}},
                         {"never", {{"type", "boolean"}, {"description", "the measure must not exist"}}},
                         {"seconds", number(unit::seconds)}})}}},
      {"view",
       table({{"watch", {{"type", "array"}, {"items", {{"type", "string"}}}}},
              {"keys", {{"type", "string"}, {"description", "a file of recorded input"}}},
              {"sky", colour()},
              {"water", {{"type", "number"}, {"description", "level of the water, which is drawn if given (m)"}}},
              {"area", schema_of(form_of(static_cast<const Box*>(nullptr), unit::metres))}})}};
  schema["required"] = {"hushed"};
  schema["additionalProperties"] = false;
  schema["$defs"] = std::move(definitions);
  return schema.dump(2) + "\n";
}

}  // namespace hushed
