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

/// A position in a text: line and column from 1, in characters; 0 where there is no text.
struct TextPlace {
  int line = 0;
  int column = 0;
  int file = 0;  ///< 0: the file itself; others are included files
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

/// A value of a scene file or command line, before it is converted to the type of a field.
class Value {
 public:
  struct Entry;
  using List = std::vector<Value>;
  using Table = std::vector<Entry>;

  Value();
  /// `content`: bool, std::int64_t, double, std::string, List or Table.
  template <class T>
  requires(!std::is_same_v<std::remove_cvref_t<T>, Value>) Value(T&& content, TextPlace at = {})
      : place{at}, content_{std::forward<T>(content)} {}
  // Defined in the library, so that including this header costs little.
  Value(const Value& other);
  Value(Value&& other) noexcept;
  Value& operator=(const Value& other);
  Value& operator=(Value&& other) noexcept;
  ~Value();

  /// The content as a T (bool, std::int64_t, double, std::string, List, Table), or nullptr.
  template <class T>
  const T* as() const {
    return std::get_if<T>(&content_);
  }
  /// A whole number or a number, as a double.
  std::optional<double> number() const;

  /// For errors: "a number", "a string", ...
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

/// The shortest text that reads back to the same double; `inf` and `nan` as in TOML.
std::string as_text(double number);

/// The word in double quotes.
std::string in_quotes(std::string_view word);

/// The name most similar to `word`, or an empty text where none is similar.
std::string_view nearest_name(std::string_view word, const std::vector<std::string_view>& names);

/// `; did you mean "speed"?` where a name is similar, otherwise `; give axis, space or speed.`
std::string suggestion(std::string_view word, const std::vector<std::string_view>& names);

}  // namespace hushed
