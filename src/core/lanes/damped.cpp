#include "lanes/damped.hpp"

#include "lanes/exponential.hpp"
#include "lanes/loop.hpp"
#include "lanes/trigonometry.hpp"

namespace hushed::inside {

namespace {

constexpr double two_pi = 6.283185307179586, one_over_ln_2 = 1.4426950408889634;

/// e^-x, for x that is not negative; 0 rather than a number so small as to be slow.
double decay(double x) { return x < 600.0 ? power_of_two(-x * one_over_ln_2) : 0.0; }

/// The power series of y and of its integral: c[n+2] = -(2k (n+1) c[n+1] + t^2 c[n]) / ((n+2)(n+1)). For t and k up to
/// 1/2, where 20 terms leave less than 1e-17.
template <class R>
struct Series {
  R b, m;
};

template <class R>
Series<R> series_of(R t, R k) {
  R before = 0.0, term = 1.0, b = 1.0, m = 0.5;
  for (int n = 0; n < 18; ++n) {
    const R next = -(2.0 * k * term / (n + 2.0) + t * t * before / ((n + 2.0) * (n + 1.0)));
    before = term;
    term = next;
    b = b + next;
    m = m + next / (n + 3.0);
  }
  return {b, m};
}

HUSHED_KERNEL void find_gentle_factors(const Row& omega, const Row& ratio, const Row& step, Damping::Factors& to) {
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

void find_factors(double omega, double ratio, double h, int lane, Damping::Factors& to) {
  const double t = omega * h, k = ratio * t;
  const DampedNumbers numbers = damped_numbers(t, k);
  const double over = h > 0.0 ? 1.0 / h : 0.0, t_t = t * t;
  to.x_by_x.at[lane] = 1.0 - t_t * numbers.m;
  to.x_by_v.at[lane] = h * numbers.b;
  to.x_by_g.at[lane] = -(2.0 * k * numbers.m + numbers.b);
  to.v_by_x.at[lane] = -(t_t * numbers.b) * over;
  to.v_by_v.at[lane] = (1.0 - 2.0 * k * numbers.b) - t_t * numbers.m;
  to.v_by_g.at[lane] = (t_t * numbers.m) * over;
}

}  // namespace

DampedNumbers damped_numbers(double t, double k) {
  if (t <= 0.5 && k <= 0.5) {
    const auto series = series_of(t, k);
    return {series.b, series.m};
  }
  // k^2 - t^2, and from it the roots -slow and -fast where they are real and well apart.
  const double squared = (k - t) * (k + t);
  if (squared > 0.1) {
    const double half_gap = square_root(squared);
    const double fast = k + half_gap, slow = t / fast * t;
    return {(decay(slow) - decay(fast)) / (2.0 * half_gap),
            (mean_of_decay(slow, decay(slow)) - mean_of_decay(fast, decay(fast))) / (2.0 * half_gap)};
  }
  double even = 1.0, odd = 1.0;  // cosh(s) and sinh(s) / s of s^2 = squared; cosine and sine where that is negative
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

void Damping::set(int lane, double frequency, double ratio) {
  omega_.at[lane] = two_pi * frequency;
  ratio_.at[lane] = ratio;
  step_.at[lane] = -1.0;  // to be worked out
}

const Damping::Factors& Damping::factors(const Row& step, bool tick) {
  if (are_equal(step, step_)) return kept_;
  Factors& to = tick ? kept_ : passing_;
  to.omega = omega_;
  bool is_gentle = true;
  for (int lane = 0; lane < lanes; ++lane) {
    const double t = omega_.at[lane] * step.at[lane];
    is_gentle = is_gentle && t <= 0.5 && ratio_.at[lane] * t <= 0.5;
  }
  if (is_gentle) {
    find_gentle_factors(omega_, ratio_, step, to);
  } else {
    for (int lane = 0; lane < lanes; ++lane) find_factors(omega_.at[lane], ratio_.at[lane], step.at[lane], lane, to);
  }
  to.all_move = true;
  for (int lane = 0; lane < lanes; ++lane) to.all_move = to.all_move && step.at[lane] > 0.0;
  if (tick) step_ = step;
  return to;
}

namespace {

/// Where every step is more than nothing. One axis at a time, for compilers that would rather take three at once.
HUSHED_KERNEL void swing(const Damping::Factors& factors, const Row& x0, const Row& v0, const Row& g0, const Row& g1,
                         Row& x1, Row& v1) {
  for_each_lane([&](int lane) {
    const Real goal = load<Real>(g1, lane), velocity = load<Real>(v0, lane);
    const Real away = load<Real>(x0, lane) - load<Real>(g0, lane), moved = goal - load<Real>(g0, lane);
    store(x1, lane,
          goal + ((load<Real>(factors.x_by_x, lane) * away + load<Real>(factors.x_by_v, lane) * velocity) +
                  load<Real>(factors.x_by_g, lane) * moved));
    store(v1, lane,
          (load<Real>(factors.v_by_x, lane) * away + load<Real>(factors.v_by_v, lane) * velocity) +
              load<Real>(factors.v_by_g, lane) * moved);
  });
}

/// The same about goals that stand still.
HUSHED_KERNEL void swing_about(const Damping::Factors& factors, const Row& x0, const Row& v0, const Row& g, Row& x1,
                               Row& v1) {
  for_each_lane([&](int lane) {
    const Real goal = load<Real>(g, lane), velocity = load<Real>(v0, lane), away = load<Real>(x0, lane) - goal;
    store(x1, lane, goal + (load<Real>(factors.x_by_x, lane) * away + load<Real>(factors.x_by_v, lane) * velocity));
    store(v1, lane, load<Real>(factors.v_by_x, lane) * away + load<Real>(factors.v_by_v, lane) * velocity);
  });
}

}  // namespace

void vibrate(const Damping::Factors& factors, const Row& step, const Row (&x0)[3], const Row (&v0)[3],
             const Row (&g0)[3], const Row (&g1)[3], Row (&x1)[3], Row (&v1)[3]) {
  for (int i = 0; i < 3; ++i) {
    if (&g0 == &g1)
      swing_about(factors, x0[i], v0[i], g1[i], x1[i], v1[i]);
    else
      swing(factors, x0[i], v0[i], g0[i], g1[i], x1[i], v1[i]);
  }
  if (factors.all_move) return;
  for (int lane = 0; lane < lanes; ++lane) {
    if (step.at[lane] > 0.0) continue;
    for (int i = 0; i < 3; ++i) {
      x1[i].at[lane] = x0[i].at[lane];
      v1[i].at[lane] = v0[i].at[lane];
    }
  }
}

void rest(const Damping::Factors& factors, const Row (&g0)[3], const Row (&g1)[3], Row (&x)[3], Row (&v)[3]) {
  for (int i = 0; i < 3; ++i) {
    for (int lane = 0; lane < lanes; ++lane) {
      const double goal = g1[i].at[lane], hair = 1e-15 * (1.0 + absolute(goal));
      const bool is_slow = absolute(v[i].at[lane]) <= hair * factors.omega.at[lane];
      if (g0[i].at[lane] != goal || !is_slow || absolute(x[i].at[lane] - goal) > hair) continue;
      x[i].at[lane] = goal;
      v[i].at[lane] = 0.0;
    }
  }
}

}  // namespace hushed::inside
