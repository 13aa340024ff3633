// SPDX-License-Identifier: MIT
#pragma once

// A play whose numbers are sampled twice a tick, and can be read at any moment between.

#include <array>
#include <cstddef>
#include <deque>
#include <functional>
#include <optional>
#include <span>
#include <string>
#include <vector>

#include <hushed/box.hpp>
#include <hushed/scene.hpp>
#include <hushed/watch.hpp>

namespace hushed::detail {

/// A number of a scene, or several: a watch, or how far its position is outside a box (m, negative inside).
struct Signal {
  Watch watch;
  std::optional<Box> box = {};
};

class MeasuredPlay {
 public:
  /// The times and the numbers of a signal.
  struct Samples {
    std::size_t columns = 0;
    std::vector<double> numbers;  ///< one for each column at each time; NaN where it is not known
    double at(std::size_t sample, std::size_t column = 0) const { return numbers[sample * columns + column]; }
  };
  struct Happened {
    Time time;
    std::string name, object;
  };

  MeasuredPlay(Scene& scene, std::span<const Signal> signals);

  /// Plays to the end. Returns false where `goes_on` stopped it.
  bool run(Time length, const std::function<bool(double)>& goes_on);

  const std::vector<Time>& times() const { return times_; }  ///< of the samples, from the beginning of the play
  const Samples& samples(std::size_t signal) const { return samples_[signal]; }
  const std::vector<Happened>& happened() const { return happened_; }
  bool is_angle(std::size_t signal) const { return signals_[signal].watch.unit() == "deg"; }
  /// A signal's first number at any time of the play.
  double number(std::size_t signal, Time time);
  /// Returns the scene to the end of the play.
  void finish();

 private:
  struct Checkpoint {
    Time time;
    Snapshot snapshot;
  };
  void play_to(Time time);
  void sample();
  void read(const Signal& signal, const std::array<Watch::Sample, 3>& moments, std::vector<double>& to) const;
  Watch::Sample moment(const Signal& signal) const;

  Scene& scene_;
  std::span<const Signal> signals_;
  Time start_, tick_;
  std::vector<Time> times_;
  std::vector<Samples> samples_;
  std::vector<std::deque<Watch::Sample>> recent_;  ///< of each signal that compares moments
  std::vector<Happened> happened_;
  std::vector<Checkpoint> checkpoints_;
  std::vector<double> read_;
};

}  // namespace hushed::detail
