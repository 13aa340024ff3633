// SPDX-License-Identifier: MIT
#include <hushed/recording.hpp>

#include <algorithm>

#include <hushed/behaviour/fed.hpp>
#include <hushed/detail/scene_access.hpp>
#include <hushed/detail/slices.hpp>

namespace hushed {

namespace {

/// The values of the behaviour that takes poses; nullptr where the object has none.
const Fed* fed_values(const Scene& scene, Object object) {
  for (const AnyBehaviour behaviour : scene.behaviours(object))
    if (const Fed* const values = scene.values_if<Fed>(behaviour)) return values;
  return nullptr;
}

}  // namespace

std::optional<std::size_t> Recording::find(std::string_view object) const {
  const auto found = std::find(objects.begin(), objects.end(), object);
  if (found == objects.end()) return std::nullopt;
  return static_cast<std::size_t>(found - objects.begin());
}

double Recording::reach(std::size_t object) const {
  double furthest = 0.0;
  for (std::size_t frame = 1; frame < frames(); ++frame)
    furthest = std::max(furthest, (at(frame, object).position - at(0, object).position).norm());
  return furthest;
}

std::vector<Object> objects_in_order(const Scene& scene) {
  std::vector<Object> objects{scene.objects().begin(), scene.objects().end()};
  std::sort(objects.begin(), objects.end(), [](Object a, Object b) { return a.index < b.index; });
  return objects;
}

std::vector<Watch> every_position(const Scene& scene) {
  std::vector<Watch> all;
  for (const Object object : objects_in_order(scene)) all.emplace_back(scene.name(object) + ".position", scene);
  return all;
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
  RecordingBuilder builder{scene, recording};
  for (const Time time : times) {
    const auto frame = static_cast<std::int64_t>(recording.frames());
    if (goes_on && !goes_on(frame)) break;
    const std::function<bool()> still = goes_on ? [&] { return goes_on(frame); } : std::function<bool()>{};
    if (!detail::advance_to(scene, time, still)) break;
    builder.add(time, scene.events());
  }
  return recording;
}

RecordingBuilder::RecordingBuilder(const Scene& scene, Recording& to)
    : scene_{scene}, to_{to}, objects_{objects_in_order(scene)}, last_(objects_.size()) {
  for (const Object object : objects_) {
    to_.objects.push_back(scene.name(object));
    to_.shapes.push_back(scene.shape(object));
  }
}

void RecordingBuilder::add(Time time, std::span<const Event> events) {
  for (const Event& event : events)
    to_.happenings.push_back({event.time, scene_.alive(event.subject) ? scene_.name(event.subject) : "",
                              std::string{event.name == "fired" ? event.rule : event.name},
                              event.name == "reached" ? std::optional{event.number} : std::nullopt,
                              scene_.describe(event)});
  to_.times.push_back(time);
  for (std::size_t i = 0; i < objects_.size(); ++i) {
    const bool is_there = scene_.alive(objects_[i]);
    if (is_there) last_[i] = detail::SceneAccess::world(scene_, objects_[i]);
    to_.hidden.push_back(!is_there || scene_.hidden(objects_[i]));
    to_.poses.push_back(last_[i]);
  }
}

std::size_t feed(Scene& scene, const Recording& recording) {
  std::size_t fed = 0;
  for (std::size_t i = 0; i < recording.objects.size(); ++i) {
    const auto object = scene.find(recording.objects[i]);
    const Fed* const values = object ? fed_values(scene, *object) : nullptr;
    if (!values) continue;
    if (values->space == Space::parent && scene.parent(*object))
      throw BadValue{recording.objects[i] +
                     " takes poses in the space of its parent, but those of a recording are in the world; give its "
                     "behaviour fed the space \"world\"."};
    const auto begin = std::upper_bound(recording.times.begin(), recording.times.end(), scene.time());
    const auto first = static_cast<std::size_t>(begin - recording.times.begin());
    if (first > 0) scene.teleport(*object, recording.at(first - 1, i));
    for (std::size_t frame = first; frame < recording.frames(); ++frame)
      scene.feed(*object, recording.at(frame, i), recording.times[frame]);
    ++fed;
  }
  return fed;
}

}  // namespace hushed
