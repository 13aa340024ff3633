// SPDX-License-Identifier: MIT
#include "keep/toml_text.hpp"

#include <algorithm>

#include "keep/toml_statements.hpp"
#include "toml.hpp"

namespace hushed::detail {

namespace {

/// The list that stands at a place.
const Value* list_at(const Value& in, TextPlace place) {
  if (in.as<Value::List>() && in.place.line == place.line && in.place.column == place.column) return &in;
  if (const auto* entries = in.as<Value::Table>())
    for (const Value::Entry& entry : *entries)
      if (const Value* const found = list_at(entry.value, place)) return found;
  if (const auto* items = in.as<Value::List>())
    for (const Value& item : *items)
      if (const Value* const found = list_at(item, place)) return found;
  return nullptr;
}

}  // namespace

const Value::Entry* entry_of(const Value& table, std::string_view key) {
  const auto* entries = table.as<Value::Table>();
  if (!entries) return nullptr;
  const auto found =
      std::find_if(entries->begin(), entries->end(), [&](const auto& entry) { return entry.key == key; });
  return found == entries->end() ? nullptr : &*found;
}

bool say_the_same(const Value& a, const Value& b) {
  if (a.number() && b.number()) return as_text(a) == as_text(b);
  const auto *list = a.as<Value::List>(), *other_list = b.as<Value::List>();
  if (list && other_list)
    return std::equal(list->begin(), list->end(), other_list->begin(), other_list->end(), say_the_same);
  const auto *table = a.as<Value::Table>(), *other_table = b.as<Value::Table>();
  if (table && other_table)
    return table->size() == other_table->size() && std::all_of(table->begin(), table->end(), [&](const auto& entry) {
             const auto* other = entry_of(b, entry.key);
             return other && say_the_same(entry.value, other->value);
           });
  return a.describe_kind() == b.describe_kind() && as_text(a) == as_text(b);
}

TomlText::TomlText(std::string text) : text_{std::move(text)}, document_{parse_toml(text_)} {}

std::size_t TomlText::offset(TextPlace place) const {
  std::size_t at = text_.starts_with("\xEF\xBB\xBF") ? 3 : 0;
  for (int line = 1; line < place.line && at < text_.size(); ++line)
    at = std::min(text_.find('\n', at), text_.size()) + 1;
  for (int column = 1; column < place.column && at < text_.size(); ++column) {
    ++at;
    while (at < text_.size() && (static_cast<unsigned char>(text_[at]) & 0xC0) == 0x80) ++at;
  }
  return std::min(at, text_.size());
}

std::size_t TomlText::end_of_scalar(std::size_t at) const {
  if (text_[at] == '"' || text_[at] == '\'') return past_string(text_, at);
  std::size_t end = std::min(text_.find_first_of(",]}#\r\n", at), text_.size());
  while (end > at && is_space_or_tab(text_[end - 1])) --end;
  return end;
}

std::size_t TomlText::end_of(const Value& value) const {
  std::size_t at = offset(value.place);
  const auto* table = value.as<Value::Table>();
  if (table && text_[at] != '{') {
    for (const Value::Entry& entry : *table) at = std::max(at, end_of(entry.value));
    return at;
  }
  if (text_[at] != '[' && text_[at] != '{') return end_of_scalar(at);
  return past_brackets(text_, at);
}

bool TomlText::is_inline(const Value& table) const { return text_[offset(table.place)] == '{'; }

bool TomlText::is_direct(const Value::Entry& entry) const {
  std::size_t at = line_around(offset(entry.place)).first;
  while (at < text_.size() && is_space_or_tab(text_[at])) ++at;
  return at < text_.size() && text_[at] != '[';
}

std::pair<std::size_t, std::size_t> TomlText::line_around(std::size_t at) const {
  const std::size_t before = at == 0 ? std::string::npos : text_.rfind('\n', at - 1);
  return {before == std::string::npos ? 0 : before + 1, std::min(text_.find('\n', at), text_.size())};
}

void TomlText::splice(std::size_t at, std::size_t size, const std::string& with) {
  std::string next = text_;
  next.replace(at, size, with);
  document_ = parse_toml(next);
  text_ = std::move(next);
}

void TomlText::replace(const Value& old, const Value& value) {
  if (say_the_same(old, value)) return;
  const auto *list = old.as<Value::List>(), *new_list = value.as<Value::List>();
  const auto *table = old.as<Value::Table>(), *new_table = value.as<Value::Table>();
  const bool is_in_headers = list && text_.substr(offset(old.place)).starts_with("[[") && !list->empty() &&
                             text_[offset(list->front().place)] == '[' && list->front().as<Value::Table>();
  if (list && new_list && !list->empty() && !new_list->empty() && (!is_in_headers || list->size() == new_list->size()))
    return replace_items(old, *new_list);
  if (table && new_table && table->size() == new_table->size() && is_inline(old)) {
    const Value::Table entries = *table;
    const bool has_all = std::all_of(new_table->begin(), new_table->end(),
                                     [&](const Value::Entry& entry) { return entry_of(old, entry.key) != nullptr; });
    if (has_all) {
      for (std::size_t i = entries.size(); i-- > 0;) replace(entries[i].value, entry_of(value, entries[i].key)->value);
      return;
    }
  }
  const std::size_t at = offset(old.place);
  splice(at, end_of(old) - at, as_text(value));
}

void TomlText::replace_items(const Value& old, const Value::List& items) {
  const Value::List before = *old.as<Value::List>();
  const TextPlace place = old.place;
  const std::size_t shorter = std::min(before.size(), items.size());
  std::size_t first = 0, last = 0;  // those that stay, at the beginning and at the end
  while (first < shorter && say_the_same(before[first], items[first])) ++first;
  while (last < shorter - first && say_the_same(before[before.size() - 1 - last], items[items.size() - 1 - last]))
    ++last;
  const std::size_t replaced = shorter - first - last;
  // The last one first, so that the places of those before it stay true.
  for (std::size_t i = before.size() - last; i-- > first + replaced;) erase(*list_at(document_, place), i);
  for (std::size_t i = items.size() - last; i-- > first + replaced;)
    insert(*list_at(document_, place), first + replaced, items[i]);
  for (std::size_t i = first + replaced; i-- > first;) replace(before[i], items[i]);
}

/// True for an item on lines of its own.
bool TomlText::stands_alone(const Value& item) const {
  const std::size_t begin = offset(item.place);
  const std::size_t line = line_around(begin).first;
  if (text_.find_first_not_of(" \t", line) != begin) return false;
  std::size_t at = end_of(item);
  while (at < text_.size() && is_space_or_tab(text_[at])) ++at;
  if (at < text_.size() && text_[at] == ',') ++at;
  while (at < text_.size() && (is_space_or_tab(text_[at]) || text_[at] == '\r')) ++at;
  return at < text_.size() && (text_[at] == '\n' || text_[at] == '#');
}

void TomlText::insert(const Value& list, std::size_t index, const Value& item) {
  const auto& items = *list.as<Value::List>();
  const std::string made = as_text(item);
  if (items.empty()) return splice(offset(list.place) + 1, 0, made);
  const Value& beside = items[index == 0 ? 0 : index - 1];
  const std::size_t begin = offset(beside.place), end = end_of(beside);
  if (!stands_alone(beside)) return index == 0 ? splice(begin, 0, made + ", ") : splice(end, 0, ", " + made);
  const std::size_t line = line_around(begin).first;
  const std::string indentation = text_.substr(line, begin - line);
  if (index == 0) return splice(line, 0, indentation + made + ',' + newline());
  std::size_t comma = end;
  while (is_space_or_tab(text_[comma])) ++comma;
  const std::size_t below = line_around(end).second + 1;
  if (text_[comma] == ',') return splice(below, 0, indentation + made + ',' + newline());
  const std::string rest = text_.substr(end, below - end);
  splice(end, below - end, ',' + rest + indentation + made + newline());
}

void TomlText::erase(const Value& list, std::size_t index) {
  const Value& item = (*list.as<Value::List>())[index];
  std::size_t begin = offset(item.place), end = end_of(item);
  if (stands_alone(item)) {
    const std::size_t line = line_around(begin).first;
    return splice(line, std::min(line_around(end).second + 1, text_.size()) - line, "");
  }
  std::size_t after = end;
  while (is_space_or_tab(text_[after])) ++after;
  if (text_[after] == ',') {  // with the comma after it
    end = after + 1;
    while (is_space_or_tab(text_[end])) ++end;
  } else {  // or else the one before
    std::size_t before = begin;
    while (before > 0 && (is_space_or_tab(text_[before - 1]) || text_[before - 1] == '\n' || text_[before - 1] == '\r'))
      --before;
    if (before > 0 && text_[before - 1] == ',') begin = before - 1;
  }
  splice(begin, end - begin, "");
}

bool TomlText::add(const Value& table, const std::string& key, const Value& value) {
  const auto& entries = *table.as<Value::Table>();
  if (is_inline(table)) {
    const std::size_t open = offset(table.place);
    if (entries.empty()) {
      splice(open, end_of(table) - open, "{ " + key + " = " + as_text(value) + " }");
    } else {
      std::size_t at = open;
      for (const Value::Entry& entry : entries) at = std::max(at, end_of(entry.value));
      splice(at, 0, ", " + key + " = " + as_text(value));
    }
    return true;
  }

  const Value::Entry* last = nullptr;
  for (const Value::Entry& entry : entries)
    if (is_direct(entry) && (!last || offset(entry.place) > offset(last->place))) last = &entry;
  const std::size_t header = offset(table.place);
  if (!last) {
    const auto [line, end] = line_around(header);
    if (text_[header] != '[' && text_.find('[', line) > header) return false;
    splice(text_[end - 1] == '\r' ? end - 1 : end, 0, newline() + key + " = " + as_text(value));
    return true;
  }
  const std::size_t key_at = offset(last->place);
  const std::size_t line = line_around(key_at).first;
  if (text_.substr(line, key_at - line).find_first_not_of(" \t") != std::string::npos) return false;
  // In a column with the sign of the line above.
  const std::size_t sign = text_.find('=', key_at);
  const std::size_t width = sign - key_at;
  std::string made = text_.substr(line, key_at - line) + key;
  made += std::string(width > key.size() + 1 ? width - key.size() : 1, ' ') + "= " + as_text(value);
  std::size_t end = line_around(end_of(last->value)).second;
  if (end > 0 && end <= text_.size() && text_[end - 1] == '\r') --end;
  splice(end, 0, newline() + made);
  return true;
}

void TomlText::take_out(const Value& table, const Value::Entry& entry) {
  std::size_t from = offset(entry.place), to = end_of(entry.value);
  if (is_inline(table)) {
    // With the comma after it, or else the one before.
    std::size_t after = to;
    while (after < text_.size() && is_space_or_tab(text_[after])) ++after;
    if (text_[after] == ',') {
      to = after + 1;
      while (to < text_.size() && is_space_or_tab(text_[to])) ++to;
    } else {
      while (from > 0 && is_space_or_tab(text_[from - 1])) --from;
      if (from > 0 && text_[from - 1] == ',') --from;
    }
    return splice(from, to - from, "");
  }
  const auto line = line_around(from);
  const std::size_t end = line_around(to).second;
  const auto is_empty = [&](std::size_t a, std::size_t b) {
    return std::all_of(text_.begin() + static_cast<std::ptrdiff_t>(a), text_.begin() + static_cast<std::ptrdiff_t>(b),
                       [](char c) { return is_space_or_tab(c) || c == '\r'; });
  };
  if (is_empty(line.first, from) && is_empty(to, end))
    splice(line.first, std::min(end + 1, text_.size()) - line.first, "");
  else
    splice(from, to - from, "");
}

}  // namespace hushed::detail
