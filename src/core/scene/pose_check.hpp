// SPDX-License-Identifier: MIT
#pragma once

// Checks of poses that the program gives.

#include <cmath>
#include <string>
#include <string_view>

#include <hushed/error.hpp>
#include <hushed/own.hpp>
#include <hushed/pose.hpp>

namespace hushed::detail {

inline bool near_enough(const Vec3& v) { return v.allFinite() && v.cwiseAbs().maxCoeff() <= 1e9; }

/// The pose with a normalised rotation. Throws `BadValue`, which says whose pose it is (`name()`) and which (`what`).
template <class Name>
Pose checked(Pose pose, std::string_view what, Name&& name) {
  const auto refuse = [&](std::string_view text) {
    throw BadValue{std::string{name()}.append(": ").append(what).append(text)};
  };
  if (!near_enough(pose.position) || !near_enough(pose.scale))
    refuse(" has a number that is not finite or beyond 1e9; give numbers from -1e9 to 1e9.");
  if (!(std::abs(pose.rotation.coeffs().squaredNorm() - 1.0) < 2e-3))
    refuse(" has a rotation whose length is not 1; normalise it.");
  make_sound(pose);
  return pose;
}

}  // namespace hushed::detail
