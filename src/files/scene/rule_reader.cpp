// SPDX-License-Identifier: MIT
#include "scene/rule_reader.hpp"

#include <map>

namespace hushed::detail {

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
void check_some(std::vector<T>& some, const RuleDraft& rule, const SceneNames& names, Diagnostics& diagnostics) {
  for (T& each : some) {
    auto diagnostic = resolve(each, names);
    if (!diagnostic) continue;
    if (diagnostic->place.line == 0) diagnostic->place = rule.place;
    diagnostic->text.insert(0, ": ").insert(0, rule.rule.name).insert(0, "rule ");
    diagnostics.push_back(std::move(*diagnostic));
  }
}

}  // namespace

std::vector<RuleDraft> read_rules(const Value& value, std::vector<IgnoredFinding>& ignored, Diagnostics& diagnostics) {
  std::vector<RuleDraft> rules;
  const auto* list = value.as<Value::List>();
  if (!list) {
    Diagnostic& diagnostic = diagnostics.emplace_back();
    diagnostic.place = value.place;
    diagnostic.text = "rule: write each rule as a table in double brackets: [[rule]].";
    return rules;
  }
  std::map<std::string, TextPlace> names;
  for (const Value& item : *list) {
    const std::size_t before = diagnostics.size();
    Rule rule;
    Diagnostics dropped;
    TableReader named{item, "", dropped};
    named.read_text("name", rule.name);
    TableReader table{item, rule.name.empty() ? "a rule" : "rule " + rule.name, diagnostics};
    if (const auto* name = table.find("name"); name && table.read_text("name", rule.name)) {
      check_name(table, name->value.place, rule.name, "a rule");
      const auto [found, is_new] = names.emplace(rule.name, item.place);
      if (!is_new)
        table.report(name->value.place, "the rule in line " + std::to_string(found->second.line) +
                                            " has the same name; give this one another name.");
    } else if (!name) {
      table.report(item.place, "\"name\" is missing; give one, such as name = \"open-the-bridge\".");
    }
    read_some(table, "when", rule.when);
    read_some(table, "any", rule.any);
    read_some(table, "unless", rule.unless);
    read_some(table, "do", rule.then);
    table.read("fires", unit::none, rule.fires);
    table.read("for", unit::seconds, rule.held_for);
    table.read("enabled", unit::none, rule.enabled);
    if (const auto* ignore = table.find("ignore")) read_ignored(ignore->value, rule.name, ignored, diagnostics);
    if (!table.has("when") && !table.has("any"))
      table.report(item.place, "no condition; give when = [{ pressed = \"H\" }], or any = [...].");
    if (!table.has("do")) table.report(item.place, "no action; give do = [{ start = \"bridge.lift\" }].");
    table.refuse_the_rest();
    rules.push_back({item.place, std::move(rule), diagnostics.size() == before});
  }
  return rules;
}

void check_rule(RuleDraft& rule, const SceneNames& names, Diagnostics& diagnostics) {
  const std::size_t before = diagnostics.size();
  check_some(rule.rule.when, rule, names, diagnostics);
  check_some(rule.rule.any, rule, names, diagnostics);
  check_some(rule.rule.unless, rule, names, diagnostics);
  check_some(rule.rule.then, rule, names, diagnostics);
  rule.is_sound = diagnostics.size() == before;
}

}  // namespace hushed::detail
