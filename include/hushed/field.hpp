// SPDX-License-Identifier: MIT
#pragma once

// The table of a behaviour's fields. Keys of scene files and their errors, the JSON Schema, `hushed describe` and
// `--set` are all derived from it.

#include <array>
#include <concepts>
#include <limits>
#include <optional>
#include <span>
#include <string>
#include <string_view>
#include <tuple>
#include <type_traits>
#include <utility>
#include <vector>

#include <hushed/box.hpp>
#include <hushed/detail/export.hpp>
#include <hushed/detail/reading.hpp>

namespace hushed HUSHED_API {

/// The usual range of a value, for sliders.
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

/// Alternative keys: `key` cannot be given together with any of `others`.
struct Either {
  std::string_view key;
  std::array<std::string_view, 2> others;
};

/// Keys of which exactly one must be given.
struct OneOf {
  std::array<std::string_view, 3> keys;

  /// "duration" or "speed", in quotes.
  std::string describe() const;
  /// Checks that exactly one is given; `is_given` returns true for a key that is.
  template <class IsGiven>
  std::optional<Diagnostic> check(IsGiven&& is_given) const {
    std::string_view given[3];
    std::size_t count = 0;
    for (const std::string_view key : keys)
      if (!key.empty() && is_given(key)) given[count++] = key;
    return check_given({given, count});
  }

 private:
  std::optional<Diagnostic> check_given(std::span<const std::string_view> given) const;
};

struct EntryKinds;

template <class Signature>
class FieldCall;

/// What a field does, with what it needs to know which field it is. May be empty.
template <class Result, class... Arguments>
class FieldCall<Result(Arguments...)> {
 public:
  constexpr FieldCall() = default;
  /// A function that needs to know nothing.
  template <class Function>
  requires std::is_empty_v<Function> && std::is_invocable_r_v<Result, Function, Arguments...>
  constexpr FieldCall(Function)
      : call_{[](const void*, Arguments... arguments) -> Result {
          return Function{}(std::forward<Arguments>(arguments)...);
        }} {}
  /// A function that is called with `context`, which must live as long as the table of fields.
  constexpr FieldCall(Result (*call)(const void* context, Arguments...), const void* context)
      : call_{call}, context_{context} {}

  Result operator()(Arguments... arguments) const { return call_(context_, std::forward<Arguments>(arguments)...); }
  explicit operator bool() const { return call_ != nullptr; }

 private:
  Result (*call_)(const void* context, Arguments...) = nullptr;
  const void* context_ = nullptr;
};

/// A field without its types, for code that prints, parses or draws it.
struct FieldInfo {
  std::string_view name;
  std::string_view help;
  Unit unit;
  Form form;
  std::optional<Slider> slider;
  bool required = false;
  std::optional<Value> fallback;  ///< the default; nothing where it is required or left out

  /// Returns the value of the field of the behaviour at `owner`, or sets it. `set` returns a diagnostic where it
  /// cannot.
  FieldCall<std::optional<Value>(const void* owner)> get;
  FieldCall<std::optional<Diagnostic>(void* owner, const Value& value)> set;
  /// Resets it to its default.
  FieldCall<void(void* owner)> reset;
  /// Sets it, or resets it where there is no value. Returns a diagnostic where it cannot.
  std::optional<Diagnostic> put(void* owner, const std::optional<Value>& value) const;
  /// Sets `fallback` to the value of the field of a behaviour with default values, unless the field is required.
  void read_default(const void* owner);
  /// Checks the present value, which C++ code may have set.
  FieldCall<std::optional<Diagnostic>(const void* owner)> check;
  /// Resolves the names of objects and poses in it.
  FieldCall<std::optional<Diagnostic>(void* owner, const detail::Names& names)> resolve;
  /// Replaces the object that it names; empty for fields that name none, or several.
  FieldCall<void(void* owner, Object at)> aim;
  /// Adds the objects that it names to `to`.
  FieldCall<void(const void* owner, detail::References& to)> add_objects;
  /// True where the values in two behaviours are equal by `==`, which is quicker than comparing what `get` returns.
  /// Empty where their type has no `==`.
  FieldCall<bool(const void* one, const void* other)> equal;
  /// Takes the content that the value of `from` stands for, such as that of a file, where both have the same text.
  /// Returns true where it was another. Empty for most fields.
  FieldCall<bool(void* owner, const void* from)> renew;
  /// For a list of tables: the kinds of entries; empty otherwise.
  FieldCall<const EntryKinds&()> entries;
};

/// The kinds of tables in a list; each table names its kind under `key`.
struct EntryKinds {
  struct Kind {
    std::string_view name, summary;
    std::span<const FieldInfo> fields;
  };
  std::string_view key;
  std::span<const Kind> kinds;

  /// The kind of that name, or nullptr.
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
  if constexpr (std::equality_comparable<Member>)
    info.equal = [](const void* one, const void* other) {
      constexpr auto self = std::get<I>(Table::fields);
      return static_cast<const B*>(one)->*self.member == static_cast<const B*>(other)->*self.member;
    };
  if constexpr (requires(Member & member, Object object) { aim(member, object); })
    info.aim = [](void* owner, Object at) {
      constexpr auto self = std::get<I>(Table::fields);
      aim(static_cast<B*>(owner)->*self.member, at);
    };
  if constexpr (requires(Member & member, const Member& from) { renew(member, from); })
    info.renew = [](void* owner, const void* from) {
      constexpr auto self = std::get<I>(Table::fields);
      return renew(static_cast<B*>(owner)->*self.member, static_cast<const B*>(from)->*self.member);
    };
  if constexpr (requires { entry_kinds(static_cast<const Member*>(nullptr)); })
    info.entries = []() -> const EntryKinds& { return entry_kinds(static_cast<const Member*>(nullptr)); };
  if constexpr (std::is_enum_v<Member>)
    info.form = form::word(names_of_choices<Member>(entry.allowed));
  else
    info.form = form_of_any<Member>(entry.unit);
  const B untouched{};
  info.read_default(&untouched);
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
