// SPDX-License-Identifier: MIT
#pragma once

// Finding mistakes in motion: what is wrong, with whom, when, and what to do about it. In the library
// HushedOrbit::analysis.

#include <functional>
#include <optional>
#include <span>
#include <string>
#include <string_view>
#include <vector>

#include <hushed/box.hpp>
#include <hushed/detail/export.hpp>
#include <hushed/recording.hpp>

namespace hushed HUSHED_API {

/// How sure a check is.
enum class Severity {
  mistake,  ///< nobody wants this
  doubt     ///< it may be meant
};

struct Finding {
  std::string code;  ///< one of `finding_codes()`
  Severity severity;
  std::string object;                 ///< or the name of the rule or preset
  std::optional<std::int64_t> frame;  ///< where it shows first or most
  std::string text;                   ///< what is found, in a sentence
  std::string hint;                   ///< what would help
  std::string ignored_because = {};   ///< the reason given for leaving it as it is; empty where there is none
};

/// A finding that is left as it is, for one object.
struct IgnoredFinding {
  std::string object, code, reason;
};

/// What can be found, and what each means in a few words.
struct FindingCode {
  std::string_view code, meaning;
};
std::span<const FindingCode> finding_codes();

struct CheckOptions {
  double frames_per_second = 60.0;
  std::int64_t last_frame = 600;
  std::optional<Box> area = {};  ///< m: what the view shows, if it is known
  std::vector<IgnoredFinding> ignored = {};
  std::vector<std::string> unused_presets = {};  ///< that a scene file has and does not use
  /// Told in every frame how many plays are done; false ends the check with what has been found.
  std::function<bool(int)> goes_on = nullptr;
};

/// Plays a scene several times (with more ticks, without one behaviour or another) and says what is wrong, those of one
/// object together. `make` gives the scene anew, with that many times its ticks.
///
///     const auto found = check([](double ticks) { return make_harbour(120.0 * ticks); });
std::vector<Finding> check(const std::function<Scene(double)>& make, const CheckOptions& options = {});

}  // namespace hushed
