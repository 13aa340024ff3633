// SPDX-License-Identifier: MIT
#pragma once

// Conversion between values of files and the types of fields: see field_type.hpp.

#include <cstdint>
#include <optional>
#include <span>
#include <string>
#include <string_view>
#include <type_traits>
#include <utility>
#include <vector>

#include <hushed/angle.hpp>
#include <hushed/detail/export.hpp>
#include <hushed/detail/field_type.hpp>
#include <hushed/detail/references.hpp>
#include <hushed/form.hpp>
#include <hushed/handle.hpp>
#include <hushed/per_axis.hpp>
#include <hushed/time.hpp>
#include <hushed/value.hpp>
#include <hushed/vector.hpp>

namespace hushed HUSHED_API {

/// A set of enumerators, one bit each.
struct Allowed {
  unsigned bits = ~0U;
  template <class E>
  constexpr bool contains(E value) const {
    const auto number = static_cast<unsigned>(value);
    return number < 32 && (bits >> number & 1U) != 0;
  }
};
/// The option of a field that allows only some values of an enumeration: `allowed(Space::parent, Space::world)`.
template <class... E>
constexpr Allowed allowed(E... values) {
  return {((1U << static_cast<unsigned>(values)) | ...)};
}

namespace detail {

/// Finds objects by their names.
class ObjectNames {
 public:
  virtual Object object(std::string_view name) const = 0;  ///< of generation 0 where there is none
  virtual std::vector<std::string_view> objects() const = 0;
  /// "; did you mean ...?", or the names that exist.
  virtual std::string suggest(std::string_view name) const { return suggestion(name, objects()); }

 protected:
  ~ObjectNames() = default;
};

/// Finds the objects of the scene, and the poses of the behaviour's own object, by their names.
class Names : public ObjectNames {
 public:
  /// All objects with a tag, in the order of their names; nullptr where there is none.
  virtual ObjectList tagged(std::string_view tag) const = 0;
  virtual std::vector<std::string_view> tags() const = 0;
  virtual bool has_tag(std::string_view tag) const = 0;  ///< true where any object has it
  /// True where values may go on naming an object that they were resolved to, and that has ended since.
  virtual bool keeps_lost() const { return false; }
  virtual const PoseParts* pose(std::string_view name) const = 0;
  virtual std::vector<std::string_view> poses() const = 0;
  virtual std::string name_of(Object object) const = 0;
  virtual std::string_view own_name() const = 0;  ///< of the object that the values are for; empty for none

 protected:
  ~Names() = default;
};

/// A problem with a value of a wrong type: "found a string ("fast"); give a number." `wanted`: "a number".
Diagnostic expected(const Value& found, std::string_view wanted);

std::optional<Diagnostic> read(const Value& from, const Unit& unit, bool& to);
std::optional<Diagnostic> read(const Value& from, const Unit& unit, double& to);
std::optional<Diagnostic> read(const Value& from, const Unit& unit, std::int64_t& to);
std::optional<Diagnostic> read(const Value& from, const Unit& unit, std::string& to);
std::optional<Diagnostic> read(const Value& from, const Unit& unit, Angle& to);
std::optional<Diagnostic> read(const Value& from, const Unit& unit, Time& to);
std::optional<Diagnostic> read(const Value& from, const Unit& unit, Vec3& to);
/// Three numbers, of which any may be infinite.
std::optional<Diagnostic> read_unbounded(const Value& from, const Unit& unit, Vec3& to);
/// The index in `names` of the name that the value is. Otherwise nothing, and `diagnostic` is set.
std::optional<std::size_t> read_name(const Value& from, const std::vector<std::string_view>& names,
                                     std::optional<Diagnostic>& diagnostic);

std::optional<Value> write(bool from, const Unit& unit);
std::optional<Value> write(double from, const Unit& unit);
std::optional<Value> write(std::int64_t from, const Unit& unit);
std::optional<Value> write(const std::string& from, const Unit& unit);
std::optional<Value> write(Angle from, const Unit& unit);
std::optional<Value> write(Time from, const Unit& unit);
std::optional<Value> write(const Vec3& from, const Unit& unit);
Value three(const Vec3& from);
std::optional<Value> write_list(Value::List list);
std::optional<Value> write_name(std::string_view name);
void add_to(Value::List& list, std::optional<Value> item);

Form form_of(const bool*, const Unit& unit);
Form form_of(const double*, const Unit& unit);
Form form_of(const std::int64_t*, const Unit& unit);
Form form_of(const std::string*, const Unit& unit);
Form form_of(const Angle*, const Unit& unit);
Form form_of(const Time*, const Unit& unit);
Form form_of(const Vec3*, const Unit& unit);

template <class T>
inline constexpr bool is_optional = false;
template <class T>
inline constexpr bool is_optional<std::optional<T>> = true;
template <class T>
inline constexpr bool is_list = false;
template <class T>
inline constexpr bool is_list<std::vector<T>> = true;

/// The names of the allowed values of an enumeration.
template <class E>
std::vector<std::string_view> names_of_choices(Allowed which = {}) {
  std::vector<std::string_view> names;
  for (const auto& [value, name] : choices(E{}))
    if (which.contains(value)) names.push_back(name);
  return names;
}

/// Sets `to` to the enumerator whose name the value is, or returns what is wrong with the value.
template <class E>
std::optional<Diagnostic> read_choice(const Value& from, Allowed which, E& to) {
  std::optional<Diagnostic> diagnostic;
  const auto names = names_of_choices<E>(which);
  const auto found = read_name(from, names, diagnostic);
  if (!found) return diagnostic;
  for (const auto& [value, name] : choices(E{}))
    if (name == names[*found]) to = value;
  return std::nullopt;
}

template <class T>
std::optional<Diagnostic> read_any(const Value& from, const Unit& unit, T& to) {
  if constexpr (is_optional<T>) {
    typename T::value_type inner{};
    auto diagnostic = read_any(from, unit, inner);
    if (!diagnostic) to = inner;
    return diagnostic;
  } else if constexpr (is_list<T>) {
    const auto* list = from.as<Value::List>();
    if (!list) return expected(from, "a list");
    T items;
    items.reserve(list->size());
    for (const Value& item : *list)
      if (auto diagnostic = read_any(item, unit, items.emplace_back())) return diagnostic;
    to = std::move(items);
    return std::nullopt;
  } else if constexpr (std::is_enum_v<T>) {
    return read_choice(from, {}, to);
  } else {
    return read(from, unit, to);
  }
}

template <class T>
std::optional<Value> write_any(const T& from, const Unit& unit) {
  if constexpr (is_optional<T>) {
    return from ? write_any(*from, unit) : std::nullopt;
  } else if constexpr (is_list<T>) {
    Value::List list;
    for (const auto& item : from) add_to(list, write_any(item, unit));
    return write_list(std::move(list));
  } else if constexpr (std::is_enum_v<T>) {
    for (const auto& [value, name] : choices(T{}))
      if (value == from) return write_name(name);
    return std::nullopt;
  } else {
    return write(from, unit);
  }
}

template <class T>
Form form_of_any(const Unit& unit) {
  if constexpr (is_optional<T>) {
    return form_of_any<typename T::value_type>(unit);
  } else if constexpr (is_list<T>) {
    Form item = form_of_any<typename T::value_type>(unit);
    return form::list_of(std::move(item));
  } else if constexpr (std::is_enum_v<T>) {
    return form::word(names_of_choices<T>());
  } else {
    return form_of(static_cast<const T*>(nullptr), unit);
  }
}

template <class T>
std::optional<Diagnostic> resolve_any(T& to, const Names& names) {
  if constexpr (is_optional<T>) {
    return to ? resolve_any(*to, names) : std::nullopt;
  } else if constexpr (is_list<T>) {
    for (auto& item : to)
      if (auto diagnostic = resolve_any(item, names)) return diagnostic;
  } else if constexpr (requires { resolve(to, names); }) {
    return resolve(to, names);
  }
  return std::nullopt;
}

template <class T>
void add_objects_of_any(const T& from, References& to) {
  if constexpr (is_optional<T>) {
    if (from) add_objects_of_any(*from, to);
  } else if constexpr (is_list<T>) {
    for (const auto& item : from) add_objects_of_any(item, to);
  } else if constexpr (requires { add_objects(from, to); }) {
    add_objects(from, to);
  }
}

/// A problem with an enumerator that is not allowed. `name` is empty for a number that is no enumerator.
Diagnostic no_such_choice(std::string_view name, std::int64_t number, const std::vector<std::string_view>& allowed);

/// Nothing where the enumerator is allowed; otherwise a diagnostic that lists those that are. A number that was cast to
/// an enumeration may be none of its enumerators.
template <class E>
std::optional<Diagnostic> check_choice(E value, Allowed which = {}) {
  const std::string_view name = name_of(value);
  if (!name.empty() && which.contains(value)) return std::nullopt;
  return no_such_choice(name, static_cast<std::int64_t>(value), names_of_choices<E>(which));
}

/// Checks a value that C++ code has set.
template <class T>
std::optional<Diagnostic> check_any(const T& value, const Unit& unit) {
  if constexpr (is_optional<T>) {
    return value ? check_any(*value, unit) : std::nullopt;
  } else if constexpr (is_list<T>) {
    for (const auto& item : value)
      if (auto diagnostic = check_any(item, unit)) return diagnostic;
    return std::nullopt;
  } else if constexpr (std::is_enum_v<T>) {
    return check_choice(value);
  } else if constexpr (requires { value.check(); }) {
    return value.check();
  } else {
    const auto written = write_any(value, unit);
    T ignored{};
    return written ? read_any(*written, unit, ignored) : std::nullopt;
  }
}

}  // namespace detail

template <class T>
std::optional<Diagnostic> read(const Value& from, const Unit& unit, PerAxis<T>& to) {
  const auto* list = from.as<Value::List>();
  if (list && list->size() != 3) return detail::expected(from, form::number_or_three(unit).description);
  PerAxis<T> taken;
  for (int axis = 0; axis < 3; ++axis)
    if (auto diagnostic = detail::read(list ? (*list)[static_cast<std::size_t>(axis)] : from, unit, taken[axis]))
      return diagnostic;
  to = taken;
  return std::nullopt;
}

template <class T>
std::optional<Value> write(const PerAxis<T>& from, const Unit& unit) {
  if (from[0] == from[1] && from[1] == from[2]) return detail::write(from[0], unit);
  Value::List list;
  for (int axis = 0; axis < 3; ++axis) detail::add_to(list, detail::write(from[axis], unit));
  return detail::write_list(std::move(list));
}

template <class T>
Form form_of(const PerAxis<T>*, const Unit& unit) {
  return form::number_or_three(unit);
}

}  // namespace hushed
