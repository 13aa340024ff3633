#pragma once

// Own times, and rates times own times. A time is kept as whole seconds and the rest, and a rate is split so
// that its product with the whole seconds is exact: precision does not fade in a long play.

#include <hushed/inside/kind.hpp>
#include <hushed/time.hpp>

#include "lanes/real.hpp"

namespace hushed::inside {

/// A count of time units, exact below 2^53 (147 days), as an own time.
inline OwnTime own_time(double units) {
  constexpr double second = static_cast<double>(units_per_second);
  const double guess = std::floor(units / second);
  const double left = units - guess * second;  // exact: both are whole numbers of units
  const double whole = guess + (left < 0.0 ? -1.0 : left >= second ? 1.0 : 0.0);
  return {whole, (units - whole * second) / second};
}

/// rate * (whole + rest) + offset, less whole periods of what the whole seconds have brought: not reduced to
/// one period, but small enough to lose nothing. Exact products while |whole| and the count of periods stay
/// below 2^27. `inverse` is 1 / period, or 0 for none.
template <class R>
R product_less_periods(R rate, R whole, R rest, R offset, R period, R inverse) {
  const R rate_lead = leading(rate);
  const R period_lead = leading(period);
  const R lead = rate_lead * whole;
  const R periods = nearest(lead * inverse);
  return ((lead - periods * period_lead) - periods * (period - period_lead)) +
         ((rate - rate_lead) * whole + (rate * rest + offset));
}

/// The same, reduced to [-period/2, period/2], or a few ulp past its ends.
template <class R>
R reduced_product(R rate, R whole, R rest, R offset, R period, R inverse) {
  const R sum = product_less_periods(rate, whole, rest, offset, period, inverse);
  const R period_lead = leading(period);
  const R periods = nearest(sum * inverse);
  return (sum - periods * period_lead) - periods * (period - period_lead);
}

}  // namespace hushed::inside
