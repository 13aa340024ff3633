// SPDX-License-Identifier: MIT
#pragma once

// The damped spring x'' = w^2 (g - x) - 2 z w x', solved exactly over a step h for a goal that moves from g0 to g1 on a
// straight line at constant speed. With t = w h, k = z t, and y the solution of y'' + 2k y' + t^2 y = 0, y(0) = 0,
// y'(0) = 1, over unit time, two numbers are needed: b = y(1), and m = the integral of y from 0 to 1:
//
//     x1 = g1 + (1 - t^2 m)(x0 - g0) + h b v0 - (2k m + b)(g1 - g0)
//     v1 = -(t^2 b / h)(x0 - g0) + (1 - 2k b - t^2 m) v0 + (t^2 m / h)(g1 - g0)
//
// (With x = g + e - 2z/w g' in the equation, e is a free vibration. Integrating its equation once gives y'(1) from b
// and m.) Neither has a special case at z = 1, except in the way it is computed.

#include <hushed/detail/eval_context.hpp>

#include "lanes/memory.hpp"

namespace hushed::detail {

struct DampedSpringFactors {
  double b, m;
};

/// b and m as defined at the top of this file, to a few ulp in all three regimes, for t >= 0 and k >= 0.
DampedSpringFactors damped_spring_factors(double t, double k);

/// The factors of a step for eight springs.
class DampedSpring {
 public:
  /// `frequency` in Hz, undamped; `ratio` 1 is critical.
  void set(int lane, double frequency, double ratio);

  /// x1 = g1 + x_by_x (x0 - g0) + x_by_v v0 + x_by_g (g1 - g0), and v1 with v_by_x, v_by_v and v_by_g.
  struct Factors {
    Row x_by_x, x_by_v, v_by_x, v_by_v;
    Row x_by_g, v_by_g;
  };
  const Factors& factors(const Steps& steps, const EvalContext& context, Factors& passing) {
    return per_step_.at(steps, context, passing, [this](const Row& step, Factors& to) { find(step, to); });
  }

  const Factors* valid_for(double step) const { return per_step_.valid_for(step); }

  const Row& omega() const { return omega_; }  ///< rad/s

 private:
  void find(const Row& step, Factors& to) const;

  PerStep<Factors> per_step_;
  Row omega_{}, ratio_{};
};

/// Three coordinates of eight springs. Each coordinate is a spring of its own.
void vibrate(const DampedSpring::Factors& factors, const Row (&g0)[3], const Row (&g1)[3], Row (&x)[3], Row (&v)[3]);
/// Advances three coordinates of eight springs by several steps, with goals that do not move. The last x is also
/// written to `copy`, which may be x itself.
void vibrate_about(const DampedSpring::Factors& factors, int steps, const Row (&g)[3], Row (&x)[3], Row (&v)[3],
                   Row (&copy)[3]);

/// Puts springs that are extremely near to a resting goal, and as slow, onto it without velocity. Otherwise their
/// numbers would become subnormal, which is slow.
void rest(const Row& omega, const Row (&g0)[3], const Row (&g1)[3], Row (&x)[3], Row (&v)[3]);

}  // namespace hushed::detail
