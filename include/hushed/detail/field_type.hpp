// SPDX-License-Identifier: MIT
#pragma once

// For the headers of types that fields can have: the names of enumerators, and the types that conversion functions
// name. A type of your own can be the type of a field if it has these friends; to define them, include
// <hushed/field.hpp>:
//
//     std::optional<Diagnostic> read(const Value& from, const Unit& unit, T& to);     sets `to`, or returns a problem
//     std::optional<Value> write(const T& from, const Unit& unit);                    nothing where it is left out
//     Form form_of(const T*, const Unit& unit);                                       its form in a file
//
// It may have a member `std::optional<Diagnostic> check() const`, which checks a value that C++ code has set. If it
// names objects or poses, it needs these friends too:
//
//     std::optional<Diagnostic> resolve(T& to, const Names& names);     replaces names by handles
//     void add_objects(const T& from, References& to);                  adds the objects that it names
//     void aim(T& to, Object at);                                       names this object instead

#include <cstddef>
#include <optional>
#include <string_view>

#include <hushed/detail/export.hpp>
#include <hushed/diagnostic.hpp>
#include <hushed/fwd.hpp>
#include <hushed/handle.hpp>

namespace hushed HUSHED_API {

struct Form;
struct Unit;

namespace detail {
class Names;
struct References;
}  // namespace detail

/// An enumerator and its name in files.
template <class E>
struct Choice {
  E value;
  std::string_view name;
};

/// All enumerators of an enumeration E. They are returned by a function `choices(E)`.
template <class E, std::size_t N>
struct Choices {
  Choice<E> all[N];

  constexpr const Choice<E>* begin() const { return all; }
  constexpr const Choice<E>* end() const { return all + N; }
};

/// The name of an enumerator; empty for a number that is none.
template <class E>
requires requires(E value) { choices(value); }
constexpr std::string_view name_of(E value) {
  for (const auto& [each, name] : choices(value))
    if (each == value) return name;
  return "";
}

}  // namespace hushed
