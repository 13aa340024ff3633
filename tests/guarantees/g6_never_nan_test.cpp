// G6: no input that is accepted leads to a pose that is not finite, or a rotation that is not of unit length to 1e-12.

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

/// A number that is small, large, at a limit, or nothing at all.
double extreme(std::mt19937_64& random) {
  const double numbers[] = {0.0, -0.0, 1e-300, 1e-12, 0.3, 1.0, 359.9, 1e6, 1e9, 5e-324};
  return numbers[random() % 10] * (random() % 2 ? 1.0 : -1.0);
}

RC_GTEST_PROP(G6NeverNan, ForExtremesOnLongChains, (std::uint64_t seed)) {
  std::mt19937_64 random{seed};
  const auto three = [&] { return Vec3{extreme(random), extreme(random), extreme(random)}; };
  Scene harbour;
  std::optional<Object> parent;
  for (int i = 0; i < 60; ++i) {
    const Object boat = harbour.add({.parent = parent, .rest = {three(), Quat::Identity(), three()}});
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
  for (const double step : {0.0, 1e-9, 0.01, 100.0, 1e6, 1e6}) {
    harbour.advance(seconds(step));
    expect_sound(harbour);
    if (const auto spin = harbour.find_behaviour("object-3.spin")) harbour.restart(*spin);
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
      harbour.set("skiff.spin.weight", Value{extreme(random)});
    } catch (const BadValue&) {  // a weight beyond 1
    }
    harbour.advance(seconds(std::abs(extreme(random)) / 1e4));
    expect_sound(harbour);
  }
}

}  // namespace
}  // namespace hushed::tests
