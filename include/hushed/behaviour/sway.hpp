// SPDX-License-Identifier: MIT
#pragma once

#include <cstdint>

#include <hushed/angle.hpp>
#include <hushed/channel.hpp>
#include <hushed/detail/export.hpp>
#include <hushed/detail/field_type.hpp>
#include <hushed/detail/kind_of.hpp>
#include <hushed/per_axis.hpp>
#include <hushed/vector.hpp>

namespace hushed HUSHED_API {

/// The course of a `Sway` over one period, from -1 to 1.
enum class Wave { sine, triangle, square, saw, noise };

constexpr auto choices(Wave) {
  return Choices<Wave, 5>{{{Wave::sine, "sine"},
                           {Wave::triangle, "triangle"},
                           {Wave::square, "square"},
                           {Wave::saw, "saw"},
                           {Wave::noise, "noise"}}};
}

/// Swings back and forth about where the object is: on the tide, in the wind, breathing. A function of time alone.
///
/// The offset on axis i is amplitude[i] * w(frequency[i] * t + phase[i] / 360), w being a wave of period 1. A position
/// is added to; a rotation is multiplied on the right by the turn about the offsets as a rotation vector; a scale is
/// multiplied by 1 + offset. Noise is random, smooth, and the same for the same seed (value noise of two octaves,
/// blended by Perlin's quintic, 2002).
struct Sway {
  Channel channel = Channel::position;
  Vec3 amplitude = {0.0, 0.0, 0.0};   ///< m, degrees, or a factor: how far to either side
  PerAxis<double> frequency = 1.0;    ///< Hz; negative runs the other way
  PerAxis<Angle> phase = degrees(0);  ///< of the wave at the start; 360 degrees are one period
  Wave wave = Wave::sine;
  std::int64_t seed = 0;  ///< of the noise

  static constexpr auto kind = "sway";
};

template <>
const detail::Kind& detail::kind_of<Sway>();

}  // namespace hushed
