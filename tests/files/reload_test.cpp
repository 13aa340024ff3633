// SPDX-License-Identifier: MIT
// A scene file is read again while its scene plays.

#include <gtest/gtest.h>

#include <thread>

#include <hushed/hushed.hpp>
#include <hushed/load.hpp>

#include "support/kit.hpp"

namespace hushed {
namespace {

using namespace std::chrono_literals;
using tests::Kit;

const std::string quay =
    "[object.tower]\n[object.lamp]\nparent = \"tower\"\n[[object.lamp.behaviour]]\nkind = \"spin\"\nspeed = 40\n"
    "[object.hook]\nposition = [0, 1, 0]\n[[object.hook.behaviour]]\nkind = \"spring\"\nfrequency = 0.7\n"
    "damping = 0.05\ntarget = [0, 0, 0]\n[object.tug]\n[[object.tug.behaviour]]\nkind = \"follow\"\ntarget = \"hook\"\n"
    "offset = [0, 0, 0]\nhalf_life = 0.4\n[[rule]]\nname = \"greet\"\nwhen = { after = 1 }\ndo = { set = "
    "\"lamp.spin.speed\", to = 90 }\n";

TEST(Reload, ContinuesToTheSameBitsWhereNothingHasChanged) {
  const Kit kit;
  const auto file = kit.write("quay.toml", quay);
  Scene one = load(file), other = load(file);
  const Object hook = *one.find("hook"), lamp = *one.find("lamp"), tug = *one.find("tug");
  one.set("hook.spring.damping", Value{0.1});
  other.set("hook.spring.damping", Value{0.1});  // tuned, and not in the file
  one.press("W");
  one.advance(2345ms);
  other.advance(2345ms);
  EXPECT_TRUE(reload(one, file).empty());
  for (int i = 0; i < 50; ++i) {
    one.advance(17ms);
    other.advance(17ms);
    for (const char* name : {"hook", "lamp", "tug"}) {
      const Pose a = one.world(*one.find(name)), b = other.world(*other.find(name));
      EXPECT_EQ(a.position, b.position);
      EXPECT_EQ(a.rotation.coeffs(), b.rotation.coeffs());
    }
  }
  EXPECT_EQ(*one.find("hook"), hook);  // the handles are good
  EXPECT_TRUE(one.alive(lamp) && one.alive(tug));
  EXPECT_EQ(*one.get("lamp.spin.speed")->number(), 90);
  EXPECT_EQ(one.report("greet").fired, 1);
}

TEST(Reload, AppliesChangesWithoutAJumpAndReportsLostState) {
  const Kit kit;
  const auto file = kit.write("quay.toml", quay);
  Scene harbour = load(file);
  const Object hook = *harbour.find("hook"), tower = *harbour.find("tower");
  harbour.advance(500ms);
  const Vec3 place = harbour.world(hook).position;
  std::string changed = quay;
  const auto replace = [&](const std::string& from, const std::string& to) {
    changed.replace(changed.find(from), from.size(), to);
  };
  replace("frequency = 0.7", "frequency = 1.4");
  replace("[object.tower]\n", "");
  replace("parent = \"tower\"\n", "");
  replace("kind = \"follow\"\ntarget = \"hook\"\noffset = [0, 0, 0]\nhalf_life = 0.4",
          "kind = \"spin\"\nname = \"follow\"");
  replace("name = \"greet\"", "name = \"welcome\"");
  kit.write("quay.toml",
            changed + "[object.gull]\n[[object.gull.behaviour]]\nkind = \"travel\"\nvelocity = [1, 0, 0]\n");
  EXPECT_EQ(reload(harbour, file),
            (std::vector<std::string>{"tower no longer exists.", "tug.follow was restarted: it was a follow.",
                                      "rule greet no longer exists."}));
  EXPECT_EQ(harbour.time(), Time{500ms});
  EXPECT_NEAR((harbour.world(hook).position - place).norm(), 0.0, 1e-12);
  EXPECT_EQ(*harbour.get("hook.spring.frequency")->number(), 1.4);
  EXPECT_FALSE(harbour.alive(tower));
  EXPECT_THROW(harbour.world(tower), StaleHandle);
  harbour.advance(1s);
  EXPECT_NEAR(harbour.world(*harbour.find("gull")).position.x(), 1, 1e-9);  // it starts now
  EXPECT_NE(harbour.world(hook).position, place);
  harbour.seek(700ms);
  EXPECT_THROW(harbour.seek(400ms), BadValue);  // before it became another
}

TEST(Reload, KeepsTheSceneWhereTheFileHasErrors) {
  const Kit kit;
  const auto file = kit.write("quay.toml", quay);
  Scene harbour = load(file);
  harbour.advance(1200ms);
  const Pose before = harbour.world(*harbour.find("hook"));
  kit.write("quay.toml", quay + "[object.gull]\nparent = \"gone\"\n");
  EXPECT_THROW(reload(harbour, file), LoadError);
  EXPECT_EQ(harbour.world(*harbour.find("hook")).position, before.position);
  harbour.advance(100ms);
  EXPECT_FALSE(harbour.find("gull"));
}

// --- what the program has added --------------------------------------------------------------------------------------

/// What a game does with the quay once it is loaded.
struct Additions {
  explicit Additions(Scene& quay)
      : scene{quay},
        hook{*quay.find("hook")},
        lantern{quay.add({.parent = *quay.find("tug"), .rest = Pose{{0, 2, 0}}, .number = 41})},
        skiff{quay.add({.name = "skiff", .rest = Pose{{3, 0, 0}}, .tags = {"small"}})},
        glow{quay.give(lantern, Spring{.frequency = 0.9, .damping = 0.1, .target = Vec3{0, 1, 0}})},
        behind{quay.give(skiff, Follow{.target = lantern, .offset = Vec3{1, 0, 0}, .half_life = 300ms})},
        swing{quay.give(*quay.find("tower"), Sway{.amplitude = {0.5, 0, 0}}, {.name = "swing", .delay = 1500ms})} {
    quay.add_to_preset("bobbing", Sway{.amplitude = {0, 0.2, 0}, .frequency = 0.4});
    quay.use(hook, "bobbing");
    quay.tune(glow)->frequency = 1.1;
    quay.tune_common(behind)->weight = 0.8;
    quay.set("lamp.spin.speed", Value{55.0});
    quay.set("preset.bobbing.sway.frequency", Value{0.7});
    quay.when(after(2s)).then(raise("two"));
  }

  Scene& scene;
  Object hook, lantern, skiff;
  Behaviour<Spring> glow;
  Behaviour<Follow> behind;
  Behaviour<Sway> swing;
};

/// The poses and events of the next three seconds.
std::pair<std::vector<Pose>, std::vector<std::string>> played(Scene& scene, const std::vector<Object>& objects) {
  std::vector<Pose> poses;
  std::vector<std::string> events;
  for (int frame = 0; frame < 60; ++frame) {
    scene.advance(50ms);
    for (const Object object : objects) poses.push_back(scene.world(object));
    for (const Event& event : scene.events())
      events.push_back(std::to_string(event.time.count()) + ' ' + scene.describe(event));
  }
  return {poses, events};
}

bool same_bits(const std::vector<Pose>& a, const std::vector<Pose>& b) {
  return std::equal(a.begin(), a.end(), b.begin(), b.end(), [](const Pose& x, const Pose& y) {
    return x.position == y.position && x.rotation.coeffs() == y.rotation.coeffs() && x.scale == y.scale;
  });
}

TEST(Reload, KeepsWhatTheProgramAdded) {
  const Kit kit;
  const auto file = kit.write("quay.toml", quay);
  Scene one = load(file), other = load(file);
  const Additions in_one{one}, in_other{other};
  one.advance(1234ms);
  other.advance(1234ms);
  EXPECT_EQ(reload(one, file), std::vector<std::string>{});
  EXPECT_EQ(reload(one, file), std::vector<std::string>{});  // and again
  ASSERT_TRUE(one.alive(in_one.lantern) && one.alive(in_one.skiff));
  EXPECT_EQ(one.number(in_one.lantern), 41U);
  EXPECT_EQ(one.values(in_one.glow).frequency, 1.1);
  EXPECT_EQ(one.find_behaviour("tower.swing"), std::optional<AnyBehaviour>{in_one.swing});
  EXPECT_EQ(one.preset_path(*one.find_behaviour("hook.sway")), "preset.bobbing.sway");
  EXPECT_EQ(*one.get("preset.bobbing.sway.frequency")->number(), 0.7);
  const auto a = played(one, {in_one.lantern, in_one.skiff, in_one.hook, *one.find("tower"), *one.find("lamp")});
  const auto b =
      played(other, {in_other.lantern, in_other.skiff, in_other.hook, *other.find("tower"), *other.find("lamp")});
  EXPECT_TRUE(same_bits(a.first, b.first));
  EXPECT_EQ(a.second, b.second);
  EXPECT_FALSE(a.second.empty());
}

TEST(Reload, DropsWhatTheProgramAddedOnRequest) {
  const Kit kit;
  const auto file = kit.write("quay.toml", quay);
  Scene harbour = load(file);
  const Additions added{harbour};
  harbour.set_rest(added.hook, Pose{{0, 5, 0}});
  harbour.advance(1s);
  const auto lost = reload(harbour, file, {}, ProgramChanges::drop);
  EXPECT_EQ(lost, (std::vector<std::string>{"object-4 no longer exists.", "skiff no longer exists.",
                                            "tower.swing no longer exists.", "hook.sway no longer exists.",
                                            "rule rule-002 no longer exists."}));
  EXPECT_FALSE(harbour.alive(added.lantern));
  EXPECT_EQ(*harbour.get("lamp.spin.speed")->number(), 40);
  EXPECT_EQ(harbour.rest(added.hook).position, Vec3(0, 1, 0));
  EXPECT_THROW((void)harbour.get("preset.bobbing.sway.frequency"), BadValue);
}

TEST(Reload, GivesWayToTheFile) {
  const Kit kit;
  const auto file = kit.write("quay.toml", quay);
  Scene harbour = load(file);
  const Additions added{harbour};
  const Object by_tower = harbour.add({.parent = *harbour.find("tower")});
  harbour.add({.name = "at-tower", .parent = by_tower});
  harbour.add({.name = "beside"});
  harbour.give(*harbour.find("beside"), Follow{.target = *harbour.find("tower")});
  harbour.when(inside("tower", Sphere{{0, 0, 0}, 1})).called("home").then(raise("home"));
  harbour.advance(1s);
  const Vec3 skiff = harbour.world(added.skiff).position;
  std::string changed = quay;
  changed.replace(changed.find("[object.tower]\n"), 15, "");
  changed.replace(changed.find("parent = \"tower\"\n"), 17, "");
  kit.write(
      "quay.toml",
      changed +
          "[object.skiff]\nposition = [3, 0, 0]\n[[object.skiff.behaviour]]\nkind = \"follow\"\ntarget = \"hook\"\n");
  EXPECT_EQ(reload(harbour, file),
            (std::vector<std::string>{
                "beside.follow was not kept: tower no longer exists.",
                "rule home was not kept: no object \"tower\" in this scene; give lamp, hook, tug, skiff or beside.",
                "tower no longer exists.", "object-6 no longer exists.", "at-tower no longer exists."}));
  EXPECT_TRUE(harbour.alive(added.skiff));  // it is that of the file now
  EXPECT_LT((harbour.world(added.skiff).position - skiff).norm(), 1e-12);
  EXPECT_EQ(harbour.dependencies(*harbour.find_behaviour("skiff.follow")), std::vector<Object>{added.hook});
  EXPECT_TRUE(harbour.find("beside"));
}

TEST(Reload, KeepsWhatTheProgramChangedOfObjectsOfTheFile) {
  const Kit kit;
  const auto file = kit.write("quay.toml", quay);
  Scene harbour = load(file);
  const Object hook = *harbour.find("hook"), tower = *harbour.find("tower"), lamp = *harbour.find("lamp");
  harbour.set_rest(tower, Pose{{0, 9, 0}});
  harbour.set_parent(lamp, hook, KeepPose::local);
  harbour.set_tags(hook, {"heavy"});
  harbour.set_number(hook, 7);
  harbour.set_rest(hook, Pose{{0, 4, 0}});
  harbour.advance(1s);
  std::string changed = quay;
  changed.replace(changed.find("position = [0, 1, 0]"), 20, "position = [0, 2, 0]");
  kit.write("quay.toml", changed);
  EXPECT_EQ(reload(harbour, file), std::vector<std::string>{});
  EXPECT_EQ(harbour.rest(tower).position, Vec3(0, 9, 0));
  EXPECT_EQ(harbour.parent(lamp), std::optional{hook});
  EXPECT_EQ(harbour.tags(hook), std::vector<std::string>{"heavy"});
  EXPECT_EQ(harbour.number(hook), 7U);
  EXPECT_EQ(harbour.rest(hook).position, Vec3(0, 2, 0));  // the file has changed it
}

TEST(Reload, KeepsThePaceOfNewParents) {
  const Kit kit;
  const auto file = kit.write("quay.toml", quay);
  Scene harbour = load(file);
  const Object lamp = *harbour.find("lamp");
  harbour.set_parent(lamp, std::nullopt, KeepPose::local);  // it was the tower's
  harbour.set_pace(*harbour.find("tower"), 0.25);
  reload(harbour, file);
  harbour.advance(500ms);
  const Quat expected = rotation(Angle{}, degrees(20), Angle{});  // 40 degrees a second, at its own pace
  EXPECT_LT(harbour.world(lamp).rotation.angularDistance(expected), 1e-9);
}

TEST(Reload, KeepsFollowersOfWhatHasEnded) {
  const Kit kit;
  const auto file = kit.write("quay.toml", quay);
  Scene harbour = load(file);
  const Object gone = harbour.add({.name = "gone", .rest = Pose{{4, 0, 0}}}), boat = harbour.add({.name = "boat"});
  harbour.give(boat, Follow{.target = gone, .half_life = 0s});
  harbour.when(inside("gone", Sphere{{0, 0, 0}, 1})).any(after(2s)).called("either").then(raise("either"));
  harbour.advance(1s);
  harbour.end(gone);
  harbour.advance(100ms);
  const Vec3 there = harbour.world(boat).position;
  EXPECT_EQ(reload(harbour, file), std::vector<std::string>{});
  harbour.advance(100ms);
  EXPECT_EQ(harbour.world(boat).position, there);
  harbour.retarget(*harbour.find_behaviour("boat.follow"), *harbour.find("hook"));
  harbour.advance(1s);
  EXPECT_NE(harbour.world(boat).position, there);
}

TEST(Reload, IsPreparedInAnotherThreadWhileTheScenePlays) {
  const Kit kit;
  const auto file = kit.write("quay.toml", quay);
  Scene one = load(file), other = load(file);
  const Additions in_one{one}, in_other{other};
  std::optional<PreparedScene> prepared;
  std::thread reading{[&] { prepared = prepare(file); }};
  for (int frame = 0; frame < 20; ++frame) one.advance(17ms);
  reading.join();
  for (int frame = 0; frame < 20; ++frame) other.advance(17ms);
  EXPECT_EQ(adopt(one, std::move(*prepared)), std::vector<std::string>{});
  EXPECT_THROW(adopt(one, std::move(*prepared)), BadValue);  // it was moved from
  EXPECT_TRUE(
      same_bits(played(one, {in_one.skiff, in_one.hook}).first, played(other, {in_other.skiff, in_other.hook}).first));
}

TEST(Reload, KeepsWhatIsAddedWhileItWaitsForTheLastCallback) {
  const Kit kit;
  const auto file = kit.write("quay.toml", quay);
  Scene harbour = load(file);
  std::vector<Object> added;
  harbour.on("go", [&](const Event&) {
    kit.write("quay.toml", quay + "[object.gull]\nposition = [0, 7, 0]\n[object.raft]\n");
    EXPECT_TRUE(reload(harbour, file).empty());
    for (int i = 0; i < 3; ++i) added.push_back(harbour.add({.rest = Pose{{0, 0, i * 1.0}}}));
    harbour.give(added[1], Follow{.target = added[2], .offset = Vec3{0, 0, 0}, .half_life = 0s});
  });
  harbour.raise("go");
  harbour.advance(100ms);
  ASSERT_EQ(added.size(), 3U);
  harbour.advance(1s);
  EXPECT_EQ(harbour.size(), 9U);
  EXPECT_EQ(harbour.world(*harbour.find("gull")).position, Vec3(0, 7, 0));
  for (int i = 0; i < 3; ++i) {
    ASSERT_TRUE(harbour.alive(added[static_cast<std::size_t>(i)]));
    EXPECT_EQ(harbour.world(added[static_cast<std::size_t>(i)]).position.z(), i == 1 ? 2.0 : i);
  }
}

TEST(Reload, ReportsEveryMistakeWhenItIsPrepared) {
  const Kit kit;
  const auto circle = kit.write("circle.toml",
                                "[object.a]\n[[object.a.behaviour]]\nkind = \"follow\"\ntarget = \"b\"\n"
                                "[object.b]\n[[object.b.behaviour]]\nkind = \"follow\"\ntarget = \"a\"\n");
  EXPECT_THROW((void)prepare(circle), LoadError);
  EXPECT_THROW((void)prepare(kit.write("wrong.toml", "[object.a]\nparent = \"none\"\n")), LoadError);
}

}  // namespace
}  // namespace hushed
