// SPDX-License-Identifier: MIT
#pragma once

#include <exception>

#include <hushed/detail/export.hpp>

namespace hushed HUSHED_API {
namespace detail {

class Kind;

/// The kind of a behaviour that is not built in; defined by <hushed/own.hpp>.
template <class B>
struct OwnKindOf;

/// The one `Kind` of the behaviour B. Each built-in behaviour has a specialisation.
template <class B>
const Kind& kind_of() {
  if constexpr (requires { sizeof(OwnKindOf<B>); }) {
    return OwnKindOf<B>::kind();
  } else {
    static_assert(
        requires { sizeof(OwnKindOf<B>); }, "a behaviour of your own needs #include <hushed/own.hpp>");
    std::terminate();
  }
}

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
