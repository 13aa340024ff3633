// SPDX-License-Identifier: MIT
#include "measure/play.hpp"

#include <algorithm>
#include <limits>

#include <hushed/detail/scene_access.hpp>

namespace hushed::detail {

namespace {

constexpr double samples_per_tick = 2.0;
constexpr std::size_t samples_per_checkpoint = 128;
constexpr double unknown = std::numeric_limits<double>::quiet_NaN();

/// How far a point is outside a box (m): the distance beyond the side that it is furthest beyond; negative inside.
double outside(const Box& box, const Vec3& point) {
  return std::max((box.min - point).maxCoeff(), (point - box.max).maxCoeff());
}

}  // namespace

MeasuredPlay::MeasuredPlay(Scene& scene, std::span<const Signal> signals)
    : scene_{scene},
      signals_{signals},
      start_{scene.time()},
      tick_{frame_time(1, scene.tick_rate())},
      samples_(signals.size()),
      recent_(signals.size()) {
  for (std::size_t i = 0; i < signals.size(); ++i)
    samples_[i].columns = signals[i].box ? 1 : signals[i].watch.columns().size();
}

bool MeasuredPlay::run(Time length, const std::function<bool(double)>& goes_on) {
  const MutedCallbacks muted{scene_};
  const double rate = scene_.tick_rate() * samples_per_tick;
  sample();
  for (std::int64_t number = 1; times_.back() < length; ++number) {
    const Time now = std::min(frame_time(number, rate), length);
    scene_.advance(start_ + now - scene_.time());
    for (const Event& event : scene_.events())
      happened_.push_back({event.time - start_, std::string{event.name == "fired" ? event.rule : event.name},
                           scene_.alive(event.subject) ? scene_.name(event.subject) : ""});
    sample();
    if (goes_on && number % 64 == 0 && !goes_on(in_seconds(now) / in_seconds(length))) return false;
  }
  checkpoints_.push_back({scene_.time(), scene_.snapshot()});
  return true;
}

void MeasuredPlay::sample() {
  if (times_.size() % samples_per_checkpoint == 0) checkpoints_.push_back({scene_.time(), scene_.snapshot()});
  times_.push_back(scene_.time() - start_);
  for (std::size_t i = 0; i < signals_.size(); ++i) {
    const Signal& signal = signals_[i];
    std::vector<double>& numbers = samples_[i].numbers;
    if (!signal.watch.is_known(scene_)) {
      numbers.insert(numbers.end(), samples_[i].columns, unknown);
      continue;
    }
    if (!signal.watch.needs_past()) {
      read(signal, {}, numbers);
      continue;
    }
    std::deque<Watch::Sample>& recent = recent_[i];
    recent.push_back(moment(signal));
    if (recent.size() > 5) recent.pop_front();
    const std::size_t last = recent.size() - 1;  // one and two ticks back, or the beginning
    read(signal,
         {recent[last - std::min<std::size_t>(last, 4)], recent[last - std::min<std::size_t>(last, 2)], recent[last]},
         numbers);
  }
}

Watch::Sample MeasuredPlay::moment(const Signal& signal) const { return {signal.watch.pose(scene_), scene_.time()}; }

void MeasuredPlay::read(const Signal& signal, const std::array<Watch::Sample, 3>& moments,
                        std::vector<double>& to) const {
  if (signal.watch.needs_past()) {
    signal.watch.read_motion(Watch::motion(moments[0], moments[1], moments[2]), to);
    return;
  }
  const std::size_t before = to.size();
  signal.watch.read(scene_, to);
  if (!signal.box) return;
  const double distance = outside(*signal.box, {to[before], to[before + 1], to[before + 2]});
  to.resize(before);
  to.push_back(distance);
}

void MeasuredPlay::play_to(Time time) {
  const bool is_ahead = scene_.time() <= time && time - scene_.time() <= tick_ * 64;
  if (!is_ahead) {
    const auto later = std::upper_bound(checkpoints_.begin(), checkpoints_.end(), time,
                                        [](Time moment, const Checkpoint& each) { return moment < each.time; });
    scene_.restore((later == checkpoints_.begin() ? *later : *std::prev(later)).snapshot);
  }
  scene_.advance(time - scene_.time());
}

double MeasuredPlay::number(std::size_t index, Time time) {
  const MutedCallbacks muted{scene_};
  const Signal& signal = signals_[index];
  std::array<Watch::Sample, 3> moments;
  if (signal.watch.needs_past())
    for (std::size_t back = 2; back > 0; --back) {
      play_to(start_ + std::max(time - static_cast<std::int64_t>(back) * tick_, Time{0}));
      moments[2 - back] = moment(signal);
    }
  play_to(start_ + time);
  if (!signal.watch.is_known(scene_)) return unknown;
  if (signal.watch.needs_past()) moments[2] = moment(signal);
  read_.clear();
  read(signal, moments, read_);
  return read_.front();
}

void MeasuredPlay::finish() { scene_.restore(checkpoints_.back().snapshot); }

}  // namespace hushed::detail
