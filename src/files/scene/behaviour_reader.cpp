// SPDX-License-Identifier: MIT
#include "scene/behaviour_reader.hpp"

#include <map>

namespace hushed::detail {

namespace {

const Kind* read_kind(const Value& value, const std::string& object, const Kinds& kinds, Diagnostics& diagnostics) {
  Diagnostics ignored;
  TableReader table{value, object, ignored};
  std::string name;
  const Value::Entry* entry = table.find("kind");
  if (!entry) {
    diagnostics.push_back({value.place, object + ": \"kind\" is missing; give one, such as kind = \"spin\"."});
    return nullptr;
  }
  if (!table.read_text("kind", name)) {
    diagnostics.insert(diagnostics.end(), ignored.begin(), ignored.end());
    return nullptr;
  }
  const Kind* kind = kinds.find(name);
  if (!kind) {
    std::vector<std::string_view> names;
    for (const auto& each : kinds.all()) names.push_back(each->name());
    diagnostics.push_back({entry->value.place, object + ": unknown kind " + in_quotes(name) + suggestion(name, names)});
  }
  return kind;
}

}  // namespace

std::optional<BehaviourDraft> read_behaviour(const Value& value, const std::string& object, const Kinds& kinds,
                                             Diagnostics& diagnostics) {
  const Kind* kind = read_kind(value, object, kinds, diagnostics);
  if (!kind) return std::nullopt;

  Common common;
  std::string label{kind->name()};
  if (const auto* table = value.as<Value::Table>())
    for (const Value::Entry& entry : *table)
      if (entry.key == "name" && entry.value.as<std::string>()) label = *entry.value.as<std::string>();

  TableReader table{value, object + "." + label, diagnostics};
  const std::size_t before = diagnostics.size();
  table.find("kind");
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
                                            const Kinds& kinds, Diagnostics& diagnostics) {
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
