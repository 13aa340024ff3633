// SPDX-License-Identifier: MIT
// The state of a scene as bytes. That a whole random scene goes on from them is tested with G4.

#include <algorithm>
#include <array>
#include <cstring>
#include <fstream>
#include <string>
#include <vector>

#include <gtest/gtest.h>
#include <hushed/hushed.hpp>
#include <hushed/own.hpp>

#include "scene/feeds.hpp"
#include "scene/state_bytes.hpp"

namespace hushed {
namespace {

using namespace std::chrono_literals;

/// Has state with a pointer inside: it says how it is written.
struct Wake {
  struct State {
    std::vector<double> heights;
    void archive(Archive& archive) { archive(heights); }
  };
  Pose apply(State& state, const Pose& in, const Moment& now) const {
    if (now.step > 0) state.heights.push_back(state.heights.empty() ? 1.0 : state.heights.back() * 1.01);
    double sum = 0.0;
    for (const double height : state.heights) sum += height;
    return in.with_position(in.position + Vec3{0, sum, 0});
  }
};

Scene harbour() {
  Scene scene;
  const Object boat = scene.add({.name = "boat"}), gull = scene.add({.name = "gull"});
  const Object pilot = scene.add({.name = "pilot"});
  scene.give(boat, Wake{});
  scene.give(boat, Spin{.speed = degrees(30)});
  scene.give(gull, Follow{.target = boat, .half_life = seconds(0.3), .trail = seconds(0.25)});
  scene.give(pilot, Fed{});
  scene.give(pilot, Pace{.rate = 0.5});
  scene.when(after(1500ms)).then(raise("bell"));
  scene.when(pressed("H")).then(raise("horn"));
  return scene;
}

std::string refusal(const Scene& scene, std::span<const std::byte> bytes) {
  try {
    (void)scene.snapshot_from(bytes);
  } catch (const BadValue& error) {
    return error.what();
  }
  return "accepted";
}

TEST(StateBytes, GoOnInAnotherScene) {
  Scene first = harbour(), second = harbour();
  first.feed(*first.find("pilot"), at(3, 0, 0), Time{1s});
  first.feed(*first.find("pilot"), at(3, 9, 0), Time{3s});
  first.input({Time{1200ms}, "H", InputChange::What::down});
  first.advance(700ms);
  first.set("boat.spin.speed", Value{90.0});
  first.set("gull.follow.weight", Value{0.5});
  first.set("pilot.pace.rate", Value{2.0});
  first.hide(*first.find("boat"));
  first.advance(333ms);
  first.show(*first.find("boat"));
  second.set("boat.spin.speed", Value{10.0});  // the bytes say otherwise
  second.set("gull.follow.half_life", Value{0.9});
  second.advance(5s);

  second.restore(second.snapshot_from(first.snapshot().to_bytes()));
  EXPECT_EQ(second.time(), first.time());
  EXPECT_EQ(second.get("gull.follow.half_life")->number(), 0.3);
  EXPECT_EQ(second.get("gull.follow.weight")->number(), 0.5);
  for (int frame = 0; frame < 60; ++frame) {
    for (Scene* const scene : {&first, &second}) scene->advance(frame_time(1, 30));
    for (const char* const name : {"boat", "gull", "pilot"}) {
      const Pose a = first.world(*first.find(name)), b = second.world(*second.find(name));
      EXPECT_EQ(a.position, b.position) << name << frame;
      EXPECT_EQ(a.rotation.coeffs(), b.rotation.coeffs()) << name << frame;
    }
    ASSERT_EQ(first.events().size(), second.events().size()) << frame;
    for (std::size_t i = 0; i < first.events().size(); ++i) {
      EXPECT_EQ(first.events()[i].name, second.events()[i].name);
      EXPECT_EQ(first.events()[i].time, second.events()[i].time);
    }
  }
  EXPECT_EQ(second.snapshot().to_bytes(), first.snapshot().to_bytes());
}

TEST(StateBytes, OfASpringTakeAtMostTwoHundred) {
  Scene scene;
  constexpr std::size_t count = 1000;
  for (std::size_t i = 0; i < count; ++i) {
    const double x = 0.37 * static_cast<double>(i);
    scene.give(scene.add({.rest = at(x, 1 / (x + 1), -x)}),
               Spring{.frequency = 0.5, .damping = 0.01, .target = Vec3{x + 0.1, 3, 1 - x}});
  }
  scene.advance(789ms);
  EXPECT_LE(scene.snapshot().to_bytes().size(), 200 * count);
}

TEST(StateBytes, ThatAreDamagedAreRefused) {
  Scene first = harbour(), second = harbour();
  first.advance(1s);
  const std::vector<std::byte> good = first.snapshot().to_bytes();
  const Pose before = second.world(*second.find("gull"));
  for (std::size_t i = 0; i < good.size(); ++i) {
    std::vector<std::byte> bad = good;
    bad[i] ^= std::byte{0x10};
    ASSERT_NE(refusal(second, bad), "accepted") << i;
    ASSERT_NE(refusal(second, std::span{good}.first(i)), "accepted") << i;
  }
  EXPECT_EQ(second.world(*second.find("gull")).position, before.position);
  EXPECT_EQ(refusal(second, good), "accepted");
}

TEST(StateBytes, OfAnotherSceneAreRefused) {
  Scene first = harbour();
  const auto bytes = first.snapshot().to_bytes();
  const auto expected =
      "the bytes are of a scene with other objects, behaviours or rules; build this one by the same calls, or load the "
      "same file, before you read them.";
  Scene renamed = harbour();
  renamed.add({.name = "tug"});
  EXPECT_EQ(refusal(renamed, bytes), expected);
  EXPECT_EQ(refusal(Scene{}, bytes), expected);
  Scene other_rule, one_rule;
  other_rule.add_rule({.name = "ring", .when = {after(1s)}, .then = {raise("bell")}});
  one_rule.add_rule({.name = "blow", .when = {after(1s)}, .then = {raise("bell")}});
  EXPECT_EQ(refusal(other_rule, one_rule.snapshot().to_bytes()), expected);
  Scene other_rate{60.0};
  EXPECT_EQ(refusal(other_rate, Scene{}.snapshot().to_bytes()), expected);
  EXPECT_EQ(refusal(first, std::vector<std::byte>(100)),
            "the bytes are damaged, or were not written by this version; give those of Snapshot::to_bytes.");
}

/// A pose that is held at the origin, with and without a scale.
TEST(StateBytes, GoOnWhereAStoppedBehaviourHoldsThePlainestPose) {
  for (const double size : {1.0, 2.0}) {
    Scene first, second;
    AnyBehaviour fed;
    for (Scene* const scene : {&second, &first})
      fed = scene->give(scene->add({.name = "boat", .rest = at(5, 0, 0)}), Fed{});
    first.feed(*first.find("boat"), Pose{}.with_scale({size, size, size}));
    first.advance(1s);
    first.stop(fed);
    first.advance(1s);
    second.restore(second.snapshot_from(first.snapshot().to_bytes()));
    second.advance(1s);
    const Pose pose = second.world(*second.find("boat"));
    EXPECT_EQ(pose.position, Vec3::Zero());
    EXPECT_EQ(pose.scale, Vec3::Constant(size));
  }
}

/// The differences of such times would overflow. A time is found by its number; the checksum is right.
TEST(StateBytes, RefuseTimesThatNoSceneReaches) {
  Scene scene = harbour();
  scene.advance(1234ms);
  const std::vector<std::byte> bytes = scene.snapshot().to_bytes();
  const std::int64_t now = scene.time().count(), far = 6'000'000'000'000'000'000;
  constexpr std::size_t head = 24;
  int found = 0;
  for (std::size_t i = head; i + sizeof now <= bytes.size(); ++i) {
    if (std::memcmp(&bytes[i], &now, sizeof now) != 0) continue;
    ++found;
    for (const std::int64_t wrong : {far, -far}) {
      std::vector<std::byte> content(bytes.begin() + head, bytes.end());
      std::memcpy(&content[i - head], &wrong, sizeof wrong);
      std::uint64_t hash = 0;
      std::memcpy(&hash, &bytes[8], sizeof hash);
      EXPECT_THROW((void)scene.snapshot_from(detail::sealed(hash, content)), BadValue) << "byte " << i;
    }
  }
  EXPECT_GT(found, 0);
}

/// Each link leads from a rule to the one that caused it. Here the first link, which has none before it, leads to
/// itself.
TEST(StateBytes, RefuseRulesThatLedToEachOther) {
  Scene scene;
  scene.when(happened("call")).called("horn").then(raise("answer"));
  scene.when(happened("answer")).called("bell").then(raise("toll"));
  scene.advance(frame_time(1, 120.0));
  scene.raise("call");
  scene.advance(frame_time(3, 120.0) - scene.time());  // the horn has answered, and the bell is about to
  const std::vector<std::byte> bytes = scene.snapshot().to_bytes();
  constexpr std::array<unsigned char, 5> no_link{0xff, 0xff, 0xff, 0xff, 0x0f};  // seven bits of it in each byte
  constexpr std::size_t head = 24;
  std::vector<std::byte> content(bytes.begin() + head, bytes.end());
  const auto found = std::search(content.begin(), content.end(), no_link.begin(), no_link.end(),
                                 [](std::byte a, unsigned char b) { return a == std::byte{b}; });
  ASSERT_NE(found, content.end());
  content.erase(found + 1, found + no_link.size());
  *found = std::byte{0};
  std::uint64_t hash = 0;
  std::memcpy(&hash, &bytes[8], sizeof hash);
  EXPECT_NE(refusal(scene, detail::sealed(hash, content)), "accepted");
}

/// Such a number would be the size of a table.
TEST(StateBytes, RefuseAFedObjectThatTheSceneHasNot) {
  for (const std::uint32_t index : {2U, 3U, 1000U}) {
    detail::Feeds feeds;
    feeds.set_out(Object{index, 1, 0}, at(1, 2, 3), Time{0}, false);
    Archive written;
    feeds.archive(written, Time{0}, index + 1);
    const std::vector<std::byte> bytes = written.bytes();
    Archive read{bytes};
    constexpr detail::Index objects = 3;
    if (index < objects)
      EXPECT_NO_THROW(detail::Feeds{}.archive(read, Time{0}, objects));
    else
      EXPECT_THROW(detail::Feeds{}.archive(read, Time{0}, objects), BadValue);
  }
}

/// Its state cannot be written.
struct Rope {
  struct State {
    std::vector<double> lengths;
  };
  static constexpr auto kind = "rope";
  Pose apply(State&, const Pose& in, const Moment&) const { return in; }
};

TEST(StateBytes, OfABehaviourThatDoesNotSayHowAreRefused) {
  Scene scene;
  scene.give(scene.add({}), Rope{});
  scene.advance(1s);
  try {
    (void)scene.snapshot().to_bytes();
    FAIL();
  } catch (const BadValue& error) {
    EXPECT_EQ(
        std::string{error.what()},
        "rope: its State owns memory; give it `void archive(Archive& archive) { archive(member, ...); }`, or keep "
        "snapshots in memory.");
  }
}

TEST(StateBytes, ContainObjectsThatCameWhereTheOtherSceneHasThemToo) {
  const auto with_flares = [] {
    Scene scene = harbour();
    scene.advance(1s);
    const Object first = scene.add({.name = "flare"});
    scene.advance(100ms);
    scene.end(first);
    scene.advance(100ms);
    scene.give(scene.add({.parent = *scene.find("boat")}), Spring{.target = Vec3{0, 4, 0}});
    scene.advance(100ms);
    return scene;
  };
  Scene first = with_flares(), second = with_flares();
  first.advance(321ms);
  second.restore(second.snapshot_from(first.snapshot().to_bytes()));
  for (Scene* const scene : {&first, &second}) scene->advance(1s);
  EXPECT_EQ(first.snapshot().to_bytes(), second.snapshot().to_bytes());
}

}  // namespace
}  // namespace hushed
