// SPDX-License-Identifier: MIT
#pragma once

#include <cstdint>
#include <optional>
#include <string>
#include <string_view>
#include <type_traits>
#include <utility>
#include <variant>
#include <vector>

#include <hushed/detail/export.hpp>

namespace hushed HUSHED_API {

/// Where something stands in a text: line and column from 1, in characters; 0 where there is no text.
struct TextPlace {
  int line = 0;
  int column = 0;
  int file = 0;  ///< 0 is the file itself; others are included
};

/// A problem found in input: where it is, what is wrong, and what is allowed.
struct Diagnostic {
  TextPlace place = {};
  std::string text;
  std::string key = {};  ///< the key that the problem is about; empty for none in particular

  /// `key: text`, or the text alone where there is no key.
  std::string sentence() const { return key.empty() ? text : key + ": " + text; }
};

/// A problem with the value of one key, whose place in a text is not known yet.
inline Diagnostic about(std::string_view key, std::string text) { return {{}, std::move(text), std::string{key}}; }

/// A value as it stands in a scene file or on a command line, before any field has taken it.
class Value {
 public:
  struct Entry;
  using List = std::vector<Value>;
  using Table = std::vector<Entry>;

  Value() = default;
  template <class T>
  requires(!std::is_same_v<std::remove_cvref_t<T>, Value>) Value(T&& content, TextPlace at = {})
      : place{at}, content_{std::forward<T>(content)} {}

  /// The content as a T (bool, std::int64_t, double, std::string, List, Table), or nullptr.
  template <class T>
  const T* as() const {
    return std::get_if<T>(&content_);
  }
  /// A whole number or a number, as a double.
  std::optional<double> number() const;

  /// "a number", "a string", ...: the words of an error.
  std::string_view describe_kind() const;

  TextPlace place;

 private:
  std::variant<std::monostate, bool, std::int64_t, double, std::string, List, Table> content_;
};

/// A key and its value, in the order of the text.
struct Value::Entry {
  std::string key;
  TextPlace place;
  Value value;
};

/// The value as it would be written in a scene file: `40`, `"own"`, `[0, 1, 0]`.
std::string as_text(const Value& value);

/// The shortest text that reads back to the same double; `inf` and `nan` as TOML has them.
std::string as_text(double number);

/// The word in double quotes, as errors show what was found.
std::string in_quotes(std::string_view word);

/// The one of `names` that is nearest to `word`, or nothing where none is near.
std::string_view nearest_name(std::string_view word, const std::vector<std::string_view>& names);

/// `; did you mean "speed"?` where a name is near, otherwise `; there is axis, space and speed.`
std::string suggestion(std::string_view word, const std::vector<std::string_view>& names);

}  // namespace hushed
