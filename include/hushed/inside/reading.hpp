#pragma once

// From a value as it stands in a file to a field's type, and back. A type of one's own takes part by having, as
// friends,
//
//     std::optional<Complaint> read(const Value& from, const Unit& unit, T& to);     sets `to`, or says what is wrong
//     std::optional<Value> write(const T& from, const Unit& unit);                   nothing where it is left out
//     Form form_of(const T*, const Unit& unit);                                      what it looks like
//
// perhaps a member `std::optional<Complaint> check() const` for what C++ may have set it to, and, if it names objects
// or poses,
//
//     std::optional<Complaint> resolve(T& to, const Names& names);                      finds what is named
//     void add_objects(const T& from, References& to);                               what it has found
//     void aim(T& to, Object at);                                                    names this one instead

#include <array>
#include <cstdint>
#include <optional>
#include <span>
#include <string>
#include <string_view>
#include <type_traits>
#include <utility>
#include <vector>

#include <hushed/angle.hpp>
#include <hushed/form.hpp>
#include <hushed/handle.hpp>
#include <hushed/inside/references.hpp>
#include <hushed/time.hpp>
#include <hushed/value.hpp>
#include <hushed/vector.hpp>

namespace hushed {

struct PoseParts;

/// The values of an enumeration and their names; a type's own are found as `choices(T{})`.
template <class E, std::size_t N>
using Choices = std::array<std::pair<E, std::string_view>, N>;

/// The name of one of them.
template <class E>
requires requires(E value) { choices(value); }
constexpr std::string_view name_of(E value) {
  for (const auto& [each, name] : choices(value))
    if (each == value) return name;
  return "";
}

namespace inside {

/// Finds objects by their names.
class ObjectNames {
 public:
  virtual Object object(std::string_view name) const = 0;  ///< of generation 0 where there is none
  virtual std::vector<std::string_view> objects() const = 0;
  /// "; did you mean ...?", or what there is instead.
  virtual std::string suggest(std::string_view name) const { return suggestion(name, objects()); }

 protected:
  ~ObjectNames() = default;
};

/// Finds what values name: objects of the scene, and poses of the object whose behaviour it is.
class Names : public ObjectNames {
 public:
  /// All with that tag, in the order of their names; nullptr where nobody has it.
  virtual ObjectList tagged(std::string_view tag) const = 0;
  virtual std::vector<std::string_view> tags() const = 0;
  virtual bool has_tag(std::string_view tag) const = 0;  ///< any object has it, that one too
  virtual const PoseParts* pose(std::string_view name) const = 0;
  virtual std::vector<std::string_view> poses() const = 0;
  virtual std::string name_of(Object object) const = 0;

 protected:
  ~Names() = default;
};

/// "this is a string ("fast"); give a number."
Complaint expected(const Value& found, std::string_view wanted);

std::optional<Complaint> read(const Value& from, const Unit& unit, bool& to);
std::optional<Complaint> read(const Value& from, const Unit& unit, double& to);
std::optional<Complaint> read(const Value& from, const Unit& unit, std::int64_t& to);
std::optional<Complaint> read(const Value& from, const Unit& unit, Angle& to);
std::optional<Complaint> read(const Value& from, const Unit& unit, Time& to);
std::optional<Complaint> read(const Value& from, const Unit& unit, Vec3& to);
/// Three numbers, of which any may be infinite.
std::optional<Complaint> read_unbounded(const Value& from, const Unit& unit, Vec3& to);
std::optional<std::size_t> read_choice(const Value& from, std::span<const std::string_view> names,
                                       std::optional<Complaint>& complaint);

std::optional<Value> write(bool from, const Unit& unit);
std::optional<Value> write(double from, const Unit& unit);
std::optional<Value> write(std::int64_t from, const Unit& unit);
std::optional<Value> write(Angle from, const Unit& unit);
std::optional<Value> write(Time from, const Unit& unit);
std::optional<Value> write(const Vec3& from, const Unit& unit);
Value three(const Vec3& from);

Form form_of(const bool*, const Unit& unit);
Form form_of(const double*, const Unit& unit);
Form form_of(const std::int64_t*, const Unit& unit);
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

template <class E>
constexpr auto names_of_choices() {
  constexpr auto all = choices(E{});
  std::array<std::string_view, all.size()> names;
  for (std::size_t i = 0; i < all.size(); ++i) names[i] = all[i].second;
  return names;
}

template <class T>
std::optional<Complaint> read_any(const Value& from, const Unit& unit, T& to) {
  if constexpr (is_optional<T>) {
    typename T::value_type inner{};
    auto complaint = read_any(from, unit, inner);
    if (!complaint) to = inner;
    return complaint;
  } else if constexpr (is_list<T>) {
    const auto* list = from.as<Value::List>();
    if (!list) return expected(from, "a list");
    T items;
    items.reserve(list->size());
    for (const Value& item : *list)
      if (auto complaint = read_any(item, unit, items.emplace_back())) return complaint;
    to = std::move(items);
    return std::nullopt;
  } else if constexpr (std::is_enum_v<T>) {
    static constexpr auto names = names_of_choices<T>();
    std::optional<Complaint> complaint;
    if (const auto chosen = read_choice(from, names, complaint)) to = choices(T{})[*chosen].first;
    return complaint;
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
    for (const auto& item : from) list.push_back(write_any(item, unit).value_or(Value{}));
    return Value{std::move(list)};
  } else if constexpr (std::is_enum_v<T>) {
    for (const auto& [value, name] : choices(T{}))
      if (value == from) return Value{std::string{name}};
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
    std::string words = "a list, of each " + item.in_words;
    return form::list(std::move(item), 1, 1'000'000, std::move(words));
  } else if constexpr (std::is_enum_v<T>) {
    static constexpr auto names = names_of_choices<T>();
    return form::word({names.begin(), names.end()});
  } else {
    return form_of(static_cast<const T*>(nullptr), unit);
  }
}

template <class T>
std::optional<Complaint> resolve_any(T& to, const Names& names) {
  if constexpr (is_optional<T>) {
    return to ? resolve_any(*to, names) : std::nullopt;
  } else if constexpr (is_list<T>) {
    for (auto& item : to)
      if (auto complaint = resolve_any(item, names)) return complaint;
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

/// What is wrong with an enumerator: it is none of its type, as a number that was cast may be.
template <class E>
std::optional<Complaint> check_choice(E value) {
  for (const auto& [each, name] : choices(E{}))
    if (each == value) return std::nullopt;
  static constexpr auto names = names_of_choices<E>();
  return Complaint{{},
                   "there is no choice of the number " + std::to_string(static_cast<long>(value)) +
                       suggestion("", {names.begin(), names.end()})};
}

/// What is wrong with a value that was set from C++, where no reader has seen it.
template <class T>
std::optional<Complaint> check_any(const T& value, const Unit& unit) {
  if constexpr (is_optional<T>) {
    return value ? check_any(*value, unit) : std::nullopt;
  } else if constexpr (is_list<T>) {
    for (const auto& item : value)
      if (auto complaint = check_any(item, unit)) return complaint;
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

}  // namespace inside
}  // namespace hushed
