// SPDX-License-Identifier: MIT
#include "starting_keys.hpp"

#include <algorithm>
#include <cmath>
#include <functional>
#include <map>
#include <optional>

#include <hushed/detail/kind.hpp>
#include <hushed/detail/scene_access.hpp>
#include <hushed/field.hpp>
#include <hushed/kinds.hpp>
#include <hushed/recording.hpp>

#include "script_text.hpp"

namespace hushed::detail {

namespace {

/// True where an object or one of its ancestors reads the other one, directly or through others.
bool depends_on(const Scene& scene, Object object, Object other, std::vector<Object>& seen) {
  if (object == other) return true;
  if (std::find(seen.begin(), seen.end(), object) != seen.end()) return false;
  seen.push_back(object);
  if (const auto parent = scene.parent(object); parent && depends_on(scene, *parent, other, seen)) return true;
  for (const AnyBehaviour behaviour : scene.behaviours(object))
    for (const Object read : scene.dependencies(behaviour))
      if (depends_on(scene, read, other, seen)) return true;
  return false;
}

/// The nearest object that can be read without a cycle; empty where there is none.
std::string neighbour_of(const Scene& scene, Object object) {
  std::string name;
  double least = 0.0;
  for (const Object other : objects_in_order(scene)) {
    const double distance = (scene.world(other).position - scene.world(object).position).norm();
    if (other == object || scene.hidden(other) || (!name.empty() && distance >= least)) continue;
    std::vector<Object> seen;
    if (depends_on(scene, other, object, seen)) continue;
    name = scene.name(other);
    least = distance;
  }
  return name;
}

std::string point(const Vec3& at) {
  Value::List numbers;
  for (const double number : {at.x(), at.y(), at.z()}) numbers.push_back(Value{std::round(number * 10.0) / 10.0 + 0.0});
  return as_text(Value{numbers});
}

/// A value for a field that a script requires.
std::string value_for(const FieldInfo& field, const std::string& neighbour) {
  switch (field.form.kind) {
    case Form::Kind::boolean: return "false";
    case Form::Kind::number:
    case Form::Kind::whole: return as_text(field.slider ? field.slider->high / 2.0 : std::max(field.unit.low, 1.0));
    case Form::Kind::list: return "[0, 0, 0]";
    default: return in_quotes(neighbour);
  }
}

std::string keys_of_script(const Kind& kind, const std::string& file, const std::string& neighbour) {
  std::string keys = "{ script = " + in_quotes(file);
  for (const FieldInfo& field : kind.fields())
    if (field.required) keys += ", " + std::string{field.name} + " = " + value_for(field, neighbour);
  return keys + " }";
}

}  // namespace

std::vector<StartingKind> starting_kinds(const Scene& scene, Object object, const std::filesystem::path& folder) {
  const Vec3 at = scene.rest(object).position;
  const std::string neighbour = neighbour_of(scene, object);
  const std::string other = neighbour.empty() ? point(at + Vec3{0, 0, 5}) : in_quotes(neighbour);
  const std::map<std::string, std::string, std::less<>> keys{
      {"spin", "speed = 45"},
      {"travel", "velocity = [1, 0, 0]"},
      {"sway", "amplitude = [0, 0.5, 0], frequency = 0.5"},
      {"orbit", "centre = " + point(at + Vec3{3, 0, 0}) + ", radius = 3, speed = 45"},
      {"glide", "by = { position = [0, 2, 0] }, duration = 2, easing = \"in-out-sine\", ends = \"return\""},
      {"roam", "box = [" + point(at - Vec3{4, 0, 4}) + ", " + point(at + Vec3{4, 0, 4}) + "], speed = 2"},
      {"route", "points = [" + point(at) + ", " + point(at + Vec3{4, 0, 0}) + ", " + point(at + Vec3{4, 0, 4}) +
                    "], speed = 2, ends = \"loop\""},
      {"follow", "target = " + other + ", half_life = 0.3"},
      {"face", "target = " + other},
      {"spring", "frequency = 1, damping = 0.5"},
      {"smooth", "half_life = 0.3"},
      {"drive", "speed = 4"},
      {"attract", "to = " + other + ", within = 6, speed = 2"},
      {"steer", "urges = [{ urge = \"wander\" }], max_speed = 2"},
      {"pace", "rate = 0.5"},
  };
  std::vector<StartingKind> found;
  const auto known = SceneAccess::kinds(scene);
  const Kinds built_in;
  for (const auto& kind : (known ? *known : built_in).all()) {
    const std::string name{kind->name()};
    const auto own = keys.find(name);
    if (neighbour.empty() && (name == "follow" || name == "attract")) continue;  // they need an object
    if (name == "replay") continue;  // it needs a file that moves the object
    found.push_back({name, std::string{kind->summary()},
                     "{ kind = " + in_quotes(name) + (own == keys.end() ? "" : ", " + own->second) + " }"});
  }
  std::vector<std::filesystem::path> scripts;
  for (const Object each : objects_in_order(scene))
    for (const AnyBehaviour behaviour : scene.behaviours(each)) {
      const auto file = script_of(scene, behaviour);
      if (!file || std::find(scripts.begin(), scripts.end(), *file) != scripts.end()) continue;
      scripts.push_back(*file);
      const Kind& kind = SceneAccess::kind(scene, behaviour);
      const std::string path = file->lexically_proximate(folder).generic_string();
      found.push_back({std::string{kind.name()}, std::string{kind.summary()}, keys_of_script(kind, path, neighbour)});
    }
  return found;
}

}  // namespace hushed::detail
