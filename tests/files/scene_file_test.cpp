// SPDX-License-Identifier: MIT
#include <hushed/load.hpp>

#include <gtest/gtest.h>

#include <cstdlib>
#include <fstream>

#include <hushed/kinds.hpp>

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
shape = { kind = "cone", size = 2 }
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
                "harbour.toml:4:1: lamp.spin: there is no \"sped\" here; did you mean \"speed\"?"},
        Mistake{"MisspeltKind", "[[object.lamp.behaviour]]\nkind = \"spinn\"",
                "harbour.toml:3:8: lamp: there is no behaviour of kind \"spinn\"; did you mean \"spin\"?"},
        Mistake{"NoKind", "[[object.lamp.behaviour]]\nspeed = 40",
                "harbour.toml:2:1: lamp: this behaviour has no kind; give one, such as kind = \"spin\"."},
        Mistake{"MisspeltParent", "[object.lamp]\nparent = \"tower\"\n[object.towel]",
                "harbour.toml:3:10: lamp: the parent \"tower\" is not in this scene; did you mean \"towel\"?"},
        Mistake{"RenamedKey", "[object.tug]\n[[object.tug.behaviour]]\nkind = \"follow\"\ntarget = \"tug\"\nfar = 3",
                "harbour.toml:6:1: tug.follow: there is no \"far\" here; it is called \"max_distance\" now."},
        Mistake{"SpaceThatIsNotAllowed", "[object.hook]\n[[object.hook.behaviour]]\nkind = \"spring\"\nspace = \"own\"",
                "harbour.toml:5:9: hook.spring: space: there is no \"own\" here; there is parent and world."},
        Mistake{"MisspeltIgnore", "[object.bell]\nignore = { ring = \"a bell does\" }",
                "harbour.toml:3:12: bell: ignore: nothing that `hushed check` finds is called \"ring\"; did you mean "
                "\"rings\"?"},
        Mistake{"IgnoreWithoutReason", "[object.bell]\nignore = { rings = \"\" }",
                "harbour.toml:3:20: bell: ignore: say in words why rings is right here."},
        Mistake{"AreaTheWrongWayRound", "[view]\narea = [[0, 0, 0], [-1, 1, 1]]",
                "harbour.toml:3:8: view: area: give the lowest corner first, and the highest second."},
        Mistake{"MisspeltTable", "[objects.lamp]",
                "harbour.toml:2:2: there is no \"objects\" here; did you mean \"object\"?"},
        Mistake{"ParentCircle", "[object.a]\nparent = \"b\"\n[object.b]\nparent = \"a\"",
                "harbour.toml:3:10: these are each other's parents in a circle: a -> b -> a. Take one parent out."},
        Mistake{
            "DuplicateName", "[object.lamp]\n[object.gull]\n[object.lamp]",
            "harbour.toml:4:1: this is in the file already; names and keys must differ, so rename it or take one of "
            "the two out."},
        Mistake{
            "DuplicateBehaviour",
            "[[object.lamp.behaviour]]\nkind = \"spin\"\n[[object.lamp.behaviour]]\nkind = \"spin\"",
            "harbour.toml:4:1: lamp: there is a behaviour called \"spin\" in line 2 already; give this one a name = "
            "\"...\" of its own."},
        Mistake{"EmptyName", "[object.\"\"]", "harbour.toml:2:9: an object has an empty name; give it one."},
        Mistake{
            "BadName", "[object.\"the lamp\"]",
            "harbour.toml:2:9: the lamp: \"the lamp\" cannot be the name of an object; use letters, digits, - and _."},
        Mistake{"WrongType", "[object.lamp]\nposition = \"high\"",
                "harbour.toml:3:12: lamp: position: this is a string (\"high\"); give three numbers, [x, y, z]."},
        Mistake{"NotANumber", "[object.lamp]\nposition = [0, nan, 0]",
                "harbour.toml:3:16: lamp: position: this is not a number (nan); give a number."},
        Mistake{"Infinite", "[object.lamp]\nscale = inf",
                "harbour.toml:3:9: lamp: scale: this is infinite; give a number."},
        Mistake{"TooLarge", "[[object.lamp.behaviour]]\nkind = \"spin\"\nspeed = 2e9",
                "harbour.toml:4:9: lamp.spin: speed: 2000000000 is out of range; give a number from -1000000000 to "
                "1000000000 (deg/s)."},
        Mistake{
            "ZeroAxis", "[[object.lamp.behaviour]]\nkind = \"spin\"\naxis = [0, 0, 0]",
            "harbour.toml:4:8: lamp.spin: axis: this has no length; give a direction that is not zero, such as [0, 1, "
            "0]."},
        Mistake{
            "LongQuaternion", "[object.lamp]\nquaternion = [0, 0, 0, 1.01]",
            "harbour.toml:3:14: lamp: quaternion: this is 1.01 long; a rotation has length 1, so divide its numbers by "
            "that."},
        Mistake{
            "TwoRotations", "[object.lamp]\nrotation = [0, 0, 0]\nquaternion = [0, 0, 0, 1]",
            "harbour.toml:2:1: lamp: its rotation is given in more than one way; keep one of rotation, axis_angle and "
            "quaternion."},
        Mistake{"TickRate", "[scene]\ntick_rate = 0",
                "harbour.toml:3:13: scene: tick_rate: 0 is out of range; give a number from 1 to 10000 (per second)."},
        Mistake{"NegativeDelay", "[[object.lamp.behaviour]]\nkind = \"spin\"\ndelay = -1",
                "harbour.toml:4:9: lamp.spin: delay: -1 is out of range; give a number from 0 to 1000000 (s)."},
        Mistake{"AxisBesideVelocity", "[[object.lamp.behaviour]]\nkind = \"spin\"\nvelocity = [0, 9, 0]\naxis = \"x\"",
                "harbour.toml:5:1: lamp.spin: axis cannot stand beside velocity, which says the same; keep one."},
        Mistake{"MissingVelocity", "[[object.skiff.behaviour]]\nkind = \"travel\"",
                "harbour.toml:2:1: skiff.travel: \"velocity\" is missing; give three numbers, [x, y, z] (m/s)."},
        Mistake{
            "StartsOutside",
            "[object.skiff]\nposition = [7, 0, 0]\n[[object.skiff.behaviour]]\nkind = \"travel\"\nvelocity = [1, 0, "
            "0]\nbetween = [[0, 0, 0], [5, 0, 0]]",
            "harbour.toml:7:1: skiff.travel: between: it starts outside its bounds, at x = 7, which is not between 0 "
            "and 5; move the object or the bounds."},
        Mistake{"WrongInherit", "[object.lamp]\ninherit = [\"rotatoin\"]",
                "harbour.toml:3:12: lamp: inherit: there is no \"rotatoin\" to inherit; did you mean \"rotation\"?"},
        Mistake{"MisspeltShape", "[object.lamp]\nshape = { kind = \"cubes\", size = 1 }",
                "harbour.toml:3:18: lamp.shape: kind: there is no \"cubes\" here; there is box, sphere, cylinder and "
                "cone."},
        Mistake{"NoTables", "object = 3",
                "harbour.toml:2:10: object: give each object a table of its own, [object.NAME]."},
        Mistake{"FlatShape", "[object.lamp]\nshape = { kind = \"box\", size = [1, 0, 1] }",
                "harbour.toml:3:32: lamp.shape: size: every number must be more than 0 (m)."},
        Mistake{"UnknownCentre",
                "[object.mast]\n[[object.gull.behaviour]]\nkind = \"orbit\"\nspeed = 9\ncentre = \"mats\"",
                "harbour.toml:6:10: gull.orbit: centre: \"mats\" is not in this scene; did you mean \"mast\"?"},
        Mistake{
            "UnknownPoint",
            "[object.mast]\n[[object.gull.behaviour]]\nkind = \"route\"\nspeed = 9\npoints = [[0, 0, 0],\n  { object = "
            "\"mats\", offset = [0, 1, 0] }]",
            "harbour.toml:7:14: gull.route: points: \"mats\" is not in this scene; did you mean \"mast\"?"},
        Mistake{"MisspeltOffset",
                "[object.mast]\n[[object.gull.behaviour]]\nkind = \"orbit\"\nspeed = 9\ncentre = { object = \"mast\", "
                "ofset = [0, 1, 0] }",
                "harbour.toml:6:29: gull.orbit: centre: there is no \"ofset\" here; did you mean \"offset\"?"},
        Mistake{
            "EasingWithItsPlace",
            "[[object.door.behaviour]]\nkind = \"glide\"\nduration = 1\nby = { position = [1, 0, 0] }\neasing = "
            "\"cubic-bezier(0, 0, 3, 1)\"",
            "harbour.toml:6:30: door.glide: easing: at character 20 of \"cubic-bezier(0, 0, 3, 1)\": x2 is 3; give a "
            "number from 0 to 1, so that time does not run back."},
        Mistake{
            "NoSuchPose",
            "[object.door.pose.open]\nrotation = [0, 90, 0]\n[[object.door.behaviour]]\nkind = \"glide\"\nduration = "
            "1\nto = \"opne\"",
            "harbour.toml:7:6: door.glide: to: the object has no pose \"opne\"; did you mean \"open\"?"},
        Mistake{"NeitherWay", "[[object.door.behaviour]]\nkind = \"glide\"\nto = { position = [1, 0, 0] }",
                "harbour.toml:2:1: door.glide: give \"duration\", \"speed\" or \"turn_speed\"."},
        Mistake{"BothWays", "[[object.door.behaviour]]\nkind = \"orbit\"\nspeed = 1\nperiod = 1",
                "harbour.toml:2:1: door.orbit: period cannot stand beside speed; give one of \"speed\" or \"period\"."},
        Mistake{"EmptyPose", "[object.door.pose.open]",
                "harbour.toml:2:19: door.pose.open: this is empty; give a position, "
                "a rotation or a scale."},
        Mistake{"RoundAndRound",
                "[[object.mast.behaviour]]\nkind = \"orbit\"\nspeed = 1\ncentre = "
                "\"gull\"\n[[object.gull.behaviour]]\nkind = "
                "\"orbit\"\nspeed = 1\ncentre = \"mast\"",
                "harbour.toml:6:1: these follow each other in a circle: gull -> mast -> gull.\n    Let one of them "
                "read the "
                "others as they were: reads = \"last tick\"."}),
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
            "harbour.toml:1:1: the file does not say which format it has; begin it with hushed = 1.\n"
            "harbour.toml:2:1: lamp: there is no \"parnet\" here; did you mean \"parent\"?\n"
            "harbour.toml:3:12: lamp: position: this is a list; give three numbers, [x, y, z].\n"
            "harbour.toml:4:1: lamp.travel: \"velocity\" is missing; give three numbers, [x, y, z] (m/s).\n"
            "harbour.toml:6:11: lamp.travel: at_edge: there is no \"bounces\" here; did you mean \"bounce\"?");
}

TEST(SceneFile, ReadsItsOwnFormatVersionOnly) {
  EXPECT_EQ(diagnostics("hushed = 2"),
            "harbour.toml:1:10: hushed: this program reads format 1, and the file says 2; give 1.");
}

TEST(SceneFile, KeepsItsLimitsBeforeItParses) {
  std::string dots = "a";
  for (int i = 0; i < 50'000; ++i) dots += ".a";
  EXPECT_NE(
      diagnostics("x = \"" + dots + "\" # " + dots + "\n" + dots + " = 1").find("harbour.toml:2:130: a key with more"),
      std::string::npos);
  std::string deep(100'000, '[');
  EXPECT_NE(diagnostics("x = " + deep).find("this is not TOML"), std::string::npos);
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
  EXPECT_EQ(said("/no/such/harbour.toml"), "/no/such/harbour.toml: there is no such file; check the path.");
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
  Scene harbour = load(HARBOUR);
  harbour.advance(std::chrono::seconds{5});
  const Object skiff = harbour.find("skiff").value(), lantern = harbour.find("lantern").value();
  EXPECT_NEAR(harbour.world(skiff).position.x(), 2.5, 1e-12);
  EXPECT_EQ(harbour.world(lantern).position, harbour.world(skiff).position + Vec3(0, 1.5, 0));
  EXPECT_EQ(harbour.world(lantern).rotation.coeffs(), Quat::Identity().coeffs());
}

}  // namespace
}  // namespace hushed
