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
#include <utility>
#include <vector>

#include <hushed/angle.hpp>
#include <hushed/time.hpp>
#include <hushed/value.hpp>
#include <hushed/vector.hpp>

namespace hushed {

/// A box along the parent's axes, in metres. Without bounds unless given.
struct Box {
  Vec3 min = Vec3::Constant(-std::numeric_limits<double>::infinity());
  Vec3 max = Vec3::Constant(std::numeric_limits<double>::infinity());
};

/// What a field is measured in, and the range that follows from it.
struct Unit {
  std::string_view symbol;
  double low = -1e9;
  double high = 1e9;
  bool is_direction = false;
};

namespace unit {
inline constexpr Unit none{""};
inline constexpr Unit direction{"", -1e9, 1e9, true};  ///< an axis by name, or any vector but zero
inline constexpr Unit share{"", 0.0, 1.0};
inline constexpr Unit metres{"m"};
inline constexpr Unit metres_per_second{"m/s"};
inline constexpr Unit degrees{"deg"};
inline constexpr Unit degrees_per_second{"deg/s"};
inline constexpr Unit hertz{"Hz"};
inline constexpr Unit seconds{"s", 0.0, 1e6};  ///< a length of time: not negative
}  // namespace unit

/// The values of an enumeration and their names; a type's own are found as `choices(T{})`.
template <class E, std::size_t N>
using Choices = std::array<std::pair<E, std::string_view>, N>;

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
  std::string_view name;
  T B::*member;
  Unit unit;
  std::string_view help;
  std::optional<Slider> slider = {};
  bool required = false;

  constexpr void take(Slider range) { slider = range; }
  constexpr void take(Required) { required = true; }
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

/// What a value looks like in a file.
enum class Form { boolean, number, choice, axis, three_numbers, box };

/// A field without its types, for whoever prints, parses or draws it.
struct FieldInfo {
  std::string_view name;
  std::string_view help;
  Unit unit;
  Form form = Form::number;
  std::vector<std::string_view> choices;  ///< where `form` is choice
  std::optional<Slider> slider;
  bool required = false;
  std::optional<Value> fallback;  ///< the default; nothing where it is required or left out

  /// Reads the field of the behaviour at `owner`, and sets it; nothing where that went well.
  std::optional<Value> (*get)(const void* owner) = nullptr;
  std::optional<Complaint> (*set)(void* owner, const Value& value) = nullptr;

  /// "a number", "one of "own", "parent", "world"".
  std::string form_in_words() const;
};

namespace inside {

std::optional<Complaint> read(const Value& from, const Unit& unit, bool& to);
std::optional<Complaint> read(const Value& from, const Unit& unit, double& to);
std::optional<Complaint> read(const Value& from, const Unit& unit, Angle& to);
std::optional<Complaint> read(const Value& from, const Unit& unit, Time& to);
std::optional<Complaint> read(const Value& from, const Unit& unit, Vec3& to);
std::optional<Complaint> read(const Value& from, const Unit& unit, Box& to);
std::optional<std::size_t> read_choice(const Value& from, std::span<const std::string_view> names,
                                       std::optional<Complaint>& complaint);

std::optional<Value> write(bool from, const Unit& unit);
std::optional<Value> write(double from, const Unit& unit);
std::optional<Value> write(Angle from, const Unit& unit);
std::optional<Value> write(Time from, const Unit& unit);
std::optional<Value> write(const Vec3& from, const Unit& unit);
std::optional<Value> write(const Box& from, const Unit& unit);

/// What is wrong with the field as it is, where it was set from C++.
std::optional<Complaint> check(const FieldInfo& field, const void* owner);

template <class T>
struct IsOptional : std::false_type {};
template <class T>
struct IsOptional<std::optional<T>> : std::true_type {};

template <class T>
std::optional<Complaint> read_any(const Value& from, const Unit& unit, T& to) {
  if constexpr (IsOptional<T>::value) {
    typename T::value_type inner{};
    auto complaint = read_any(from, unit, inner);
    if (!complaint) to = inner;
    return complaint;
  } else if constexpr (std::is_enum_v<T>) {
    constexpr auto all = choices(T{});
    std::array<std::string_view, all.size()> names;
    for (std::size_t i = 0; i < all.size(); ++i) names[i] = all[i].second;
    std::optional<Complaint> complaint;
    if (const auto chosen = read_choice(from, names, complaint)) to = all[*chosen].first;
    return complaint;
  } else {
    return read(from, unit, to);
  }
}

template <class T>
std::optional<Value> write_any(const T& from, const Unit& unit) {
  if constexpr (IsOptional<T>::value) {
    return from ? write_any(*from, unit) : std::nullopt;
  } else if constexpr (std::is_enum_v<T>) {
    for (const auto& [value, name] : choices(T{}))
      if (value == from) return Value{std::string{name}};
    return std::nullopt;
  } else {
    return write(from, unit);
  }
}

template <class T>
void describe_form(FieldInfo& info) {
  if constexpr (IsOptional<T>::value) {
    describe_form<typename T::value_type>(info);
  } else if constexpr (std::is_enum_v<T>) {
    info.form = Form::choice;
    for (const auto& [value, name] : choices(T{})) info.choices.push_back(name);
  } else if constexpr (std::is_same_v<T, bool>) {
    info.form = Form::boolean;
  } else if constexpr (std::is_same_v<T, Vec3>) {
    info.form = info.unit.is_direction ? Form::axis : Form::three_numbers;
  } else if constexpr (std::is_same_v<T, Box>) {
    info.form = Form::box;
  } else {
    info.form = Form::number;
  }
}

template <class B, std::size_t I>
FieldInfo field_info() {
  constexpr auto entry = std::get<I>(B::fields);
  using Member = std::remove_cvref_t<decltype(std::declval<B>().*entry.member)>;

  FieldInfo info;
  info.name = entry.name;
  info.help = entry.help;
  info.unit = entry.unit;
  info.slider = entry.slider;
  info.required = entry.required;
  info.get = [](const void* owner) {
    constexpr auto self = std::get<I>(B::fields);
    return write_any(static_cast<const B*>(owner)->*self.member, self.unit);
  };
  info.set = [](void* owner, const Value& value) {
    constexpr auto self = std::get<I>(B::fields);
    return read_any(value, self.unit, static_cast<B*>(owner)->*self.member);
  };
  describe_form<Member>(info);
  const B untouched{};
  if (!entry.required) info.fallback = info.get(&untouched);
  return info;
}

}  // namespace inside

/// The fields of B, without their types. Empty where B has no table.
template <class B>
std::span<const FieldInfo> fields_of() {
  if constexpr (requires { B::fields; }) {
    static const auto table = []<std::size_t... I>(std::index_sequence<I...>) {
      return std::array<FieldInfo, sizeof...(I)>{inside::field_info<B, I>()...};
    }
    (std::make_index_sequence<std::tuple_size_v<std::remove_cvref_t<decltype(B::fields)>>>{});
    return table;
  } else {
    return {};
  }
}

}  // namespace hushed
