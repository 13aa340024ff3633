// SPDX-License-Identifier: MIT
// The commonest case of some behaviours has a shorter computation, which eight objects use together. Neighbours in the
// same block that have stopped or are tilted keep the others from using it. The poses are the same bits.

#include <bit>
#include <functional>

#include <gtest/gtest.h>

#include <hushed/hushed.hpp>
#include <hushed/kinds.hpp>

namespace hushed {
namespace {

using namespace std::chrono_literals;

/// Gives a boat its behaviours; boats of different numbers differ.
using Rig = std::function<void(Scene&, Object, int number)>;

Scene boats(const Rig& rig) {
  Scene harbour;
  harbour.give(harbour.add({.name = "ferry"}), Orbit{.centre = {1, 2, 3}, .radius = 4.0, .speed = degrees(70)});
  for (int i = 0; i < 3; ++i) rig(harbour, harbour.add({.name = "boat-" + std::to_string(i)}), i);
  return harbour;
}

/// As `boats`, with one more, tilted by an angle.
Scene boats_and_another(const Rig& rig, Angle tilt) {
  Scene harbour = boats(rig);
  rig(harbour, harbour.add({.name = "other", .rest = Pose{}.with_rotation(rotation(tilt, degrees(0), degrees(0)))}), 7);
  return harbour;
}

std::vector<std::uint64_t> bits_of(const Scene& harbour) {
  std::vector<std::uint64_t> bits;
  for (int i = 0; i < 3; ++i) {
    const Pose pose = harbour.world(*harbour.find("boat-" + std::to_string(i)));
    for (const double each : pose.position) bits.push_back(std::bit_cast<std::uint64_t>(each));
    for (const double each : pose.rotation.coeffs()) bits.push_back(std::bit_cast<std::uint64_t>(each));
  }
  return bits;
}

class CommonCases : public testing::TestWithParam<std::pair<const char*, Rig>> {};

TEST_P(CommonCases, HaveTheBitsOfTheGeneralOnes) {
  const Rig& rig = GetParam().second;
  for (const Angle tilt : {degrees(0), degrees(20)}) {
    Scene alone = boats(rig), among = boats_and_another(rig, tilt);
    const AnyBehaviour others = among.behaviours(*among.find("other")).back();
    std::vector<std::uint64_t> before;
    int moved = 0;
    for (int frame = 0; frame < 400; ++frame) {
      if (tilt == degrees(0) && frame % 40 == 0) frame % 80 == 0 ? among.stop(others) : among.start(others);
      const Time length = frame % 50 < 30 ? seconds(1.0 / 60) : seconds(0.003 * (frame % 7));
      alone.advance(length);
      among.advance(length);
      const auto bits = bits_of(alone);
      ASSERT_EQ(bits, bits_of(among)) << "frame " << frame << ", tilt " << tilt.in_degrees();
      if (bits != before) ++moved;
      before = bits;
    }
    EXPECT_GT(moved, 300);
  }
}

template <class B>
Rig one(B (*make)(int)) {
  return [make](Scene& scene, Object object, int number) { scene.give(object, make(number)); };
}

INSTANTIATE_TEST_SUITE_P(
    OfKinds, CommonCases,
    testing::Values(
        std::pair{"follow", one<Follow>([](int i) {
                    return Follow{.target = "ferry", .offset = Vec3{0, 1, 0}, .half_life = seconds(0.2 + 0.1 * i)};
                  })},
        std::pair{"spring", one<Spring>([](int i) {
                    return Spring{.frequency = 0.5 + 0.2 * i, .damping = 0.1 * i, .target = Vec3{1, 2.0 * i, 3}};
                  })},
        std::pair{"face", one<Face>([](int i) {
                    return Face{.target = "ferry", .max_turn_speed = degrees(20 + 30 * i), .only = Turns::yaw};
                  })},
        std::pair{"smooth", Rig{[](Scene& scene, Object object, int i) {
                    scene.give(object, Sway{.amplitude = {1, 2, 0.5 * i}, .frequency = 0.7});
                    scene.give(object, Smooth{.half_life = HalfLives{seconds(0.1 + 0.1 * i), Time{}, Time{}}});
                  }}}),
    [](const auto& info) { return std::string{info.param.first}; });

/// Kinds with `overwrites`: rest poses are not read below them, so their output must not depend on their input.
class Overwriting : public testing::TestWithParam<std::pair<const char*, Rig>> {};

TEST_P(Overwriting, DoesNotDependOnWhatIsBelow) {
  Scene alone, above;
  for (Scene* const harbour : {&alone, &above}) {
    harbour->give(harbour->add({.name = "ferry"}), Orbit{.centre = {1, 2, 3}, .radius = 4.0, .speed = degrees(70)});
    const Object boat = harbour->add({.name = "boat", .rest = at(3, 1, 2)});
    if (harbour == &above) harbour->give(boat, Sway{.amplitude = {1, 2, 3}, .frequency = 0.8});
    GetParam().second(*harbour, boat, 1);
  }
  for (int frame = 0; frame < 300; ++frame) {
    const Time length = seconds(0.003 * (frame % 9));
    alone.advance(length);
    above.advance(length);
    ASSERT_EQ(alone.world(*alone.find("boat")).position, above.world(*above.find("boat")).position) << frame;
  }
}

INSTANTIATE_TEST_SUITE_P(OfKinds, Overwriting,
                         testing::Values(std::pair{"follow", one<Follow>([](int) {
                                                     return Follow{.target = "ferry", .half_life = seconds(0.3)};
                                                   })},
                                         std::pair{"spring", one<Spring>([](int) {
                                                     return Spring{.frequency = 1.2, .target = Vec3{4, 0, 1}};
                                                   })},
                                         std::pair{"orbit", one<Orbit>([](int) {
                                                     return Orbit{.centre = "ferry", .radius = 2.0, .period = 3.0};
                                                   })},
                                         std::pair{"glide", one<Glide>([](int) {
                                                     return Glide{.by = {{.position = Vec3{9, 1, 2}}}, .duration = 2s};
                                                   })},
                                         std::pair{"roam", one<Roam>([](int) {
                                                     return Roam{.box = {{-5, 0, -5}, {5, 1, 5}}, .speed = 3.0};
                                                   })},
                                         std::pair{"route", one<Route>([](int) {
                                                     return Route{.points = {{5, 0, 5}, {-5, 1, 5}}, .speed = 4.0};
                                                   })}),
                         [](const auto& info) { return std::string{info.param.first}; });

}  // namespace
}  // namespace hushed
