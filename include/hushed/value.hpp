// SPDX-License-Identifier: MIT
#pragma once

#include <concepts>
#include <cstdint>
#include <memory>
#include <optional>
#include <string>
#include <string_view>
#include <type_traits>
#include <vector>

#include <hushed/detail/export.hpp>
#include <hushed/diagnostic.hpp>

namespace hushed HUSHED_API {

namespace detail {
struct ValueContent;
}

/// A value of a scene file or command line, before it is converted to the type of a field.
class Value {
 public:
  struct Entry;
  using List = std::vector<Value>;
  using Table = std::vector<Entry>;

  Value() = default;  ///< nothing
  // The content is true or false, a whole number, a number, a text, a list or a table. `at`: where it is written.
  template <std::integral T>
  requires(std::is_signed_v<T> || sizeof(T) < sizeof(std::int64_t)) Value(T content, TextPlace at = {}) : place{at} {
    if constexpr (std::is_same_v<T, bool>)
      set_boolean(content);
    else
      set_whole(content);
  }
  Value(double content, TextPlace at = {});
  Value(std::string content, TextPlace at = {});
  Value(const char* content, TextPlace at = {});
  Value(List content, TextPlace at = {});
  Value(Table content, TextPlace at = {});

  /// The content as a T (bool, std::int64_t, double, std::string, List, Table), or nullptr.
  template <class T>
  const T* as() const;
  /// A whole number or a number, as a double.
  std::optional<double> number() const;

  /// For errors: "a number", "a string", ...
  std::string_view describe_kind() const;

  TextPlace place;

 private:
  void set_boolean(bool content);
  void set_whole(std::int64_t content);

  std::shared_ptr<const detail::ValueContent> content_;  ///< shared by copies; nullptr: nothing
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
