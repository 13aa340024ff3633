// SPDX-License-Identifier: MIT
#include <hushed/frames.hpp>

#include <algorithm>
#include <deque>
#include <limits>

#include <hushed/detail/slices.hpp>
#include <hushed/seeded.hpp>

namespace hushed {

namespace {

/// The samples that watches of motion need for a frame: at its time, and one and two ticks before.
struct PastSamples {
  std::vector<Pose> now, one_back, two_back;
};

/// The times of the frames minus a constant, but not before the start.
class Cursor {
 public:
  Cursor(const FrameTimes& times, Time back) : times_{times}, back_{back}, time_{times_.next()} {}
  Time time() const { return std::max(time_ - back_, Time{0}); }
  std::int64_t frame() const { return frame_; }
  void step() {
    time_ = times_.next();
    ++frame_;
  }

 private:
  FrameTimes times_;
  Time back_;
  Time time_;
  std::int64_t frame_ = 0;
};

class Play {
 public:
  Play(Scene& scene, std::span<const Watch> watches, const FrameTimes& times, const std::function<bool()>& goes_on)
      : scene_{scene},
        watches_{watches},
        goes_on_{goes_on},
        start_{scene.time()},
        tick_{frame_time(1, scene.tick_rate())},
        frames_{times, Time{0}},
        one_back_{times, tick_},
        two_back_{times, 2 * tick_},
        needs_past_{
            std::any_of(watches.begin(), watches.end(), [](const Watch& watch) { return watch.needs_past(); })} {}

  void run(std::int64_t last_frame, const std::function<bool(const Frame&)>& visit) {
    while (frames_.frame() <= last_frame) {
      if (needs_past_ && !sample_until(frames_.time())) return;
      if (!detail::advance_to(scene_, start_ + frames_.time(), goes_on_)) return;
      events_.assign(scene_.events().begin(), scene_.events().end());
      if (needs_past_) sample(samples_.front().now);
      values_.clear();
      read_values();
      if (!visit({frames_.frame(), start_ + frames_.time(), values_, events_})) return;
      if (needs_past_) samples_.pop_front();
      frames_.step();
    }
  }

 private:
  /// Plays through the moments that this frame and later ones need, in the order of time: the scene is played once, and
  /// only forward. Returns false where it was stopped.
  bool sample_until(Time time) {
    while (true) {
      Cursor& next = two_back_.time() <= one_back_.time() ? two_back_ : one_back_;
      if (next.time() > time) return true;
      // Callbacks are called at frames only, so that watches do not change when they are called.
      if (!detail::play_on_to(scene_, start_ + next.time(), goes_on_)) return false;
      PastSamples& samples = samples_of(next.frame());
      sample(&next == &two_back_ ? samples.two_back : samples.one_back);
      next.step();
    }
  }

  PastSamples& samples_of(std::int64_t frame) {
    const auto at = static_cast<std::size_t>(frame - frames_.frame());
    if (samples_.size() <= at) samples_.resize(at + 1);
    return samples_[at];
  }

  void sample(std::vector<Pose>& at) {
    for (const Watch& watch : watches_)
      if (watch.needs_past()) at.push_back(watch.is_known(scene_) ? watch.pose(scene_) : Pose{});
  }

  void read_values() {
    const Time now = frames_.time();
    const Time last = std::max(now - tick_, Time{0});
    const Time before = std::max(now - 2 * tick_, Time{0});
    std::size_t i = 0;
    for (const Watch& watch : watches_) {
      if (!watch.is_known(scene_)) {
        values_.insert(values_.end(), watch.columns().size(), std::numeric_limits<double>::quiet_NaN());
        i += watch.needs_past();
        continue;
      }
      if (!watch.needs_past()) {
        watch.read(scene_, values_);
        continue;
      }
      const PastSamples& samples = samples_.front();
      watch.read_motion(
          Watch::motion({samples.two_back[i], before}, {samples.one_back[i], last}, {samples.now[i], now}), values_);
      ++i;
    }
  }

  Scene& scene_;
  std::span<const Watch> watches_;
  const std::function<bool()>& goes_on_;
  Time start_, tick_;
  Cursor frames_, one_back_, two_back_;
  bool needs_past_;
  std::deque<PastSamples> samples_;
  std::vector<Event> events_;
  std::vector<double> values_;
};

}  // namespace

Time FrameTimes::next() {
  if (!seed_) return frame_time(number_++, per_second_);
  if (number_ > 0) {
    const double length = (0.25 + 1.5 * seeded_number(*seed_, static_cast<std::uint64_t>(number_ - 1))) / per_second_;
    time_ += seconds(length);
  }
  ++number_;
  return time_;
}

void play(Scene& scene, std::span<const Watch> watches, const FrameTimes& times, std::int64_t last_frame,
          const std::function<bool(const Frame&)>& visit, const std::function<bool()>& goes_on) {
  Play{scene, watches, times, goes_on}.run(last_frame, visit);
}

}  // namespace hushed
