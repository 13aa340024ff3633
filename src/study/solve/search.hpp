// SPDX-License-Identifier: MIT
#pragma once

// A search for numbers: plays with other values, and what each measured.

#include <chrono>
#include <cstddef>
#include <optional>
#include <vector>

#include <hushed/solve.hpp>

#include "stage.hpp"

namespace hushed::detail {

/// A play: its values as shares of their ranges, 0 to 1, and what was measured for each wish.
struct Trial {
  std::vector<double> shares;
  std::vector<std::optional<double>> measured;
};

/// Indices of wishes that are searched for together.
using Together = std::vector<std::size_t>;

/// The limit of plays or of time is reached, or the caller has stopped the search.
struct SearchEnds {
  bool is_stopped;  ///< by the caller
};

class Search {
 public:
  Search(const std::function<Scene()>& make, const std::vector<Change>& changes, const std::vector<Wish>& wishes,
         const SolveOptions& options);

  const Stage& stage() const { return stages_.front(); }
  std::size_t plays() const { return trials_.size(); }
  Together all() const;
  /// What is measured with the present values, which may be outside the ranges. Not a trial.
  std::vector<std::optional<double>> before();

  /// The share of its range that a number is, clamped.
  double share_of(std::size_t change, double number) const;
  double number_at(std::size_t change, double share) const;

  // All of these throw `SearchEnds`.

  /// Plays once.
  const Trial& play(std::vector<double> shares);
  /// Plays an even distribution of values, on all threads.
  void play_many(std::size_t count, std::uint64_t seed);
  /// Finds the only number with which a measure has a wished value, between trials on both sides of it, by false
  /// position. `near`: the share from which it should not be far.
  void cross(std::size_t wish, double near);
  /// Improves a trial by a local search. `plays_each`: at most so many plays for each number.
  void improve(const Trial& from, const Together& wishes, int plays_each = 150);
  /// Searches until the wishes are fulfilled, or nothing better is found: near a trial first, then everywhere.
  void run(const Together& wishes);

  /// Whether a trial fulfils the wishes.
  bool meets(const Trial& trial, const Together& wishes) const;
  /// The trial of least cost; the first of equal ones.
  const Trial& best(const Together& wishes) const;
  /// Plays and time, as a share of what is allowed.
  void set_limit(double share) { limit_ = share; }

 private:
  double cost(const Trial& trial, const Together& wishes) const;
  void check_limits();
  std::vector<std::optional<double>> measured(Stage& stage, const std::vector<Value>& values) const;
  std::vector<Trial> apart(const Together& wishes, std::size_t count) const;

  const std::vector<Change>& changes_;
  const std::vector<Wish>& wishes_;
  const SolveOptions& options_;
  std::vector<Stage> stages_;
  std::vector<Trial> trials_;
  double limit_ = 1.0;
  std::size_t met_ = 0;  ///< how many wishes the best trial fulfils
  std::chrono::steady_clock::time_point start_ = std::chrono::steady_clock::now();
};

}  // namespace hushed::detail
