// SPDX-License-Identifier: MIT
#include "lanes/damped_spring.hpp"

#include <array>
#include <utility>

#include <hushed/detail/constants.hpp>

#include "lanes/exponential.hpp"
#include "lanes/loop.hpp"
#include "lanes/trigonometry.hpp"

namespace hushed::detail {

namespace {

/// e^-x, for x >= 0. Returns 0 instead of a subnormal number.
double decay(double x) { return x < 600.0 ? power_of_two(-x * one_over_ln_2) : 0.0; }

/// Power series of y and of its integral: c[n+2] = -(2k (n+1) c[n+1] + t^2 c[n]) / ((n+2)(n+1)). For t and k up to
/// 1/2, where 20 terms leave less than 1e-17.
template <class R>
struct Series {
  R b, m;
};

/// The reciprocals that a term of the series is multiplied by. Divisions would take longer than everything else.
struct SeriesTerm {
  double drag, pull, mean;
};
constexpr auto series_terms = [] {
  std::array<SeriesTerm, 18> terms{};
  for (std::size_t n = 0; n < terms.size(); ++n) {
    const auto number = static_cast<double>(n);
    terms[n] = {1.0 / (number + 2.0), 1.0 / ((number + 2.0) * (number + 1.0)), 1.0 / (number + 3.0)};
  }
  return terms;
}();

template <class R>
Series<R> series_of(R t, R k) {
  const R drag = -2.0 * k, pull = -(t * t);
  R before = 0.0, term = 1.0, b = 1.0, m = 0.5;
  const auto add = [&](const SeriesTerm& weights) {
    const R next = term * (drag * weights.drag) + before * (pull * weights.pull);
    before = term;
    term = next;
    b = b + next;
    m = m + next * weights.mean;
  };
  // Without a loop, which would keep compilers from advancing several springs at once.
  [&]<std::size_t... n>(std::index_sequence<n...>) { (add(series_terms[n]), ...); }
  (std::make_index_sequence<series_terms.size()>{});
  return {b, m};
}

void find_gentle_factors(const Row& omega, const Row& ratio, const Row& step, DampedSpring::Factors& to) {
  for_each_lane([&](int lane) {
    const Real h = load<Real>(step, lane), t = load<Real>(omega, lane) * h, k = load<Real>(ratio, lane) * t;
    const auto numbers = series_of(t, k);
    const Real over = 1.0 / select(h > 0.0, h, Real{1.0});
    const Real t_t = t * t;
    store(to.x_by_x, lane, 1.0 - t_t * numbers.m);
    store(to.x_by_v, lane, h * numbers.b);
    store(to.x_by_g, lane, -(2.0 * k * numbers.m + numbers.b));
    store(to.v_by_x, lane, -(t_t * numbers.b) * over);
    store(to.v_by_v, lane, (1.0 - 2.0 * k * numbers.b) - t_t * numbers.m);
    store(to.v_by_g, lane, (t_t * numbers.m) * over);
  });
}

void find_factors(double omega, double ratio, double h, int lane, DampedSpring::Factors& to) {
  const double t = omega * h, k = ratio * t;
  const DampedSpringFactors numbers = damped_spring_factors(t, k);
  const double over = h > 0.0 ? 1.0 / h : 0.0, t_t = t * t;
  to.x_by_x.at[lane] = 1.0 - t_t * numbers.m;
  to.x_by_v.at[lane] = h * numbers.b;
  to.x_by_g.at[lane] = -(2.0 * k * numbers.m + numbers.b);
  to.v_by_x.at[lane] = -(t_t * numbers.b) * over;
  to.v_by_v.at[lane] = (1.0 - 2.0 * k * numbers.b) - t_t * numbers.m;
  to.v_by_g.at[lane] = (t_t * numbers.m) * over;
}

}  // namespace

DampedSpringFactors damped_spring_factors(double t, double k) {
  if (t <= 0.5 && k <= 0.5) {
    const auto series = series_of(t, k);
    return {series.b, series.m};
  }
  // k^2 - t^2 gives the roots -slow and -fast where they are real and well separated.
  const double squared = (k - t) * (k + t);
  if (squared > 0.1) {
    const double half_gap = square_root(squared);
    const double fast = k + half_gap, slow = t / fast * t;
    return {(decay(slow) - decay(fast)) / (2.0 * half_gap),
            (mean_of_decay(slow, decay(slow)) - mean_of_decay(fast, decay(fast))) / (2.0 * half_gap)};
  }
  double even = 1.0, odd = 1.0;  // cosh(s) and sinh(s) / s for s^2 = squared; cos and sin where that is negative
  if (squared < -0.1) {
    const double turn = square_root(-squared);
    const auto [sine, cosine] = sine_cosine(turn);
    even = cosine;
    odd = sine / turn;
  } else {
    for (int n = 9; n >= 1; --n) {
      even = 1.0 + squared / ((2.0 * n) * (2.0 * n - 1.0)) * even;
      odd = 1.0 + squared / ((2.0 * n) * (2.0 * n + 1.0)) * odd;
    }
  }
  const double decayed = decay(k);
  return {decayed * odd, (1.0 - decayed * (even + k * odd)) / (t * t)};
}

void DampedSpring::set(int lane, double frequency, double ratio) {
  const double omega = two_pi * frequency;
  if (omega == omega_.at[lane] && ratio == ratio_.at[lane]) return;
  omega_.at[lane] = omega;
  ratio_.at[lane] = ratio;
  per_step_.forget(lane);
}

void DampedSpring::find(const Row& step, Factors& to) const {
  bool is_gentle = true;
  for (int lane = 0; lane < lanes; ++lane) {
    const double t = omega_.at[lane] * step.at[lane];
    is_gentle = is_gentle && t <= 0.5 && ratio_.at[lane] * t <= 0.5;
  }
  if (is_gentle) {
    in_lanes<find_gentle_factors>(omega_, ratio_, step, to);
  } else {
    for (int lane = 0; lane < lanes; ++lane) find_factors(omega_.at[lane], ratio_.at[lane], step.at[lane], lane, to);
  }
}

namespace {

/// Advances one axis after another. Otherwise some compilers vectorise across the three axes, which is slower.
template <class Kernel>
[[gnu::always_inline]] inline void for_each_axis(Kernel&& kernel) {
  for_each_lane([&](int lane) { kernel(0, lane); });
  for_each_lane([&](int lane) { kernel(1, lane); });
  for_each_lane([&](int lane) { kernel(2, lane); });
}

void swing_on(const DampedSpring::Factors& factors, const Row (&g0)[3], const Row (&g1)[3], Row (&x)[3], Row (&v)[3]) {
  for_each_axis([&](int i, int lane) {
    const Real goal = load<Real>(g1[i], lane), before = load<Real>(g0[i], lane), velocity = load<Real>(v[i], lane);
    const Real away = load<Real>(x[i], lane) - before, moved = goal - before;
    store(x[i], lane,
          goal + ((load<Real>(factors.x_by_x, lane) * away + load<Real>(factors.x_by_v, lane) * velocity) +
                  load<Real>(factors.x_by_g, lane) * moved));
    store(v[i], lane,
          (load<Real>(factors.v_by_x, lane) * away + load<Real>(factors.v_by_v, lane) * velocity) +
              load<Real>(factors.v_by_g, lane) * moved);
  });
}

template <int steps>
void swing_about(const DampedSpring::Factors& factors, const Row (&g)[3], Row (&x)[3], Row (&v)[3], Row (&copy)[3]) {
  for_each_axis([&](int i, int lane) {
    const Real goal = load<Real>(g[i], lane);
    Real place = load<Real>(x[i], lane), velocity = load<Real>(v[i], lane);
    for (int step = 0; step < steps; ++step) {
      const Real away = place - goal;
      place = goal + (load<Real>(factors.x_by_x, lane) * away + load<Real>(factors.x_by_v, lane) * velocity);
      velocity = load<Real>(factors.v_by_x, lane) * away + load<Real>(factors.v_by_v, lane) * velocity;
    }
    store(x[i], lane, place);
    store(v[i], lane, velocity);
    store(copy[i], lane, place);
  });
}

void put_to_rest(const Row& omega, const Row (&g0)[3], const Row (&g1)[3], Row (&x)[3], Row (&v)[3]) {
  for_each_axis([&](int i, int lane) {
    const Real goal = load<Real>(g1[i], lane), place = load<Real>(x[i], lane), velocity = load<Real>(v[i], lane);
    const Real hair = 1e-15 * (1.0 + absolute(goal));
    const auto is_near = both_hold(load<Real>(g0[i], lane) == goal, absolute(place - goal) <= hair);
    const auto rests = both_hold(is_near, absolute(velocity) <= hair * load<Real>(omega, lane));
    store(x[i], lane, select(rests, goal, place));
    store(v[i], lane, select(rests, Real{0.0}, velocity));
  });
}

}  // namespace

void vibrate(const DampedSpring::Factors& factors, const Row (&g0)[3], const Row (&g1)[3], Row (&x)[3], Row (&v)[3]) {
  in_lanes<swing_on>(factors, g0, g1, x, v);
}

void vibrate_about(const DampedSpring::Factors& factors, int steps, const Row (&g)[3], Row (&x)[3], Row (&v)[3],
                   Row (&copy)[3]) {
  for (; steps >= 2; steps -= 2) in_lanes<swing_about<2>>(factors, g, x, v, copy);
  if (steps == 1) in_lanes<swing_about<1>>(factors, g, x, v, copy);
}

void rest(const Row& omega, const Row (&g0)[3], const Row (&g1)[3], Row (&x)[3], Row (&v)[3]) {
  in_lanes<put_to_rest>(omega, g0, g1, x, v);
}

}  // namespace hushed::detail
