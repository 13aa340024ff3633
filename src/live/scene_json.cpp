// SPDX-License-Identifier: MIT
#include "scene_json.hpp"
#include "script_text.hpp"

#include <array>
#include <cmath>
#include <map>

#include <hushed/behaviour/drive.hpp>
#include <hushed/common.hpp>
#include <hushed/detail/kind.hpp>
#include <hushed/detail/scene_access.hpp>
#include <hushed/easing.hpp>
#include <hushed/edit.hpp>
#include <hushed/model.hpp>

namespace hushed::detail {

namespace {

/// JSON has no infinity: it becomes null.
Json number(double value) { return std::isfinite(value) ? Json(value) : Json(as_text(value)); }

Json in_json(const Value& value) {
  if (const auto* yes = value.as<bool>()) return *yes;
  if (const auto real = value.number()) return number(*real);
  if (const auto* text = value.as<std::string>()) return *text;
  if (const auto* list = value.as<Value::List>()) {
    Json items = Json::array();
    for (const Value& item : *list) items.push_back(in_json(item));
    return items;
  }
  Json table = Json::object();
  if (const auto* entries = value.as<Value::Table>())
    for (const Value::Entry& entry : *entries) table[entry.key] = in_json(entry.value);
  return table;
}

Json in_json(const Form& form) {
  constexpr std::array names{"boolean", "number", "whole", "word", "text", "list", "table", "any_of"};
  Json made{{"kind", names[static_cast<std::size_t>(form.kind)]}, {"words", form.description}};
  if (form.kind == Form::Kind::number || form.kind == Form::Kind::whole) {
    made["unit"] = form.unit.symbol;
    made["low"] = form.unit.low;
    made["high"] = form.unit.high;
  }
  if (!form.names.empty()) made["names"] = form.names;
  if (form.kind == Form::Kind::list) made["most"] = form.most;
  if (!form.parts.empty() && form.kind != Form::Kind::table) {
    Json parts = Json::array();
    for (const Form& part : form.parts) parts.push_back(in_json(part));
    made["parts"] = parts;
  }
  return made;
}

Json field_in_json(const FieldInfo& field, const std::optional<Value>& value);

/// The entries of a list of tables, each with its fields.
Json entries_in_json(const EntryKinds& kinds, const Value::List& list) {
  Json entries = Json::array();
  for (const Value& each : list) {
    const auto value_of = [&](std::string_view key) -> const Value* {
      if (const auto* table = each.as<Value::Table>())
        for (const Value::Entry& entry : *table)
          if (entry.key == key) return &entry.value;
      return nullptr;
    };
    const Value* const name = value_of(kinds.key);
    const auto* word = name ? name->as<std::string>() : nullptr;
    const EntryKinds::Kind* const kind = word ? kinds.find(*word) : nullptr;
    if (!kind) continue;
    Json fields = Json::array();
    for (const FieldInfo& field : kind->fields) {
      const Value* const given = value_of(field.name);
      fields.push_back(field_in_json(field, given ? std::optional{*given} : field.fallback));
    }
    entries.push_back({{"name", kind->name}, {"help", kind->summary}, {"fields", fields}});
  }
  return {{"key", kinds.key}, {"list", entries}};
}

Json field_in_json(const FieldInfo& field, const std::optional<Value>& value) {
  Json made{{"name", field.name},
            {"help", field.help},
            {"unit", field.unit.symbol},
            {"form", in_json(field.form)},
            {"required", field.required}};
  if (field.slider) made["slider"] = {field.slider->low, field.slider->high};
  if (field.fallback) made["default"] = as_text(*field.fallback);
  if (value) {
    made["value"] = in_json(*value);
    made["text"] = as_text(*value);
  }
  const auto* const list = value ? value->as<Value::List>() : nullptr;
  if (field.entries && list) made["entries"] = entries_in_json(field.entries(), *list);
  if (field.name == "easing") made["easing"] = true;
  return made;
}

Json field_in_json(const FieldInfo& field, const std::string& path, const Scene& scene) {
  Json made = field_in_json(field, scene.get(path));
  if (scene.is_own(path)) made["own"] = true;
  return made;
}

Json easings_in_json() {
  constexpr int points = 24;
  Json easings = Json::array();
  for (const std::string_view name : Easing::names()) {
    const Easing easing = Easing::parse(name);
    Json curve = Json::array();
    for (int i = 0; i <= points; ++i)
      curve.push_back(std::round(easing(static_cast<double>(i) / points) * 1e4) / 1e4);  // enough for a small curve
    easings.push_back({{"name", name}, {"curve", curve}});
  }
  return easings;
}

Json columns_in_json(const Watch& watch) {
  Json columns = Json::array();
  for (const std::string& name : watch.columns()) columns.push_back({{"name", name}, {"unit", watch.unit()}});
  return columns;
}

/// The keys that the scene uses, each with the behaviours and rules that use it.
Json keys_in_json(const Scene& scene) {
  Json keys = Json::array();
  const auto add = [&](const std::string& key, const std::string& what) {
    keys.push_back({{"key", key}, {"what", what}});
  };
  for (const Object object : objects_in_order(scene))
    for (const AnyBehaviour behaviour : scene.behaviours(object))
      if (const Drive* const drive = scene.values_if<Drive>(behaviour)) {
        const DriveKeys& all = drive->keys;
        const std::pair<const char*, const DriveKeys::Names&> ways[]{{"forward", all.forward}, {"back", all.back},
                                                                     {"left", all.left},       {"right", all.right},
                                                                     {"rise", all.rise},       {"sink", all.sink}};
        for (const auto& [way, names] : ways)
          for (const std::string& name : names) add(name, scene.name(object) + ' ' + way);
      }
  for (const std::string& name : scene.rules()) {
    const Rule& rule = scene.rule(name);
    for (const auto* conditions : {&rule.when, &rule.any, &rule.unless})
      for (const Condition& condition : *conditions)
        if (const auto* key = condition.as<KeyCondition>()) add(key->key, name);
  }
  return keys;
}

/// The axes that behaviours read.
Json axes_in_json(const Scene& scene) {
  for (const Object object : objects_in_order(scene))
    for (const AnyBehaviour behaviour : scene.behaviours(object))
      if (scene.values_if<Drive>(behaviour)) return {"forward", "left", "rise"};
  return Json::array();
}

}  // namespace

Json watches_in_json(const std::vector<Watch>& watches) {
  Json list = Json::array();
  for (const Watch& watch : watches) list.push_back({{"text", watch.text()}, {"columns", columns_in_json(watch)}});
  return list;
}

std::string name_of_model(const Model& model) {
  char digits[17];
  std::snprintf(digits, sizeof digits, "%016llx", static_cast<unsigned long long>(model.digest));
  return digits;
}

Json scene_in_json(const PlayMode& mode, const Scene& scene) {
  constexpr std::array shapes{"box", "sphere", "cylinder", "cone"};
  Json objects = Json::array();
  for (const std::string& name : mode.past().objects) {
    Json made{{"name", name}};
    if (const auto object = scene.find(name)) {
      if (const auto parent = scene.parent(*object)) made["parent"] = scene.name(*parent);
      if (const auto& shape = scene.shape(*object)) {
        made["shape"] = {{"kind", shapes[static_cast<std::size_t>(shape->kind)]},
                         {"size", {shape->size.x(), shape->size.y(), shape->size.z()}}};
        if (!shape->centre.isZero())
          made["shape"]["centre"] = {shape->centre.x(), shape->centre.y(), shape->centre.z()};
        if (shape->model) made["shape"]["model"] = name_of_model(*shape->model);
        if (shape->colour) made["shape"]["colour"] = css_of(*shape->colour);
        if (shape->glow) made["shape"]["glow"] = true;
      }
      made["tags"] = scene.tags(*object);
      if (const Inherit inherit = SceneAccess::inherit(scene, *object); inherit != Inherit{}) {
        made["inherit"] = Json::array();
        if (inherit.position) made["inherit"].push_back("position");
        if (inherit.rotation) made["inherit"].push_back("rotation");
        if (inherit.scale) made["inherit"].push_back("scale");
      }
      made["moves"] = !scene.behaviours(*object).empty();
    }
    objects.push_back(made);
  }
  return {{"kind", "scene"},
          {"tick_rate", scene.tick_rate()},
          {"objects", objects},
          {"keys", keys_in_json(scene)},
          {"axes", axes_in_json(scene)},
          {"watches", watches_in_json(mode.watches())},
          {"easings", easings_in_json()}};
}

Json object_in_json(const Scene& scene, Object object) {
  Json behaviours = Json::array();
  for (const AnyBehaviour behaviour : scene.behaviours(object)) {
    const std::string path = scene.path(behaviour);
    Json fields = Json::array(), common = Json::array();
    for (const FieldInfo& field : scene.fields(behaviour))
      fields.push_back(field_in_json(field, path + '.' + std::string{field.name}, scene));
    for (const FieldInfo& field : common_fields())
      common.push_back(field_in_json(field, path + '.' + std::string{field.name}, scene));
    Json dependencies = Json::array();
    for (const Object other : scene.dependencies(behaviour)) dependencies.push_back(scene.name(other));
    const auto script = script_of(scene, behaviour);
    behaviours.push_back({{"path", path},
                          {"script", script ? Json(script->filename().string()) : Json()},
                          {"kind", scene.kind(behaviour)},
                          {"preset", scene.preset_path(behaviour)},
                          {"running", scene.running(behaviour)},
                          {"dependencies", dependencies},
                          {"fields", fields},
                          {"common", common}});
  }
  const Pose rest = scene.rest(object);
  const Vec3& at = rest.position;
  const Quat& turned = rest.rotation;
  return {{"kind", "object"},
          {"name", scene.name(object)},
          {"rest",
           {{"position", {at.x(), at.y(), at.z()}},
            {"rotation", {turned.x(), turned.y(), turned.z(), turned.w()}},
            {"scale", {rest.scale.x(), rest.scale.y(), rest.scale.z()}}}},
          {"behaviours", behaviours}};
}

Json urges_in_json(PlayMode& mode, const Scene& scene, const std::string& name) {
  Json urges = Json::array();
  if (const auto object = scene.find(name))
    for (const AnyBehaviour behaviour : scene.behaviours(*object))
      for (const UrgeShare& each : mode.urges(behaviour))
        urges.push_back({{"urge", each.urge},
                         {"velocity", {each.velocity.x(), each.velocity.y(), each.velocity.z()}},
                         {"share", each.share}});
  return {{"kind", "urges"}, {"name", name}, {"urges", urges}};
}

Json marks_in_json(const Recording& past, std::size_t from) {
  Json list = Json::array();
  for (std::size_t i = from; i < past.happenings.size(); ++i) {
    const Recording::Happening& each = past.happenings[i];
    list.push_back({{"time", in_seconds(each.time)}, {"name", each.name}, {"words", each.words}});
  }
  return list;
}

Json changes_in_json(const std::vector<PlayMode::Changed>& changes, const Scene& scene) {
  Json list = Json::array();
  for (const PlayMode::Changed& change : changes) {
    const auto behaviour = scene.find_behaviour(std::string_view{change.path}.substr(0, change.path.rfind('.')));
    list.push_back({{"path", change.path},
                    {"before", change.before ? Json(as_text(*change.before)) : Json()},
                    {"now", change.now ? Json(as_text(*change.now)) : Json()},
                    {"preset", behaviour ? scene.preset_path(*behaviour) : ""}});
  }
  return list;
}

namespace {

/// The conditions and actions of a rule as they are written: those of `when`, `any`, `unless` and `do`.
std::map<std::string, Json> rules_as_written(const SceneSource& source) {
  std::map<std::string, Json> rules;
  const Value document = document_of(source);
  for (const Value::Entry& part : *document.as<Value::Table>()) {
    if (part.key != "rule" || !part.value.as<Value::List>()) continue;
    for (const Value& rule : *part.value.as<Value::List>()) {
      Json written{{"when", Json::array()}, {"any", Json::array()}, {"unless", Json::array()}, {"do", Json::array()}};
      std::string name;
      for (const Value::Entry& entry : *rule.as<Value::Table>()) {
        if (entry.key == "name") name = *entry.value.as<std::string>();
        if (!written.contains(entry.key)) continue;
        if (const auto* list = entry.value.as<Value::List>())
          for (const Value& each : *list) written[entry.key].push_back(as_text(each));
        else
          written[entry.key].push_back(as_text(entry.value));
      }
      rules[name] = written;
    }
  }
  return rules;
}

}  // namespace

Json rules_in_json(PlayMode& mode, const Scene& scene, const SceneSource* source) {
  Json rules = Json::array();
  std::map<std::string, Json> written;
  if (source) written = rules_as_written(*source);
  for (const std::string& name : scene.rules()) {
    const Rule& rule = scene.rule(name);
    const auto report = mode.report(name);
    rules.push_back({{"name", name},
                     {"enabled", rule.enabled},
                     {"written", written.contains(name) ? written.at(name) : Json::object()},
                     {"known", report.has_value()},
                     {"fired", report ? report->fired : 0},
                     {"conditions", report ? Json(report->conditions) : Json::array()},
                     {"holds", report && report->holding_since.has_value()}});
  }
  return {{"kind", "rules"}, {"rules", rules}};
}

Json plan_in_json(const KeepPlan& plan) {
  Json lines = Json::array(), refusals = Json::array();
  for (const KeepPlan::Line& line : plan.lines)
    lines.push_back({{"path", line.path},
                     {"file", line.file.filename().string()},
                     {"line", line.number},
                     {"before", line.before},
                     {"after", line.after},
                     {"note", line.note}});
  for (const KeepPlan::Refusal& refusal : plan.refusals)
    refusals.push_back({{"path", refusal.path}, {"why", refusal.why}});
  return {{"kind", "plan"}, {"lines", lines}, {"refusals", refusals}};
}

Json diagnostics_in_json(const LoadError& error) {
  Json list = Json::array();
  for (const Diagnostic& diagnostic : error.diagnostics()) {
    const auto file = static_cast<std::size_t>(diagnostic.place.file);
    list.push_back({{"file", file < error.files().size() ? error.files()[file] : error.file()},
                    {"line", diagnostic.place.line},
                    {"column", diagnostic.place.column},
                    {"text", diagnostic.text}});
  }
  return list;
}

}  // namespace hushed::detail
