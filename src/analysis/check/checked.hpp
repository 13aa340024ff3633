// SPDX-License-Identifier: MIT
#pragma once

// A play of a scene that is checked, and functions that all checks use.

#include <algorithm>
#include <cmath>
#include <cstdio>

#include <hushed/check.hpp>

namespace hushed::detail {

/// World and local poses of every object, frame by frame.
struct Played {
  Scene scene;  ///< at the last frame
  std::vector<Object> objects;
  Recording world, local;
  std::vector<bool> answers = {};  ///< see `who_answers`
};

/// Counts the plays, and calls the progress function in every frame of each.
class Plays {
 public:
  struct Stopped {};

  explicit Plays(const CheckOptions& options) : options_{options} {}
  /// Throws `Stopped`.
  void go_on() const {
    if (options_.goes_on && !options_.goes_on(done_)) throw Stopped{};
  }
  void one_is_done() { ++done_; }

 private:
  const CheckOptions& options_;
  int done_ = 0;
};

Played play_to_check(Scene scene, const CheckOptions& options, Plays& plays);

class Findings {
 public:
  explicit Findings(std::vector<Finding>& all) : all_{all} {}
  void add(std::string code, Severity severity, std::string object, std::optional<std::size_t> frame, std::string text,
           std::string hint) {
    all_.push_back({std::move(code), severity, std::move(object),
                    frame ? std::optional{static_cast<std::int64_t>(*frame)} : std::nullopt, std::move(text),
                    std::move(hint)});
  }

 private:
  std::vector<Finding>& all_;
};

/// Three digits of a number.
inline std::string few_digits(double value) {
  char text[32];
  std::snprintf(text, sizeof text, "%.3g", value);
  return text;
}

/// The quantile of the values at a share, 0 to 1; 0 without values.
inline double quantile(std::vector<double> values, double share) {
  if (values.empty()) return 0.0;
  const auto at = values.begin() + static_cast<std::ptrdiff_t>(share * static_cast<double>(values.size() - 1));
  std::nth_element(values.begin(), at, values.end());
  return *at;
}

/// For each object: true where it moves only when something happens, or depends on such an object. It may rightly rest.
std::vector<bool> who_answers(const Played& played);
/// True where the behaviour does not run from the beginning, or depends on keys or on near objects.
bool waits_for_something(const Scene& scene, AnyBehaviour behaviour);

/// For each object: true where it wanders or depends on neighbours, or depends on such an object. Its path differs at
/// another tick rate, as with another seed.
std::vector<bool> who_is_lively(const Played& played);

void check_agents(const Played& played, Findings& to);
void check_rules(const Played& played, const CheckOptions& options, Findings& to);
void check_motion(const Played& played, const CheckOptions& options, Findings& to);
void check_behaviours(const Played& played, const CheckOptions& options, Findings& to);
/// Checks of behaviours that are not built in. Plays the second half of the scene again.
void check_own_kinds(Played& played, Plays& plays, Findings& to);
/// The checks that need more plays.
void check_variations(const std::function<Scene(double)>& make, const Played& played, const CheckOptions& options,
                      Plays& plays, Findings& to);

}  // namespace hushed::detail
