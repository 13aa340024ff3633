// SPDX-License-Identifier: MIT
#pragma once

// Sweeps: many plays of a scene, each with other values, each measured. In the library HushedOrbit::study.

#include <cstddef>
#include <cstdint>
#include <functional>
#include <optional>
#include <string>
#include <string_view>
#include <vector>

#include <hushed/detail/export.hpp>
#include <hushed/detail/reading.hpp>
#include <hushed/measure.hpp>
#include <hushed/scene.hpp>
#include <hushed/time.hpp>
#include <hushed/value.hpp>

namespace hushed HUSHED_API {

/// A value that differs from play to play: one of a list, or a number within a range.
struct Varied {
  std::string path;                ///< "hook.spring.damping", or a number inside one, "boat.travel.velocity.x"
  std::vector<Value> values = {};  ///< the list; empty for a range
  double low = 0.0, high = 0.0;    ///< of a range, both included
  std::size_t count = 0;           ///< of a range in a grid: how many numbers, at equal distances
};

/// How the values of several plays are chosen.
enum class Sampling {
  grid,             ///< every combination; the last value changes fastest
  latin_hypercube,  ///< each range is divided into as many parts as there are plays; each part is used once
  sobol             ///< a Sobol sequence with a random digital shift: even at every number of plays
};

constexpr auto choices(Sampling) {
  return Choices<Sampling, 3>{
      {{Sampling::grid, "grid"}, {Sampling::latin_hypercube, "latin-hypercube"}, {Sampling::sobol, "sobol"}}};
}

struct SweepPlan {
  std::vector<Varied> varied;         ///< at least one
  std::vector<std::string> measures;  ///< at least one, such as "overshoot(hook.position.x)"
  Time length = seconds(10.0);        ///< of each play
  Sampling sampling = Sampling::grid;
  std::size_t plays = 0;   ///< for another sampling than a grid: 1 to 1 000 000
  std::uint64_t seed = 1;  ///< for another sampling than a grid
};

/// The values of all plays of a plan. Each is determined by the plan and the number of the play alone.
class SweptValues {
 public:
  /// Throws `BadValue` where the plan has no values, or more than 1 000 000 plays.
  explicit SweptValues(const SweepPlan& plan);

  std::size_t plays() const { return plays_; }
  /// One for each of `SweepPlan::varied`.
  std::vector<Value> of(std::size_t play) const;

 private:
  std::vector<Varied> varied_;
  std::size_t plays_ = 1;
  std::vector<double> shares_;  ///< of play 0, 1, ...: for each varied value a number in [0, 1); empty for a grid
};

/// A play of a sweep.
struct SweptPlay {
  std::size_t number;  ///< from 0
  std::vector<Value> values;
  std::vector<Measured> measured;
};

struct SweepOptions {
  int threads = 0;                  ///< 0: as many as the machine has
  std::size_t part = 1, parts = 1;  ///< plays only those whose number is `part - 1` plus a multiple of `parts`
  std::vector<bool> skipped = {};   ///< by number: these are not played
  /// Called after each play, in the order in which they end, by one thread at a time.
  std::function<void(const SweptPlay&)> on_play = nullptr;
  /// Stops all plays where it returns false. Called by all threads.
  std::function<bool()> goes_on = nullptr;
};

/// Plays a scene many times. `make` gives the scene; it is called once for each thread, by the calling thread; the
/// scenes must share nothing. Every play begins at the time of the scene that it gives. Returns the finished plays by
/// number; their bits depend on neither the number of threads nor the parts. Throws `BadValue` where the plan names a
/// value or a measure that does not exist, or a value is out of range, and what a play throws.
///
///     const SweepPlan plan{.varied = {{.path = "hook.spring.damping", .low = 0.1, .high = 1.0, .count = 10}},
///                          .measures = {"settled(hook.position.x)"}};
///     for (const SweptPlay& play : sweep(make_harbour, plan)) ...
std::vector<SweptPlay> sweep(const std::function<Scene()>& make, const SweepPlan& plan,
                             const SweepOptions& options = {});

/// The results of a sweep as text and numbers: as they are printed, read from a file and drawn.
struct SweepTable {
  struct Row {
    std::size_t number;
    std::vector<std::string> values;
    std::vector<std::optional<double>> measured;
    friend bool operator==(const Row&, const Row&) = default;
  };
  std::vector<std::string> paths, measures;
  std::vector<std::string> units = {};  ///< of the measures, where they are known
  std::size_t plays = 0;                ///< of the whole sweep; there may be fewer rows
  std::vector<Row> rows;

  /// The row of a play.
  static Row row(const SweptPlay& play);
};

}  // namespace hushed
