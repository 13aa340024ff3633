// SPDX-License-Identifier: MIT
#pragma once

// A TOML text that is edited where its values stand; all else stays as it is, to the byte.

#include <cstddef>
#include <optional>
#include <string>
#include <string_view>
#include <utility>

#include <hushed/value.hpp>

namespace hushed::detail {

class TomlText {
 public:
  /// Throws a `Diagnostic` where the text is not TOML.
  explicit TomlText(std::string text);

  const std::string& text() const { return text_; }
  const Value& document() const { return document_; }

  /// Replaces a value of the document by another: of lists and tables only what differs.
  void replace(const Value& old, const Value& value);
  /// Adds an item to a list in brackets, before the one with that index.
  void insert(const Value& list, std::size_t index, const Value& item);
  /// Removes an item of a list in brackets, and its line where nothing else stands there.
  void erase(const Value& list, std::size_t index);
  /// Adds a key to a table of the document, after those that it has. Returns false where the table has no place for
  /// it: one that is only spoken of in keys with dots.
  bool add(const Value& table, const std::string& key, const Value& value);
  /// Takes a key out of a table, and its line where nothing else stands there.
  void take_out(const Value& table, const Value::Entry& entry);

 private:
  std::size_t offset(TextPlace place) const;
  std::size_t end_of(const Value& value) const;
  std::size_t end_of_scalar(std::size_t at) const;
  bool is_inline(const Value& table) const;
  bool is_direct(const Value::Entry& entry) const;
  std::pair<std::size_t, std::size_t> line_around(std::size_t at) const;
  bool stands_alone(const Value& item) const;
  std::string newline() const { return text_.find("\r\n") == std::string::npos ? "\n" : "\r\n"; }
  void replace_items(const Value& old, const Value::List& items);
  void splice(std::size_t at, std::size_t size, const std::string& with);

  std::string text_;
  Value document_;
};

/// The entry of a table, or nullptr where it is no table or has none.
const Value::Entry* entry_of(const Value& table, std::string_view key);

/// Whether two values say the same, wherever they stand.
bool say_the_same(const Value& a, const Value& b);

}  // namespace hushed::detail
