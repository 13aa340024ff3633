// SPDX-License-Identifier: MIT
#include <hushed/motion.hpp>

#include <algorithm>
#include <cmath>
#include <limits>

#include <hushed/error.hpp>
#include <hushed/value.hpp>

#include "lanes/trigonometry.hpp"

namespace hushed {

namespace {

void check(Motion::Channel& channel, std::string_view name, std::size_t parts) {
  const auto refuse = [&](const std::string& why) { throw BadValue{std::string{name} + ": " + why}; };
  const bool is_cubic = channel.between == Motion::Between::cubic;
  if (channel.values.size() != channel.times.size() * parts * (is_cubic ? 3 : 1))
    refuse("there are " + std::to_string(channel.values.size()) + " numbers for " +
           std::to_string(channel.times.size()) + " keys.");
  const auto is_wrong = [](double number) { return !(std::abs(number) <= 1e9); };
  for (const auto* numbers : {&channel.times, &channel.values})
    if (std::any_of(numbers->begin(), numbers->end(), is_wrong)) refuse("a number is not finite or beyond 1e9.");
  for (std::size_t i = 1; i < channel.times.size(); ++i)
    if (!(channel.times[i] > channel.times[i - 1]))
      refuse("the times of its keys do not increase, at " + as_text(channel.times[i]) + " s.");
  if (!channel.times.empty() && channel.times.front() < 0.0) refuse("a key is before 0 s.");
  if (parts != 4) return;
  for (std::size_t i = 0; i < channel.times.size(); ++i) {
    double* const q = &channel.values[is_cubic ? i * 12 + 4 : i * 4];
    const double length = std::sqrt(q[0] * q[0] + q[1] * q[1] + q[2] * q[2] + q[3] * q[3]);
    if (!(std::abs(length - 1.0) < 1e-2))
      refuse("a rotation does not have length 1, at " + as_text(channel.times[i]) + " s.");
    if (is_cubic) continue;  // its tangents belong to the value as it is; the result is normalised
    for (int part = 0; part < 4; ++part) q[part] /= length;
  }
}

/// Half the sum of two unit vectors is as long as the cosine of half their angle, half the difference as its sine.
Motion::Arc arc_between(const double* from, const double* to) {
  double product = 0.0;
  for (int part = 0; part < 4; ++part) product += from[part] * to[part];
  const double sign = product < 0.0 ? -1.0 : 1.0;
  Motion::Arc arc{};
  double cosine = 0.0, sine = 0.0;
  for (std::size_t part = 0; part < 4; ++part) {
    arc.middle[part] = 0.5 * (sign * to[part] + from[part]);
    arc.aside[part] = 0.5 * (sign * to[part] - from[part]);
    cosine += arc.middle[part] * arc.middle[part];
    sine += arc.aside[part] * arc.aside[part];
  }
  cosine = std::sqrt(cosine);
  sine = std::sqrt(sine);
  arc.angle = 2.0 * detail::arc_tangent(sine, cosine);
  for (std::size_t part = 0; part < 4; ++part) {
    arc.middle[part] /= cosine;
    arc.aside[part] = sine > 0.0 ? arc.aside[part] / sine : 0.0;
  }
  return arc;
}

}  // namespace

Motion::Motion(Channel position, Channel rotation, Channel scale)
    : position_{std::move(position)}, rotation_{std::move(rotation)}, scale_{std::move(scale)} {
  check(position_, "position", 3);
  check(rotation_, "rotation", 4);
  check(scale_, "scale", 3);
  begin_ = std::numeric_limits<double>::infinity();
  for (const Channel* const channel : {&position_, &rotation_, &scale_}) {
    if (channel->times.empty()) continue;
    begin_ = std::min(begin_, channel->times.front());
    end_ = std::max(end_, channel->times.back());
  }
  if (std::isinf(begin_)) begin_ = 0.0;
  has_common_times_ = position_.times == rotation_.times;
  if (rotation_.between != Between::linear) return;
  for (std::size_t i = 0; i + 1 < rotation_.times.size(); ++i) {
    const double* const from = rotation_.values.data() + 4 * i;
    arcs_.push_back(arc_between(from, from + 4));
  }
}

void MotionFile::add(std::string object, std::shared_ptr<const Motion> motion) {
  Clip& clip = clips.back();
  clip.length = std::max(clip.length, motion->end());
  const auto after = std::upper_bound(entries.begin(), entries.end(), object,
                                      [](const std::string& name, const Entry& each) { return name < each.object; });
  entries.insert(after, {clips.size() - 1, std::move(object), std::move(motion)});
}

const MotionFile::Entry* MotionFile::find(const std::string& clip, const std::string& object) const {
  auto each = std::lower_bound(entries.begin(), entries.end(), object,
                               [](const Entry& entry, const std::string& name) { return entry.object < name; });
  for (; each != entries.end() && each->object == object; ++each)
    if (clip.empty() || clips[each->clip].name == clip) return &*each;
  return nullptr;
}

}  // namespace hushed
