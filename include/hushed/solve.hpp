// SPDX-License-Identifier: MIT
#pragma once

// Solving: finding the values with which a motion is as wished. In the library HushedOrbit::study.

#include <cstddef>
#include <cstdint>
#include <functional>
#include <optional>
#include <string>
#include <string_view>
#include <vector>

#include <hushed/detail/export.hpp>
#include <hushed/measure.hpp>
#include <hushed/scene.hpp>
#include <hushed/time.hpp>

namespace hushed HUSHED_API {

/// A number that may be changed to fulfil wishes.
struct Change {
  std::string path;  ///< "hook.spring.damping", or a number inside one, "boat.travel.velocity.x"
  double low, high;  ///< both included
};

/// What a measure is to be.
struct Wish {
  enum class Relation { equal, below, above };

  std::string measure;  ///< "overshoot(hook.position.x)"
  Relation relation = Relation::equal;
  double value = 0.0;
  double weight = 1.0;  ///< where not all wishes can be fulfilled: 0 excluded

  /// Reads "settled(hook.position.x) = 0.8 s", "overshoot(hook.position.x) < 10 %, weight 2". Throws `BadValue` where
  /// the text is none, the measure does not exist in the scene, or the unit is another than that of the measure.
  static Wish read(std::string_view text, const Scene& scene);
  /// "overshoot(hook.position.x) < 10 %"
  std::string words(std::string_view unit) const;
  /// Whether a measured number fulfils the wish; `equal`: within a thousandth of the value (of 1 for 0).
  bool is_met_by(const std::optional<double>& measured) const;
};

struct SolveOptions {
  Time length = seconds(10.0);  ///< of each play
  std::size_t plays = 2000;     ///< at most
  Time time = seconds(60.0);    ///< of the search, at most
  std::uint64_t seed = 1;       ///< of where else to search
  int threads = 0;              ///< 0: as many as the machine has
  /// Called between plays, with the number of finished plays and the number of wishes that the best one fulfils. The
  /// search ends where it returns false.
  std::function<bool(std::size_t plays, std::size_t met)> goes_on = nullptr;
};

/// The best values found.
struct Solution {
  struct Number {
    std::string path;
    double before, after;
  };
  struct Result {
    Wish wish;
    std::string unit;
    std::optional<double> before, after;  ///< measured; nothing where it does not exist
    bool is_met;
    /// For each change: by how much the measure changes where the value changes by a hundredth of its range; nothing
    /// where the measure does not exist there.
    std::vector<std::optional<double>> sensitivity;
  };
  /// Wishes, by index, that could be fulfilled one by one but not together in any play. A single index: a wish that
  /// could not be fulfilled at all.
  using Conflict = std::vector<std::size_t>;

  std::vector<Number> numbers;
  std::vector<Result> results;
  std::vector<Conflict> conflicts;
  std::size_t plays = 0;
  bool is_complete = true;  ///< false where it was stopped or reached a limit; without a single play, results are empty

  bool is_met() const;
};

/// Searches for values with which all wishes are fulfilled: from the present values by a local search (BOBYQA, Powell
/// 2009), then from the best of evenly distributed plays. Where not all can be fulfilled, the result has the least sum
/// of the squared relative deviations times the weights. `make` gives the scene, as for `sweep`. Throws `BadValue`
/// where a value or a measure does not exist, or a range is none.
Solution solve(const std::function<Scene()>& make, const std::vector<Change>& changes, const std::vector<Wish>& wishes,
               const SolveOptions& options = {});

}  // namespace hushed
