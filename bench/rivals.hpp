// SPDX-License-Identifier: MIT
#pragma once

// Each kind of behaviour beside the same motion written by hand, for all benchmarks.

#include <functional>
#include <memory>
#include <string>
#include <vector>

#include <hushed/hushed.hpp>
#include <hushed/motion.hpp>

#include "by_hand.hpp"

namespace rivals {

using namespace hushed;
using namespace std::chrono_literals;

inline constexpr double dt = 1.0 / 60;

inline const std::vector<Place> basin{{-8, 0, -8}, {7, 0, -6}, {8, 0, 3}, {0, 0, 8}, {-7, 0, 5}};

inline std::vector<Eigen::Vector3d> basin_by_hand() {
  std::vector<Eigen::Vector3d> points;
  for (const Place& place : basin) points.emplace_back(place.point);
  return points;
}

/// A walk of 120 keys in 12 s.
inline std::shared_ptr<const std::vector<by_hand::Replaying::Key>> walk_by_hand() {
  static const auto made = [] {
    auto keys = std::make_shared<std::vector<by_hand::Replaying::Key>>();
    for (int i = 0; i <= 120; ++i) {
      const double turn = 2.0 * 3.141592653589793 * i / 120;
      keys->push_back({0.1 * i,
                       {5.0 * std::cos(turn), 0.2 * std::sin(9.0 * turn), 5.0 * std::sin(turn)},
                       Eigen::Quaterniond{Eigen::AngleAxisd{-turn, Eigen::Vector3d{0.0, 1.0, 0.0}}}});
    }
    return keys;
  }();
  return made;
}

inline std::shared_ptr<const MotionFile> walk() {
  static const auto made = [] {
    Motion::Channel position, rotation;
    for (const auto& key : *walk_by_hand()) {
      position.times.push_back(key.time);
      position.values.insert(position.values.end(), key.position.begin(), key.position.end());
      rotation.values.insert(rotation.values.end(), key.rotation.coeffs().begin(), key.rotation.coeffs().end());
    }
    rotation.times = position.times;
    auto file = std::make_shared<MotionFile>();
    file->clips.push_back({"walk", 0.0});
    file->add("it", std::make_shared<Motion>(std::move(position), std::move(rotation), Motion::Channel{}));
    return file;
  }();
  return made;
}

/// The object that some kinds depend on.
inline by_hand::Orbiting& leader_by_hand() {
  static by_hand::Orbiting leader;
  return leader;
}

struct Rival {
  std::string name;
  std::function<void(Scene&, Object, int)> give;
  std::function<std::unique_ptr<by_hand::Thing>(int)> make;
};

/// Hand-written objects with slightly different values.
template <class Thing, class Set>
std::function<std::unique_ptr<by_hand::Thing>(int)> thing(Set set) {
  return [set](int i) {
    auto made = std::make_unique<Thing>();
    set(*made, i);
    return made;
  };
}

inline const std::vector<Rival>& all() {
  static const std::vector<Rival> all{
      {"spin", [](Scene& s, Object o, int i) { s.give(o, Spin{.speed = radians(0.3 + 0.001 * (i % 500))}); },
       thing<by_hand::Spinning>([](auto& t, int i) { t.speed = 0.3 + 0.001 * (i % 500); })},
      {"travel",
       [](Scene& s, Object o, int i) {
         Travel travel{.velocity = {0.5 + 0.001 * (i % 500), 0, 0}};
         travel.between.min.x() = -6;
         travel.between.max.x() = 6;
         s.give(o, travel);
       },
       thing<by_hand::Travelling>([](auto& t, int i) { t.velocity.x() = 0.5 + 0.001 * (i % 500); })},
      {"sway",
       [](Scene& s, Object o, int i) {
         s.give(o, Sway{.amplitude = {0, 0.4, 0}, .frequency = 0.3 + 0.001 * (i % 500)});
       },
       thing<by_hand::Swaying>([](auto& t, int i) { t.frequency = 0.3 + 0.001 * (i % 500); })},
      {"orbit",
       [](Scene& s, Object o, int i) {
         s.give(o, Orbit{.centre = {1, 2, 3}, .radius = 4.0, .speed = radians(0.3 + 0.001 * (i % 500))});
       },
       thing<by_hand::Orbiting>([](auto& t, int i) { t.speed = 0.3 + 0.001 * (i % 500); })},
      {"glide",
       [](Scene& s, Object o, int i) {
         s.give(o, Glide{.to = {{.position = Vec3{0, 3, 1}, .rotation = rotation(axis::forward, radians(1.4))}},
                         .duration = seconds(2 + 0.01 * (i % 500)),
                         .easing = Easing::parse("smoothstep"),
                         .ends = GlideEnds::come_back});
       },
       thing<by_hand::Gliding>([](auto& t, int i) { t.duration = 2 + 0.01 * (i % 500); })},
      {"roam",
       [](Scene& s, Object o, int i) {
         s.give(o, Roam{.box = {{-8, 0, -8}, {8, 0, 8}},
                        .duration = seconds(2 + 0.01 * (i % 500)),
                        .easing = Easing::parse("smoothstep"),
                        .seed = i});
       },
       thing<by_hand::Roaming>([](auto& t, int i) {
         t.duration = 2 + 0.01 * (i % 500);
         t.random.seed(static_cast<unsigned>(i + 1));
       })},
      {"replay",
       [](Scene& s, Object o, int i) {
         s.give(o, Replay{.file = walk(), .object = "it", .speed = 1 + 0.001 * (i % 500), .ends = ReplayEnds::loop});
       },
       thing<by_hand::Replaying>([](auto& t, int i) {
         t.keys = walk_by_hand();
         t.speed = 1 + 0.001 * (i % 500);
       })},
      {"route",
       [](Scene& s, Object o, int i) {
         s.give(o, Route{.points = basin, .speed = 2 + 0.01 * (i % 500), .ends = RouteEnds::loop});
       },
       thing<by_hand::Riding>([](auto& t, int i) {
         t.points = basin_by_hand();
         t.position = t.points[0];
         t.speed = 2 + 0.01 * (i % 500);
       })},
      {"route, smooth",
       [](Scene& s, Object o, int i) {
         s.give(
             o,
             Route{
                 .points = basin, .speed = 2 + 0.01 * (i % 500), .shape = PathShape::smooth, .ends = RouteEnds::loop});
       },
       thing<by_hand::Curving>([](auto& t, int i) {
         t.points = basin_by_hand();
         t.speed = 2 + 0.01 * (i % 500);
       })},
      {"spring",
       [](Scene& s, Object o, int i) {
         s.give(o, Spring{.frequency = 1 + 0.001 * (i % 500), .damping = 0.01, .target = Vec3{1, 2, 3}});
       },
       thing<by_hand::Springing>([](auto& t, int i) {
         t.frequency = 1 + 0.001 * (i % 500);
         t.damping = 0.01;
       })},
      {"smooth",
       [](Scene& s, Object o, int i) {
         s.give(o, Sway{.amplitude = {0, 0.4, 0}, .frequency = 0.3 + 0.001 * (i % 500)});
         s.give(o, Smooth{.half_life = {300ms, 0ms, 0ms}});
       },
       thing<by_hand::ExponentialSmoothing>([](auto& t, int i) { t.frequency = 0.3 + 0.001 * (i % 500); })},
      {"follow",
       [](Scene& s, Object o, int i) {
         s.give(o, Follow{.target = "leader", .offset = Vec3{0, 1, 0}, .half_life = seconds(0.5 + 0.001 * (i % 500))});
       },
       thing<by_hand::Following>([](auto& t, int i) {
         t.leader = &leader_by_hand();
         t.half_life = 0.5 + 0.001 * (i % 500);
       })},
      {"face",
       [](Scene& s, Object o, int i) {
         s.give(o, Face{.target = "leader", .max_turn_speed = radians(0.5 + 0.001 * (i % 500)), .only = Turns::yaw});
       },
       thing<by_hand::Facing>([](auto& t, int i) {
         t.leader = &leader_by_hand();
         t.most = 0.5 + 0.001 * (i % 500);
       })}};
  return all;
}

/// A scene of `count` objects of one kind, after one frame. Its first object is the one that some kinds depend on.
inline Scene scene_of(const Rival& kind, int count) {
  Scene scene;
  scene.give(scene.add({.name = "leader"}), Orbit{.centre = {1, 2, 3}, .radius = 4.0, .speed = radians(0.7)});
  for (int i = 0; i < count; ++i) kind.give(scene, scene.add({}), i);
  scene.advance(seconds(dt));
  return scene;
}

/// A scene of `count` objects of all kinds in turn, after one frame. Every second object is a child of the one before.
inline Scene scene_of_all(int count) {
  Scene scene;
  scene.give(scene.add({.name = "leader"}), Orbit{.centre = {1, 2, 3}, .radius = 4.0, .speed = radians(0.7)});
  const auto& kinds = all();
  std::optional<Object> before;
  for (int i = 0; i < count; ++i) {
    const bool is_child = i % 2 == 1;
    const Object object = scene.add({.parent = is_child ? before : std::nullopt});
    kinds[static_cast<std::size_t>(i / 2) % kinds.size()].give(scene, object, i);
    before = object;
  }
  scene.advance(seconds(dt));
  return scene;
}

}  // namespace rivals
