// SPDX-License-Identifier: MIT
#pragma once

#include <memory>
#include <span>
#include <string>
#include <string_view>

#include <hushed/detail/export.hpp>
#include <hushed/detail/field_type.hpp>

namespace hushed HUSHED_API {

namespace detail {
struct Curve;
}

/// An easing function: maps the share of the time, 0 to 1, to the share of the way, 0 at the start and 1 at the end.
///
///     const Easing gently = Easing::parse("in-out-sine");
///     gently(0.25);                                    // 0.146...
///     Easing::parse("cubic-bezier(.2,.8,.2,1)")(0.3);  // 0.766...
///
/// A name (`linear`, `smoothstep`, `smootherstep`, and `in-`, `out-`, `in-out-` with `sine`, `quad`, `cubic`, `quart`,
/// `quint`, `expo`, `circ`, `back`, `elastic`, `bounce`), or a curve of the CSS Easing Functions standard, levels 1 and
/// 2: `ease`, `ease-in`, `ease-out`, `ease-in-out`, `cubic-bezier(x1, y1, x2, y2)`, `steps(n, where)`, `step-start`,
/// `step-end`, `linear(0, 0.5 20%, 1)`.
class Easing {
 public:
  Easing();  ///< linear

  /// Parses the name or the curve of an easing. Throws `BadValue` with the position in the text.
  static Easing parse(std::string_view text);

  /// The share of the way after the share `x` of the time; `x` is clamped to 0 to 1.
  double operator()(double x) const;

  /// Its text, as it was parsed.
  const std::string& text() const { return text_; }
  /// The names of all easings without parameters.
  static std::span<const std::string_view> names();

  const detail::Curve& curve() const { return *curve_; }  ///< for the library's kernels
  bool operator==(const Easing& other) const { return text_ == other.text_; }

  friend HUSHED_API std::optional<Diagnostic> read(const Value& from, const Unit& unit, Easing& to);
  friend HUSHED_API std::optional<Value> write(const Easing& from, const Unit& unit);
  friend HUSHED_API Form form_of(const Easing*, const Unit& unit);

 private:
  Easing(std::shared_ptr<const detail::Curve> curve, std::string text);

  std::shared_ptr<const detail::Curve> curve_;
  std::string text_;
};

}  // namespace hushed
