// SPDX-License-Identifier: MIT
#pragma once

// Measures: one number of a whole motion, such as an overshoot or the time at which something settles. See
// docs/reference/measures.md for all of them. In the library HushedOrbit::study.

#include <functional>
#include <memory>
#include <optional>
#include <span>
#include <string>
#include <string_view>
#include <vector>

#include <hushed/detail/export.hpp>
#include <hushed/scene.hpp>
#include <hushed/time.hpp>
#include <hushed/watch.hpp>
#include <hushed/watched.hpp>

namespace hushed::detail {
struct MeasureWord;
struct MeasureArguments;
struct MeasureAccess;
}  // namespace hushed::detail

namespace hushed HUSHED_API {

/// A kind of measure.
struct MeasureInfo {
  std::string_view name;   ///< "overshoot"
  std::string_view usage;  ///< "overshoot(WATCH, of = VALUE)"
  std::string_view unit;   ///< "%"; "of the watch" where it is that of its watch
  std::string_view help;   ///< what it is, in a sentence
};

/// All kinds of measures, in the order of the documentation.
std::span<const MeasureInfo> measure_kinds();

/// A measure of a scene: `overshoot(hook.position.x)`, `settled(hook.position.x, within = 2%, from = 1)`.
class Measure {
 public:
  /// Throws `BadValue`, with a suggestion, where the text is no measure or names nothing in the scene.
  Measure(std::string_view text, const Scene& scene);

  const std::string& text() const { return text_; }
  std::string_view name() const;  ///< of its kind
  std::string_view unit() const;  ///< of its number: "%", "s", "m"; empty for a count
  const Watch* watch() const;     ///< what it measures; nullptr for a measure of events

 private:
  friend class Measuring;
  friend detail::MeasureAccess;
  std::string text_;
  const detail::MeasureWord* word_;
  std::shared_ptr<const detail::MeasureArguments> arguments_;
};

/// What was measured.
struct Measured {
  std::optional<double> value;  ///< nothing where it does not exist: a time that is never reached
  std::optional<Time> at = {};  ///< the scene's time to which it belongs, where there is one such time
};

/// "12.3 %"; "none" where it does not exist.
std::string as_text(const Measured& measured, std::string_view unit, int digits = 6);

/// Its place in a picture of curves: "overshoot 12.3 %".
Watched::Note note_of(const Measure& measure, const Measured& measured);

/// Plays a scene for some time from now on and measures it. Times count from now; each measure covers the whole play
/// unless its text says otherwise. Extremes and crossings are found on the motion between ticks; the result does not
/// depend on a frame rate. Callbacks are not called. The scene is at the end of the
/// play afterwards. `goes_on`, if given, gets the share that is done, 0 to 1; where it returns false, the play stops
/// and the result is empty.
///
///     const Measure settled{"settled(hook.position.x)", harbour};
///     const double time = measure(harbour, {&settled, 1}, 10s).front().value.value();
std::vector<Measured> measure(Scene& scene, std::span<const Measure> measures, Time length,
                              const std::function<bool(double)>& goes_on = nullptr);

}  // namespace hushed
