// SPDX-License-Identifier: MIT
// Checks of agents: whether they enter their obstacles, and which objects are too chaotic to compare plays.

#include <hushed/behaviour/steer.hpp>

#include "check/checked.hpp"
#include "check/marks.hpp"

namespace hushed::detail {

namespace {

/// The depth of a point inside a shape in m; 0 or less outside. Shapes other than spheres count as their boxes.
double depth(const Shape& shape, const Pose& pose, const Vec3& point) {
  const Vec3 local = pose.rotation.conjugate() * (point - pose.position) - shape.centre.cwiseProduct(pose.scale);
  const Vec3 half = 0.5 * shape.size.cwiseProduct(pose.scale.cwiseAbs());
  if (shape.kind == Shape::Kind::sphere) return half.maxCoeff() - local.norm();
  return (half - local.cwiseAbs()).minCoeff();
}

void check_agent(const Played& played, std::size_t object, const std::string& path, const urge::Avoid& avoid,
                 Findings& to) {
  const Scene& scene = played.scene;
  std::size_t deepest_frame = 0;
  double deepest = 1e-6;
  std::string entered;
  for (std::size_t other = 0; other < played.objects.size(); ++other) {
    if (other == object || !scene.alive(played.objects[other])) continue;
    const auto& tags = scene.tags(played.objects[other]);
    const auto& shape = scene.shape(played.objects[other]);
    if (!shape || std::find(tags.begin(), tags.end(), avoid.tag.name) == tags.end()) continue;
    for (std::size_t frame = 0; frame < played.world.frames(); ++frame) {
      const double detail = depth(*shape, played.world.at(frame, other), played.world.at(frame, object).position);
      if (detail <= deepest) continue;
      deepest = detail;
      deepest_frame = frame;
      entered = played.world.objects[other];
    }
  }
  if (entered.empty()) return;
  to.add("enters-obstacle", Severity::mistake, played.world.objects[object], deepest_frame,
         path + " should avoid " + entered + ", but is " + few_digits(deepest) + " m inside it",
         "start it outside, raise max_acceleration, lower max_speed, or slow the obstacle");
}

}  // namespace

void check_agents(const Played& played, Findings& to) {
  for (std::size_t object = 0; object < played.objects.size(); ++object) {
    if (!played.scene.alive(played.objects[object])) continue;
    for (const AnyBehaviour behaviour : played.scene.behaviours(played.objects[object]))
      if (const Steer* steer = played.scene.values_if<Steer>(behaviour))
        for (const Urge& urge : steer->urges)
          if (const auto* avoid = urge.as<urge::Avoid>())
            check_agent(played, object, played.scene.path(behaviour), *avoid, to);
  }
}

std::vector<bool> who_is_lively(const Played& played) {
  Marks lively{played};
  const auto is_lively = [](const Urge& urge) {
    return urge.as<urge::Wander>() || urge.as<urge::Separation>() || urge.as<urge::Alignment>() ||
           urge.as<urge::Cohesion>();
  };
  for (const Object object : played.objects) {
    if (!played.scene.alive(object)) continue;
    for (const AnyBehaviour behaviour : played.scene.behaviours(object))
      if (const Steer* steer = played.scene.values_if<Steer>(behaviour))
        if (std::any_of(steer->urges.begin(), steer->urges.end(), is_lively)) lively.mark(object);
  }
  return lively.spread();
}

}  // namespace hushed::detail
