// SPDX-License-Identifier: MIT
// Kinds of a program's own in scene files: written in C++, or made at run time.

#include <gtest/gtest.h>

#include <cmath>
#include <memory>

#include <hushed/hushed.hpp>
#include <hushed/keep.hpp>
#include <hushed/load.hpp>
#include <hushed/own.hpp>
#include <hushed/runtime_kind.hpp>

#include "support/kit.hpp"

namespace hushed {
namespace {

using namespace std::chrono_literals;
using tests::Kit;

/// Hops along the ground, in arcs.
struct Hop {
  double length = 2.0;  ///< m
  Time lasts = 1s;
  Target over = {};

  static constexpr auto kind = "hop";
  static constexpr auto summary = "hops along";
  static constexpr auto fields = std::tuple{
      field("length", &Hop::length, unit::length, "how far a hop goes", slider(0, 5)),
      field("lasts", &Hop::lasts, unit::seconds, "time for a hop"),
      field("over", &Hop::over, unit::none, "an object that it jumps over"),
  };

  std::optional<Diagnostic> check() const {
    if (lasts > Time{0}) return std::nullopt;
    return Diagnostic{{}, "a hop takes no time; give lasts a number above 0.", "lasts"};
  }
  Pose apply(const Pose& in, const Moment& now) const {
    const double hops = now.since_start / in_seconds(lasts), part = hops - std::floor(hops);
    Pose out = in;
    out.position += Vec3{length * hops, length * part * (1.0 - part), 0};
    return out;
  }
};

const std::string frog =
    "[preset.hopping]\n[[preset.hopping.behaviour]]\nkind = \"hop\"\nlength = 3\n"
    "[object.frog]\nuse = [\"hopping\"]\n"
    "[object.toad]\n[[object.toad.behaviour]]\nkind = \"hop\"\nlasts = 0.5\n"
    "[[rule]]\nname = \"far\"\nwhen = { after = 1 }\ndo = { set = \"toad.hop.length\", to = 1 }\n";

std::string diagnostics(const std::string& text, const Kinds& kinds) {
  try {
    read_scene_text("hushed = 1\n" + text, "pond.toml", {.kinds = &kinds});
  } catch (const LoadError& error) {
    return error.what();
  }
  return "accepted";
}

TEST(OwnKinds, AreReadFromFilesAsBuiltInOnesAre) {
  const Kit kit;
  const auto file = kit.write("pond.toml", frog);
  SceneFile pond = [&] {
    Kinds mine;  // needed only while the file is read
    mine.add<Hop>();
    return read_scene_file(file, {.kinds = &mine});
  }();
  Scene& scene = pond.scene;
  scene.advance(500ms);
  EXPECT_NEAR(scene.world(*scene.find("frog")).position.x(), 1.5, 1e-12);
  EXPECT_NEAR(scene.world(*scene.find("frog")).position.y(), 0.75, 1e-12);
  EXPECT_NEAR(scene.world(*scene.find("toad")).position.x(), 2.0, 1e-12);
  scene.set("preset.hopping.hop.length", Value{4.0});
  EXPECT_EQ(*scene.get("frog.hop.length")->number(), 4.0);
  scene.advance(1s);
  EXPECT_EQ(*scene.get("toad.hop.length")->number(), 1.0);  // the rule
  EXPECT_EQ(scene.values(*scene.find_behaviour<Hop>("toad.hop")).lasts, Time{500ms});

  kit.write("pond.toml", frog + "[object.newt]\n[[object.newt.behaviour]]\nkind = \"hop\"\n");
  EXPECT_EQ(reload(pond, file), std::vector<std::string>{});  // the kinds are still known
  EXPECT_TRUE(pond.scene.find_behaviour<Hop>("newt.hop"));
  EXPECT_EQ(reload(pond.scene, file), std::vector<std::string>{});
  EXPECT_EQ(*pond.scene.get("frog.hop.length")->number(), 4.0);
}

TEST(OwnKinds, AreReportedAtTheirPlace) {
  Kinds mine;
  mine.add<Hop>();
  const std::string frog_with = "[object.frog]\n[[object.frog.behaviour]]\nkind = \"hop\"\n";
  EXPECT_EQ(diagnostics(frog_with + "lenght = 1\n", mine),
            "pond.toml:5:1: frog.hop: unknown key \"lenght\"; did you mean \"length\"?");
  EXPECT_EQ(diagnostics(frog_with + "length = -1\n", mine),
            "pond.toml:5:10: frog.hop: length: -1 is out of range; give a number from 0 to 1e9 (m).");
  EXPECT_EQ(diagnostics(frog_with + "lasts = 0\n", mine),
            "pond.toml:5:1: frog.hop: lasts: a hop takes no time; give lasts a number above 0.");
  EXPECT_EQ(diagnostics(frog_with + "over = \"frogg\"\n", mine),
            "pond.toml:5:8: frog.hop: over: no object \"frogg\" in this scene; did you mean \"frog\"?");
  EXPECT_EQ(diagnostics("[object.frog]\n[[object.frog.behaviour]]\nkind = \"hopp\"\n", mine),
            "pond.toml:4:8: frog: unknown kind \"hopp\"; did you mean \"hop\"?");
  EXPECT_NE(diagnostics(frog_with, Kinds{}).find("unknown kind \"hop\""), std::string::npos);
  EXPECT_THROW(mine.add<Hop>(), BadValue);
  EXPECT_NE(scene_file_schema(mine).find("how far a hop goes"), std::string::npos);
  EXPECT_EQ(scene_file_schema().find("how far a hop goes"), std::string::npos);
}

TEST(OwnKinds, AreKeptInTheirFile) {
  const Kit kit;
  const auto file = kit.write("pond.toml", frog);
  Kinds mine;
  mine.add<Hop>();
  SceneFile pond = read_scene_file(file, {.kinds = &mine});
  pond.scene.set("toad.hop.lasts", Value{0.25});
  keep(plan_keep(SceneSource{file}, std::vector<ValueToKeep>{{"toad.hop.lasts", Value{0.25}}}));
  EXPECT_EQ(*read_scene_file(file, {.kinds = &mine}).scene.get("toad.hop.lasts")->number(), 0.25);
}

// --- made at run time ------------------------------------------------------------------------------------------------

/// Goes up and down by a remembered height; fails where it is told to.
class Lift final : public RuntimeKind {
 public:
  explicit Lift(std::size_t memory = 1)
      : RuntimeKind{{.name = "lift",
                     .summary = "rises, a step a tick",
                     .fields = {{.name = "step", .fallback = {0.5}, .unit = "m", .low = 0, .high = 1, .help = "a tick"},
                                {.name = "along", .type = RuntimeField::Type::vector, .fallback = {0, 1, 0}},
                                {.name = "broken", .type = RuntimeField::Type::boolean},
                                {.name = "way", .type = RuntimeField::Type::word, .words = {"up", "down"}},
                                {.name = "shaft", .type = RuntimeField::Type::object}},
                     .memory = memory}} {}

  void begin(const RuntimeValues&, std::span<double> memory, const Pose& in, const Moment&) const override {
    memory[0] = in.position.y();
  }
  void apply(const RuntimeValues& values, std::span<double> memory, Pose& pose, const Moment& now) const override {
    if (values.numbers[4] != 0.0) throw Error{"the rope is torn"};
    const double sign = values.numbers[5] == 0.0 ? 1.0 : -1.0;
    if (now.step > 0.0) memory[0] += sign * values.numbers[0];
    pose.position = now.world(values.objects[0].object).position +
                    memory[0] * Vec3{values.numbers[1], values.numbers[2], values.numbers[3]};
  }
};

const std::string tower =
    "[scene]\ntick_rate = 10\n[object.shaft]\nposition = [7, 0, 0]\n[object.cabin]\nposition = [0, 3, 0]\n"
    "[[object.cabin.behaviour]]\nkind = \"lift\"\nshaft = \"shaft\"\n";

SceneFile tower_with(const Kinds& kinds) {
  return read_scene_text("hushed = 1\n" + tower, "tower.toml", {.kinds = &kinds});
}

TEST(RuntimeKinds, ComputePosesFromNumbersAndMemory) {
  std::weak_ptr<const RuntimeKind> watched;
  Snapshot snapshot;
  {
    SceneFile file = [&] {
      const auto kind = std::make_shared<const Lift>();
      watched = kind;
      return tower_with(Kinds{}.add(kind));
    }();
    Scene& scene = file.scene;
    const Object cabin = *scene.find("cabin");
    scene.advance(1s);
    EXPECT_LT((scene.world(cabin).position - Vec3{7, 3 + 10 * 0.5, 0}).norm(), 1e-12);
    snapshot = scene.snapshot();
    const auto bytes = snapshot.to_bytes();
    scene.set("cabin.lift.way", Value{"down"});
    scene.set("cabin.lift.along", Value{Value::List{Value{0.0}, Value{0.0}, Value{1.0}}});
    scene.advance(10s);
    EXPECT_LT((scene.world(cabin).position - Vec3{7, 0, 8 - 100 * 0.5}).norm(), 1e-9);
    scene.restore(scene.snapshot_from(bytes));
    EXPECT_LT((scene.world(cabin).position - Vec3{7, 8, 0}).norm(), 1e-12);
    scene.set("cabin.lift.broken", Value{true});
    scene.advance(100ms);
    ASSERT_FALSE(scene.events().empty());
    EXPECT_EQ(scene.describe(scene.events()[0]), "cabin.lift failed: the rope is torn");
    EXPECT_THROW(scene.set("cabin.lift.step", Value{2.0}), BadValue);
    EXPECT_THROW(scene.set("cabin.lift.way", Value{"sideways"}), BadValue);
    EXPECT_EQ(scene.dependencies(*scene.find_behaviour("cabin.lift")), std::vector<Object>{*scene.find("shaft")});
    EXPECT_FALSE(watched.expired());
  }
  EXPECT_FALSE(watched.expired());  // the snapshot has it
  snapshot = {};
  EXPECT_TRUE(watched.expired());
}

TEST(RuntimeKinds, AreReportedAtTheirPlace) {
  Kinds kinds;
  kinds.add(std::make_shared<const Lift>());
  const std::string cabin = "[object.cabin]\n[[object.cabin.behaviour]]\nkind = \"lift\"\n";
  EXPECT_EQ(diagnostics(cabin, kinds), "pond.toml:3:1: cabin.lift: \"shaft\" is missing; give the name of an object.");
  EXPECT_EQ(diagnostics(cabin + "shaft = \"cabin\"\nway = \"upp\"\nstep = 3\n", kinds),
            "pond.toml:6:7: cabin.lift: way: unknown value \"upp\"; did you mean \"up\"?\n"
            "pond.toml:7:8: cabin.lift: step: 3 is out of range; give a number from 0 to 1 (m).");
}

TEST(RuntimeKinds, RefuseDescriptionsThatMakeNoSense) {
  class Still final : public RuntimeKind {
   public:
    explicit Still(std::vector<RuntimeField> fields) : RuntimeKind{{.name = "still", .fields = std::move(fields)}} {}
    void apply(const RuntimeValues&, std::span<double>, Pose&, const Moment&) const override {}
  };
  using Type = RuntimeField::Type;
  EXPECT_THROW((Still{{{.name = "a", .low = 2, .high = 1}}}), BadValue);
  EXPECT_THROW((Still{{{.name = "a", .fallback = {3}, .low = 0, .high = 1}}}), BadValue);
  EXPECT_THROW((Still{{{.name = "a", .fallback = {std::nan("")}}}}), BadValue);
  EXPECT_THROW((Still{{{.name = "a", .type = Type::word}}}), BadValue);
  EXPECT_THROW((Still{{{.name = "a", .type = Type::word, .fallback = {1}, .words = {"x"}}}}), BadValue);
  const auto added = [](std::vector<RuntimeField> fields) {
    Kinds{}.add(std::make_shared<const Still>(std::move(fields)));
  };
  EXPECT_THROW(added({{.name = "weight"}}), BadValue);  // a key of every behaviour
  EXPECT_THROW(added({{.name = "kind"}}), BadValue);
  EXPECT_THROW(added({{.name = "a"}, {.name = "a"}}), BadValue);
  EXPECT_THROW(added({{.name = "a b"}}), BadValue);
  EXPECT_NO_THROW(added({{.name = "a"}, {.name = "b"}}));
}

}  // namespace
}  // namespace hushed
