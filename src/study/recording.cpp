#include <hushed/recording.hpp>

#include <algorithm>

namespace hushed {

std::optional<std::size_t> Recording::find(std::string_view object) const {
  const auto found = std::find(objects.begin(), objects.end(), object);
  if (found == objects.end()) return std::nullopt;
  return static_cast<std::size_t>(found - objects.begin());
}

std::vector<Object> objects_in_order(const Scene& scene) {
  std::vector<Object> objects{scene.objects().begin(), scene.objects().end()};
  std::sort(objects.begin(), objects.end(), [](Object a, Object b) { return a.index < b.index; });
  return objects;
}

Recording record(Scene& scene, const FrameTimes& times, std::int64_t last_frame,
                 const std::function<bool(std::int64_t)>& goes_on) {
  std::vector<Time> all;
  FrameTimes next = times;
  for (std::int64_t frame = 0; frame <= last_frame; ++frame) all.push_back(scene.time() + next.next());
  return record_at(scene, all, goes_on);
}

Recording record_at(Scene& scene, std::span<const Time> times, const std::function<bool(std::int64_t)>& goes_on) {
  Recording recording;
  const std::vector<Object> objects = objects_in_order(scene);
  for (const Object object : objects) recording.objects.push_back(scene.name(object));
  std::vector<Pose> last(objects.size());
  for (const Time time : times) {
    if (goes_on && !goes_on(static_cast<std::int64_t>(recording.frames()))) break;
    scene.advance(time - scene.time());
    for (const Event& event : scene.events())
      recording.happenings.push_back({event.time, scene.alive(event.subject) ? scene.name(event.subject) : "",
                                      std::string{event.name}, scene.in_words(event)});
    recording.times.push_back(time);
    for (std::size_t i = 0; i < objects.size(); ++i) {
      if (scene.alive(objects[i])) last[i] = scene.world(objects[i]);
      recording.poses.push_back(last[i]);
    }
  }
  return recording;
}

}  // namespace hushed
