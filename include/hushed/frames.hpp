// SPDX-License-Identifier: MIT
#pragma once

// Playing a scene frame by frame and reading watches. In the library HushedOrbit::analysis.

#include <cstdint>
#include <functional>
#include <optional>
#include <span>

#include <hushed/detail/export.hpp>
#include <hushed/scene.hpp>
#include <hushed/time.hpp>
#include <hushed/watch.hpp>

namespace hushed HUSHED_API {

/// The times of frames.
class FrameTimes {
 public:
  /// `per_second` frames per second, in (0, 1e6].
  explicit FrameTimes(double per_second) : per_second_{per_second} {}
  /// Frames of uneven length, (0.25 + 1.5 * u(seed, k)) / per_second for frame k, u in [0, 1).
  FrameTimes(double per_second, std::uint64_t seed) : per_second_{per_second}, seed_{seed} {}

  /// The time of the next frame; the first is at 0.
  Time next();

 private:
  double per_second_;
  std::optional<std::uint64_t> seed_;
  std::int64_t number_ = 0;
  Time time_ = {};
};

/// One frame: its number, its time, the numbers of all columns, and the events since the frame before.
struct Frame {
  std::int64_t number;
  Time time;
  std::span<const double> values;
  std::span<const Event> events;
};

/// Plays a scene from its present time, `last_frame` frames after frame 0, and calls `see` for each frame until it
/// returns false. Velocities compare poses one tick apart, as docs/reference/watches.md says. `goes_on` (if given) is
/// called every few ticks, also within a long frame; the play ends where it returns false.
void play(Scene& scene, std::span<const Watch> watches, const FrameTimes& times, std::int64_t last_frame,
          const std::function<bool(const Frame&)>& see, const std::function<bool()>& goes_on = nullptr);

}  // namespace hushed
