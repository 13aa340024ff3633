// SPDX-License-Identifier: MIT
#include <hushed/detail/table_reader.hpp>

#include <algorithm>
#include <array>

namespace hushed::detail {

namespace {

const Value::Table no_table;

/// Renamed keys: an older file gets an error that names the new key.
struct RenamedKey {
  std::string_view before, now;
};
constexpr std::array<RenamedKey, 4> renamed_keys{
    {{"near", "min_distance"}, {"far", "max_distance"}, {"silence", "ignore"}, {"but_not", "except"}}};

/// `; it is called "max_distance" now` for a key that was renamed to one of `known`, otherwise a suggestion.
std::string hint_for(std::string_view key, const std::vector<std::string_view>& known) {
  for (const RenamedKey& renamed : renamed_keys)
    if (renamed.before == key && std::find(known.begin(), known.end(), renamed.now) != known.end())
      return "; it is now called " + in_quotes(renamed.now) + ".";
  return suggestion(key, known);
}

}  // namespace

TableReader::TableReader(const Value& table, std::string whose, Diagnostics& diagnostics)
    : table_{table.as<Value::Table>()}, place_{table.place}, whose_{std::move(whose)}, diagnostics_{diagnostics} {
  if (table_) return;
  table_ = &no_table;
  report(place_, "found " + std::string{table.describe_kind()} + "; give a table.");
}

const Value::Entry* TableReader::find(std::string_view key) {
  if (std::find(known_.begin(), known_.end(), key) == known_.end()) known_.push_back(key);
  const auto found =
      std::find_if(table_->begin(), table_->end(), [key](const Value::Entry& entry) { return entry.key == key; });
  return found == table_->end() ? nullptr : &*found;
}

bool TableReader::read_text(std::string_view key, std::string& to) {
  const Value::Entry* entry = find(key);
  if (!entry) return false;
  const auto* text = entry->value.as<std::string>();
  if (!text)
    return accept(key, Diagnostic{entry->value.place,
                                  "found " + std::string{entry->value.describe_kind()} + "; give a name in quotes."});
  to = *text;
  return true;
}

bool TableReader::read_names(std::string_view key, std::vector<Value>& to) {
  const Value::Entry* entry = find(key);
  if (!entry) return false;
  const auto* list = entry->value.as<Value::List>();
  const bool all_text = list && std::all_of(list->begin(), list->end(),
                                            [](const Value& item) { return item.as<std::string>() != nullptr; });
  if (!all_text)
    return accept(key, Diagnostic{entry->value.place, "expected a list of strings, such as [\"one\", \"two\"]."});
  to = *list;
  return true;
}

bool TableReader::read_size(std::string_view key, const Unit& unit, Vec3& to) {
  const Value::Entry* entry = find(key);
  if (!entry) return false;
  if (!entry->value.number()) return accept(key, hushed::detail::read(entry->value, unit, to));
  double all = 1.0;
  const bool taken = accept(key, hushed::detail::read(entry->value, unit, all));
  if (taken) to = Vec3::Constant(all);
  return taken;
}

void TableReader::report(TextPlace place, const std::string& text) {
  diagnostics_.push_back({place, whose_.empty() ? text : whose_ + ": " + text});
}

bool TableReader::accept(std::string_view key, std::optional<Diagnostic> diagnostic) {
  if (diagnostic) report(diagnostic->place, std::string{key} + ": " + diagnostic->text);
  return !diagnostic;
}

void TableReader::refuse_the_rest() {
  for (const Value::Entry& entry : *table_)
    if (std::find(known_.begin(), known_.end(), entry.key) == known_.end())
      report(entry.place, "unknown key " + in_quotes(entry.key) + hint_for(entry.key, known_));
}

}  // namespace hushed::detail
