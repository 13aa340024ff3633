// SPDX-License-Identifier: MIT
// Prints a checksum over the bits of the results of all kernels. It must be equal with both compilers, optimised or
// not.

#include <bit>
#include <cstdint>
#include <cstdio>
#include <vector>

#include <hushed/hushed.hpp>

#include "lanes/trigonometry.hpp"

using namespace hushed;
using namespace std::chrono_literals;

int main() {
  std::uint64_t sum = 0;
  const auto take = [&sum](double number) {
    sum = sum * 6364136223846793005ULL + std::bit_cast<std::uint64_t>(number);
  };

  for (int i = -200'000; i < 200'000; ++i) {
    const auto [sine, cosine] = detail::sine_cosine(i * 4.99);
    take(sine);
    take(cosine);
    take(detail::arc_tangent(1.0, i * i * 1e-5));
  }
  Scene harbour;
  Object last = harbour.add({.rest = {{1, 2, 3}, rotation(degrees(10), degrees(20), degrees(30)), {1.1, 1.2, 1.3}}});
  for (int i = 0; i < 100; ++i) {
    last = harbour.add({.parent = last, .rest = at(0.3, 0.1, 0.2)});
    harbour.give(last, Spin{.axis = Vec3{1, 2, i * 0.1}, .speed = degrees(37.3 + i), .space = Space{i % 3}});
    harbour.give(last,
                 Travel{.velocity = {0.7, i * 0.01, 0}, .between = {{-1, -1, -1}, {1, 1, 1}}, .at_edge = Edge{i % 3}},
                 {.delay = seconds(0.01 * i), .weight = 0.7, .fade = seconds(0.3)});
  }
  for (int i = 0; i < 20; ++i) {
    const Object gull = harbour.add({.parent = last, .rest = at(1, i, 0)}), ferry = harbour.add({});
    const Easing easing = Easing::parse(Easing::names()[static_cast<std::size_t>(2 * i)]);
    harbour.give(gull,
                 Orbit{.centre = last, .axis = {0.1, 1, 0.2}, .speed = degrees(20 + i), .face = OrbitFacing{i % 3}});
    harbour.give(gull, Sway{.channel = Channel{i % 3}, .amplitude = {0.1, 0.2, 0.3}, .wave = Wave{i % 5}});
    harbour.give(ferry, Route{.points = {{0, 0, 0}, gull, {9, 0, i * 1.0}, {3, 1, 4}},
                              .speed = 2.0 + i,
                              .shape = PathShape{i % 2},
                              .ends = RouteEnds{i % 3},
                              .easing = easing,
                              .face = RouteFacing::travel});
    harbour.give(ferry, Glide{.by = {{.rotation = rotation(degrees(3), degrees(2), degrees(i))}},
                              .duration = seconds(0.7),
                              .easing = easing,
                              .ends = GlideEnds{i % 3}});
    harbour.give(harbour.add({}), Roam{.box = {{-1, -1, -1}, {1, 2, 3}}, .speed = 3.0, .easing = easing, .seed = i});
    const Object tug = harbour.add({.parent = gull, .rest = at(1, 2, 3)}), hook = harbour.add({.parent = gull});
    harbour.give(tug, Follow{.target = ferry,
                             .channels = {Channel::position, Channel::rotation, Channel::scale},
                             .half_life = 70ms * i,
                             .max_speed = 3.0,
                             .min_distance = 1.0,
                             .max_distance = 2.0,
                             .trail = 300ms});
    harbour.give(tug, Face{.target = ferry, .half_life = 90ms, .max_turn_speed = degrees(40 + i)});
    for (const Channel channel : {Channel::position, Channel::rotation})
      harbour.give(
          hook, Spring{.channel = channel, .frequency = 0.3 * i * i, .damping = 0.3 * (i % 7), .velocity = {9, 8, 7}},
          {.name = channel == Channel::position ? "swing" : "turn"});
    harbour.give(hook, Smooth{.half_life = {100ms, 200ms, 0ms}, .space = Space::world});
  }
  std::vector<Object> shoal;
  for (int i = 0; i < 40; ++i) {
    NewObject fish{.rest = at(0.3 * (i % 7), 0.2 * (i % 3), 0.25 * i), .tags = {i < 36 ? "fish" : "rock"}};
    if (i >= 36) fish.shape = Shape{i % 2 == 0 ? Shape::Kind::box : Shape::Kind::sphere, {1.3, 1.1, 0.9}};
    shoal.push_back(harbour.add(fish));
  }
  for (int i = 0; i < 36; ++i)
    harbour.give(shoal[static_cast<std::size_t>(i)],
                 Steer{.urges = {urge::Wander{}, urge::Separation{.tag = "fish", .within = 1.0 + 0.1 * (i % 3)},
                                 urge::Alignment{.tag = "fish"}, urge::Cohesion{.tag = "fish"}, urge::Pursue{shoal[39]},
                                 urge::Arrive{Vec3{3, 0, 4}, 2.0}, urge::Avoid{.tag = "rock", .margin = 0.2},
                                 urge::Contain{{{-4, -1, -4}, {6, 3, 12}}}}});
  for (int frame = 0; frame < 300; ++frame) {
    harbour.advance(std::chrono::milliseconds{17});
    for (const Pose& pose : harbour.world_poses()) {
      for (const double number : pose.position) take(number);
      for (const double number : pose.rotation.coeffs()) take(number);
      for (const double number : pose.scale) take(number);
    }
  }
  std::printf("%016llx\n", static_cast<unsigned long long>(sum));
}
