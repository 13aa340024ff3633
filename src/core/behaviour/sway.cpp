// SPDX-License-Identifier: MIT
#include <hushed/behaviour/sway.hpp>

#include <algorithm>
#include <bit>
#include <cmath>
#include <cstdint>

#include <hushed/detail/constants.hpp>
#include <hushed/seeded.hpp>

#include "lanes/clock.hpp"
#include "lanes/geometry.hpp"
#include "lanes/kernel_kind.hpp"
#include "lanes/loop.hpp"

namespace hushed {

namespace {

using namespace detail;

/// The value of the wave at `r` periods, r in [-0.5, 0.5].
template <Wave wave, class R>
R at_phase(R r) {
  if constexpr (wave == Wave::sine) return sine_cosine_of_degrees(360.0 * r).sine;
  if constexpr (wave == Wave::triangle) {
    const R size = absolute(r);
    const R risen = select(size <= 0.25, 4.0 * size, 2.0 - 4.0 * size);
    return select(r < 0.0, -risen, risen);
  }
  if constexpr (wave == Wave::square) return select(both_hold(r >= 0.0, r < 0.5), R{1.0}, R{-1.0});
  return 2.0 * select(r >= 0.5, r - 1.0, r);  // sawtooth
}

/// The phase of a wave in periods: whole periods, and the rest in [0, 1).
struct Phase {
  double whole, rest;
};

/// Value noise: smooth interpolation between random numbers at whole periods.
double noise_octave(const Phase& phase, std::uint64_t seed, std::uint64_t axis) {
  const auto place = static_cast<std::uint64_t>(static_cast<std::int64_t>(phase.whole));
  const auto value = [=](std::uint64_t n) { return 2.0 * seeded_number(seed, 3 * n + axis) - 1.0; };
  const double x = phase.rest;
  const double blend = x * x * x * (x * (x * 6.0 - 15.0) + 10.0);
  const double from = value(place);
  return from + (value(place + 1) - from) * blend;
}

double noise(const Phase& phase, std::int64_t seed, int axis) {
  const double doubled = 2.0 * phase.rest;
  const Phase finer{2.0 * phase.whole + (doubled >= 1.0 ? 1.0 : 0.0), doubled >= 1.0 ? doubled - 1.0 : doubled};
  const auto s = static_cast<std::uint64_t>(seed);
  const auto i = static_cast<std::uint64_t>(axis);
  return (noise_octave(phase, s, i) + 0.5 * noise_octave(finer, s, i)) / 1.5;
}

/// Eight oscillations along one axis. There is one such block for each axis that oscillates.
struct SwayBlock {
  Row amplitude;  ///< m, radians, or a factor, depending on the channel
  Row frequency, phase;
  std::int64_t seed[lanes];
};

template <Wave wave>
void offsets_along(const SwayBlock& axis, Row& offset, const EvalContext& context) {
  for_each_lane([&](int lane) {
    const Real r =
        reduced_product(load<Real>(axis.frequency, lane), load<Real>(*context.whole, lane),
                        load<Real>(*context.rest, lane), load<Real>(axis.phase, lane), PeriodOf<Real>{1.0, 0.0, 1.0});
    store(offset, lane, load<Real>(axis.amplitude, lane) * at_phase<wave>(r));
  });
}

void swing(Wave wave, const SwayBlock& axis, Row& offset, const EvalContext& context) {
  switch (wave) {
    case Wave::sine: return offsets_along<Wave::sine>(axis, offset, context);
    case Wave::triangle: return offsets_along<Wave::triangle>(axis, offset, context);
    case Wave::square: return offsets_along<Wave::square>(axis, offset, context);
    case Wave::saw: return offsets_along<Wave::saw>(axis, offset, context);
    case Wave::noise: return;
  }
}

void drift_at_random(const SwayBlock& rows, int axis, Row& offset, const EvalContext& context) {
  for (int lane = 0; lane < lanes; ++lane) {
    const auto [count, left] = turns(rows.frequency.at[lane], context.whole->at[lane], context.rest->at[lane],
                                     rows.phase.at[lane], PeriodOf<double>{1.0, 0.0, 1.0});
    offset.at[lane] = rows.amplitude.at[lane] * noise({count, left}, rows.seed[lane], axis);
  }
}

void add_offset(const Row& offset, Row& position) {
  for_each_lane([&](int lane) { store(position, lane, load<Real>(position, lane) + load<Real>(offset, lane)); });
}

void scale_by_offset(const Row& offset, Row& scale) {
  for_each_lane([&](int lane) { store(scale, lane, load<Real>(scale, lane) * (1.0 + load<Real>(offset, lane))); });
}

void turn_by_offsets(const Row (&offset)[3], Row (&rotation)[4]) {
  for_each_lane([&](int lane) {
    const QuatOf<Real> turn = rotation_by(load<Real>(offset, lane));
    store(rotation, lane, near_unit(load<Real>(rotation, lane) * turn));
  });
}

struct SwayKernel {
  using Values = Sway;

  static constexpr auto summary = "oscillates position, rotation or scale about the incoming pose";
  static constexpr auto example = R"(
[[object.pontoon.behaviour]]
kind      = "sway"
amplitude = [0, 0.4, 0]      # metres: up and down with the tide
frequency = 0.1              # ten seconds each time
)";
  static constexpr auto fields = std::tuple{
      field("channel", &Sway::channel, unit::none, "the part of the pose that oscillates"),
      field("amplitude", &Sway::amplitude, unit::of_channel, "largest deviation to either side, on each axis",
            required),
      field("frequency", &Sway::frequency, unit::hertz, "cycles per second, for all axes or for each", slider(0, 4)),
      field("phase", &Sway::phase, unit::degrees, "where in its cycle the wave begins", slider(-180, 180)),
      field("wave", &Sway::wave, unit::none, "shape of the wave"),
      field("seed", &Sway::seed, unit::none, "seed of the noise")};

  struct State {
    double cycles[3] = {};  ///< the phase at the last change of frequency
  };

  using Block = SwayBlock;

  using Axes = VariantField<unsigned, 0, 3>;
  using WaveField = VariantField<Wave, 3, 3>;
  using ChannelField = VariantField<Channel, 6, 2>;
  /// The variant: the channel, the wave, and a bit for each axis that oscillates.
  static unsigned variant(const Sway& sway, const State&) {
    unsigned axes = 0;
    for (int axis = 0; axis < 3; ++axis)
      if (sway.amplitude[axis] != 0.0) axes |= 1U << axis;
    return Axes::put(axes) | WaveField::put(sway.wave) | ChannelField::put(sway.channel);
  }

  static std::size_t blocks(unsigned variant) {
    return static_cast<std::size_t>(std::max(1, std::popcount(Axes::of(variant))));
  }
  static void archive(Archive& archive, State& state, const Sway&) {
    archive(state.cycles[0], state.cycles[1], state.cycles[2]);
  }
  static unsigned touches(unsigned variant) { return 1U << static_cast<unsigned>(ChannelField::of(variant)); }
  static bool needs_start(const Sway& sway) {
    const bool begins_at_nothing = sway.wave == Wave::sine || sway.wave == Wave::triangle || sway.wave == Wave::saw;
    return !begins_at_nothing || sway.phase != PerAxis<Angle>{degrees(0)};
  }
  static void begin(State& state, const Sway&, const Start&) { state = {}; }

  static void absorb(State& state, const Sway& sway, OwnTime time, const Start&, const Sway& next) {
    for (int axis = 0; axis < 3; ++axis) {
      const auto [count, left] = turns(sway.frequency[axis], time.whole, time.rest, state.cycles[axis], period_of(1.0));
      // Noise has no period: its whole phase is stored.
      state.cycles[axis] = next.wave == Wave::noise ? count + left : left;
    }
  }

  static void fill(Block& block, int lane, const Sway& sway, const State& state) {
    const double to_unit = sway.channel == Channel::rotation ? radians_per_degree : 1.0;
    SwayBlock* next = &block;
    for (int axis = 0; axis < 3; ++axis) {
      if (sway.amplitude[axis] == 0.0) continue;
      SwayBlock& rows = *next++;
      rows.seed[lane] = sway.seed;
      rows.amplitude.at[lane] = sway.amplitude[axis] * to_unit;
      rows.frequency.at[lane] = sway.frequency[axis];
      rows.phase.at[lane] = state.cycles[axis] + sway.phase[axis].in_degrees() / 360.0;
    }
  }

  static void evaluate(const Block& block, unsigned variant, PoseBlock& poses, const EvalContext& context) {
    const auto wave = WaveField::of(variant);
    const auto channel = ChannelField::of(variant);
    const SwayBlock* next = &block;
    Row offset[3];
    for (int axis = 0; axis < 3; ++axis) {
      const bool swings = (Axes::of(variant) & 1U << axis) != 0;
      if (!swings) {
        offset[axis] = {};
        continue;
      }
      const SwayBlock& rows = *next++;
      if (wave == Wave::noise)
        drift_at_random(rows, axis, offset[axis], context);
      else
        in_lanes<swing>(wave, rows, offset[axis], context);
      if (channel == Channel::position) in_lanes<add_offset>(offset[axis], poses.position[axis]);
      if (channel == Channel::scale) in_lanes<scale_by_offset>(offset[axis], poses.scale[axis]);
    }
    if (channel == Channel::rotation && Axes::of(variant) != 0) in_lanes<turn_by_offsets>(offset, poses.rotation);
  }

  static std::optional<Diagnostic> check(const Sway&, const Pose*) { return std::nullopt; }
};

}  // namespace

template <>
const detail::Kind& detail::kind_of<Sway>() {
  static const KernelKind<SwayKernel> kind;
  return kind;
}

}  // namespace hushed
