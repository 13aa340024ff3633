// SPDX-License-Identifier: MIT
#pragma once

// Times of state that is advanced from tick to tick: the time up to which each of eight lanes has been advanced, the
// length of the next step, and factors that depend on that length only.

#include <optional>

#include <hushed/detail/eval_context.hpp>

#include "lanes/loop.hpp"

namespace hushed::detail {

inline double in_units(Time time) { return static_cast<double>(time.count()); }
inline Time time_of(double units) { return Time{static_cast<Time::rep>(units)}; }

/// Copies the active lanes of a row.
inline void store_active(const EvalContext& context, const Row& from, Row& to) {
  if (context.active == all_lanes) {
    to = from;
    return;
  }
  for (int lane = 0; lane < lanes; ++lane)
    if (context.is_active(lane)) to.at[lane] = from.at[lane];
}
template <std::size_t count>
void store_active(const EvalContext& context, const Row (&from)[count], Row (&to)[count]) {
  for (std::size_t i = 0; i < count; ++i) store_active(context, from[i], to[i]);
}

inline bool are_equal(const Row& a, const Row& b) {
  std::uint64_t different = 0;
  for (int lane = 0; lane < lanes; ++lane)
    different |= std::bit_cast<std::uint64_t>(a.at[lane]) ^ std::bit_cast<std::uint64_t>(b.at[lane]);
  return different == 0;
}

/// A number for each of eight lanes, for numbers that are nearly always equal in all lanes.
class MostlyOne {
 public:
  MostlyOne() : each_{} {}
  explicit MostlyOne(double common) { set_all(common); }  // NOLINT(cppcoreguidelines-pro-type-member-init)

  void set(int lane, double value) {
    if (is_common_) each_ = row();
    is_common_ = false;
    each_.at[lane] = value;
  }
  void set_all(double value) {
    common_ = value;
    is_common_ = true;
  }
  double at(int lane) const { return is_common_ ? common_ : each_.at[lane]; }
  Row row() const {
    Row row = each_;
    if (is_common_)
      for (double& each : row.at) each = common_;
    return row;
  }
  /// The common number, where all lanes are known to be equal.
  std::optional<double> common() const { return is_common_ ? std::optional{common_} : std::nullopt; }
  bool operator==(const MostlyOne& other) const {
    return is_common_ && other.is_common_ ? common_ == other.common_ : are_equal(row(), other.row());
  }

 private:
  double common_ = 0.0;
  bool is_common_ = false;
  Row each_;  ///< used where lanes are not known to be equal
};

/// The length of the step of each of eight lanes, in s.
using Steps = MostlyOne;

/// True where all steps are known to be greater than 0.
inline bool all_move(const Steps& steps) { return steps.common().value_or(0.0) > 0.0; }

/// Restores the lanes whose step is 0, bit for bit.
template <std::size_t count>
void stay(const Steps& steps, const Row (&before)[count], Row (&rows)[count]) {
  if (all_move(steps)) return;
  for (int lane = 0; lane < lanes; ++lane) {
    if (steps.at(lane) > 0.0) continue;
    for (std::size_t i = 0; i < count; ++i) rows[i].at[lane] = before[i].at[lane];
  }
}

/// The time up to which the state of eight lanes has been advanced, in time units.
class Advanced {
 public:
  void set(int lane, Time until) { until_.set(lane, in_units(until)); }
  Time of(int lane) const { return time_of(until_.at(lane)); }

  /// The steps from that time to the moment of the context; 0 where state must not advance. Lanes that are not active
  /// get the step of an active one, so that the caches for equal steps still apply.
  Steps steps(const EvalContext& context) const {
    const auto step = [&](double until) { return step_since(until, context); };
    if (const auto until = until_.common()) return Steps{step(*until)};
    double common = 0.0;
    for (int lane = 0; lane < lanes; ++lane)
      if (context.is_active(lane)) common = step(until_.at(lane));
    Steps steps{common};
    for (int lane = 0; lane < lanes; ++lane)
      if (context.is_active(lane) && step(until_.at(lane)) != common) steps.set(lane, step(until_.at(lane)));
    return steps;
  }

  /// The length of each of several ticks, of which the context's moment is the last, where all eight lanes are active
  /// and have been advanced to the tick before these; otherwise nothing.
  std::optional<double> common_step(const EvalContext& context, int ticks) const {
    const auto until = until_.common();
    if (!until || context.remember != Remember::tick || context.active != all_lanes) return std::nullopt;
    const bool are_equal = in_units(context.time) - *until == ticks * context.step_units;
    return are_equal ? std::optional{step_of(context.step_units)} : std::nullopt;
  }

  /// The active lanes have been advanced to the time of the context.
  void to(const EvalContext& context) {
    if (context.active == all_lanes) {
      until_.set_all(in_units(context.time));
      return;
    }
    for (int lane = 0; lane < lanes; ++lane)
      if (context.is_active(lane)) until_.set(lane, in_units(context.time));
  }

 private:
  static double step_since(double until, const EvalContext& context) {
    if (context.remember == Remember::standing_still) return 0.0;
    return step_of(in_units(context.time) - until);
  }
  static double step_of(double units) { return larger(units, 0.0) * (1.0 / units_in_a_second); }
  static constexpr double units_in_a_second = static_cast<double>(units_per_second);

  MostlyOne until_;
};

/// A cache of factors that depend on the step only: those of the last tick's step, which is likely to come again.
template <class Factors>
class PerStep {
 public:
  void forget(int lane) { valid_for_.set(lane, -1.0); }

  /// The cached factors where all steps are equal to the cached one; otherwise nullptr.
  const Factors* valid_for(double step) const { return valid_for_.common() == step ? &kept_ : nullptr; }
  /// The factors of these steps. `find(steps, factors)` computes them where they are not cached. Factors that are not
  /// to be cached are stored in `passing`.
  template <class Find>
  const Factors& at(const Steps& steps, const EvalContext& context, Factors& passing, Find&& find) {
    if (steps == valid_for_) return kept_;
    const bool is_tick = context.remember == Remember::tick;
    Factors& to = is_tick ? kept_ : passing;
    find(steps.row(), to);
    if (is_tick) valid_for_ = steps;
    return to;
  }

 private:
  Steps valid_for_{-1.0};
  Factors kept_;
};

}  // namespace hushed::detail
