// SPDX-License-Identifier: MIT
#pragma once

// The table of a behaviour's fields is the single source of its keys in scene files and their errors, of
// the JSON Schema, of `hushed describe` and of `--set`.

#include <array>
#include <limits>
#include <optional>
#include <span>
#include <string>
#include <string_view>
#include <tuple>
#include <type_traits>
#include <vector>

#include <hushed/box.hpp>
#include <hushed/detail/export.hpp>
#include <hushed/detail/reading.hpp>

namespace hushed HUSHED_API {

/// A range in which people usually look for the value.
struct Slider {
  double low;
  double high;
};
constexpr Slider slider(double low, double high) { return {low, high}; }

struct Required {};
inline constexpr Required required{};  ///< a scene file must give it

/// One field of the behaviour B.
template <class B, class T>
struct Field {
  using Owner = B;
  using Value = T;

  std::string_view name;
  T B::*member;
  Unit unit;
  std::string_view help;
  std::optional<Slider> slider = {};
  bool required = false;
  Allowed allowed = {};  ///< of an enumeration: the values that the field may have

  constexpr void take(Slider range) { slider = range; }
  constexpr void take(Required) { required = true; }
  constexpr void take(Allowed some) { allowed = some; }
};

template <class B, class T, class... Options>
constexpr Field<B, T> field(std::string_view name, T B::*member, Unit unit, std::string_view help, Options... options) {
  Field<B, T> made{name, member, unit, help};
  (made.take(options), ...);
  return made;
}

/// Two ways to say one thing: `key` cannot stand beside any of `others`.
struct Either {
  std::string_view key;
  std::array<std::string_view, 2> others;
};

/// Of these keys, exactly one is given.
struct OneOf {
  std::array<std::string_view, 3> keys;

  /// "duration" or "speed", in quotes.
  std::string describe() const;
  /// What is wrong, where `is_given` says of each key whether it is there.
  template <class IsGiven>
  std::optional<Diagnostic> check(IsGiven&& is_given) const {
    std::vector<std::string_view> given;
    for (const std::string_view key : keys)
      if (!key.empty() && is_given(key)) given.push_back(key);
    return check_given(given);
  }

 private:
  std::optional<Diagnostic> check_given(const std::vector<std::string_view>& given) const;
};

struct EntryKinds;

/// A field without its types, for whoever prints, parses or draws it.
struct FieldInfo {
  std::string_view name;
  std::string_view help;
  Unit unit;
  Form form;
  std::optional<Slider> slider;
  bool required = false;
  std::optional<Value> fallback;  ///< the default; nothing where it is required or left out

  /// Reads the field of the behaviour at `owner`, and sets it; nothing where that went well.
  std::optional<Value> (*get)(const void* owner) = nullptr;
  std::optional<Diagnostic> (*set)(void* owner, const Value& value) = nullptr;
  /// Makes it what it is where nobody gives it.
  void (*reset)(void* owner) = nullptr;
  /// Sets it, or resets it where there is no value; nothing where that went well.
  std::optional<Diagnostic> put(void* owner, const std::optional<Value>& value) const {
    if (value) return set(owner, *value);
    reset(owner);
    return std::nullopt;
  }
  /// What is wrong with the field as it is, where it was set from C++.
  std::optional<Diagnostic> (*check)(const void* owner) = nullptr;
  /// Finds the objects and poses that it names.
  std::optional<Diagnostic> (*resolve)(void* owner, const detail::Names& names) = nullptr;
  /// Makes another object the one that it names; nullptr where it names none, or many.
  void (*aim)(void* owner, Object at) = nullptr;
  /// Adds the objects that it has found.
  void (*add_objects)(const void* owner, detail::References& to) = nullptr;
  /// Of a list of tables: what each of them may be; nullptr of anything else.
  const EntryKinds& (*entries)() = nullptr;
};

/// What a table in a list may be, by the word that it has under `key`.
struct EntryKinds {
  struct Kind {
    std::string_view name, summary;
    std::span<const FieldInfo> fields;
  };
  std::string_view key;
  std::span<const Kind> kinds;

  /// The one of that name, or nullptr.
  const Kind* find(std::string_view name) const {
    for (const Kind& kind : kinds)
      if (kind.name == name) return &kind;
    return nullptr;
  }
};

namespace detail {

/// The field of that number in a table, without its types.
template <class Table, std::size_t I>
FieldInfo field_info() {
  constexpr auto entry = std::get<I>(Table::fields);
  using B = typename decltype(entry)::Owner;
  using Member = typename decltype(entry)::Value;

  FieldInfo info;
  info.name = entry.name;
  info.help = entry.help;
  info.unit = entry.unit;
  info.slider = entry.slider;
  info.required = entry.required;
  info.get = [](const void* owner) {
    constexpr auto self = std::get<I>(Table::fields);
    return write_any(static_cast<const B*>(owner)->*self.member, self.unit);
  };
  info.set = [](void* owner, const Value& value) {
    constexpr auto self = std::get<I>(Table::fields);
    if constexpr (std::is_enum_v<Member>) {
      return read_choice(value, self.allowed, static_cast<B*>(owner)->*self.member);
    } else {
      return read_any(value, self.unit, static_cast<B*>(owner)->*self.member);
    }
  };
  info.reset = [](void* owner) {
    constexpr auto self = std::get<I>(Table::fields);
    static_cast<B*>(owner)->*self.member = B{}.*self.member;
  };
  info.check = [](const void* owner) {
    constexpr auto self = std::get<I>(Table::fields);
    if constexpr (std::is_enum_v<Member>) {
      return check_choice(static_cast<const B*>(owner)->*self.member, self.allowed);
    } else {
      return check_any(static_cast<const B*>(owner)->*self.member, self.unit);
    }
  };
  info.resolve = [](void* owner, const Names& names) {
    constexpr auto self = std::get<I>(Table::fields);
    return resolve_any(static_cast<B*>(owner)->*self.member, names);
  };
  info.add_objects = [](const void* owner, References& to) {
    constexpr auto self = std::get<I>(Table::fields);
    add_objects_of_any(static_cast<const B*>(owner)->*self.member, to);
  };
  if constexpr (requires(Member & member, Object object) { aim(member, object); })
    info.aim = [](void* owner, Object at) {
      constexpr auto self = std::get<I>(Table::fields);
      aim(static_cast<B*>(owner)->*self.member, at);
    };
  if constexpr (requires { entry_kinds(static_cast<const Member*>(nullptr)); })
    info.entries = []() -> const EntryKinds& { return entry_kinds(static_cast<const Member*>(nullptr)); };
  if constexpr (std::is_enum_v<Member>)
    info.form = form::word(names_of_choices<Member>(entry.allowed));
  else
    info.form = form_of_any<Member>(entry.unit);
  const B untouched{};
  if (!entry.required) info.fallback = info.get(&untouched);
  return info;
}

}  // namespace detail

/// The fields of a table, `static constexpr auto fields = std::tuple{field(...), ...}`, without their types. Empty
/// where there is no such table.
template <class Table>
std::span<const FieldInfo> fields_of() {
  if constexpr (requires { Table::fields; }) {
    static const auto table = []<std::size_t... I>(std::index_sequence<I...>) {
      return std::array<FieldInfo, sizeof...(I)>{detail::field_info<Table, I>()...};
    }
    (std::make_index_sequence<std::tuple_size_v<std::remove_cvref_t<decltype(Table::fields)>>>{});
    return table;
  } else {
    return {};
  }
}

}  // namespace hushed
