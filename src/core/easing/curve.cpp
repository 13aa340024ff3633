// SPDX-License-Identifier: MIT
#include "easing/curve.hpp"

#include <algorithm>
#include <utility>

#include "lanes/exponential.hpp"
#include "lanes/loop.hpp"
#include "lanes/trigonometry.hpp"

namespace hushed::detail {

namespace {

enum Family : unsigned { sine, quad, cubic, quart, quint, expo, circ, back, elastic, bounce };
enum Way : unsigned { in, out, in_out };

/// The usual overshoot of `back`: a tenth of the way.
constexpr double overshoot = 1.70158;

template <class R>
R falling_ball(R x) {
  constexpr double n = 7.5625, d = 2.75;
  const R second = x - 1.5 / d, third = x - 2.25 / d, last = x - 2.625 / d;
  return select(x < 1.0 / d, n * x * x,
                select(x < 2.0 / d, n * second * second + 0.75,
                       select(x < 2.5 / d, n * third * third + 0.9375, n * last * last + 0.984375)));
}

/// The `in` function of a family, from 0 at 0 to 1 at 1. `back` and `elastic` have other constants within in-out.
template <unsigned family, bool halved, class R>
R rise(R x) {
  if constexpr (family == sine) {
    const R half = sine_cosine_of_degrees(45.0 * x).sine;
    return 2.0 * half * half;
  } else if constexpr (family == quad) {
    return x * x;
  } else if constexpr (family == cubic) {
    return x * x * x;
  } else if constexpr (family == quart) {
    return (x * x) * (x * x);
  } else if constexpr (family == quint) {
    return (x * x) * (x * x) * x;
  } else if constexpr (family == expo) {
    return select(x > 0.0, power_of_two(10.0 * x - 10.0), 0.0 * x);
  } else if constexpr (family == circ) {
    return 1.0 - square_root(1.0 - x * x);
  } else if constexpr (family == back) {
    constexpr double s = halved ? overshoot * 1.525 : overshoot;
    return x * x * ((s + 1.0) * x - s);
  } else if constexpr (family == elastic) {
    constexpr double period = halved ? 4.5 : 3.0, lag = halved ? 11.125 : 10.75;
    const R wave = sine_cosine_of_degrees((10.0 * x - lag) * (360.0 / period)).sine;
    return select(x > 0.0, -power_of_two(10.0 * x - 10.0) * wave, 0.0 * x);
  } else {
    return 1.0 - falling_ball(1.0 - x);
  }
}

template <unsigned which, class R>
R named(R x) {
  if constexpr (which < formula::first_family) {
    return cheap_ease<which>(x);
  } else {
    constexpr unsigned family = (which - formula::first_family) / 3, way = (which - formula::first_family) % 3;
    if constexpr (way == in) return rise<family, false>(x);
    if constexpr (way == out) return 1.0 - rise<family, false>(1.0 - x);
    const R half = 0.5 * rise<family, true>(select(x < 0.5, 2.0 * x, 2.0 - 2.0 * x));
    return select(x < 0.5, half, 1.0 - half);
  }
}

/// Clamped to 0 to 1, and exact at both ends.
template <unsigned which, class R>
R held(R x) {
  const R within = larger(smaller(x, R{1.0}), R{0.0});
  return select(x >= 1.0, R{1.0}, select(x > 0.0, named<which>(within), R{0.0}));
}

/// 3(1-u)^2 u a + 3(1-u) u^2 b + u^3.
double bezier_at(double a, double b, double u) {
  return u * (3.0 * a + u * (3.0 * (b - 2.0 * a) + u * (1.0 + 3.0 * (a - b))));
}

/// Solves x(u) = x by Newton's method within shrinking bounds; x(u) never decreases.
double on_bezier(const std::array<double, 4>& p, double x) {
  if (x <= 0.0 || x >= 1.0) return x <= 0.0 ? 0.0 : 1.0;
  double low = 0.0, high = 1.0, u = x;
  for (int step = 0; step < 100; ++step) {
    const double error = bezier_at(p[0], p[2], u) - x;
    if (error == 0.0) break;
    (error > 0.0 ? high : low) = u;
    const double slope = 3.0 * (p[0] + u * (2.0 * (p[2] - 2.0 * p[0]) + u * (1.0 + 3.0 * (p[0] - p[2]))));
    double next = u - error / slope;
    if (!(next > low && next < high)) next = 0.5 * (low + high);
    if (next == u || next == low || next == high || absolute(next - u) < 1e-17) break;
    u = next;
  }
  return bezier_at(p[1], p[3], u);
}

double on_steps(const std::array<double, 4>& numbers, double x) {
  const auto [steps, first, outputs, unused] = numbers;
  return smaller(floor_of(x * steps) + first, outputs) / outputs;
}

/// The line through the last stop at or below x and the next stop (CSS Easing Functions level 2).
double on_stops(const std::vector<Stop>& stops, double x) {
  const auto above =
      std::upper_bound(stops.begin(), stops.end(), x, [](double at, const Stop& s) { return at < s.in; });
  const auto passed = static_cast<std::size_t>(above - stops.begin());
  const std::size_t a = std::min(passed == 0 ? 0 : passed - 1, stops.size() - 2);
  const Stop from = stops[a], to = stops[a + 1];
  if (from.in == to.in) return to.out;
  return from.out + (to.out - from.out) * ((x - from.in) / (to.in - from.in));
}

}  // namespace

double on_curve(const Curve& curve, double x) {
  const double within = x > 0.0 ? smaller(x, 1.0) : 0.0;
  if (curve.formula == formula::bezier) return on_bezier(curve.numbers, within);
  if (curve.formula == formula::steps) return on_steps(curve.numbers, within);
  if (curve.formula == formula::stops) return on_stops(curve.stops, within);
  double eased = within;
  const auto take = [&]<unsigned... which>(std::integer_sequence<unsigned, which...>) {
    static_cast<void>(((curve.formula == which && (eased = held<which>(within), true)) || ...));
  };
  take(std::make_integer_sequence<unsigned, formula::bezier>{});
  return eased;
}

static void ease_lanes(unsigned formula, const Curve* const (&curves)[lanes], Row& x) {
  if (formula >= formula::bezier) {
    for (int lane = 0; lane < lanes; ++lane) x.at[lane] = on_curve(*curves[lane], x.at[lane]);
    return;
  }
  const auto take = [&]<unsigned... which>(std::integer_sequence<unsigned, which...>) {
    const auto run = [&]<unsigned one>(std::integral_constant<unsigned, one>) {
      for_each_lane([&](int lane) { store(x, lane, held<one>(load<Real>(x, lane))); });
      return true;
    };
    static_cast<void>(((formula == which && run(std::integral_constant<unsigned, which>{})) || ...));
  };
  take(std::make_integer_sequence<unsigned, formula::bezier>{});
}

void ease(unsigned formula, const Curve* const (&curves)[lanes], Row& x) { in_lanes<ease_lanes>(formula, curves, x); }

}  // namespace hushed::detail
