#include "scene/behaviour_reader.hpp"

#include <map>

#include <hushed/kinds.hpp>

namespace hushed::inside {

namespace {

const Kind* read_kind(const Value& value, const std::string& object, Complaints& complaints) {
  Complaints ignored;
  TableReader table{value, object, ignored};
  std::string name;
  const Value::Entry* entry = table.find("kind");
  if (!entry) {
    complaints.push_back({value.place, object + ": this behaviour has no kind; give one, such as kind = \"spin\"."});
    return nullptr;
  }
  if (!table.read_text("kind", name)) {
    complaints.insert(complaints.end(), ignored.begin(), ignored.end());
    return nullptr;
  }
  const Kind* kind = find_kind(name);
  if (!kind) {
    std::vector<std::string_view> names;
    for (const Kind* each : kinds()) names.push_back(each->name());
    complaints.push_back(
        {entry->value.place, object + ": there is no behaviour of kind " + in_quotes(name) + suggestion(name, names)});
  }
  return kind;
}

}  // namespace

std::optional<BehaviourDraft> read_behaviour(const Value& value, const std::string& object, Complaints& complaints) {
  const Kind* kind = read_kind(value, object, complaints);
  if (!kind) return std::nullopt;

  Common common;
  std::string label{kind->name()};
  if (const auto* table = value.as<Value::Table>())
    for (const Value::Entry& entry : *table)
      if (entry.key == "name" && entry.value.as<std::string>()) label = *entry.value.as<std::string>();

  TableReader table{value, object + "." + label, complaints};
  const std::size_t before = complaints.size();
  table.find("kind");
  if (const auto* entry = table.find("name"); entry && table.read_text("name", common.name))
    check_name(table, entry->value.place, common.name, "a behaviour");

  const std::shared_ptr<void> values = kind->make(nullptr);
  for (const FieldInfo& field : kind->fields()) {
    const Value::Entry* entry = table.find(field.name);
    if (entry)
      table.accept(field.name, field.set(values.get(), entry->value));
    else if (field.required)
      table.complain(value.place, in_quotes(field.name) + " is missing; give " + field.form.in_words +
                                      (field.unit.symbol.empty() ? "." : " (" + std::string{field.unit.symbol} + ")."));
  }
  for (const FieldInfo& field : fields_of<Common>())
    if (const auto* entry = table.find(field.name)) table.accept(field.name, field.set(&common, entry->value));
  for (const Either& either : kind->alternatives())
    for (const std::string_view other : either.others)
      if (table.has(either.key) && !other.empty() && table.has(other))
        table.complain(table.find(other)->place, std::string{other} + " cannot stand beside " +
                                                     std::string{either.key} + ", which says the same; keep one.");
  for (const OneOf& one_of : kind->exactly_one())
    if (const auto complaint = one_of.check([&](std::string_view key) { return table.has(key); }))
      table.complain(value.place, complaint->text);
  table.refuse_the_rest();
  return BehaviourDraft{kind, values, common, &value, object + "." + label, complaints.size() == before};
}

std::vector<BehaviourDraft> read_behaviours(const Value& value, const std::string& whose, const std::string& table,
                                            Complaints& complaints) {
  std::vector<BehaviourDraft> behaviours;
  const auto* list = value.as<Value::List>();
  if (!list)
    complaints.push_back(
        {value.place, whose + ": a behaviour is a table in double brackets: [[" + table + ".behaviour]]."});
  else
    for (const Value& item : *list)
      if (auto behaviour = read_behaviour(item, whose, complaints)) behaviours.push_back(std::move(*behaviour));
  return behaviours;
}

void check_names(const std::vector<BehaviourDraft>& behaviours, const std::string& whose, Complaints& complaints) {
  std::map<std::string_view, TextPlace> names;
  for (const BehaviourDraft& behaviour : behaviours) {
    const auto [found, is_new] = names.emplace(behaviour.name(), behaviour.source->place);
    if (!is_new)
      complaints.push_back({behaviour.source->place, whose + ": there is a behaviour called " +
                                                         in_quotes(behaviour.name()) + " in line " +
                                                         std::to_string(found->second.line) +
                                                         " already; give this one a name = \"...\" of its own."});
  }
}

}  // namespace hushed::inside
