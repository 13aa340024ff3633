// SPDX-License-Identifier: MIT
// Behaviours in Lua.

#include <gtest/gtest.h>

#include <cmath>
#include <string>
#include <vector>

#include <hushed/hushed.hpp>
#include <hushed/load.hpp>
#include <hushed/runtime_kind.hpp>
#include <hushed/script.hpp>

#include "support/kit.hpp"

namespace hushed {
namespace {

using namespace std::chrono_literals;
using tests::Kit;

Kinds with_scripts() {
  Kinds kinds;
  add_scripts(kinds);
  return kinds;
}

/// A directory with a script "s.lua" and a scene with an object "boat" that uses it.
class Pond : public Kit {
 public:
  explicit Pond(const std::string& script, const std::string& keys = "", const std::string& more = "") {
    write_script(script);
    file = write("pond.toml",
                 "[scene]\ntick_rate = 100\n[object.boat]\nposition = [0, 3, 0]\n[[object.boat.behaviour]]\n"
                 "script = \"s.lua\"\n" +
                     keys + more);
  }
  void write_script(const std::string& script) const { std::ofstream{place() / "s.lua"} << script; }
  /// Replaces a text in the scene file.
  void replace(const std::string& before, const std::string& after) const {
    std::string text;
    std::getline(std::ifstream{file}, text, '\0');
    std::ofstream{file} << text.replace(text.find(before), before.size(), after);
  }
  SceneFile read() const {
    const Kinds kinds = with_scripts();
    return read_scene_file(file, {.kinds = &kinds});
  }
  /// The mistakes, without the directory.
  std::string mistakes() const {
    try {
      (void)read();
    } catch (const LoadError& error) {
      std::string text = error.what();
      const std::string directory = place().string() + '/';
      for (std::size_t at = text.find(directory); at != std::string::npos; at = text.find(directory))
        text.erase(at, directory.size());
      return text;
    }
    return "accepted";
  }
  std::filesystem::path file;
};

Vec3 boat_of(const Scene& scene) { return scene.world(*scene.find("boat")).position; }

/// A script whose `apply` has this body.
std::string applying(const std::string& body) { return "function apply(pose, now, my, kept)\n" + body + "\nend\n"; }

// --- motion ----------------------------------------------------------------------------------------------------------

TEST(Script, IsAFunctionOfTime) {
  const Pond pond{
      "fields = { { \"height\", 2, unit = \"m\" } }\n" +
          applying("pose.position = pose.position + vector(now.since_start, my.height * sin(90 * now.since_start), 0)"),
      "height = 4\n"};
  SceneFile file = pond.read();
  file.scene.advance(1250ms);
  EXPECT_LT((boat_of(file.scene) - Vec3{1.25, 3 + 4 * std::sin(1.25 * std::acos(-1.0) / 2), 0}).norm(), 1e-12);
  file.scene.set("boat.s.height", Value{0.0});
  file.scene.advance(10s);
  EXPECT_LT((boat_of(file.scene) - Vec3{11.25, 3, 0}).norm(), 1e-12);
}

TEST(Script, RemembersFromTickToTick) {
  const Pond pond{
      "memory = { height = 1, at = vector(0, 0, 0) }\n"
      "function begin(pose, now, my, kept) kept.height = pose.position.y end\n" +
      applying("kept.height = kept.height + 2 * now.step\nkept.at = kept.at + vector(1, 0, 0)\n"
               "pose.position = vector(kept.at.x, kept.height, 0)")};
  SceneFile file = pond.read();
  file.scene.advance(500ms);  // begun once, and 50 ticks
  EXPECT_LT((boat_of(file.scene) - Vec3{51, 4, 0}).norm(), 1e-9);
  const auto bytes = file.scene.snapshot().to_bytes();
  file.scene.advance(500ms);
  const Vec3 later = boat_of(file.scene);
  SceneFile other = pond.read();
  other.scene.restore(other.scene.snapshot_from(bytes));
  other.scene.advance(500ms);
  EXPECT_EQ(boat_of(other.scene), later);
  file.scene.seek(250ms);
  EXPECT_LT((boat_of(file.scene) - Vec3{26, 3.5, 0}).norm(), 1e-9);
}

TEST(Script, ReadsTheObjectsThatItsFieldsName) {
  const Pond pond{
      "fields = { { \"round\", object }, { \"away\", vector(0, 1, 0) }, { \"side\", words{\"left\", \"right\"} },"
      " { \"still\", false } }\n" +
          applying("local there = where(my.round)\nif my.side == \"right\" then there = there + my.away end\n"
                   "if not my.still then pose.position = there end"),
      "round = \"mast\"\naway = [0, 5, 1]\nside = \"right\"\n",
      "[object.mast]\n[[object.mast.behaviour]]\n"
      "kind = \"travel\"\nvelocity = [2, 0, 0]\n"};
  SceneFile file = pond.read();
  file.scene.advance(3s);
  EXPECT_LT((boat_of(file.scene) - Vec3{6, 5, 1}).norm(), 1e-12);
  EXPECT_EQ(file.scene.dependencies(*file.scene.find_behaviour("boat.s")),
            std::vector<Object>{*file.scene.find("mast")});
  EXPECT_EQ(file.files.size(), 2U);
  file.scene.end(*file.scene.find("mast"));
  file.scene.advance(1s);
  EXPECT_LT((boat_of(file.scene) - Vec3{6, 5, 1}).norm(), 1e-12);  // it holds
}

TEST(Script, ReadsTheObjectsWithATag) {
  const Pond pond{"fields = { { \"near\", tagged } }\n" +
                      applying("local sum = vector(0, 0, 0)\nfor i, gull in ipairs(my.near) do\n"
                               "sum = sum + where(gull) * i end\n"
                               "if #my.near > 1 and my.near[1] == my.near[2] then fail(\"one twice\") end\n"
                               "pose.position = sum + vector(0, 0, #my.near)"),
                  "near = { tag = \"gull\" }\n",
                  "[object.boat2]\ntags = [\"gull\"]\nposition = [5, 0, 0]\n"
                  "[object.aft]\ntags = [\"gull\"]\nposition = [100, 0, 0]\n"
                  "[[object.aft.behaviour]]\nkind = \"travel\"\nvelocity = [1, 0, 0]\n"};
  pond.replace("position = [0, 3, 0]", "tags = [\"gull\"]");  // it does not find itself
  SceneFile file = pond.read();
  file.scene.advance(1s);
  EXPECT_LT((boat_of(file.scene) - Vec3{101 + 2 * 5, 0, 2}).norm(), 1e-12);  // in the order of names
  file.scene.add({.name = "buoy", .rest = at(1000, 0, 0), .tags = {"gull"}});
  file.scene.advance(1s);
  EXPECT_LT((boat_of(file.scene) - Vec3{102 + 2 * 5 + 3 * 1000, 0, 3}).norm(), 1e-9);
  file.scene.end(*file.scene.find("aft"));
  file.scene.advance(1s);
  EXPECT_LT((boat_of(file.scene) - Vec3{5 + 2 * 1000, 0, 2}).norm(), 1e-9);
  file.scene.hide(*file.scene.find("boat2"));
  file.scene.advance(1s);
  EXPECT_LT((boat_of(file.scene) - Vec3{1000, 0, 1}).norm(), 1e-9);
  EXPECT_EQ(Pond("fields = { { \"near\", tagged } }\n" + applying(""), "near = { tag = \"gul\" }\n",
                 "[object.a]\ntags = [\"gull\"]\n")
                .mistakes(),
            "pond.toml:8:16: boat.s: near: no object in this scene has the tag \"gul\"; did you mean \"gull\"?");
}

/// Each word against the C++ of the same meaning.
TEST(Script, HasWordsThatMeanWhatTheySay) {
  const auto value = [](const std::string& expression) {
    const Pond pond{applying("pose.position = " + expression)};
    SceneFile file = pond.read();
    file.scene.advance(100ms);
    EXPECT_TRUE(file.scene.events().empty()) << file.scene.describe(file.scene.events()[0]);
    return boat_of(file.scene);
  };
  const auto expect = [&](const std::string& expression, const Vec3& wanted) {
    EXPECT_LT((value(expression) - wanted).norm(), 1e-12) << expression;
  };
  expect("vector(sin(30), cos(60), atan2(1, 1))", {0.5, 0.5, 45});
  expect("vector(sqrt(2), pow(2, 0.5), exp2(0.5))", Vec3::Constant(std::sqrt(2.0)));
  expect("vector(pow(2, -3), pow(-2, 3), pow(10, 1.5))", {0.125, -8, std::pow(10, 1.5)});
  expect("vector(pow(0.001, 0.3), pow(123456, 0.1), exp2(-20))",
         {std::pow(0.001, 0.3), std::pow(123456, 0.1), std::exp2(-20)});
  expect("vector(floor(-1.5), abs(-2), max(1, 3, 2))", {-2, 2, 3});
  expect("vector(min(1, 3, -2), clamp(5, 0, 2), mix(1, 3, 0.25))", {-2, 2, 1.5});
  expect("mix(vector(0, 0, 0), vector(4, 8, 0), 0.25) - vector(0, 0, 1) / 2", {1, 2, -0.5});
  expect("vector(length(vector(3, 4, 0)), dot(vector(1, 2, 3), vector(4, 5, 6)), pi)", {5, 32, std::acos(-1.0)});
  expect("cross(vector(1, 0, 0), vector(0, 1, 0)) + normalized(vector(0, 5, 0)) * 2", {0, 2, 1});
  expect("rotate(rotation(vector(0, 2, 0), 90), vector(1, 0, 0))", {0, 0, -1});
  expect("rotate(rotation(vector(0, 1, 0), 30) * rotation(vector(0, 1, 0), 60), vector(1, 0, 0))", {0, 0, -1});
  expect("(function() local t = { { 1, 2 }, { 3 } } return vector(t[1][2], t[2][1], #t) end)()", {2, 3, 2});
  expect("vector(type(1) == \"number\" and 1 or 0, type(vector(1, 1, 1)) == \"vector\" and 1 or 0, #\"four\")",
         {1, 1, 4});
  const Vec3 random = value("vector(random(0), random(1), random(0))");
  EXPECT_EQ(random.x(), random.z());
  EXPECT_NE(random.x(), random.y());
  EXPECT_TRUE(random.minCoeff() >= 0 && random.maxCoeff() < 1);
}

TEST(Script, MayHaveConstantsAndFunctionsOfItsOwn) {
  const Pond pond{
      "local steps = { 1, 2, 4 }\nlocal up <const> = vector(0, 1, 0)\n"
      "local double = function(x) local pair = { x, x } return pair[1] + pair[2] end\n"
      "local function sum() local all = 0 for _, each in ipairs(steps) do all = all + each end return all end\n" +
      applying("pose.position = up * double(sum()) + vector(steps[#steps], 0, 0)")};
  SceneFile file = pond.read();
  file.scene.advance(30ms);
  EXPECT_EQ(boat_of(file.scene), Vec3(4, 14, 0));
}

TEST(Script, GivesTheSameBitsAtEveryFrameRate) {
  const Kinds kinds = with_scripts();
  std::vector<Scene> scenes;
  for (const int rate : {24, 60, 144}) {
    scenes.push_back(std::move(read_scene_file(SCRIPTS, {.kinds = &kinds}).scene));
    for (int frame = 0; frame < 7 * rate; ++frame) scenes.back().advance(frame_time(1, rate));
    scenes.back().seek(7s);
  }
  for (const Object object : scenes[0].objects()) {
    const Pose pose = scenes[0].world(object);
    for (const Scene& other : scenes) {
      const Pose same = other.world(*other.find(scenes[0].name(object)));
      EXPECT_EQ(same.position, pose.position) << scenes[0].name(object);
      EXPECT_EQ(same.rotation.coeffs(), pose.rotation.coeffs());
    }
  }
}

// --- hot reload ------------------------------------------------------------------------------------------------------

const std::string climbing = "fields = { { \"speed\", 2 }, { \"lean\", 5 } }\nmemory = { height = 0, ticks = 0 }\n" +
                             applying(
                                 "kept.height = kept.height + my.speed * now.step\nkept.ticks = kept.ticks + 1\n"
                                 "pose.position = vector(kept.ticks, kept.height, my.lean)");

TEST(ScriptReload, GoesOnWhereNothingHasChanged) {
  const Pond pond{climbing};
  const Kinds kinds = with_scripts();
  SceneFile file = pond.read(), other = pond.read(), adopting = pond.read();
  for (SceneFile* each : {&file, &other, &adopting}) each->scene.advance(1234ms);
  EXPECT_EQ(reload(file, pond.file), std::vector<std::string>{});
  EXPECT_EQ(adopt(adopting, prepare(pond.file, {.kinds = &kinds})), std::vector<std::string>{});  // makes the kind anew
  for (SceneFile* each : {&file, &other, &adopting}) each->scene.advance(777ms);
  EXPECT_EQ(boat_of(file.scene), boat_of(other.scene));
  EXPECT_EQ(boat_of(adopting.scene), boat_of(other.scene));
}

TEST(ScriptReload, KeepsMemoryAndTunedValuesOfTheSameName) {
  const Pond pond{climbing};
  SceneFile file = pond.read();
  file.scene.set("boat.s.speed", Value{4.0});
  file.scene.advance(1s);
  const Vec3 before = boat_of(file.scene);
  EXPECT_NEAR(before.y(), 4.0, 1e-9);
  std::string changed = climbing;
  changed.replace(changed.find("{ \"lean\", 5 }"), 13, "{ \"tilt\", 9 }");
  changed.replace(changed.find("my.lean"), 7, "my.tilt");
  changed.replace(changed.find("ticks = 0"), 9, "count = 7");
  while (changed.find("kept.ticks") != std::string::npos) changed.replace(changed.find("kept.ticks"), 10, "kept.count");
  pond.write_script(changed);
  EXPECT_EQ(reload(file, pond.file), std::vector<std::string>{});
  EXPECT_LT((boat_of(file.scene) - before).norm(), 1e-9);  // without a jump
  EXPECT_EQ(*file.scene.get("boat.s.speed")->number(), 4.0);
  EXPECT_EQ(*file.scene.get("boat.s.tilt")->number(), 9.0);
  file.scene.advance(2s);
  EXPECT_NEAR(boat_of(file.scene).y(), 12.0, 1e-9);
  EXPECT_NEAR(boat_of(file.scene).x(), 207.0, 1e-9);  // `count` begins at 7, as nothing had its name
  EXPECT_NEAR(boat_of(file.scene).z(), 9.0, 1e-9);
}

TEST(ScriptReload, GoesOverSmoothlyToOtherValuesOfTheSameScript) {
  const Pond pond{"fields = { { \"height\", 1 } }\n" + applying("pose.position = vector(0, my.height, 0)"),
                  "height = 2\n"};
  const Kinds kinds = with_scripts();
  SceneFile file = pond.read();
  file.scene.advance(1s);
  pond.replace("height = 2", "height = 5");
  EXPECT_EQ(adopt(file, prepare(pond.file, {.kinds = &kinds})), std::vector<std::string>{});  // makes the kind anew
  EXPECT_NEAR(boat_of(file.scene).y(), 2.0, 1e-9);
  file.scene.advance(1s);
  EXPECT_NEAR(boat_of(file.scene).y(), 5.0, 1e-9);
}

TEST(ScriptReload, KeepsTunedValuesHoweverOftenTheScriptChanges) {
  const Pond pond{climbing};
  SceneFile speed = pond.read(), weight = pond.read(), both = pond.read();
  for (SceneFile* each : {&speed, &both}) each->scene.set("boat.s.speed", Value{4.0});
  for (SceneFile* each : {&weight, &both}) each->scene.set("boat.s.weight", Value{0.25});
  std::string changed = climbing;
  for (int times = 0; times < 3; ++times) {
    changed += "-- another thought\n";
    pond.write_script(changed);
    for (SceneFile* each : {&speed, &weight, &both}) {
      each->scene.advance(1s);
      EXPECT_EQ(reload(*each, pond.file), std::vector<std::string>{});
    }
  }
  EXPECT_EQ(*speed.scene.get("boat.s.speed")->number(), 4.0);
  EXPECT_EQ(*speed.scene.get("boat.s.weight")->number(), 1.0);
  EXPECT_EQ(*weight.scene.get("boat.s.speed")->number(), 2.0);
  EXPECT_EQ(*weight.scene.get("boat.s.weight")->number(), 0.25);
  EXPECT_EQ(*both.scene.get("boat.s.speed")->number(), 4.0);
  EXPECT_EQ(*both.scene.get("boat.s.weight")->number(), 0.25);
}

TEST(ScriptReload, RefusesATextWithMistakesAndPlaysOn) {
  const Pond pond{climbing};
  SceneFile file = pond.read();
  file.scene.advance(1s);
  pond.write_script("function apply(pose) pose.position = vector(1, 2 3) end");
  EXPECT_THROW(reload(file, pond.file), LoadError);
  file.scene.advance(1s);
  EXPECT_NEAR(boat_of(file.scene).y(), 4.0, 1e-9);
}

TEST(ScriptReload, RefusesAScriptThatFailsForAnObject) {
  const Pond pond{climbing, "", "[object.raft]\n[[object.raft.behaviour]]\nscript = \"s.lua\"\nspeed = 3\n"};
  SceneFile file = pond.read(), other = pond.read();
  for (SceneFile* each : {&file, &other}) each->scene.advance(1234ms);
  std::string changed = climbing;
  changed.replace(changed.find("\npose.position"), 1, "\nif my.speed == 3 and kept.ticks > 9 then fail(\"no\") end ");
  pond.write_script(changed);
  try {
    reload(file, pond.file);
    FAIL();
  } catch (const LoadError& error) {
    ASSERT_EQ(error.diagnostics().size(), 1U);
    EXPECT_EQ(error.diagnostics()[0].place.line, 6);
    EXPECT_EQ(error.files()[static_cast<std::size_t>(error.diagnostics()[0].place.file)], pond.place() / "s.lua");
    EXPECT_EQ(error.diagnostics()[0].text, "no.");
  }
  for (SceneFile* each : {&file, &other}) each->scene.advance(777ms);
  EXPECT_EQ(boat_of(file.scene), boat_of(other.scene));
  changed.replace(changed.find("== 3"), 4, "== 4");
  pond.write_script(changed);
  EXPECT_EQ(reload(file, pond.file), std::vector<std::string>{});
}

// --- failures --------------------------------------------------------------------------------------------------------

std::string failure(const std::string& body) {
  const Pond pond{applying(body)};
  SceneFile file = pond.read();
  file.scene.advance(20ms);
  EXPECT_EQ(boat_of(file.scene), Vec3(0, 3, 0)) << body;  // the incoming pose
  if (file.scene.events().empty()) return "";
  std::string why = file.scene.events()[0].why;
  const std::size_t at = why.find("s.lua");
  return at == std::string::npos ? why : why.substr(at);
}

TEST(Script, ReportsAFailureWithItsLine) {
  EXPECT_EQ(failure("fail(\"no wind\")"), "s.lua:2: no wind");
  EXPECT_EQ(failure("local x = pose.place"), "s.lua:2: pose has no place; it has position, rotation and scale");
  EXPECT_EQ(failure("pose.position = 3"), "s.lua:2: pose.position: expected a vector, found a number");
  EXPECT_EQ(failure("pose.position.x = 3"), "s.lua:2: this cannot be changed; make a new one, such as vector(x, y, z)");
  EXPECT_EQ(failure("local a = now.year"), "s.lua:2: now has no year; it has time, since_start and step");
  EXPECT_EQ(failure("local a = my.speed"), "s.lua:2: my has no speed; it has nothing");
  EXPECT_EQ(failure("kept.a = 1"), "s.lua:2: kept has no a; it has nothing");
  EXPECT_EQ(failure("now.time = 1"), "s.lua:2: this cannot be changed; make a new one, such as vector(x, y, z)");
  EXPECT_EQ(failure("local a = vector(1, 2)"), "s.lua:2: z: expected a number, found nothing");
  EXPECT_EQ(failure("local a = vector(1, 2, 3) + 1"), "s.lua:2: the right of +: expected a vector, found a number");
  EXPECT_EQ(failure("local a = sin(\"x\")"), "s.lua:2: the argument: expected a number, found a text");
  EXPECT_EQ(failure("local a = where(3)"), "s.lua:2: expected an object of a field, such as my.target; found a number");
  EXPECT_EQ(failure("local a = normalized(vector(0, 0, 0))"),
            "s.lua:2: the vector has no direction, as its length is 0");
  EXPECT_EQ(failure("local t = nil\nlocal a = t.x"), "s.lua:3: attempt to index a nil value (local 't')");
  EXPECT_EQ(failure("pose.position = vector(1 / 0, 0, 0)"), "it returned a pose that is not finite");
}

TEST(Script, IsStoppedWhereItTakesTooMuch) {
  EXPECT_EQ(failure("while true do end"), "s.lua:2: it took more than 100000 steps; end the loop earlier");
  EXPECT_EQ(failure("local function f(n) return 1 + f(n + 1) end\nlocal a = f(1)"),
            "s.lua:2: it needed more than 1 MB of memory; keep tables and texts small");
  EXPECT_EQ(failure("local s = \"x\"\nwhile true do s = s .. s end"),
            "s.lua:3: it needed more than 1 MB of memory; keep tables and texts small");
  EXPECT_EQ(failure("local t = {}\nlocal i = 1\nwhile true do t[i] = i; i = i + 1 end"),
            "s.lua:4: it needed more than 1 MB of memory; keep tables and texts small");
}

TEST(Script, MayTakeWhatTheSceneAllows) {
  const auto why_with = [](const std::string& limits) {
    const Pond pond{applying("local t = {}\nfor i = 1, 20000 do t[i] = i end\npose.position = vector(9, 9, 9)")};
    pond.replace("[scene]\n", "[scene]\n" + limits);
    SceneFile file = pond.read();
    file.scene.advance(20ms);
    return file.scene.events().empty() ? "" : file.scene.events()[0].why;
  };
  EXPECT_EQ(why_with(""), "");
  EXPECT_NE(why_with("script_steps = 30000\n").find("more than 30000 steps"), std::string::npos);
  EXPECT_NE(why_with("script_memory = 0.2\n").find("more than 0.2 MB"), std::string::npos);
}

TEST(Script, GivesTheSamePosesAroundAFailureBetweenTwoTicks) {
  // It fails for 5 ms between two ticks, with and without memory: only frames in these show the incoming pose.
  const std::string broken = "if now.since_start > 1.002 and now.since_start < 1.007 then fail(\"no wind\") end\n";
  const Pond pond{""};
  for (const bool has_memory : {false, true}) {
    const std::string before = has_memory ? "memory = { x = 0 }\n" : "",
                      body = has_memory ? "kept.x = kept.x + now.step\npose.position = vector(kept.x, 0, 0)"
                                        : "pose.position = vector(now.since_start, 0, 0)";
    for (const int rate : {24, 60, 144, 1000}) {
      pond.write_script(before + applying(broken + body));
      SceneFile failing = pond.read();
      pond.write_script(before + applying(body));
      SceneFile sound = pond.read();
      int failures = 0, frames_there = 0;
      for (int frame = 0; frame <= 2 * rate; ++frame) {
        for (SceneFile* each : {&failing, &sound}) each->scene.advance(frame_time(frame, rate) - each->scene.time());
        for (const Event& event : failing.scene.events()) failures += event.name == "failed";
        const double time = in_seconds(failing.scene.time());
        const bool is_there = time > 1.002 && time < 1.007;
        frames_there += is_there;
        EXPECT_EQ(boat_of(failing.scene), is_there ? Vec3(0, 3, 0) : boat_of(sound.scene)) << time;
      }
      EXPECT_EQ(failures, frames_there > 0) << rate;  // it tells once
    }
  }
}

TEST(Script, RecoversAfterAFailure) {
  const Pond pond{"fields = { { \"broken\", false } }\n" +
                  applying("if my.broken then fail(\"broken\") end\npose.position = vector(9, 9, 9)")};
  SceneFile file = pond.read();
  file.scene.advance(100ms);
  EXPECT_LT((boat_of(file.scene) - Vec3(9, 9, 9)).norm(), 1e-12);
  file.scene.set("boat.s.broken", Value{true});
  file.scene.advance(3s);
  EXPECT_LT((boat_of(file.scene) - Vec3(0, 3, 0)).norm(), 1e-9);
  file.scene.set("boat.s.broken", Value{false});
  file.scene.advance(3s);
  EXPECT_LT((boat_of(file.scene) - Vec3(9, 9, 9)).norm(), 1e-9);
}

// --- mistakes --------------------------------------------------------------------------------------------------------

struct Mistake {
  std::string script, text;
};

class ScriptMistakes : public testing::TestWithParam<Mistake> {};

TEST_P(ScriptMistakes, AreReportedAtTheirPlace) { EXPECT_EQ(Pond{GetParam().script}.mistakes(), GetParam().text); }

const std::string fine = "function apply(pose) end\n";

INSTANTIATE_TEST_SUITE_P(
    Table, ScriptMistakes,
    testing::Values(
        Mistake{"", "s.lua:1:1: there is no `apply`; write function apply(pose, now, my) ... end."},
        Mistake{"\x1bLua", "s.lua:1:1: this is compiled; give the text of the script."},
        Mistake{"function apply(pose)\n  pose.position = vector(1, 2 3)\nend",
                "s.lua:2:31: found \"3\"; expected ) for the arguments in line 2."},
        Mistake{"function apply(pose)\n", "s.lua:2:1: the file ends; expected end for `function` in line 1."},
        Mistake{"local a = \"open\n" + fine, "s.lua:1:11: this text has no end; add \"."},
        Mistake{"--[[ open\n" + fine, "s.lua:1:1: this comment has no end; add ]]."},
        Mistake{"local a = 3 $ 4\n" + fine,
                "s.lua:1:13: a script is text in Lua 5.4; this character means nothing there."},
        Mistake{applying("count = 1"),
                "s.lua:2:1: \"count\" is not local, so it would be state that outlasts a call; write "
                "local count, or remember it in `memory`."},
        Mistake{"local count = 0\n" + applying("count = count + 1"),
                "s.lua:3:1: \"count\" belongs to the code around this function, so setting it would be state that "
                "outlasts a "
                "call; remember it in `memory`."},
        Mistake{"local seen = {}\n" + applying("seen[1] = now.time"),
                "s.lua:3:1: \"seen\" is not of this function, so changing it would be state that outlasts a call; "
                "remember it "
                "in `memory`."},
        Mistake{"local seen = {}\n" + applying("local t = seen\nt[1] = 1"),
                "s.lua:3:11: a table at the top of the file is only read: by an index, #, or ipairs."},
        Mistake{"local rows = { { 1 } }\n" + applying("local row = rows[1]"),
                "s.lua:1:16: a table at the top of the file holds no other; write two tables, or make it in apply."},
        Mistake{"local function made() return {} end\nlocal seen = made()\n" + fine,
                "s.lua:2:14: a value at the top of the file is computed once; call \"made\" in apply."},
        Mistake{"helper = 3\n" + fine,
                "s.lua:1:1: \"helper\" is not local, so it would be state that outlasts a call; write "
                "local helper, or remember it in `memory`."},
        Mistake{
            "function helper() end\n" + fine,
            "s.lua:1:10: \"helper\" is not local, so it would be state that outlasts a call; write local helper, or "
            "remember it in `memory`."},
        Mistake{"apply = 3\n", "s.lua:1:1: \"apply\" is a function; write function apply(pose, now, my) ... end."},
        Mistake{"function fields() end\n" + fine, "s.lua:1:10: \"fields\" is no function; write fields = ..."},
        Mistake{
            applying("for k, v in pairs({}) do end"),
            "s.lua:2:13: there is no `pairs`: the order of `pairs` differs from run to run; use ipairs, or a loop over "
            "numbers."},
        Mistake{applying("local t = setmetatable({}, {})"),
                "s.lua:2:11: there is no `setmetatable`: there are no metatables; write functions."},
        Mistake{applying("local t = math.sin(1)"),
                "s.lua:2:11: there is no `math`: use sin, cos, sqrt, abs, min, max, floor, ... without `math.`; angles "
                "are in "
                "degrees."},
        Mistake{applying("local t = os.time()"),
                "s.lua:2:11: there is no `os`: a script sees no clock and no files; use "
                "now.time."},
        Mistake{applying("local x = now.time ^ 2"),
                "s.lua:2:20: the result of ^ differs from machine to machine; use pow(x, y), or x * x."},
        Mistake{
            applying("local x = my.side < \"left\""),
            "s.lua:2:19: the order of texts depends on the language of the machine; compare by == or ~=, or numbers."},
        Mistake{applying("local x = sine(3)"), "s.lua:2:11: unknown word \"sine\"; did you mean \"sin\"?"},
        Mistake{applying("local x <close> = nil"), "s.lua:2:10: there is nothing to close; use <const>, or nothing."},
        Mistake{"fields = 3\n" + fine,
                "s.lua:1:1: fields: expected a list, such as { {\"radius\", 8} }; found a number."},
        Mistake{"fields = { 3 }\n" + fine,
                "s.lua:1:12: fields: expected an entry such as {\"radius\", 8}; found a number."},
        Mistake{"fields = { { \"radius\" } }\n" + fine,
                "s.lua:1:12: fields: radius: its default is nil; give a number, true or false, a vector, words{...}, "
                "object, or tagged."},
        Mistake{"fields = {\n  { \"radius\", 8, rnage = { 0, 1 } } }\n" + fine,
                "s.lua:2:3: fields: radius: unknown key \"rnage\"; did you mean \"range\"?"},
        Mistake{"fields = { { \"radius\", 8, range = 3 } }\n" + fine,
                "s.lua:1:12: fields: radius: range: expected two numbers, {0, 10}."},
        Mistake{"fields = { { \"radius\", 8, range = { 0, 1 } } }\n" + fine,
                "s.lua:1:12: s: field \"radius\" has a default outside its range; give another."},
        Mistake{"fields = { { \"a\", 1 }, { \"a\", 2 } }\n" + fine,
                "s.lua:1:1: s: field \"a\" has the name of another field; give it another."},
        Mistake{"fields = { { \"weight\", 1 } }\n" + fine,
                "s.lua:1:1: s: field \"weight\" has the name of a key that every behaviour has; give it another."},
        Mistake{"fields = { { \"a b\", 1 } }\n" + fine,
                "s.lua:1:12: fields: \"a b\" cannot be the name of a field; use letters, digits, - and _."},
        Mistake{"memory = { { 1 } }\n" + fine, "s.lua:1:1: memory: give each number a name."},
        Mistake{"memory = { a = \"x\" }\n" + fine,
                "s.lua:1:1: memory: a is a text; a script remembers numbers and vectors."},
        Mistake{"local a = 1 + nil\n" + fine, "s.lua:1:1: attempt to perform arithmetic on a nil value."},
        Mistake{"while true do end\n" + fine, "s.lua:1:1: it took more than 100000 steps; end the loop earlier."},
        Mistake{"local a = where(3)\n" + fine,
                "s.lua:1:1: this is known only while the scene plays; use it in apply or begin."}));

TEST(ScriptFiles, AreReportedWhereTheyAreNamed) {
  Pond pond{fine, "speed = 3\n"};
  EXPECT_EQ(pond.mistakes(),
            "pond.toml:8:1: boat.s: unknown key \"speed\"; give script, name, enabled, delay, weight, fade or "
            "reads.");
  std::filesystem::remove(pond.place() / "s.lua");
  EXPECT_EQ(pond.mistakes(), "pond.toml:7:10: boat: script: the file does not exist; check the path.");
  try {
    (void)read_scene_file(pond.file);
    FAIL();
  } catch (const LoadError& error) {
    EXPECT_NE(std::string{error.what()}.find("this program reads no scripts"), std::string::npos);
  }
}

TEST(ScriptFiles, NeedALoader) {
  std::vector<Diagnostic> mistakes;
  EXPECT_EQ(Kinds{}.load("s.lua", fine, {}, mistakes), nullptr);
  EXPECT_EQ(mistakes.size(), 1U);
}

TEST(ScriptFiles, ExcludeKinds) {
  EXPECT_EQ(Pond(fine, "kind = \"spin\"\n").mistakes(),
            "pond.toml:7:1: boat: script excludes kind; give only one of the two.");
}

}  // namespace
}  // namespace hushed
