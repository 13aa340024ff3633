// SPDX-License-Identifier: MIT
#pragma once

// Finding mistakes in motion: which object, when, what is wrong and what helps. In the library HushedOrbit::analysis.

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

/// How certain a finding is.
enum class Severity {
  mistake,  ///< certainly unwanted
  doubt     ///< may be intended
};

struct Finding {
  std::string code;  ///< one of `finding_codes()`
  Severity severity;
  std::string object;                 ///< its name, or that of the rule or preset
  std::optional<std::int64_t> frame;  ///< where it is first or most visible
  std::string text;                   ///< the finding in a sentence
  std::string hint;                   ///< what would help
  std::string ignored_because = {};   ///< the reason given for ignoring it; empty where it is not ignored
};

/// A finding that is ignored for one object, with the reason.
struct IgnoredFinding {
  std::string object, code, reason;
};

/// The code of a finding and its meaning in a few words. `finding_codes` lists all.
struct FindingCode {
  std::string_view code, meaning;
};
std::span<const FindingCode> finding_codes();

struct CheckOptions {
  double frames_per_second = 60.0;
  std::int64_t last_frame = 600;
  std::optional<Box> area = {};  ///< m: where all objects should stay, if given
  std::vector<IgnoredFinding> ignored = {};
  std::vector<std::string> unused_presets = {};  ///< presets of a scene file that no object uses
  /// Called in every frame with the number of finished plays; false ends the check early.
  std::function<bool(int)> goes_on = nullptr;
};

/// Plays a scene several times (with more ticks, without single behaviours) and returns the findings, grouped by
/// object. `make` creates the scene anew with its tick rate multiplied by the argument.
///
///     const auto found = check([](double ticks) { return make_harbour(120.0 * ticks); });
std::vector<Finding> check(const std::function<Scene(double)>& make, const CheckOptions& options = {});

}  // namespace hushed
