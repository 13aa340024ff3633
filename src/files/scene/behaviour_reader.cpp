// SPDX-License-Identifier: MIT
#include "scene/behaviour_reader.hpp"

#include <algorithm>
#include <filesystem>
#include <map>

#include "read_whole.hpp"

namespace hushed::detail {

const Kind* KindReader::read(const Value& value, const std::string& object, Diagnostics& diagnostics) {
  Diagnostics ignored;
  TableReader table{value, object, ignored};
  std::string name;
  const Value::Entry *entry = table.find("kind"), *script = table.find("script");
  if (script && entry) {
    diagnostics.push_back({script->place, object + ": script excludes kind; give only one of the two."});
    return nullptr;
  }
  if (script) return load(*script, object, diagnostics);
  if (!entry) {
    diagnostics.push_back({value.place, object + ": \"kind\" is missing; give one, such as kind = \"spin\"."});
    return nullptr;
  }
  if (!table.read_text("kind", name)) {
    diagnostics.insert(diagnostics.end(), ignored.begin(), ignored.end());
    return nullptr;
  }
  const Kind* kind = kinds_.find(name);
  if (!kind) {
    std::vector<std::string_view> names;
    for (const auto& each : kinds_.all()) names.push_back(each->name());
    diagnostics.push_back({entry->value.place, object + ": unknown kind " + in_quotes(name) + suggestion(name, names)});
  }
  return kind;
}

/// A script is read once, and its mistakes are reported once.
const Kind* KindReader::load(const Value::Entry& script, const std::string& object, Diagnostics& diagnostics) {
  const auto refuse = [&](const std::string& text) {
    diagnostics.push_back({script.value.place, object + ": script: " + text});
    return nullptr;
  };
  const auto* name = script.value.as<std::string>();
  if (!name) return refuse(expected(script.value, "the name of a file, such as \"circling.lua\"").text);
  if (!kinds_.has_loader()) return refuse("this program reads no scripts; give a kind.");
  const std::filesystem::path from{files_[static_cast<std::size_t>(script.value.place.file)]};
  const std::string path = (from.parent_path() / *name).lexically_normal().string();
  const auto known = scripts_.find(path);
  if (known != scripts_.end()) return known->second;
  scripts_[path] = nullptr;
  std::string text;
  try {
    text = read_whole(path, {"a script, such as circling.lua", std::uintmax_t{1} << 20}, kinds_);
  } catch (const LoadError& error) {
    return refuse(error.diagnostics().front().text);
  }
  Diagnostics mistakes;
  const auto kind = kinds_.load(path, text, limits_, mistakes);
  files_.push_back(path);
  for (Diagnostic& mistake : mistakes) {
    mistake.place.file = static_cast<int>(files_.size() - 1);
    diagnostics.push_back(std::move(mistake));
  }
  return scripts_[path] = kind.get();
}

std::optional<BehaviourDraft> read_behaviour(const Value& value, const std::string& object, KindReader& kinds,
                                             Diagnostics& diagnostics) {
  const Kind* kind = kinds.read(value, object, diagnostics);
  if (!kind) return std::nullopt;

  Common common;
  std::string label{kind->name()};
  if (const auto* table = value.as<Value::Table>())
    for (const Value::Entry& entry : *table)
      if (entry.key == "name" && entry.value.as<std::string>()) label = *entry.value.as<std::string>();

  TableReader table{value, object + "." + label, diagnostics};
  const std::size_t before = diagnostics.size();
  const auto* keys = value.as<Value::Table>();
  const bool is_script =
      keys && std::any_of(keys->begin(), keys->end(), [](const Value::Entry& entry) { return entry.key == "script"; });
  table.find(is_script ? "script" : "kind");
  if (const auto* entry = table.find("name"); entry && table.read_text("name", common.name))
    check_name(table, entry->value.place, common.name, "a behaviour");

  const std::shared_ptr<void> values = kind->make(nullptr);
  for (const FieldInfo& field : kind->fields()) {
    const Value::Entry* entry = table.find(field.name);
    if (entry)
      table.accept(field.name, field.set(values.get(), entry->value));
    else if (field.required)
      table.report(value.place, in_quotes(field.name) + " is missing; give " + field.form.description +
                                    (field.unit.symbol.empty() ? "." : " (" + std::string{field.unit.symbol} + ")."));
  }
  for (const FieldInfo& field : common_fields())
    if (const auto* entry = table.find(field.name)) table.accept(field.name, field.set(&common, entry->value));
  for (const Either& either : kind->alternatives())
    for (const std::string_view other : either.others)
      if (table.has(either.key) && !other.empty() && table.has(other))
        table.report(table.find(other)->place,
                     std::string{other} + " excludes " + std::string{either.key} + "; give only one of the two.");
  for (const OneOf& one_of : kind->exactly_one())
    if (const auto diagnostic = one_of.check([&](std::string_view key) { return table.has(key); }))
      table.report(value.place, diagnostic->text);
  table.refuse_the_rest();
  return BehaviourDraft{kind, values, common, &value, object + "." + label, diagnostics.size() == before};
}

std::vector<BehaviourDraft> read_behaviours(const Value& value, const std::string& whose, const std::string& table,
                                            KindReader& kinds, Diagnostics& diagnostics) {
  std::vector<BehaviourDraft> behaviours;
  const auto* list = value.as<Value::List>();
  if (!list)
    diagnostics.push_back(
        {value.place, whose + ": write each behaviour as a table in double brackets: [[" + table + ".behaviour]]."});
  else
    for (const Value& item : *list)
      if (auto behaviour = read_behaviour(item, whose, kinds, diagnostics)) behaviours.push_back(std::move(*behaviour));
  return behaviours;
}

void check_names(const std::vector<BehaviourDraft>& behaviours, const std::string& whose, Diagnostics& diagnostics) {
  std::map<std::string_view, TextPlace> names;
  for (const BehaviourDraft& behaviour : behaviours) {
    const auto [found, is_new] = names.emplace(behaviour.name(), behaviour.source->place);
    if (!is_new)
      diagnostics.push_back(
          {behaviour.source->place, whose + ": the behaviour " + in_quotes(behaviour.name()) + " in line " +
                                        std::to_string(found->second.line) +
                                        " has the same name; give this one another: name = \"...\"."});
  }
}

}  // namespace hushed::detail
