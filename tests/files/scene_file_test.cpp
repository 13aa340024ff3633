// SPDX-License-Identifier: MIT
#include <hushed/load.hpp>

#include <gtest/gtest.h>

#include <cstdlib>
#include <fstream>

#include <hushed/detail/kind.hpp>
#include <hushed/field.hpp>
#include <hushed/kinds.hpp>

#include "support/demo.hpp"

namespace hushed {
namespace {

SceneFile read(const std::string& text) { return read_scene_text("hushed = 1\n" + text, "harbour.toml"); }

/// All diagnostics of a file, one a line.
std::string diagnostics(const std::string& text) {
  try {
    read_scene_text(text, "harbour.toml");
  } catch (const LoadError& error) {
    return error.what();
  }
  return "accepted";
}

TEST(SceneFile, BecomesTheSceneItDescribes) {
  const SceneFile file = read(R"(
[scene]
name = "quay"
tick_rate = 60
[view]
watch = ["lamp.rotation.yaw"]
[object.lamp]          # before its parent
parent = "tower"
position = [0, 12, 0]
inherit = ["position", "scale"]
tags = ["light", "tall"]
shape = { kind = "cone", size = 2, colour = "#fC8", glow = true }
[object.tower]
position = [3, 0, 0]
scale = 2
[[object.lamp.behaviour]]
kind = "spin"
axis = "-z"
speed = 40
delay = 0.5
[[object.lamp.behaviour]]
kind = "spin"
name = "nodding"
velocity = [5, 0, 0]
enabled = false
reads = "last tick"
)");
  const Scene& scene = file.scene;
  EXPECT_EQ(file.name, "quay");
  EXPECT_EQ(scene.tick_rate(), 60.0);
  ASSERT_EQ(file.view.watches.size(), 1U);
  EXPECT_EQ(file.view.watches[0].place.line, 7);
  const Object lamp = scene.find("lamp").value();
  EXPECT_EQ(scene.name(scene.parent(lamp).value()), "tower");
  EXPECT_EQ(scene.world(lamp).position, Vec3(3, 24, 0));
  EXPECT_EQ(scene.tags(lamp), (std::vector<std::string>{"light", "tall"}));
  EXPECT_EQ(scene.shape(lamp)->kind, Shape::Kind::cone);
  EXPECT_EQ(scene.shape(lamp)->size, Vec3(2, 2, 2));
  EXPECT_EQ(scene.shape(lamp)->colour, (Colour{0xff, 0xcc, 0x88}));
  EXPECT_TRUE(scene.shape(lamp)->glow);
  EXPECT_EQ(as_text(*scene.get("lamp.spin.axis")), "\"-z\"");
  EXPECT_EQ(as_text(*scene.get("lamp.spin.delay")), "0.5");
  EXPECT_EQ(as_text(*scene.get("lamp.nodding.velocity")), "[5, 0, 0]");
  EXPECT_EQ(as_text(*scene.get("lamp.nodding.reads")), "\"last tick\"");
  EXPECT_FALSE(scene.running(scene.find_behaviour("lamp.nodding").value()));
}

TEST(SceneFile, AcceptsARestRotationInEachForm) {
  const Scene scene = read(R"(
[object.a]
rotation = [10, 20, 30]
[object.b]
axis_angle = { axis = "y", angle = 90 }
[object.c]
quaternion = [0, 0.7075, 0, 0.7075]      # a little off unit length
)")
                          .scene;
  const auto rotation_of = [&](const char* name) { return scene.rest(scene.find(name).value()).rotation; };
  EXPECT_EQ(rotation_of("a").coeffs(), rotation(degrees(10), degrees(20), degrees(30)).coeffs());
  EXPECT_EQ(rotation_of("b").coeffs(), rotation(axis::up, degrees(90)).coeffs());
  EXPECT_NEAR(rotation_of("c").angularDistance(rotation_of("b")), 0.0, 1e-7);
  EXPECT_NEAR(rotation_of("c").norm(), 1.0, 1e-15);
}

struct Mistake {
  const char* name;
  const char* text;        ///< after `hushed = 1` in line 1
  const char* diagnostic;  ///< the whole text

  friend void PrintTo(const Mistake& mistake, std::ostream* out) { *out << mistake.name; }
};

class Mistakes : public testing::TestWithParam<Mistake> {};

TEST_P(Mistakes, AreReportedWithTheirPlaceAndAHint) {
  EXPECT_EQ(diagnostics(std::string{"hushed = 1\n"} + GetParam().text), GetParam().diagnostic);
}

INSTANTIATE_TEST_SUITE_P(
    SceneFile, Mistakes,
    testing::Values(
        Mistake{"MisspeltField", "[[object.lamp.behaviour]]\nkind = \"spin\"\nsped = 40",
                "harbour.toml:4:1: lamp.spin: unknown key \"sped\"; did you mean \"speed\"?"},
        Mistake{"MisspeltKind", "[[object.lamp.behaviour]]\nkind = \"spinn\"",
                "harbour.toml:3:8: lamp: unknown kind \"spinn\"; did you mean \"spin\"?"},
        Mistake{"NoKind", "[[object.lamp.behaviour]]\nspeed = 40",
                "harbour.toml:2:1: lamp: \"kind\" is missing; give one, such as kind = \"spin\"."},
        Mistake{"MisspeltParent", "[object.lamp]\nparent = \"tower\"\n[object.towel]",
                "harbour.toml:3:10: lamp: parent: no object \"tower\" in this scene; did you mean \"towel\"?"},
        Mistake{"RenamedKey", "[object.tug]\n[[object.tug.behaviour]]\nkind = \"follow\"\ntarget = \"tug\"\nfar = 3",
                "harbour.toml:6:1: tug.follow: unknown key \"far\"; it is now called \"max_distance\"."},
        Mistake{"SpaceThatIsNotAllowed", "[object.hook]\n[[object.hook.behaviour]]\nkind = \"spring\"\nspace = \"own\"",
                "harbour.toml:5:9: hook.spring: space: unknown value \"own\"; give parent or world."},
        Mistake{"MisspeltIgnore", "[object.bell]\nignore = { ring = \"a bell does\" }",
                "harbour.toml:3:12: bell: ignore: `hushed check` has no finding \"ring\"; did you mean "
                "\"rings\"?"},
        Mistake{"IgnoreWithoutReason", "[object.bell]\nignore = { rings = \"\" }",
                "harbour.toml:3:20: bell: ignore: the reason is missing; give the reason why rings is right here, in "
                "quotes."},
        Mistake{"AreaTheWrongWayRound", "[view]\narea = [[0, 0, 0], [-1, 1, 1]]",
                "harbour.toml:3:8: view: area: give the lowest corner first, and the highest second."},
        Mistake{"MisspeltTable", "[objects.lamp]",
                "harbour.toml:2:2: unknown key \"objects\"; did you mean \"object\"?"},
        Mistake{"ParentCircle", "[object.a]\nparent = \"b\"\n[object.b]\nparent = \"a\"",
                "harbour.toml:3:10: the parents form a cycle: a -> b -> a. Remove one parent."},
        Mistake{"DuplicateName", "[object.lamp]\n[object.gull]\n[object.lamp]",
                "harbour.toml:4:1: this name or key exists already; rename it, or remove one of the two."},
        Mistake{
            "DuplicateBehaviour",
            "[[object.lamp.behaviour]]\nkind = \"spin\"\n[[object.lamp.behaviour]]\nkind = \"spin\"",
            "harbour.toml:4:1: lamp: the behaviour \"spin\" in line 2 has the same name; give this one another: name = "
            "\"...\"."},
        Mistake{"EmptyName", "[object.\"\"]", "harbour.toml:2:9: an object has an empty name; give one."},
        Mistake{
            "BadName", "[object.\"the lamp\"]",
            "harbour.toml:2:9: the lamp: \"the lamp\" cannot be the name of an object; use letters, digits, - and _."},
        Mistake{"WrongType", "[object.lamp]\nposition = \"high\"",
                "harbour.toml:3:12: lamp: position: found a string (\"high\"); give three numbers, [x, y, z]."},
        Mistake{"NotANumber", "[object.lamp]\nposition = [0, nan, 0]",
                "harbour.toml:3:16: lamp: position: found nan, which is not a number; give a number."},
        Mistake{"Infinite", "[object.lamp]\nscale = inf",
                "harbour.toml:3:9: lamp: scale: found an infinite number; give a number."},
        Mistake{
            "TooLarge", "[[object.lamp.behaviour]]\nkind = \"spin\"\nspeed = 2e9",
            "harbour.toml:4:9: lamp.spin: speed: 2000000000 is out of range; give a number from -1e9 to 1e9 (deg/s)."},
        Mistake{"ZeroAxis", "[[object.lamp.behaviour]]\nkind = \"spin\"\naxis = [0, 0, 0]",
                "harbour.toml:4:8: lamp.spin: axis: the vector has length 0; give a direction, such as [0, 1, 0]."},
        Mistake{"LongQuaternion", "[object.lamp]\nquaternion = [0, 0, 0, 1.01]",
                "harbour.toml:3:14: lamp: quaternion: the length is 1.01; a rotation has length 1, so divide the "
                "numbers by this length."},
        Mistake{"TwoRotations", "[object.lamp]\nrotation = [0, 0, 0]\nquaternion = [0, 0, 0, 1]",
                "harbour.toml:2:1: lamp: the rotation is given in more than one way; give only one of rotation, "
                "axis_angle and "
                "quaternion."},
        Mistake{"TickRate", "[scene]\ntick_rate = 0",
                "harbour.toml:3:13: scene: tick_rate: 0 is out of range; give a number from 1 to 10000 (per second)."},
        Mistake{"NegativeDelay", "[[object.lamp.behaviour]]\nkind = \"spin\"\ndelay = -1",
                "harbour.toml:4:9: lamp.spin: delay: -1 is out of range; give a number from 0 to 1000000 (s)."},
        Mistake{"AxisBesideVelocity", "[[object.lamp.behaviour]]\nkind = \"spin\"\nvelocity = [0, 9, 0]\naxis = \"x\"",
                "harbour.toml:5:1: lamp.spin: axis excludes velocity; give only one of the two."},
        Mistake{"MissingVelocity", "[[object.skiff.behaviour]]\nkind = \"travel\"",
                "harbour.toml:2:1: skiff.travel: \"velocity\" is missing; give three numbers, [x, y, z] (m/s)."},
        Mistake{
            "StartsOutside",
            "[object.skiff]\nposition = [7, 0, 0]\n[[object.skiff.behaviour]]\nkind = \"travel\"\nvelocity = [1, 0, "
            "0]\nbetween = [[0, 0, 0], [5, 0, 0]]",
            "harbour.toml:7:1: skiff.travel: between: the object starts outside the bounds, at x = 7; allowed is 0 "
            "to 5. Move the object or the bounds."},
        Mistake{"WrongInherit", "[object.lamp]\ninherit = [\"rotatoin\"]",
                "harbour.toml:3:12: lamp: inherit: unknown value \"rotatoin\"; did you mean \"rotation\"?"},
        Mistake{"MisspeltShape", "[object.lamp]\nshape = { kind = \"cubes\", size = 1 }",
                "harbour.toml:3:18: lamp.shape: kind: unknown value \"cubes\"; give box, sphere, cylinder or "
                "cone."},
        Mistake{"NoTables", "object = 3", "harbour.toml:2:10: object: write each object as a table, [object.NAME]."},
        Mistake{"UnknownColour", "[object.lamp]\nshape = { kind = \"box\", colour = \"golden\" }",
                "harbour.toml:3:34: lamp.shape: colour: \"golden\" is not a colour of CSS; did you mean \"gold\"?"},
        Mistake{"BrokenColour", "[view]\nsky = \"#12345\"",
                "harbour.toml:3:7: view: sky: \"#12345\" is not a colour; give # and three or six hexadecimal digits."},
        Mistake{"FlatShape", "[object.lamp]\nshape = { kind = \"box\", size = [1, 0, 1] }",
                "harbour.toml:3:32: lamp.shape: size: found a number that is 0 or less; give numbers above 0 (m)."},
        Mistake{"UnknownCentre",
                "[object.mast]\n[[object.gull.behaviour]]\nkind = \"orbit\"\nspeed = 9\ncentre = \"mats\"",
                "harbour.toml:6:10: gull.orbit: centre: no object \"mats\" in this scene; did you mean \"mast\"?"},
        Mistake{
            "UnknownPoint",
            "[object.mast]\n[[object.gull.behaviour]]\nkind = \"route\"\nspeed = 9\npoints = [[0, 0, 0],\n  { object = "
            "\"mats\", offset = [0, 1, 0] }]",
            "harbour.toml:7:14: gull.route: points: no object \"mats\" in this scene; did you mean \"mast\"?"},
        Mistake{"MisspeltOffset",
                "[object.mast]\n[[object.gull.behaviour]]\nkind = \"orbit\"\nspeed = 9\ncentre = { object = \"mast\", "
                "ofset = [0, 1, 0] }",
                "harbour.toml:6:29: gull.orbit: centre: unknown key \"ofset\"; did you mean \"offset\"?"},
        Mistake{
            "EasingWithItsPlace",
            "[[object.door.behaviour]]\nkind = \"glide\"\nduration = 1\nby = { position = [1, 0, 0] }\neasing = "
            "\"cubic-bezier(0, 0, 3, 1)\"",
            "harbour.toml:6:30: door.glide: easing: at character 20 of \"cubic-bezier(0, 0, 3, 1)\": x2 is 3; give a "
            "number from 0 to 1: beyond these, time would run backwards."},
        Mistake{
            "NoSuchPose",
            "[object.door.pose.open]\nrotation = [0, 90, 0]\n[[object.door.behaviour]]\nkind = \"glide\"\nduration = "
            "1\nto = \"opne\"",
            "harbour.toml:7:6: door.glide: to: the object has no pose \"opne\"; did you mean \"open\"?"},
        Mistake{"NeitherWay", "[[object.door.behaviour]]\nkind = \"glide\"\nto = { position = [1, 0, 0] }",
                "harbour.toml:2:1: door.glide: missing key; give \"duration\", \"speed\" or \"turn_speed\"."},
        Mistake{"BothWays", "[[object.door.behaviour]]\nkind = \"orbit\"\nspeed = 1\nperiod = 1",
                "harbour.toml:2:1: door.orbit: period excludes speed; give only one of \"speed\" or \"period\"."},
        Mistake{"EmptyPose", "[object.door.pose.open]",
                "harbour.toml:2:19: door.pose.open: the pose is empty; give a position, "
                "a rotation or a scale."},
        Mistake{"RoundAndRound",
                "[[object.mast.behaviour]]\nkind = \"orbit\"\nspeed = 1\ncentre = "
                "\"gull\"\n[[object.gull.behaviour]]\nkind = "
                "\"orbit\"\nspeed = 1\ncentre = \"mast\"",
                "harbour.toml:6:1: dependency cycle: gull -> mast -> gull.\n    Let one of them "
                "read the "
                "others as they were at the last tick: reads = \"last tick\"."}),
    [](const auto& mistake) { return std::string{mistake.param.name}; });

TEST(SceneFile, ReadsPlacesPosesAndValuesOfOneOrThree) {
  Scene harbour = read(R"([object.mast]
position = [1, 0, 0]
[object.bridge.pose.open]
axis_angle = { axis = "z", angle = 80 }
scale = 2
[[object.bridge.behaviour]]
kind = "glide"
to = "open"
duration = 1
[[object.gull.behaviour]]
kind = "orbit"
centre = { object = "mast", offset = [0, 2, 0], offset_space = "target" }
radius = [3, 4]
speed = 10
[[object.gull.behaviour]]
kind = "sway"
amplitude = [1, 0, 0]
frequency = [0.1, 0.2, 0.3]
phase = 90
[[object.ferry.behaviour]]
kind = "route"
points = [[0, 0, 0], "mast", { object = "mast" }]
pause = [0, 1.5, 0]
speed = 1
)")
                      .scene;
  const auto text = [&](const char* path) { return as_text(*harbour.get(path)); };
  EXPECT_EQ(text("gull.orbit.centre"), "{ object = \"mast\", offset = [0, 2, 0], offset_space = \"target\" }");
  EXPECT_EQ(text("gull.orbit.radius"), "[3, 4]");
  EXPECT_EQ(text("gull.sway.frequency"), "[0.1, 0.2, 0.3]");
  EXPECT_EQ(text("gull.sway.phase"), "90");
  EXPECT_EQ(text("bridge.glide.to"), "\"open\"");
  EXPECT_EQ(text("ferry.route.points"), "[[0, 0, 0], \"mast\", \"mast\"]");
  EXPECT_EQ(text("ferry.route.pause"), "[0, 1.5, 0]");
  harbour.advance(std::chrono::seconds{2});
  const Pose open = harbour.world(*harbour.find("bridge"));
  EXPECT_NEAR(pitch_yaw_roll(open.rotation).roll.in_degrees(), 80, 1e-12);
  EXPECT_EQ(open.scale, Vec3(2, 2, 2));
  EXPECT_THROW(harbour.set("gull.orbit.centre", Value{std::string{"tower"}}), BadValue);
  harbour.set("gull.orbit.centre", Value{std::string{"ferry"}});
  EXPECT_EQ(text("gull.orbit.centre"), "\"ferry\"");
}

TEST(SceneFile, ReportsAllErrorsAtOnceInTheOrderOfTheFile) {
  EXPECT_EQ(diagnostics("[object.lamp]\nparnet = \"tower\"\nposition = [1, 2]\n[[object.lamp.behaviour]]\nkind = "
                        "\"travel\"\nat_edge = \"bounces\"\n"),
            "harbour.toml:1:1: the format version is missing; begin the file with hushed = 1.\n"
            "harbour.toml:2:1: lamp: unknown key \"parnet\"; did you mean \"parent\"?\n"
            "harbour.toml:3:12: lamp: position: found a list; give three numbers, [x, y, z].\n"
            "harbour.toml:4:1: lamp.travel: \"velocity\" is missing; give three numbers, [x, y, z] (m/s).\n"
            "harbour.toml:6:11: lamp.travel: at_edge: unknown value \"bounces\"; did you mean \"bounce\"?");
}

TEST(SceneFile, FeedsAnObjectBelowAllItsOtherBehaviours) {
  const SceneFile file = read(R"(
[[preset.bobbing.behaviour]]
kind = "sway"
amplitude = [0, 1, 0]
[object.pilot]
use = ["bobbing"]
fed = true
[[object.pilot.behaviour]]
kind = "travel"
velocity = [1, 0, 0]
[object.tug]
fed = false
)");
  const Scene& harbour = file.scene;
  const Object pilot = *harbour.find("pilot");
  ASSERT_EQ(harbour.behaviours(pilot).size(), 3U);
  EXPECT_EQ(harbour.path(harbour.behaviours(pilot)[0]), "pilot.fed");
  EXPECT_EQ(harbour.path(harbour.behaviours(pilot)[1]), "pilot.sway");
  EXPECT_TRUE(harbour.behaviours(*harbour.find("tug")).empty());
}

TEST(SceneFile, SetsThePaceOfAnObjectAndItsChildren) {
  SceneFile file = read(R"(
[object.tower]
pace = 0.25
[object.lantern]
parent = "tower"
[[object.lantern.behaviour]]
kind = "travel"
velocity = [0, 1, 0]
[[rule]]
name = "halt"
when = [{ after = 1 }]
do = [{ set = "tower.pace.rate", to = 0 }]
)");
  file.scene.advance(std::chrono::seconds{3});
  EXPECT_NEAR(file.scene.world(*file.scene.find("lantern")).position.y(), 0.25, 1.0 / 120);
  EXPECT_EQ(diagnostics("hushed = 1\n[object.tower]\npace = -1"),
            "harbour.toml:3:8: tower: pace: -1 is out of range; give a number from 0 to 100.");
}

TEST(SceneFile, ReadsItsOwnFormatVersionOnly) {
  EXPECT_EQ(diagnostics("hushed = 2"),
            "harbour.toml:1:10: hushed: this program reads format version 1, and the file has 2; give 1.");
}

TEST(SceneFile, KeepsItsLimitsBeforeItParses) {
  std::string dots = "a";
  for (int i = 0; i < 50'000; ++i) dots += ".a";
  EXPECT_NE(
      diagnostics("x = \"" + dots + "\" # " + dots + "\n" + dots + " = 1").find("harbour.toml:2:130: the key has more"),
      std::string::npos);
  std::string deep(100'000, '[');
  EXPECT_NE(diagnostics("x = " + deep).find("not valid TOML"), std::string::npos);
  EXPECT_EQ(diagnostics(std::string{"hushed = 1\0", 11}),
            "harbour.toml: this is not a text file; give a scene file in TOML.");
}

TEST(SceneFile, ReportsWhyAFileCannotBeRead) {
  const auto said = [](const std::string& path) {
    try {
      load(path);
    } catch (const LoadError& error) {
      return std::string{error.what()};
    }
    return std::string{};
  };
  EXPECT_EQ(said("/no/such/harbour.toml"), "/no/such/harbour.toml: the file does not exist; check the path.");
  EXPECT_EQ(said("/tmp"), "/tmp: this is a directory; give a scene file, such as harbour.toml.");
  const std::string large = testing::TempDir() + "large.toml";
  std::ofstream{large}.seekp(65LL << 20).put('#');
  EXPECT_EQ(said(large), large + ": the file is larger than 64 MB; give a smaller one.");
  std::remove(large.c_str());
}

TEST(SceneFile, ReadsValuesOfACommandLine) {
  EXPECT_EQ(as_text(parse_value("60")), "60");
  EXPECT_EQ(as_text(parse_value("-inf")), "-inf");
  EXPECT_EQ(as_text(parse_value("[0, 1.5, 0]")), "[0, 1.5, 0]");
  EXPECT_EQ(as_text(parse_value("last-tick")), "\"last-tick\"");
  EXPECT_EQ(as_text(parse_value("\"last tick\"")), "\"last tick\"");
  EXPECT_EQ(as_text(parse_value("true")), "true");
  EXPECT_THROW(parse_value("[1,"), BadValue);
  EXPECT_THROW(parse_value("1\nx = 2"), BadValue);
}

TEST(SceneFile, HasEveryFieldOfEveryKindInItsSchema) {
  const std::string schema = scene_file_schema();
  for (const detail::Kind* kind : kinds())
    for (const FieldInfo& field : kind->fields())
      EXPECT_NE(schema.find(in_quotes(field.name)), std::string::npos) << kind->name() << '.' << field.name;
}

TEST(SceneFile, LoadsTheHarbour) {
  Scene harbour = tests::demo();
  harbour.advance(std::chrono::seconds{5});
  const Object skiff = harbour.find("skiff").value(), lantern = harbour.find("lantern").value();
  EXPECT_NEAR(harbour.world(skiff).position.x(), 2.5, 1e-12);
  EXPECT_EQ(harbour.world(lantern).position, harbour.world(skiff).position + Vec3(0, 1.5, 0));
  EXPECT_EQ(harbour.world(lantern).rotation.coeffs(), Quat::Identity().coeffs());
}

}  // namespace
}  // namespace hushed
