// SPDX-License-Identifier: MIT
#include <hushed/value.hpp>

#include <algorithm>
#include <charconv>
#include <cmath>
#include <utility>
#include <variant>

namespace hushed {

struct detail::ValueContent {
  std::variant<bool, std::int64_t, double, std::string, Value::List, Value::Table> is;
};

namespace {

template <class T>
std::shared_ptr<const detail::ValueContent> content_of(T&& is) {
  return std::make_shared<const detail::ValueContent>(detail::ValueContent{std::forward<T>(is)});
}

template <class... Cases>
struct Overloaded : Cases... {
  using Cases::operator()...;
};
template <class... Cases>
Overloaded(Cases...) -> Overloaded<Cases...>;

/// The edit distance: insertions, deletions, changes and swaps of neighbouring letters.
std::size_t distance_between(std::string_view a, std::string_view b) {
  std::vector<std::vector<std::size_t>> table(a.size() + 1, std::vector<std::size_t>(b.size() + 1));
  for (std::size_t i = 0; i <= a.size(); ++i) table[i][0] = i;
  for (std::size_t j = 0; j <= b.size(); ++j) table[0][j] = j;
  for (std::size_t i = 1; i <= a.size(); ++i) {
    for (std::size_t j = 1; j <= b.size(); ++j) {
      const std::size_t change = a[i - 1] == b[j - 1] ? 0 : 1;
      table[i][j] = std::min({table[i - 1][j] + 1, table[i][j - 1] + 1, table[i - 1][j - 1] + change});
      if (i > 1 && j > 1 && a[i - 1] == b[j - 2] && a[i - 2] == b[j - 1])
        table[i][j] = std::min(table[i][j], table[i - 2][j - 2] + 1);
    }
  }
  return table[a.size()][b.size()];
}

}  // namespace

Value::Value(double content, TextPlace at) : place{at}, content_{content_of(content)} {}
Value::Value(std::string content, TextPlace at) : place{at}, content_{content_of(std::move(content))} {}
Value::Value(const char* content, TextPlace at) : Value{std::string{content}, at} {}
Value::Value(List content, TextPlace at) : place{at}, content_{content_of(std::move(content))} {}
Value::Value(Table content, TextPlace at) : place{at}, content_{content_of(std::move(content))} {}
void Value::set_boolean(bool content) { content_ = content_of(content); }
void Value::set_whole(std::int64_t content) { content_ = content_of(content); }

template <class T>
const T* Value::as() const {
  return content_ ? std::get_if<T>(&content_->is) : nullptr;
}

template const bool* Value::as() const;
template const std::int64_t* Value::as() const;
template const double* Value::as() const;
template const std::string* Value::as() const;
template const Value::List* Value::as() const;
template const Value::Table* Value::as() const;

std::optional<double> Value::number() const {
  if (const auto* whole = as<std::int64_t>()) return static_cast<double>(*whole);
  if (const auto* real = as<double>()) return *real;
  return std::nullopt;
}

std::string_view Value::describe_kind() const {
  if (!content_) return "nothing";
  return std::visit(Overloaded{[](const bool&) { return std::string_view{"true or false"}; },
                               [](const std::int64_t&) { return std::string_view{"a whole number"}; },
                               [](const double&) { return std::string_view{"a number"}; },
                               [](const std::string&) { return std::string_view{"a string"}; },
                               [](const List&) { return std::string_view{"a list"}; },
                               [](const Table&) { return std::string_view{"a table"}; }},
                    content_->is);
}

std::string as_text(double number) {
  if (std::isnan(number)) return "nan";
  if (std::isinf(number)) return number > 0 ? "inf" : "-inf";
  char digits[32];
  const bool whole = number == std::floor(number) && std::abs(number) < 1e15;  // written out, without a power of ten
  const auto end = whole ? std::to_chars(digits, digits + sizeof digits, static_cast<std::int64_t>(number)).ptr
                         : std::to_chars(digits, digits + sizeof digits, number).ptr;
  return {digits, end};
}

std::string as_text(const Value& value) {
  if (const auto* yes = value.as<bool>()) return *yes ? "true" : "false";
  if (const auto* whole = value.as<std::int64_t>()) return std::to_string(*whole);
  if (const auto* real = value.as<double>()) return as_text(*real);
  if (const auto* text = value.as<std::string>()) return in_quotes(*text);
  std::string out;
  if (const auto* list = value.as<Value::List>()) {
    for (const Value& item : *list) out += (out.empty() ? "" : ", ") + as_text(item);
    return "[" + out + "]";
  }
  if (const auto* table = value.as<Value::Table>()) {
    for (const auto& entry : *table) out += (out.empty() ? "" : ", ") + entry.key + " = " + as_text(entry.value);
    return "{ " + out + " }";
  }
  return out;
}

std::string in_quotes(std::string_view word) {
  std::string out{'"'};
  for (const char c : word) {
    if (c == '"' || c == '\\') out += '\\';
    out += c;
  }
  out += '"';
  return out;
}

std::string_view nearest_name(std::string_view word, const std::vector<std::string_view>& names) {
  if (word.size() > 64) return {};
  std::string_view best;
  std::size_t best_distance = std::max<std::size_t>(1, word.size() / 3) + 1;
  for (const auto name : names) {
    const std::size_t difference = name.size() > word.size() ? name.size() - word.size() : word.size() - name.size();
    if (difference >= best_distance) continue;
    const std::size_t distance = distance_between(word, name);
    if (distance < best_distance) {
      best = name;
      best_distance = distance;
    }
  }
  return best;
}

std::string suggestion(std::string_view word, const std::vector<std::string_view>& names) {
  if (const auto near = nearest_name(word, names); !near.empty()) return "; did you mean " + in_quotes(near) + "?";
  if (names.empty()) return ".";
  if (names.size() > 12) return "; none of the " + std::to_string(names.size()) + " that exist is similar.";
  std::string list;
  for (std::size_t i = 0; i < names.size(); ++i)
    list += (i == 0 ? "" : i + 1 == names.size() ? " or " : ", ") + std::string{names[i]};
  return "; give " + list + ".";
}

}  // namespace hushed
