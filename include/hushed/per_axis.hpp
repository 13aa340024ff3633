// SPDX-License-Identifier: MIT
#pragma once

#include <array>
#include <cstddef>

#include <hushed/detail/export.hpp>
#include <hushed/detail/reading.hpp>

namespace hushed HUSHED_API {

/// One value for all three axes, or one for each: `.frequency = 0.2` or `.frequency = {0.2, 0.5, 0.2}`.
template <class T>
class PerAxis {
 public:
  constexpr PerAxis(T for_all = {}) : each_{for_all, for_all, for_all} {}
  constexpr PerAxis(T x, T y, T z) : each_{x, y, z} {}

  constexpr const T& operator[](int axis) const { return each_[static_cast<std::size_t>(axis)]; }
  constexpr T& operator[](int axis) { return each_[static_cast<std::size_t>(axis)]; }
  bool operator==(const PerAxis&) const = default;

  friend std::optional<Diagnostic> read(const Value& from, const Unit& unit, PerAxis& to) {
    const auto* list = from.as<Value::List>();
    if (list && list->size() != 3)
      return detail::expected(from, form_of(static_cast<const PerAxis*>(nullptr), unit).description);
    PerAxis taken;
    for (std::size_t axis = 0; axis < 3; ++axis)
      if (auto diagnostic = detail::read(list ? (*list)[axis] : from, unit, taken.each_[axis])) return diagnostic;
    to = taken;
    return std::nullopt;
  }
  friend std::optional<Value> write(const PerAxis& from, const Unit& unit) {
    if (from.each_[0] == from.each_[1] && from.each_[1] == from.each_[2]) return detail::write(from.each_[0], unit);
    Value::List list;
    for (const T& one : from.each_) detail::add_to(list, detail::write(one, unit));
    return detail::write_list(std::move(list));
  }
  friend Form form_of(const PerAxis*, const Unit& unit) { return form::number_or_three(unit); }

 private:
  std::array<T, 3> each_;
};

}  // namespace hushed
