// SPDX-License-Identifier: MIT
// G6: with all accepted input, poses are finite and rotations have unit length to 1e-12.

#include "support/demo.hpp"
#include "support/random_harbour.hpp"

namespace hushed::tests {
namespace {

void expect_sound(const Scene& harbour) {
  for (const Pose& pose : harbour.world_poses()) {
    RC_ASSERT(pose.position.allFinite());
    RC_ASSERT(pose.scale.allFinite());
    RC_ASSERT(std::abs(pose.rotation.coeffs().norm() - 1.0) <= 1e-12);
  }
}

/// A number that is small, large, at a limit, or 0.
double extreme(std::mt19937_64& random) {
  const double numbers[] = {0.0, -0.0, 1e-300, 1e-12, 0.3, 1.0, 359.9, 1e6, 1e9, 5e-324};
  return numbers[random() % 10] * (random() % 2 ? 1.0 : -1.0);
}

Vec3 three_extremes(std::mt19937_64& random) { return {extreme(random), extreme(random), extreme(random)}; }

void add_sway(Scene& harbour, Object boat, Object, std::mt19937_64& random) {
  harbour.give(boat, Sway{.channel = static_cast<Channel>(random() % 3),
                          .amplitude = three_extremes(random),
                          .frequency = {extreme(random), extreme(random), extreme(random)},
                          .phase = degrees(extreme(random)),
                          .wave = static_cast<Wave>(random() % 5)});
}

void add_orbit(Scene& harbour, Object boat, Object other, std::mt19937_64& random) {
  Orbit orbit{.centre = Place{other, three_extremes(random), random() % 2 == 0 ? Space::world : Space::target},
              .axis = three_extremes(random),
              .face = static_cast<OrbitFacing>(random() % 3)};
  random() % 2 ? void(orbit.period = extreme(random)) : void(orbit.speed = degrees(extreme(random)));
  if (random() % 2) orbit.radius = Radii{std::abs(extreme(random)), std::abs(extreme(random))};
  harbour.give(boat, orbit);
}

void add_glide(Scene& harbour, Object boat, Object, std::mt19937_64& random) {
  Glide glide{.to = PoseParts{.position = three_extremes(random), .scale = three_extremes(random)},
              .easing = Easing::parse("in-out-elastic"),
              .ends = static_cast<GlideEnds>(random() % 3),
              .pause = seconds(std::abs(extreme(random)))};
  random() % 2 ? void(glide.speed = std::abs(extreme(random)))
               : void(glide.duration = seconds(std::abs(extreme(random))));
  harbour.give(boat, glide);
}

void add_roam(Scene& harbour, Object boat, Object, std::mt19937_64& random) {
  const Vec3 a = three_extremes(random), b = three_extremes(random);
  Roam roam{.box = {a.cwiseMin(b), a.cwiseMax(b)}, .pause = seconds(100)};
  random() % 2 ? void(roam.speed = std::abs(extreme(random)))
               : void(roam.duration = seconds(std::abs(extreme(random))));
  harbour.give(boat, roam);
}

void add_route(Scene& harbour, Object boat, Object other, std::mt19937_64& random) {
  Route route{.points = {three_extremes(random), three_extremes(random), three_extremes(random)},
              .shape = static_cast<PathShape>(random() % 2),
              .ends = static_cast<RouteEnds>(random() % 3),
              .pause = seconds(random() % 2 ? 0 : std::abs(extreme(random))),
              .face = RouteFacing::travel,
              .start = extreme(random)};
  random() % 2 ? void(route.speed = extreme(random)) : void(route.duration = seconds(std::abs(extreme(random))));
  if (harbour.find("pier")) route.points.emplace_back(other, three_extremes(random));  // it moves, and ticks
  harbour.give(boat, route);
}

void add_follow(Scene& scene, Object object, Object leader, std::mt19937_64& random) {
  const auto some = [&] { return std::abs(extreme(random)); };
  Follow follow{.target = leader, .offset = Vec3{extreme(random), 0, extreme(random)}, .half_life = seconds(some())};
  if (random() % 2) follow.max_speed = some();
  if (random() % 2) follow.min_distance = some();
  follow.deadzone = some();
  follow.channels = {Channel::position, Channel::rotation, Channel::scale};
  scene.give(object, follow);
}

void add_face(Scene& scene, Object object, Object leader, std::mt19937_64& random) {
  Face face{.target = random() % 2 ? FaceTarget{leader} : FaceTarget::travel(),
            .half_life = seconds(std::abs(extreme(random))),
            .up = {extreme(random), extreme(random), 0},
            .forward = {extreme(random), 0, extreme(random)}};
  if (random() % 2) face.max_turn_speed = degrees(std::abs(extreme(random)));
  scene.give(object, face);
}

void add_spring(Scene& scene, Object object, Object leader, std::mt19937_64& random) {
  Spring spring{.channel = static_cast<Channel>(random() % 3),
                .frequency = std::abs(extreme(random)),
                .damping = std::abs(extreme(random)),
                .velocity = {extreme(random), 0, extreme(random)},
                .space = random() % 2 == 0 ? Space::parent : Space::world};
  if (random() % 2) spring.target = leader;
  scene.give(object, spring);
  scene.give(object, Smooth{.half_life = seconds(std::abs(extreme(random))), .space = Space::world});
}

RC_GTEST_PROP(G6NeverNan, ForExtremesOnLongChains, (std::uint64_t seed)) {
  std::mt19937_64 random{seed};
  const auto three = [&] { return Vec3{extreme(random), extreme(random), extreme(random)}; };
  Scene harbour;
  std::optional<Object> parent = harbour.add({});
  for (int i = 0; i < 60; ++i) {
    const std::string name = std::string{"boat"}.append(std::to_string(i));
    const Object boat = harbour.add({.name = name, .parent = parent, .rest = {three(), Quat::Identity(), three()}});
    if (random() % 4) parent = boat;
    try {
      const Vec3 a = three(), b = three();
      harbour.give(boat, Travel{.velocity = three(),
                                .space = static_cast<Space>(random() % 3),
                                .between = {a.cwiseMin(b), a.cwiseMax(b)},
                                .at_edge = static_cast<Edge>(random() % 3)});
    } catch (const BadValue&) {  // outside its bounds
    }
    try {
      harbour.give(boat,
                   Spin{.axis = three(), .speed = degrees(extreme(random)), .space = static_cast<Space>(random() % 3)},
                   {.weight = 0.5, .fade = seconds(0.1)});
    } catch (const BadValue&) {  // no axis
    }
  }
  for (const auto& extreme_motion : {&add_sway, &add_orbit, &add_glide, &add_roam, &add_route}) {
    for (int i = 0; i < 12; ++i) {
      const Object boat = harbour.add({.parent = parent, .rest = at(three())});
      try {
        extreme_motion(harbour, boat, *parent, random);
      } catch (const BadValue&) {
      }
    }
  }
  for (const double step : {0.0, 1e-9, 0.01, 100.0, 1e6, 1e6}) {
    harbour.advance(seconds(step));
    expect_sound(harbour);
    if (const auto spin = harbour.find_behaviour("boat3.spin")) harbour.restart(*spin);
  }
}

RC_GTEST_PROP(G6NeverNan, ForStateFromExtremeValues, (std::uint64_t seed)) {
  std::mt19937_64 random{seed};
  Scene harbour;
  Object parent = harbour.add({});
  for (const auto& extreme_motion : {&add_sway, &add_follow, &add_face, &add_spring}) {
    for (int i = 0; i < 12; ++i) {
      const Vec3 here{extreme(random), extreme(random), extreme(random)};
      const std::string name = std::string{"boat"}.append(std::to_string(harbour.size()));
      const Object boat = harbour.add({.name = name, .parent = parent, .rest = {here, Quat::Identity(), here}});
      try {
        extreme_motion(harbour, boat, parent, random);
      } catch (const BadValue&) {
      }
      if (random() % 4) parent = boat;
    }
  }
  for (const double step : {0.0, 1e-9, 0.01, 0.1, 1.0}) {
    harbour.advance(seconds(step));
    expect_sound(harbour);
    if (const auto swing = harbour.find_behaviour("boat40.spring")) harbour.kick(*swing, {extreme(random), 0, 0});
  }
}

RC_GTEST_PROP(G6NeverNan, ForRoutesToExtremesThatMove, (std::uint64_t seed)) {
  std::mt19937_64 random{seed};
  Scene harbour;
  const Object pier = harbour.add({.name = "pier"});
  harbour.give(pier, Travel{.velocity = three_extremes(random)});
  for (int i = 0; i < 12; ++i) {
    try {
      add_route(harbour, harbour.add({}), pier, random);
    } catch (const BadValue&) {
    }
  }
  for (const double step : {0.0, 1e-9, 0.01, 1.0}) {
    harbour.advance(seconds(step));
    expect_sound(harbour);
  }
}

void add_steer(Scene& harbour, Object agent, Object other, std::mt19937_64& random) {
  const auto some = [&] { return std::abs(extreme(random)); };
  const auto place = [&] {
    return random() % 2 ? Place{other, three_extremes(random)} : Place{three_extremes(random)};
  };
  const Vec3 a = three_extremes(random), b = three_extremes(random);
  const std::vector<Urge> all{
      urge::Seek{place(), some()},
      urge::Flee{place(), some(), some()},
      urge::Arrive{place(), some(), some()},
      urge::Wander{.radius = some(), .distance = some(), .rate = degrees(some()), .weight = some()},
      urge::Pursue{place(), some()},
      urge::Evade{place(), some(), some()},
      urge::Separation{.tag = "boat", .within = some(), .weight = some()},
      urge::Alignment{.tag = "boat", .within = some(), .weight = some()},
      urge::Cohesion{.tag = "boat", .within = some(), .weight = some()},
      urge::Path{.points = {place(), place(), place()}, .ahead = some(), .width = some(), .weight = some()},
      urge::Avoid{.tag = "boat", .ahead = some(), .margin = some(), .weight = some()},
      urge::Contain{{a.cwiseMin(b), a.cwiseMax(b)}, some()}};
  Steer steer{.max_speed = some(), .max_acceleration = some(), .planar = random() % 2 == 0};
  for (const Urge& urge : all)
    if (random() % 3 == 0) steer.urges.push_back(urge);
  harbour.give(agent, steer);
}

RC_GTEST_PROP(G6NeverNan, ForAgentsOfExtremes, (std::uint64_t seed)) {
  std::mt19937_64 random{seed};
  Scene harbour;
  const Object pier = harbour.add({.name = "pier", .rest = {three_extremes(random), Quat::Identity(), Vec3{1, 0, 2}}});
  harbour.give(pier, Spin{.speed = degrees(extreme(random))});
  for (int i = 0; i < 16; ++i) {
    NewObject boat{.rest = at(three_extremes(random)), .tags = {"boat"}};
    if (random() % 2) boat.parent = pier;
    if (random() % 2)
      boat.shape = Shape{static_cast<Shape::Kind>(random() % 2), three_extremes(random).cwiseAbs().cwiseMax(1e-300)};
    const Object agent = harbour.add(boat);
    try {
      add_steer(harbour, agent, pier, random);
    } catch (const BadValue&) {  // no urge, or a number that is too large
    }
  }
  for (const double step : {0.0, 1e-9, 0.01, 0.1, 0.5}) {
    harbour.advance(seconds(step));
    expect_sound(harbour);
  }
}

RC_GTEST_PROP(G6NeverNan, ForRandomScenesWithCalls, (std::uint64_t seed)) {
  const RandomHarbour made{seed};
  Scene harbour = made.build();
  for (int moment = 0; moment < 20; ++moment) {
    made.call(harbour, moment);
    harbour.advance(RandomHarbour::moment(1));
    expect_sound(harbour);
  }
}

TEST(G6NeverNan, AfterTenThousandGenerations) {
  Scene harbour;
  Object last = harbour.add({});
  for (int i = 0; i < 10'000; ++i) {
    last = harbour.add({.parent = last, .rest = {{1, 0, 0}, rotation(degrees(1), degrees(2), degrees(3)), {1, 1, 1}}});
    harbour.give(last, Spin{.axis = {1, 2, 3}, .speed = degrees(i)});
  }
  harbour.advance(std::chrono::milliseconds{333});
  EXPECT_NEAR(harbour.world(last).rotation.coeffs().norm(), 1.0, 1e-12);
}

RC_GTEST_PROP(G6NeverNan, ForTheDemoWithExtremeValues, (std::uint64_t seed)) {
  std::mt19937_64 random{seed};
  Scene harbour = demo();
  for (int frame = 0; frame < 30; ++frame) {
    try {
      harbour.set("lamp.spin.speed", Value{extreme(random)});
      harbour.set("skiff.travel.velocity",
                  Value{Value::List{Value{extreme(random)}, Value{extreme(random)}, Value{0.0}}});
      for (const char* path : {"hook.spring.frequency", "hook.spring.damping", "buoy.spring.frequency",
                               "tug.follow.max_speed", "searchlight.face.max_turn_speed"})
        harbour.set(path, Value{std::abs(extreme(random))});
      harbour.set("lookout.follow.half_life", Value{std::abs(extreme(random)) / 1e4});
      harbour.set("skiff.spin.weight", Value{extreme(random)});
    } catch (const BadValue&) {  // a weight beyond 1
    }
    harbour.advance(seconds(std::abs(extreme(random)) / 1e9));
    expect_sound(harbour);
  }
}

}  // namespace
}  // namespace hushed::tests
