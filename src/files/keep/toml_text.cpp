// SPDX-License-Identifier: MIT
#include "keep/toml_text.hpp"

#include <algorithm>

#include "toml.hpp"

namespace hushed::detail {

namespace {

bool is_blank(char c) { return c == ' ' || c == '\t'; }

/// Past a string that begins at a quote.
std::size_t past_string(std::string_view text, std::size_t at) {
  const char quote = text[at];
  const std::string three(3, quote);
  const bool is_long = text.substr(at).starts_with(three);
  at += is_long ? 3 : 1;
  while (at < text.size()) {
    if (quote == '"' && text[at] == '\\') {
      at += 2;
    } else if (is_long ? text.substr(at).starts_with(three) : text[at] == quote) {
      at += is_long ? 3 : 1;
      while (is_long && at < text.size() && text[at] == quote) ++at;  // up to two more may belong to it
      return at;
    } else {
      ++at;
    }
  }
  return text.size();
}

std::size_t past_comment(std::string_view text, std::size_t at) { return std::min(text.find('\n', at), text.size()); }

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
  while (end > at && is_blank(text_[end - 1])) --end;
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
  int depth = 0;
  while (at < text_.size()) {
    const char c = text_[at];
    if (c == '"' || c == '\'') {
      at = past_string(text_, at);
      continue;
    }
    if (c == '#') {
      at = past_comment(text_, at);
      continue;
    }
    if (c == '[' || c == '{') ++depth;
    if ((c == ']' || c == '}') && --depth == 0) return at + 1;
    ++at;
  }
  return text_.size();
}

bool TomlText::is_inline(const Value& table) const { return text_[offset(table.place)] == '{'; }

bool TomlText::is_direct(const Value::Entry& entry) const {
  std::size_t at = line_around(offset(entry.place)).first;
  while (at < text_.size() && is_blank(text_[at])) ++at;
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
  // The last one first, so that the places of those before it stay true.
  if (list && new_list && list->size() == new_list->size() && !list->empty()) {
    const Value::List items = *list;
    for (std::size_t i = items.size(); i-- > 0;) replace(items[i], (*new_list)[i]);
    return;
  }
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

  const std::string newline = text_.find("\r\n") == std::string::npos ? "\n" : "\r\n";
  const Value::Entry* last = nullptr;
  for (const Value::Entry& entry : entries)
    if (is_direct(entry) && (!last || offset(entry.place) > offset(last->place))) last = &entry;
  const std::size_t header = offset(table.place);
  if (!last) {
    const auto [line, end] = line_around(header);
    if (text_[header] != '[' && text_.find('[', line) > header) return false;
    splice(end, 0, (newline == "\n" ? "\n" : "\r\n") + key + " = " + as_text(value));
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
  splice(end, 0, newline + made);
  return true;
}

void TomlText::take_out(const Value& table, const Value::Entry& entry) {
  std::size_t from = offset(entry.place), to = end_of(entry.value);
  if (is_inline(table)) {
    // With the comma after it, or else the one before.
    std::size_t after = to;
    while (after < text_.size() && is_blank(text_[after])) ++after;
    if (text_[after] == ',') {
      to = after + 1;
      while (to < text_.size() && is_blank(text_[to])) ++to;
    } else {
      while (from > 0 && is_blank(text_[from - 1])) --from;
      if (from > 0 && text_[from - 1] == ',') --from;
    }
    return splice(from, to - from, "");
  }
  const auto line = line_around(from);
  const std::size_t end = line_around(to).second;
  const auto is_empty = [&](std::size_t a, std::size_t b) {
    return std::all_of(text_.begin() + static_cast<std::ptrdiff_t>(a), text_.begin() + static_cast<std::ptrdiff_t>(b),
                       [](char c) { return is_blank(c) || c == '\r'; });
  };
  if (is_empty(line.first, from) && is_empty(to, end))
    splice(line.first, std::min(end + 1, text_.size()) - line.first, "");
  else
    splice(from, to - from, "");
}

}  // namespace hushed::detail
