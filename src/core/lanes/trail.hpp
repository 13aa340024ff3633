// SPDX-License-Identifier: MIT
#pragma once

// A record of the poses of an object at past ticks, as long as a delay needs.

#include <cmath>
#include <vector>

#include <hushed/pose.hpp>
#include <hushed/time.hpp>

#include "archived_time.hpp"

namespace hushed::detail {

class Trail {
 public:
  /// Reserves memory for a delay, and drops all poses.
  void reach_back(Time length, double tick_rate) {
    length_ = length;
    spacing_ = seconds(least_spacing / tick_rate);
    marks_.assign(static_cast<std::size_t>(std::ceil(in_seconds(length) * tick_rate / least_spacing)) + 3, Mark{});
    first_ = count_ = 0;
  }
  bool is_empty() const { return count_ == 0; }

  /// Ticks at which less of the object's time has passed, as in slow motion, leave no mark of their own.
  void add(Time time, const Pose& pose) {
    if (count_ > 0 && time - mark(count_ - 1).time < spacing_) return;
    marks_[(first_ + count_) % marks_.size()] = {time, pose};
    if (count_ < marks_.size())
      ++count_;
    else
      first_ = (first_ + 1) % marks_.size();
  }

  /// Must be called after `reach_back` where it reads.
  void archive(Archive& archive) {
    const std::size_t count = archive.count(count_);
    if (archive.is_reading() && count > marks_.size()) marks_.resize(count);
    for (std::size_t i = 0; i < count; ++i) {
      Mark& each = marks_[(first_ + i) % marks_.size()];
      archive_times(archive, each.time);
      archive(each.pose);
    }
    count_ = count;
  }

  /// The pose at `length` before `now`. `present` is the pose at `now`. Interpolated between marks; the first mark
  /// before all of them.
  Pose at(Time now, const Pose& present) const {
    const Time then = now - length_;
    if (is_empty()) return present;
    if (then <= mark(0).time) return mark(0).pose;
    std::size_t low = 0, high = count_;  // searches for the last mark at or before that time
    while (high - low > 1) {
      const std::size_t middle = (low + high) / 2;
      (mark(middle).time <= then ? low : high) = middle;
    }
    const Mark& before = mark(low);
    const Mark after = low + 1 < count_ ? mark(low + 1) : Mark{now, present};
    if (after.time <= before.time) return before.pose;
    return mix(before.pose, after.pose, in_seconds(then - before.time) / in_seconds(after.time - before.time));
  }

 private:
  static constexpr double least_spacing = 0.9;  ///< of the length of a tick
  struct Mark {
    Time time = {};
    Pose pose = {};
  };
  const Mark& mark(std::size_t number) const { return marks_[(first_ + number) % marks_.size()]; }

  Time length_ = {}, spacing_ = {};
  std::vector<Mark> marks_;
  std::size_t first_ = 0, count_ = 0;
};

}  // namespace hushed::detail
