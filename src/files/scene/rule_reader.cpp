#include "scene/rule_reader.hpp"

#include <map>

namespace hushed::inside {

namespace {

/// A list of conditions or actions, or one of them alone.
template <class T>
void read_some(TableReader& table, std::string_view key, std::vector<T>& to) {
  const Value::Entry* entry = table.find(key);
  if (!entry) return;
  const auto* list = entry->value.as<Value::List>();
  const auto take = [&](const Value& value) { table.accept(key, read(value, unit::none, to.emplace_back())); };
  if (!list)
    take(entry->value);
  else
    for (const Value& value : *list) take(value);
}

template <class T>
void check_some(std::vector<T>& some, const RuleDraft& rule, const SceneNames& names, Complaints& complaints) {
  for (T& each : some) {
    auto complaint = resolve(each, names);
    if (!complaint) continue;
    if (complaint->place.line == 0) complaint->place = rule.place;
    complaint->text.insert(0, ": ").insert(0, rule.rule.name).insert(0, "rule ");
    complaints.push_back(std::move(*complaint));
  }
}

}  // namespace

std::vector<RuleDraft> read_rules(const Value& value, std::vector<Silence>& silences, Complaints& complaints) {
  std::vector<RuleDraft> rules;
  const auto* list = value.as<Value::List>();
  if (!list) {
    Complaint& complaint = complaints.emplace_back();
    complaint.place = value.place;
    complaint.text = "rule: a rule is a table in double brackets: [[rule]].";
    return rules;
  }
  std::map<std::string, TextPlace> names;
  for (const Value& item : *list) {
    const std::size_t before = complaints.size();
    Rule rule;
    Complaints ignored;
    TableReader named{item, "", ignored};
    named.read_text("name", rule.name);
    TableReader table{item, rule.name.empty() ? "a rule" : "rule " + rule.name, complaints};
    if (const auto* name = table.find("name"); name && table.read_text("name", rule.name)) {
      check_name(table, name->value.place, rule.name, "a rule");
      const auto [found, is_new] = names.emplace(rule.name, item.place);
      if (!is_new)
        table.complain(name->value.place, "there is a rule of that name in line " + std::to_string(found->second.line) +
                                              " already; give this one another.");
    } else if (!name) {
      table.complain(item.place, "it has no name; give it one, such as name = \"open-the-bridge\".");
    }
    read_some(table, "when", rule.when);
    read_some(table, "any", rule.any);
    read_some(table, "unless", rule.unless);
    read_some(table, "do", rule.then);
    table.read("fires", unit::none, rule.fires);
    table.read("for", unit::seconds, rule.held_for);
    if (const auto* silence = table.find("silence")) read_silence(silence->value, rule.name, silences, complaints);
    if (!table.has("when") && !table.has("any"))
      table.complain(item.place, "it has no condition; give when = [{ pressed = \"H\" }], or any = [...].");
    if (!table.has("do")) table.complain(item.place, "it does nothing; give do = [{ start = \"bridge.lift\" }].");
    table.refuse_the_rest();
    rules.push_back({item.place, std::move(rule), complaints.size() == before});
  }
  return rules;
}

void check_rule(RuleDraft& rule, const SceneNames& names, Complaints& complaints) {
  const std::size_t before = complaints.size();
  check_some(rule.rule.when, rule, names, complaints);
  check_some(rule.rule.any, rule, names, complaints);
  check_some(rule.rule.unless, rule, names, complaints);
  check_some(rule.rule.then, rule, names, complaints);
  rule.is_sound = complaints.size() == before;
}

}  // namespace hushed::inside
