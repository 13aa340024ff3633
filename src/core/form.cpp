// SPDX-License-Identifier: MIT
#include <hushed/form.hpp>

#include <hushed/value.hpp>

namespace hushed::form {

namespace {

std::string number_in_words(const Unit& unit) {
  if (unit.low == -1e9 && unit.high == 1e9) return "a number";
  if (unit.low == 0.0 && unit.high >= 1e6) return "a number, 0 or more";
  return "a number from " + as_text(unit.low) + " to " + as_text(unit.high);
}

}  // namespace

Form boolean() { return {.kind = Form::Kind::boolean, .description = "true or false"}; }

Form number(const Unit& unit) {
  return {.kind = Form::Kind::number, .description = number_in_words(unit), .unit = unit};
}

Form whole() { return {.kind = Form::Kind::whole, .description = "a whole number", .unit = unit::none}; }

Form word(std::vector<std::string_view> names) {
  std::string words;
  for (std::size_t i = 0; i < names.size(); ++i) {
    words += i == 0 ? "" : i + 1 == names.size() ? " or " : ", ";
    words += in_quotes(names[i]);
  }
  return {.kind = Form::Kind::word, .description = words, .names = std::move(names)};
}

Form text(std::string description) { return {.kind = Form::Kind::text, .description = std::move(description)}; }

Form list(Form item, std::size_t least, std::size_t most, std::string description) {
  return {.kind = Form::Kind::list,
          .description = std::move(description),
          .parts = {std::move(item)},
          .least = least,
          .most = most};
}

Form list_of(Form item) {
  std::string words = "a list, each item " + item.description;
  return list(std::move(item), 1, 1'000'000, std::move(words));
}

Form three(const Unit& unit) { return list(number(unit), 3, 3, "three numbers, [x, y, z]"); }

Form number_or_three(const Unit& unit) { return any_of({number(unit), three(unit)}, "a number, or three, [x, y, z]"); }

Form table(std::vector<std::pair<std::string_view, Form>> keys, std::string description) {
  Form made{.kind = Form::Kind::table, .description = std::move(description)};
  for (auto& key : keys) {
    made.names.push_back(key.first);
    made.parts.push_back(std::move(key.second));
  }
  return made;
}

Form any_of(std::vector<Form> ways, std::string description) {
  return {.kind = Form::Kind::any_of, .description = std::move(description), .parts = std::move(ways)};
}

}  // namespace hushed::form
