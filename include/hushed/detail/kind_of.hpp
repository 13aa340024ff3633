// SPDX-License-Identifier: MIT
#pragma once

#include <hushed/detail/export.hpp>

namespace hushed HUSHED_API {
namespace detail {

class Kind;

/// The one `Kind` of the behaviour B. Each built-in behaviour has a specialisation; <hushed/own.hpp> has the definition
/// for all others.
template <class B>
const Kind& kind_of();

/// The values of a behaviour whose type is known at run time only. Refers to them; does not own them.
class AnyValues {
 public:
  template <class B>
  explicit AnyValues(const B& values) : kind_{&kind_of<B>()}, data_{&values} {}
  AnyValues(const Kind& kind, const void* data) : kind_{&kind}, data_{data} {}

  const Kind& kind() const { return *kind_; }
  const void* data() const { return data_; }
  /// The values as a B, or nullptr where they are of another kind.
  template <class B>
  const B* as() const {
    return kind_ == &kind_of<B>() ? static_cast<const B*>(data_) : nullptr;
  }

 private:
  const Kind* kind_;
  const void* data_;
};

}  // namespace detail
}  // namespace hushed
