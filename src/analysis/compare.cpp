// SPDX-License-Identifier: MIT
#include <hushed/compare.hpp>

#include <algorithm>

#include <hushed/error.hpp>

namespace hushed {

namespace {

struct FramePair {
  std::size_t first, second;
};

/// The pairs of frames with equal times. Both lists are sorted.
std::vector<FramePair> pairs_of(const Recording& first, const Recording& second) {
  std::vector<FramePair> pairs;
  for (std::size_t i = 0, k = 0; i < first.frames() && k < second.frames();) {
    const Time a = first.times[i], b = second.times[k];
    if (a == b) pairs.push_back({i, k});
    if (a <= b) ++i;
    if (b <= a) ++k;
  }
  return pairs;
}

double distance_of(const Pose& a, const Pose& b, Channel channel) {
  switch (channel) {
    case Channel::position: return (a.position - b.position).norm();
    case Channel::rotation: return angle_between(a.rotation, b.rotation).in_degrees();
    case Channel::scale: return (a.scale - b.scale).cwiseAbs().maxCoeff();
  }
  return 0.0;
}

}  // namespace

double Tolerance::of(Channel channel) const {
  return channel == Channel::position ? position : channel == Channel::rotation ? rotation : scale;
}

bool Comparison::is_within(const Tolerance& tolerance) const {
  return only_in_first.empty() && only_in_second.empty() &&
         std::all_of(differences.begin(), differences.end(),
                     [&](const Difference& each) { return each.largest <= tolerance.of(each.channel); });
}

Comparison compare(const Recording& first, const Recording& second) {
  const std::vector<FramePair> pairs = pairs_of(first, second);
  if (pairs.empty())
    throw BadValue{
        "the two have no time in common; play both from the same time, at frame rates of which one is a "
        "multiple of the other."};
  Comparison found;
  found.times = pairs.size();
  found.from = first.times[pairs.front().first];
  found.to = first.times[pairs.back().first];
  for (const std::string& object : second.objects)
    if (!first.find(object)) found.only_in_second.push_back(object);

  std::vector<double> distances(pairs.size());
  for (std::size_t a = 0; a < first.objects.size(); ++a) {
    const auto b = second.find(first.objects[a]);
    if (!b) {
      found.only_in_first.push_back(first.objects[a]);
      continue;
    }
    for (const Channel channel : {Channel::position, Channel::rotation, Channel::scale}) {
      for (std::size_t i = 0; i < pairs.size(); ++i)
        distances[i] = distance_of(first.at(pairs[i].first, a), second.at(pairs[i].second, *b), channel);
      const auto largest = std::max_element(distances.begin(), distances.end());
      Difference difference{first.objects[a], channel, *largest,
                            first.times[pairs[static_cast<std::size_t>(largest - distances.begin())].first], 0.0};
      const auto middle = distances.begin() + static_cast<std::ptrdiff_t>(distances.size() / 2);
      std::nth_element(distances.begin(), middle, distances.end());
      difference.typical = *middle;
      found.differences.push_back(std::move(difference));
    }
  }
  return found;
}

}  // namespace hushed
