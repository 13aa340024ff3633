// SPDX-License-Identifier: MIT
#pragma once

#include <cstddef>
#include <string>
#include <string_view>
#include <utility>
#include <vector>

#include <hushed/detail/export.hpp>
#include <hushed/unit.hpp>

namespace hushed HUSHED_API {

/// The form of a value in a file: a simple value, or a list, table or choice of forms. Code that prints, parses or
/// draws fields uses it and knows no types.
struct Form {
  enum class Kind { boolean, number, whole, word, text, list, table, any_of };

  Kind kind = Kind::number;
  std::string description = {};              ///< for errors and help: "a number from 0 to 1"
  Unit unit = {};                            ///< number
  std::vector<std::string_view> names = {};  ///< word: one of these; table: the keys
  std::vector<Form> parts = {};              ///< list: of what; table: of each key; any_of: the ways
  std::size_t least = 0, most = 0;           ///< list: how many
};

namespace form {

Form boolean();
Form number(const Unit& unit);
Form whole();
Form word(std::vector<std::string_view> names);
Form text(std::string description);
Form list(Form item, std::size_t least, std::size_t most, std::string description);
Form list_of(Form item);  ///< a list of any length but 0
Form three(const Unit& unit);
Form number_or_three(const Unit& unit);
Form table(std::vector<std::pair<std::string_view, Form>> keys, std::string description);
Form any_of(std::vector<Form> ways, std::string description);

}  // namespace form
}  // namespace hushed
