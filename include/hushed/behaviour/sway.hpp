// SPDX-License-Identifier: MIT
#pragma once

#include <cstdint>
#include <tuple>

#include <hushed/channel.hpp>
#include <hushed/detail/export.hpp>
#include <hushed/detail/kind.hpp>
#include <hushed/field.hpp>
#include <hushed/per_axis.hpp>

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

/// Swings to and fro about where the object is: on the tide, in the wind, breathing. A function of time alone.
///
/// The offset on axis i is amplitude[i] * w(frequency[i] * t + phase[i] / 360), w being a wave of period 1. A position
/// is added to; a rotation is multiplied on the right by the turn about the offsets as a rotation vector; a scale is
/// multiplied by 1 + offset. Noise is random, smooth, and the same for the same seed (value noise of two octaves,
/// blended by Perlin's quintic, 2002).
struct Sway {
  Channel channel = Channel::position;
  Vec3 amplitude = Vec3::Zero();      ///< m, degrees, or a factor: how far to either side
  PerAxis<double> frequency = 1.0;    ///< Hz; negative runs the other way
  PerAxis<Angle> phase = degrees(0);  ///< of the wave at the start; 360 degrees are one period
  Wave wave = Wave::sine;
  std::int64_t seed = 0;  ///< of the noise

  static constexpr auto kind = "sway";
  static constexpr auto summary = "swings an object to and fro about where it is";
  static constexpr auto example = R"(
[[object.pontoon.behaviour]]
kind      = "sway"
amplitude = [0, 0.4, 0]      # metres: up and down with the tide
frequency = 0.1              # ten seconds each time
)";
  static constexpr auto fields = std::tuple{
      field("channel", &Sway::channel, unit::none, "which part of the pose swings"),
      field("amplitude", &Sway::amplitude, unit::of_channel, "how far to either side, on each axis", required),
      field("frequency", &Sway::frequency, unit::hertz, "how often, on all axes or on each", slider(0, 4)),
      field("phase", &Sway::phase, unit::degrees, "where in its period the wave begins", slider(-180, 180)),
      field("wave", &Sway::wave, unit::none, "the course over one period"),
      field("seed", &Sway::seed, unit::none, "which noise it is")};
};

template <>
const detail::Kind& detail::kind_of<Sway>();

}  // namespace HUSHED_API
