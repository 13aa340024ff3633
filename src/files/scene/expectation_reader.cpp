// SPDX-License-Identifier: MIT
#include "scene/expectation_reader.hpp"

namespace hushed::detail {

std::vector<Expectation> read_expectations(const Value& value, Diagnostics& diagnostics) {
  std::vector<Expectation> expectations;
  const auto* list = value.as<Value::List>();
  if (!list) {
    diagnostics.push_back({value.place, "expect: write each as a table in double brackets: [[expect]]."});
    return expectations;
  }
  for (const Value& item : *list) {
    Expectation expected;
    TableReader table{item, "expect", diagnostics};
    expected.place = item.place;
    table.read_text("name", expected.name);
    if (const auto* entry = table.find("measure"); entry && table.read_text("measure", expected.measure))
      expected.place = entry->value.place;
    else if (!entry)
      table.report(item.place, "\"measure\" is missing; give one, such as measure = \"closest(ferry, tug)\".");
    double limit = 0.0;
    if (table.has("above") && table.read("above", unit::none, limit)) expected.above = limit;
    if (table.has("below") && table.read("below", unit::none, limit)) expected.below = limit;
    bool is_never = false;
    table.read("never", unit::none, is_never);
    expected.exists = !is_never;
    Time over{};
    if (table.has("seconds") && table.read("seconds", unit::seconds, over)) expected.over = over;
    if (!table.has("above") && !table.has("below") && !is_never)
      table.report(item.place, "no limit; give above, below or never = true.");
    if (is_never && (table.has("above") || table.has("below")))
      table.report(item.place, "never excludes above and below; give only one of them.");
    table.refuse_the_rest();
    expectations.push_back(std::move(expected));
  }
  return expectations;
}

}  // namespace hushed::detail
