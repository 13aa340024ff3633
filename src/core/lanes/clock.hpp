// SPDX-License-Identifier: MIT
#pragma once

// Own times, and products of rates and own times. A time is stored as whole seconds and the rest, and a rate is split
// so that its product with the whole seconds is exact: precision does not fall during a long play.

#include <limits>

#include <hushed/detail/eval_context.hpp>
#include <hushed/time.hpp>

#include "lanes/real.hpp"

namespace hushed::detail {

/// Infinity, in s or any other unit.
inline constexpr double for_ever = std::numeric_limits<double>::infinity();

/// Converts a count of time units to an own time. Exact below 2^53 units (147 days).
inline OwnTime own_time(double units) {
  constexpr double second = static_cast<double>(units_per_second);
  const double guess = std::floor(units / second);
  const double left = units - guess * second;  // exact: both are whole numbers of units
  const double whole = guess + (left < 0.0 ? -1.0 : left >= second ? 1.0 : 0.0);
  return {whole, (units - whole * second) / second};
}

/// A period in two parts. The product of the first with a count below 2^27 is exact. All 0: no period.
template <class R>
struct PeriodOf {
  R lead, rest;
  R inverse;
};

/// The period `value` + `rounded_off`, where the second is the rounding error of the first.
inline PeriodOf<double> period_of(double value, double rounded_off = 0.0) {
  if (value == 0.0) return {0.0, 0.0, 0.0};
  return {leading(value), (value - leading(value)) + rounded_off, 1.0 / value};
}

/// rate * (whole + rest) + offset, minus the whole periods in rate * whole: not reduced to one period, but small enough
/// not to lose precision. The products are exact while |whole| and the number of periods are below 2^27.
template <class R>
R product_less_periods(R rate, R whole, R rest, R offset, const PeriodOf<R>& period) {
  const R rate_lead = leading(rate);
  const R lead = rate_lead * whole;
  const R periods = nearest(lead * period.inverse);
  return ((lead - periods * period.lead) - periods * period.rest) +
         ((rate - rate_lead) * whole + (rate * rest + offset));
}

/// rate * (whole + rest) + offset, reduced to at most half a period plus a few ulp in absolute value.
template <class R>
R reduced_product(R rate, R whole, R rest, R offset, const PeriodOf<R>& period) {
  const R sum = product_less_periods(rate, whole, rest, offset, period);
  const R periods = nearest(sum * period.inverse);
  return (sum - periods * period.lead) - periods * period.rest;
}

/// The number of whole periods in rate * (whole + rest) + offset, and the remainder in [0, period). Without a period,
/// the number is 0 and the remainder is the whole.
template <class R>
struct WholeTurns {
  R count, left;
};

template <class R>
WholeTurns<R> turns(R rate, R whole, R rest, R offset, const PeriodOf<R>& period) {
  const R length = period.lead + period.rest;
  const R rate_lead = leading(rate);
  const R lead = rate_lead * whole;
  const R first = nearest(lead * period.inverse);
  const R sum =
      ((lead - first * period.lead) - first * period.rest) + ((rate - rate_lead) * whole + (rate * rest + offset));
  const R second = floor_of(sum * period.inverse);
  const R left = (sum - second * period.lead) - second * period.rest;
  // Rounding may have left it just outside.
  const R step = select(left < 0.0, R{-1.0}, select(both_hold(left >= length, length > 0.0), R{1.0}, R{0.0}));
  const R within = (left - step * period.lead) - step * period.rest;
  return {first + second + step, larger(within, select(length > 0.0, R{0.0}, within))};
}

/// The shift from own time to the time within a lap or leg, in seconds. Its parts are subtracted in this order, so that
/// whole periods cancel exactly.
template <class R>
struct Shift {
  R first{}, second{}, third{};
  R of(R whole, R rest) const { return ((whole - first) - second) + (rest + third); }
};

/// The present pieces of eight motions at constant speed, such as legs of a path. While own time is within the piece,
/// and not too near its ends for rounding, no search is needed; so the cache does not change a bit of the result.
struct PieceRows {
  Row first, second, third;  ///< the shift of own time into the piece
  Row last;                  ///< s: the end of the piece
  Row inverse;               ///< 1/s: the reciprocal of its length

  void set(int lane, const Shift<double>& shift, double until, double over) {
    first.at[lane] = shift.first;
    second.at[lane] = shift.second;
    third.at[lane] = shift.third;
    last.at[lane] = until;
    inverse.at[lane] = over;
  }
  void forget(int lane) { last.at[lane] = 0.0; }
};

inline constexpr double near_the_ends = 1e-7;  ///< s

/// The time in the piece, in s; and 1 where own time is within the piece, otherwise 0.
template <class R>
struct TimeInPiece {
  R into, is_known;
};

template <class R>
TimeInPiece<R> time_in(const PieceRows& piece, int lane, R whole, R rest) {
  const Shift<R> shift{load<R>(piece.first, lane), load<R>(piece.second, lane), load<R>(piece.third, lane)};
  const R into = shift.of(whole, rest);
  return {into, select(both_hold(into > near_the_ends, into < load<R>(piece.last, lane)), R{1.0}, R{0.0})};
}

/// The share of the piece that has passed, 0 to 1; and 1 where own time is within the piece, otherwise 0.
template <class R>
struct ShareOf {
  R of_piece, is_known;
};

template <class R>
ShareOf<R> share_now(const PieceRows& piece, int lane, R whole, R rest) {
  const TimeInPiece<R> time = time_in(piece, lane, whole, rest);
  return {larger(smaller(time.into * load<R>(piece.inverse, lane), R{1.0}), R{0.0}), time.is_known};
}

}  // namespace hushed::detail
