// SPDX-License-Identifier: MIT
#include <hushed/own.hpp>
#include <hushed/watched.hpp>

#include <algorithm>
#include <memory>

namespace hushed {

namespace {

/// A behaviour that plays one object of a recording.
struct Recorded {
  std::shared_ptr<const Recording> recording;
  std::size_t object = 0;

  Pose apply(const Pose&, const Moment& now) const {
    const auto& times = recording->times;
    const auto after = static_cast<std::size_t>(std::upper_bound(times.begin(), times.end(), now.time) - times.begin());
    if (after == 0 || after == times.size()) return recording->at(after == 0 ? 0 : after - 1, object);
    const double share = in_seconds(now.time - times[after - 1]) / in_seconds(times[after] - times[after - 1]);
    return mix(recording->at(after - 1, object), recording->at(after, object), share);
  }
};

}  // namespace

Watched watch(Scene& scene, std::span<const Watch> watches, const FrameTimes& times, std::int64_t first,
              std::int64_t last, const std::function<bool(std::int64_t)>& goes_on) {
  Watched watched;
  for (std::size_t i = 0; i < watches.size(); ++i)
    for (std::string& name : watches[i].columns())
      watched.columns.push_back({std::move(name), std::string{watches[i].unit()}, i, {}});
  RecordingBuilder builder{scene, watched.recording};
  std::int64_t next = 0;
  const auto see = [&](const Frame& frame) {
    next = frame.number + 1;
    if (frame.number < first) return true;
    builder.add(frame.time, frame.events);
    for (std::size_t i = 0; i < frame.values.size(); ++i) watched.columns[i].values.push_back(frame.values[i]);
    return true;
  };
  const std::function<bool()> still = goes_on ? [&] { return goes_on(next); } : std::function<bool()>{};
  play(scene, watches, times, last, see, still);
  return watched;
}

Scene replay(const Recording& recording) {
  const auto shared = std::make_shared<const Recording>(recording);
  Scene scene;
  for (std::size_t i = 0; i < recording.objects.size(); ++i) {
    NewObject object{.name = recording.objects[i]};
    if (recording.frames() > 0) object.rest = recording.at(0, i);
    if (i < recording.shapes.size()) object.shape = recording.shapes[i];
    scene.give(scene.add(object), Recorded{shared, i});
  }
  return scene;
}

}  // namespace hushed
