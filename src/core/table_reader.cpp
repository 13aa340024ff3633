#include <hushed/inside/table_reader.hpp>

#include <algorithm>

namespace hushed::inside {

namespace {

const Value::Table no_table;

}  // namespace

TableReader::TableReader(const Value& table, std::string whose, Complaints& complaints)
    : table_{table.as<Value::Table>()}, place_{table.place}, whose_{std::move(whose)}, complaints_{complaints} {
  if (table_) return;
  table_ = &no_table;
  complain(place_, "this is " + std::string{table.kind_in_words()} + "; give a table.");
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
    return accept(key, Complaint{entry->value.place,
                                 "this is " + std::string{entry->value.kind_in_words()} + "; give a name in quotes."});
  to = *text;
  return true;
}

bool TableReader::read_names(std::string_view key, std::vector<Value>& to) {
  const Value::Entry* entry = find(key);
  if (!entry) return false;
  const auto* list = entry->value.as<Value::List>();
  const bool all_text = list && std::all_of(list->begin(), list->end(),
                                            [](const Value& item) { return item.as<std::string>() != nullptr; });
  if (!all_text) return accept(key, Complaint{entry->value.place, "give a list of words, such as [\"one\", \"two\"]."});
  to = *list;
  return true;
}

bool TableReader::read_size(std::string_view key, const Unit& unit, Vec3& to) {
  const Value::Entry* entry = find(key);
  if (!entry) return false;
  if (!entry->value.number()) return accept(key, hushed::inside::read(entry->value, unit, to));
  double all = 1.0;
  const bool taken = accept(key, hushed::inside::read(entry->value, unit, all));
  if (taken) to = Vec3::Constant(all);
  return taken;
}

void TableReader::complain(TextPlace place, const std::string& text) {
  complaints_.push_back({place, whose_.empty() ? text : whose_ + ": " + text});
}

bool TableReader::accept(std::string_view key, std::optional<Complaint> complaint) {
  if (complaint) complain(complaint->place, std::string{key} + ": " + complaint->text);
  return !complaint;
}

void TableReader::refuse_the_rest() {
  for (const Value::Entry& entry : *table_)
    if (std::find(known_.begin(), known_.end(), entry.key) == known_.end())
      complain(entry.place, "there is no " + in_quotes(entry.key) + " here" + suggestion(entry.key, known_));
}

}  // namespace hushed::inside
