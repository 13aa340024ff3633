// SPDX-License-Identifier: MIT
#pragma once

// Own times, and rates times own times. A time is kept as whole seconds and the rest, and a rate is split so
// that its product with the whole seconds is exact: precision does not fade in a long play.

#include <limits>

#include <hushed/detail/kind.hpp>
#include <hushed/time.hpp>

#include "lanes/real.hpp"

namespace hushed::detail {

/// s, or any other number that has no end.
inline constexpr double for_ever = std::numeric_limits<double>::infinity();

/// A count of time units, exact below 2^53 (147 days), as an own time.
inline OwnTime own_time(double units) {
  constexpr double second = static_cast<double>(units_per_second);
  const double guess = std::floor(units / second);
  const double left = units - guess * second;  // exact: both are whole numbers of units
  const double whole = guess + (left < 0.0 ? -1.0 : left >= second ? 1.0 : 0.0);
  return {whole, (units - whole * second) / second};
}

/// A period in two parts, the first so short that its product with a count below 2^27 is exact. All 0: none.
template <class R>
struct PeriodOf {
  R lead, rest;
  R inverse;
};

/// The period of `value` + `rounded_off`, the second being what the first has lost.
inline PeriodOf<double> period_of(double value, double rounded_off = 0.0) {
  if (value == 0.0) return {0.0, 0.0, 0.0};
  return {leading(value), (value - leading(value)) + rounded_off, 1.0 / value};
}

/// rate * (whole + rest) + offset, less whole periods of what the whole seconds have brought: not reduced to
/// one period, but small enough to lose nothing. Exact products while |whole| and the count of periods stay
/// below 2^27.
template <class R>
R product_less_periods(R rate, R whole, R rest, R offset, const PeriodOf<R>& period) {
  const R rate_lead = leading(rate);
  const R lead = rate_lead * whole;
  const R periods = nearest(lead * period.inverse);
  return ((lead - periods * period.lead) - periods * period.rest) +
         ((rate - rate_lead) * whole + (rate * rest + offset));
}

/// rate * (whole + rest) + offset, reduced to half a period either way, or a few ulp past that.
template <class R>
R reduced_product(R rate, R whole, R rest, R offset, const PeriodOf<R>& period) {
  const R sum = product_less_periods(rate, whole, rest, offset, period);
  const R periods = nearest(sum * period.inverse);
  return (sum - periods * period.lead) - periods * period.rest;
}

/// How many whole periods rate * (whole + rest) + offset is, and what is left of it, in [0, period). The count is 0 and
/// all is left where there is no period.
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

/// From own time to the time into a lap or leg, in seconds: in this order, so that whole periods go without a loss.
template <class R>
struct Shift {
  R first{}, second{}, third{};
  R of(R whole, R rest) const { return ((whole - first) - second) + (rest + third); }
};

/// Pieces of own time that are swept evenly, such as a leg of a way. Within a piece, and not too near its ends for
/// rounding, no other need be looked for; so what is remembered changes no bit.
struct PieceRows {
  Row first, second, third;  ///< the shift of own time into the piece
  Row last;                  ///< s, until when it is this one
  Row inverse;               ///< 1/s: of the share of it

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

/// The share of the piece that has passed, from 0 to 1; and 1 where no other is to be looked for, or else 0.
template <class R>
struct ShareOf {
  R of_piece, is_known;
};

template <class R>
ShareOf<R> share_now(const PieceRows& piece, int lane, R whole, R rest) {
  const Shift<R> shift{load<R>(piece.first, lane), load<R>(piece.second, lane), load<R>(piece.third, lane)};
  const R into = shift.of(whole, rest);
  const auto known = both_hold(into > near_the_ends, into < load<R>(piece.last, lane));
  return {larger(smaller(into * load<R>(piece.inverse, lane), R{1.0}), R{0.0}), select(known, R{1.0}, R{0.0})};
}

}  // namespace hushed::detail
