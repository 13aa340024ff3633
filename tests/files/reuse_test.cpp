// SPDX-License-Identifier: MIT
// Rules, presets, crowds, included files and key files.

#include <gtest/gtest.h>

#include <filesystem>
#include <set>

#include <hushed/behaviour/sway.hpp>
#include <hushed/key_file.hpp>
#include <hushed/load.hpp>

#include "support/demo.hpp"
#include "support/kit.hpp"

namespace hushed {
namespace {

using namespace std::chrono_literals;
using tests::Kit;

SceneFile read(const std::string& text) { return read_scene_text("hushed = 1\n" + text, "harbour.toml"); }

std::string diagnostics(const std::string& text) {
  try {
    read(text);
  } catch (const LoadError& error) {
    return error.what();
  }
  return "accepted";
}

const std::string bobbing = "[[preset.bobbing.behaviour]]\nkind = \"sway\"\namplitude = [0, 1, 0]\nfrequency = 0.5\n";
const std::string three_boats =
    "[object.gig]\nuse = [\"bobbing\"]\n[object.punt]\nuse = [\"bobbing\"]\ntune = { \"bobbing.sway.frequency\" = 2.0 "
    "}\n"
    "[object.dory]\nuse = [\"bobbing\"]\n[object.dory.tune]\nbobbing.sway.amplitude = [0, 3, 0]\n";

TEST(Preset, IsSharedAndEachObjectHasValuesOfItsOwn) {
  Scene harbour = read(bobbing + three_boats).scene;
  const auto frequency = [&](const std::string& boat) { return *harbour.get(boat + ".sway.frequency")->number(); };
  EXPECT_EQ(frequency("gig"), 0.5);
  EXPECT_EQ(frequency("punt"), 2.0);
  harbour.set("preset.bobbing.sway.frequency", Value{0.7});  // changes all objects without a value of their own
  EXPECT_EQ(frequency("gig"), 0.7);
  EXPECT_EQ(frequency("punt"), 2.0);
  EXPECT_EQ(frequency("dory"), 0.7);
  harbour.set("gig.sway.frequency", Value{0.9});  // changes this object only; the value is its own from then on
  EXPECT_EQ(frequency("dory"), 0.7);
  const Snapshot here = harbour.snapshot();
  harbour.set("preset.bobbing.sway.frequency", Value{0.2});
  EXPECT_EQ(frequency("gig"), 0.9);
  EXPECT_EQ(frequency("dory"), 0.2);
  EXPECT_EQ(*harbour.get("preset.bobbing.sway.frequency")->number(), 0.2);
  harbour.restore(here);
  EXPECT_EQ(*harbour.get("preset.bobbing.sway.frequency")->number(), 0.7);
  EXPECT_EQ(frequency("dory"), 0.7);
  EXPECT_THROW(harbour.set("preset.bobbing.sway.frequency", Value{"fast"}), BadValue);
  EXPECT_THROW(harbour.set("preset.bobbing.swya.frequency", Value{1.0}), BadValue);
}

TEST(Preset, CanBeMadeInCpp) {
  Scene harbour;
  const Object gig = harbour.add({.name = "gig"}), punt = harbour.add({.name = "punt"});
  harbour.add_to_preset("bobbing", Sway{.amplitude = {0, 1, 0}, .frequency = 0.5});
  harbour.use(gig, "bobbing");
  harbour.use(punt, "bobbing",
              std::vector<OwnValue>{{"sway.amplitude", Value{Value::List{Value{0.0}, Value{2.0}, Value{0.0}}}}});
  harbour.advance(500ms);
  EXPECT_NEAR(harbour.world(gig).position.y(), 1, 1e-12);
  EXPECT_NEAR(harbour.world(punt).position.y(), 2, 1e-12);
  const auto sway = *harbour.find_behaviour<Sway>("gig.sway");
  harbour.tune(sway)->amplitude = {0, 5, 0};
  harbour.set("preset.bobbing.sway.amplitude", Value{Value::List{Value{0.0}, Value{9.0}, Value{0.0}}});
  EXPECT_EQ(harbour.values(sway).amplitude.y(), 5);
  EXPECT_THROW(harbour.use(gig, "bobing"), BadValue);
}

TEST(Include, LoadsPresetsFromOtherFilesRelativeToTheFile) {
  const Kit kit;
  kit.write("sub/swell.toml", bobbing);
  kit.write("sub/kit.toml", "include = [\"swell.toml\"]\n[[preset.turning.behaviour]]\nkind = \"spin\"\n");
  const auto file = kit.write("quay.toml",
                              "include = [\"sub/kit.toml\", \"sub/swell.toml\"]\n"
                              "[object.gig]\nuse = [\"bobbing\", \"turning\"]\n");
  const SceneFile quay = read_scene_file(file);
  EXPECT_TRUE(quay.scene.find_behaviour("gig.sway"));
  EXPECT_TRUE(quay.scene.find_behaviour("gig.spin"));
  EXPECT_TRUE(quay.unused_presets.empty());

  kit.write("lost.toml", "include = [\"sub/kti.toml\"]\n");
  EXPECT_EQ(kit.diagnostics("lost.toml"), "lost.toml:2:12: include: the file does not exist; check the path.");
  kit.write("sub/one.toml", "include = [\"two.toml\"]\n");
  kit.write("sub/two.toml", "include = [\"one.toml\"]\n");
  kit.write("circle.toml", "include = [\"sub/one.toml\"]\n");
  EXPECT_EQ(kit.diagnostics("circle.toml"),
            "sub/two.toml:2:12: include: the files include each other in a cycle: one.toml -> two.toml -> one.toml. "
            "Remove one include.");
  kit.write("sub/bad.toml", "[[preset.turning.behaviour]]\nkind = \"spin\"\nsped = 3\n[object.lamp]\n");
  kit.write("bad.toml", "include = [\"sub/bad.toml\"]\n[object.gig]\nuse = [\"turning\", \"bobbing\"]\n");
  EXPECT_EQ(kit.diagnostics("bad.toml"),
            "bad.toml:4:19: gig: use: no preset \"bobbing\" in this scene; give turning.\n"
            "sub/bad.toml:4:1: turning.spin: unknown key \"sped\"; did you mean \"speed\"?\n"
            "sub/bad.toml:5:2: object: not allowed in an included file, which contains only presets; remove it.");
}

TEST(Crowd, MakesManyFromOneDescriptionAndASeed) {
  const std::string text =
      bobbing +
      "[crowd.paper]\ncount = 40\nseed = 7\nbox = [[-5, 0, 2], [5, 0, 8]]\ntags = [\"paper\"]\n"
      "use = [\"bobbing\"]\n[[crowd.paper.behaviour]]\nkind = \"roam\"\nbox = [[-9, 0, -9], [9, 0, 9]]\n"
      "speed = 1\nseed = 100\n";
  const Scene harbour = read(text).scene, again = read(text).scene;
  EXPECT_EQ(harbour.size(), 40U);
  std::set<double> places;
  std::set<std::int64_t> seeds;
  for (int i = 1; i <= 40; ++i) {
    const Object paper = *harbour.find("paper-" + std::to_string(i));
    const Vec3 place = harbour.rest(paper).position;
    EXPECT_TRUE((place.array() >= Vec3(-5, 0, 2).array()).all() && (place.array() <= Vec3(5, 0, 8).array()).all());
    EXPECT_EQ(place, again.rest(*again.find("paper-" + std::to_string(i))).position);
    places.insert(place.x());
    seeds.insert(*harbour.get("paper-" + std::to_string(i) + ".roam.seed")->as<std::int64_t>());
    EXPECT_EQ(harbour.tags(paper), std::vector<std::string>{"paper"});
  }
  EXPECT_EQ(places.size(), 40U);
  EXPECT_EQ(*seeds.begin(), 100);
  EXPECT_EQ(seeds.size(), 40U);
}

struct Mistake {
  std::string text, diagnostic;
};

class Reuse : public testing::TestWithParam<Mistake> {};

TEST_P(Reuse, ReportsErrorsWithTheirPlace) {
  EXPECT_NE(diagnostics(GetParam().text).find(GetParam().diagnostic), std::string::npos)
      << diagnostics(GetParam().text);
}

const std::string cog = "[object.cog]\n[[object.cog.behaviour]]\nkind = \"spin\"\n";
std::string rule(const std::string& rest) { return cog + "[[rule]]\nname = \"r\"\n" + rest; }

INSTANTIATE_TEST_SUITE_P(
    Mistakes, Reuse,
    testing::Values(
        Mistake{rule("when = [{ presed = \"H\" }]\ndo = [{ stop = \"cog.spin\" }]"),
                "harbour.toml:7:11: rule r: when: unknown condition \"presed\"; did you mean \"pressed\"?"},
        Mistake{rule("when = [{ pressed = \"H\" }]\ndo = [{ stop = \"cog.spni\" }]"),
                "harbour.toml:8:16: rule r: cog has no behaviour \"spni\"; did you mean \"spin\"?"},
        Mistake{rule("when = [{ near = \"cog\", to = \"gig\", within = 3 }]\ndo = { raise = \"x\" }"),
                "harbour.toml:7:30: rule r: no object \"gig\" in this scene; give cog."},
        Mistake{rule("when = [{ near = \"cog\", to = [0, 0, 0] }]\ndo = { raise = \"x\" }"), "\"within\" is missing"},
        Mistake{rule("when = { value = \"cog.rotation\", above = 3 }\ndo = { raise = \"x\" }"),
                "harbour.toml:7:18: rule r: watch \"cog.rotation\" has 4 numbers"},
        Mistake{rule("when = { value = \"cog.rotation.yaw\" }\ndo = { raise = \"x\" }"),
                "give above = ..., below = ..."},
        Mistake{rule("when = { inside = \"cog\" }\ndo = { raise = \"x\" }"), "give either box"},
        Mistake{rule("when = { after = -1 }\ndo = { raise = \"x\" }"), "harbour.toml:7:18: rule r: when: after: "},
        Mistake{rule("do = { raise = \"x\" }"), "harbour.toml:5:1: rule r: no condition"},
        Mistake{rule("when = { after = 1 }"), "no action; give do"},
        Mistake{rule("when = { after = 1 }\ndo = { set = \"cog.spin.sped\", to = 3 }"),
                "rule r: cog.spin: unknown key \"sped\"; did you mean \"speed\"?"},
        Mistake{rule("when = { after = 1 }\ndo = { set = \"cog.spin.speed\", to = \"x\" }"), "give a number"},
        Mistake{rule("when = { after = 1 }\ndo = { retarget = \"cog.spin\", to = \"cog\" }"), "has no target"},
        Mistake{rule("when = { after = 1 }\ndo = { raise = \"x\" }\nfires = \"twice\""), "fires: "},
        Mistake{
            rule("when = { after = 1 }\ndo = { raise = \"x\" }\n[[rule]]\nname = \"r\"\nwhen = { after = 1 }\ndo = { "
                 "raise = \"x\" }"),
            "the rule in line 5 has the same name"},
        Mistake{rule("when = { near = { tag = \"cogs\" }, to = \"cog\", within = 1 }\ndo = { raise = \"x\" }"),
                "no object in this scene has the tag \"cogs\""},
        Mistake{
            bobbing + "[object.gig]\nuse = [\"bobbing\"]\ntune = { \"bobbing.swya.frequency\" = 2 }",
            "gig: tune: the object uses no preset with the behaviour \"bobbing.swya\"; did you mean \"bobbing.sway\"?"},
        Mistake{bobbing + "[object.gig]\nuse = [\"bobbing\"]\ntune = { \"bobbing.sway.frequency\" = \"x\" }",
                "harbour.toml:8:37: gig.sway: frequency: "},
        Mistake{bobbing +
                    "[object.gig]\nuse = [\"bobbing\"]\n[[object.gig.behaviour]]\nkind = \"sway\"\namplitude = [1, "
                    "1, 1]",
                "gig: the behaviour \"sway\" in line 2 has the same name"},
        Mistake{"[preset.empty]\n", "preset.empty: no behaviour"},
        Mistake{"[crowd.paper]\ncount = 3\n", "paper: \"box\" is missing"},
        Mistake{"[crowd.paper]\ncount = 3\nbox = [[0, 0, 0], [1, 1, 1]]\nposition = [0, 0, 0]\n", "remove it."},
        Mistake{"[crowd.paper]\ncount = 1000000\nbox = [[0, 0, 0], [1, 1, 1]]\n", "from 1 to 100000"}));

TEST(Crowd, IsReportedOnceWhateverItsSize) {
  const std::string flock =
      "[[preset.flocking.behaviour]]\nkind = \"steer\"\nurges = [{ urge = \"alignment\", tag = \"gul\" }]\n"
      "[crowd.gull]\ncount = 500\nbox = [[0, 0, 0], [1, 1, 1]]\ntags = [\"gull\"]\nuse = [\"flocking\"]\n";
  EXPECT_EQ(diagnostics(flock),
            "harbour.toml:4:38: gull-1.steer: urges: alignment: tag: no object in this scene has the tag \"gul\"; did "
            "you mean "
            "\"gull\"? (and 499 more like this)");
}

TEST(KeyFile, ReadsChangesAndReportsErrors) {
  const auto changes =
      read_key_text("time,key,change\r\n# out of the basin\n0.5,W,down\n1,W,up\n\n2.25,forward,-0.4\n", "k");
  ASSERT_EQ(changes.size(), 3U);
  EXPECT_EQ(changes[1].time, Time{1s});
  EXPECT_EQ(changes[2].value, -0.4);
  EXPECT_EQ(read_key_text(key_file_text(changes), "k").size(), 3U);
  EXPECT_EQ(key_file_text(read_key_text(key_file_text(changes), "k")), key_file_text(changes));
  try {
    read_key_text("x,W,down\n1,W,dwon\n2,,up\n3,W,up\n4,A,down\n5,A,down\n6,forward,2\nhello\n", "keys.csv");
    FAIL();
  } catch (const LoadError& error) {
    EXPECT_EQ(std::string{error.what()},
              "keys.csv:1:1: \"x\" is not a time; give seconds from 0 to 1000000.\n"
              "keys.csv:2:5: \"dwon\" is not a change; give down or up, or a number from -1 to 1 for an axis.\n"
              "keys.csv:3:3: the name of the key is empty; give one, such as H.\n"
              "keys.csv:4:5: key \"W\" is not down; remove this line, or add its down before it.\n"
              "keys.csv:6:5: key \"A\" is down already, since line 5; remove this line, or add its up before it.\n"
              "keys.csv:7:11: \"2\" is not a change; give down or up, or a number from -1 to 1 for an axis.\n"
              "keys.csv:8:1: expected three columns: time,key,down or time,key,up, such as 1.5,H,down.");
  }
}

// --- the demo --------------------------------------------------------------------------------------------------------

TEST(Demo, ShowsEveryRuleInOnePlayFrameByFrame) {
  SceneFile file = tests::demo_file();
  for (const InputChange& change : read_key_file(file.view.keys)) file.scene.input(change);
  std::string told;
  std::set<std::string_view> fired;
  for (int frame = 1; frame <= 45 * 60; ++frame) {
    file.scene.advance(frame_time(frame, 60) - file.scene.time());
    for (const Event& event : file.scene.events()) {
      if (event.name == "fired") fired.insert(event.rule);
      told += std::to_string(frame) + ' ' + file.scene.describe(event) + '\n';
    }
  }
  EXPECT_EQ(fired.size(), file.scene.rules().size());
  EXPECT_EQ(told, R"(151 rule bridge-answers-the-horn fired
181 rule bell-rings fired
181 rule flag-goes-up fired
301 rule bell-falls-silent fired
303 ferry.route reached point 1
361 rule flag-comes-down fired
663 ferry.route reached point 2
778 rule hook-is-nudged fired
901 rule flag-goes-up fired
1081 rule flag-comes-down fired
1188 ferry.route reached point 3
1357 pilot gathered paper-1, its 1st
1358 rule lantern-comes-home fired
1358 lantern-home was raised by rule lantern-comes-home
1358 rule lamp-greets-the-first fired
1441 rule ferry-passes-the-headland fired
1441 searchlight.face lost ferry
1441 tug.follow lost ferry
1441 tug.face lost ferry
1441 rule searchlight-looks-for-the-pilot fired
1441 rule tug-finds-another fired
1488 pilot gathered paper-3, its 2nd
1489 rule lantern-comes-home fired
1489 lantern-home was raised by rule lantern-comes-home
1540 ferry.route reached point 0
1548 pilot gathered paper-7, its 3rd
1548 rule lantern-comes-home fired
1548 lantern-home was raised by rule lantern-comes-home
1566 pilot gathered paper-5, its 4th
1567 rule lantern-comes-home fired
1567 lantern-home was raised by rule lantern-comes-home
1621 rule flag-goes-up fired
1801 rule flag-comes-down fired
1882 pilot gathered paper-6, its 5th
1883 rule lantern-comes-home fired
1883 lantern-home was raised by rule lantern-comes-home
1903 pilot gathered paper-2, its 6th
1904 rule lantern-comes-home fired
1904 lantern-home was raised by rule lantern-comes-home
2009 pilot gathered paper-4, its 7th
2010 rule lantern-comes-home fired
2010 lantern-home was raised by rule lantern-comes-home
2041 rule ferry-comes-back fired
2083 ferry.route reached point 1
2341 rule flag-goes-up fired
2348 pilot gathered paper-8, its 8th
2348 rule lantern-comes-home fired
2348 lantern-home was raised by rule lantern-comes-home
2442 ferry.route reached point 2
2521 rule flag-comes-down fired
)");
}

}  // namespace
}  // namespace hushed
