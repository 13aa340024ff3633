// SPDX-License-Identifier: MIT
// Writing tuned values into scene files, compared with texts edited by hand.

#include <algorithm>
#include <filesystem>
#include <fstream>
#include <iterator>
#include <map>
#include <set>
#include <sstream>

#include <gtest/gtest.h>

#include <hushed/field.hpp>
#include <hushed/keep.hpp>
#include <hushed/kinds.hpp>
#include <hushed/load.hpp>

#include "support/demo.hpp"

namespace hushed::tests {
namespace {

/// A folder with the files of a scene. It is removed with the test.
class Folder {
 public:
  Folder() { std::filesystem::create_directories(path_); }
  ~Folder() { std::filesystem::remove_all(path_); }
  std::filesystem::path write(const std::string& name, const std::string& text) const {
    std::ofstream{path_ / name, std::ios::binary} << text;
    return path_ / name;
  }
  std::string read(const std::string& name) const {
    std::ifstream in{path_ / name, std::ios::binary};
    return {std::istreambuf_iterator<char>{in}, {}};
  }
  const std::filesystem::path& path() const { return path_; }
  std::size_t files() const {
    return static_cast<std::size_t>(std::distance(std::filesystem::directory_iterator{path_}, {}));
  }

 private:
  std::filesystem::path path_ =
      std::filesystem::temp_directory_path() /
      ("keep-" + std::to_string(getpid()) + '-' + ::testing::UnitTest::GetInstance()->current_test_info()->name());
};

const std::string kit = R"(# What floats.
hushed = 1

[[preset.bobbing.behaviour]]
kind = "sway"
name = "swell"
amplitude = [0.04, 0.08,   # athwart, up
             0.04]
frequency = 0.4            # slow
)";

const std::string scene = R"(# The harbour.
hushed = 1
include = ["kit.toml"]

[object.lamp]   # on the mole
position = [0, 12, 0]

[[object.lamp.behaviour]]
kind  = "spin"
axis  = "y"
speed = 40      # °/s, slow

  [[object.lamp.behaviour]]
  kind = "spin" # another
  name = "tilt"
  axis = [0, 1, 0]

[object.gig]
use = ["bobbing"]
shape = { kind = "box", size = [1, 1, 3] }

[object.punt]
use = ["bobbing"]
tune = { "bobbing.swell.weight" = 0.5 } # light

[object.skiff]
behaviour = [{ kind = "sway", amplitude = [0, 1, 0] }, { kind = "spin" }]

[object.dory]
use = ["bobbing"]
pace = 0.5 # dreamlike

[object.dory.tune]
bobbing.swell.weight = 0.25

[crowd.gull]
count = 3
box = [[0, 0, 0], [1, 1, 1]]
[[crowd.gull.behaviour]]
kind = "spin"
speed = 10
)";

struct Case {
  const char* path;
  std::optional<Value> value;
  const char *before, *after;  ///< in the scene file, or in the kit where the path is a preset's
  const char* note = "";
};

Value three(double x, double y, double z) { return Value{Value::List{Value{x}, Value{y}, Value{z}}}; }

const std::vector<Case> cases{
    {"lamp.spin.speed", Value{62.5}, "speed = 40      # °/s", "speed = 62.5      # °/s"},
    {"lamp.spin.fade", Value{0.5}, "speed = 40      # °/s, slow\n", "speed = 40      # °/s, slow\nfade  = 0.5\n"},
    {"lamp.tilt.speed", Value{-3.0}, "axis = [0, 1, 0]\n", "axis = [0, 1, 0]\n  speed = -3\n"},
    {"lamp.spin.axis", three(0, 0.6, 0.8), "axis  = \"y\"", "axis  = [0, 0.6, 0.8]"},
    {"preset.bobbing.swell.frequency", Value{0.7}, "frequency = 0.4 ", "frequency = 0.7 ",
     "for all objects that use bobbing"},
    {"preset.bobbing.swell.amplitude", three(0.04, 0.08, 0.1), "             0.04]", "             0.1]",
     "for all objects that use bobbing"},
    {"gig.swell.frequency", Value{0.9}, "size = [1, 1, 3] }\n",
     "size = [1, 1, 3] }\ntune  = { \"bobbing.swell.frequency\" = 0.9 }\n"},
    {"punt.swell.weight", Value{0.75}, "= 0.5 } # light", "= 0.75 } # light"},
    {"punt.swell.frequency", Value{0.75}, "= 0.5 } #", "= 0.5, \"bobbing.swell.frequency\" = 0.75 } #"},
    {"punt.swell.weight", std::nullopt, "tune = { \"bobbing.swell.weight\" = 0.5 } #", "tune = { } #"},
    {"dory.pace.rate", Value{0.25}, "pace = 0.5 #", "pace = 0.25 #"},
    {"skiff.sway.amplitude", three(0, 2, 0), "amplitude = [0, 1, 0]", "amplitude = [0, 2, 0]"},
    {"skiff.spin.speed", Value{8.0}, "{ kind = \"spin\" }]", "{ kind = \"spin\", speed = 8 }]"},
    {"dory.swell.weight", Value{1.0}, "swell.weight = 0.25", "swell.weight = 1"},
    {"dory.swell.frequency", Value{2.0}, "swell.weight = 0.25\n",
     "swell.weight = 0.25\n\"bobbing.swell.frequency\" = 2\n"},
    {"gull-2.spin.speed", Value{11.0}, "speed = 10", "speed = 11", "for all objects of the crowd gull"},
    {"lamp.spin.speed", std::nullopt, "speed = 40      # °", "      # °"},
};

TEST(Keep, ChangesTheCharactersOfTheValueAndNothingElse) {
  for (const Case& each : cases) {
    for (const bool windows : {false, true}) {
      SCOPED_TRACE(each.path + std::string{" in lines that end in "} + (windows ? "CR LF" : "LF"));
      const auto ends = [windows](std::string text) {
        for (std::size_t at = 0; windows && (at = text.find('\n', at)) != text.npos; at += 2) text.insert(at, "\r");
        return text;
      };
      Folder folder;
      folder.write("kit.toml", ends(kit));
      const auto file = folder.write("harbour.toml", "\xEF\xBB\xBF" + ends(scene));
      const bool in_kit = std::string_view{each.path}.starts_with("preset.");
      std::string expected = in_kit ? ends(kit) : "\xEF\xBB\xBF" + ends(scene);
      const std::string before = ends(each.before);
      ASSERT_EQ(expected.find(before), expected.rfind(before));
      expected.replace(expected.find(before), before.size(), ends(each.after));

      const KeepPlan plan = plan_keep(SceneSource{file}, std::vector<ValueToKeep>{{each.path, each.value}});
      ASSERT_TRUE(plan.refusals.empty()) << plan.refusals[0].why;
      ASSERT_EQ(plan.lines.size(), 1U);
      EXPECT_EQ(plan.lines[0].note, each.note);
      keep(plan);
      EXPECT_EQ(folder.read(in_kit ? "kit.toml" : "harbour.toml"), expected);
      EXPECT_EQ(folder.read(in_kit ? "harbour.toml" : "kit.toml"), in_kit ? "\xEF\xBB\xBF" + ends(scene) : ends(kit));
      EXPECT_EQ(folder.files(), 2U);
      if (each.value && !each.note[0]) {
        EXPECT_EQ(as_text(*load(file).get(each.path)), as_text(*each.value));
      }
    }
  }
}

/// Every value of every object of a scene, by its path.
std::map<std::string, std::string> all_values(const Scene& scene) {
  std::map<std::string, std::string> values;
  for (const Object object : scene.objects())
    for (const AnyBehaviour behaviour : scene.behaviours(object))
      for (const FieldInfo& field : scene.fields(behaviour)) {
        const std::string path = scene.path(behaviour) + '.' + std::string{field.name};
        const auto value = scene.get(path);
        values[path] = value ? as_text(*value) : "";
      }
  return values;
}

std::size_t lines_that_differ(const std::string& one, const std::string& other) {
  const auto lines_of = [](const std::string& text) {
    std::istringstream in{text};
    std::multiset<std::string> lines;
    for (std::string line; std::getline(in, line);) lines.insert(line);
    return lines;
  };
  const auto a = lines_of(one), b = lines_of(other);
  std::vector<std::string> apart;
  std::set_difference(b.begin(), b.end(), a.begin(), a.end(), std::back_inserter(apart));
  return apart.size();
}

// Each number of the harbour is changed and written by itself. Read back, this value is the new one and all others are
// unchanged.
TEST(Keep, ChangesOneValueOfTheHarbourAndNoOther) {
  Folder folder;
  std::filesystem::copy(std::filesystem::path{HARBOUR}.parent_path(), folder.path(),
                        std::filesystem::copy_options::recursive | std::filesystem::copy_options::overwrite_existing);
  const Kinds kinds = tests::kinds_with_scripts();
  const auto load = [&](const std::filesystem::path& from) {
    return std::move(read_scene_file(from, {.kinds = &kinds}).scene);
  };
  const auto file = folder.path() / "harbour.toml";
  const std::string text = folder.read("harbour.toml");
  const SceneSource source{file};
  Scene scene = load(file);
  const auto before = all_values(scene);
  std::size_t kept = 0;
  for (const auto& [path, as_it_was] : before) {
    const auto value = scene.get(path);
    if (!value || !value->number()) continue;
    if (path.starts_with("paper-") || path.starts_with("flock-") || path.starts_with("fish-")) continue;  // a crowd's
    const Value other{*value->number() == 0.0 ? 0.5 : *value->number() * 0.75};
    std::string by_hand;
    try {
      Scene tuned = load(file);
      tuned.set(path, other);
      by_hand = as_text(*tuned.get(path));  // a time is rounded to its unit
    } catch (const BadValue&) {             // a seed is a whole number
      continue;
    }
    const KeepPlan plan = plan_keep(source, std::vector<ValueToKeep>{{path, other}});
    ASSERT_TRUE(plan.refusals.empty()) << path << ": " << plan.refusals[0].why;
    ASSERT_EQ(plan.after.size(), 1U) << path;
    EXPECT_EQ(lines_that_differ(text, plan.after[0].text), 1U) << path;
    folder.write("harbour.toml", plan.after[0].text);
    auto expected = before;
    expected[path] = by_hand;
    EXPECT_EQ(all_values(load(file)), expected) << path;
    folder.write("harbour.toml", text);
    ++kept;
  }
  EXPECT_GT(kept, 40U);
}

TEST(Keep, PredictsWhichLinesChange) {
  Folder folder;
  folder.write("kit.toml", kit);
  const auto file = folder.write("harbour.toml", scene);
  const std::vector<ValueToKeep> values{{"lamp.spin.speed", Value{41.0}},
                                        {"gig.swell.weight", Value{0.5}},
                                        {"gig.swell.frequency", Value{1.0}},
                                        {"preset.bobbing.swell.fade", Value{1.0}}};
  const KeepPlan plan = plan_keep(SceneSource{file}, values);
  ASSERT_EQ(plan.lines.size(), 4U);
  EXPECT_EQ(plan.lines[0].number, 11);
  EXPECT_EQ(plan.lines[0].before, "speed = 40      # °/s, slow");
  EXPECT_EQ(plan.lines[0].after, "speed = 41      # °/s, slow");
  EXPECT_EQ(plan.lines[1].before, "");
  EXPECT_EQ(plan.lines[1].after, "tune  = { \"bobbing.swell.weight\" = 0.5 }");
  EXPECT_EQ(plan.lines[1].number, 21);
  EXPECT_EQ(plan.lines[2].after, "tune  = { \"bobbing.swell.weight\" = 0.5, \"bobbing.swell.frequency\" = 1 }");
  EXPECT_EQ(plan.lines[3].file.filename(), "kit.toml");
  EXPECT_EQ(plan.lines[3].after, "fade      = 1");
  EXPECT_EQ(plan.after.size(), 2U);
  EXPECT_EQ(folder.read("harbour.toml"), scene);  // nothing yet
  keep(plan);
  const Scene kept = load(file);
  EXPECT_EQ(as_text(*kept.get("gig.swell.fade")), "1");
  EXPECT_EQ(as_text(*kept.get("gig.swell.weight")), "0.5");
}

TEST(Keep, RefusesValuesWithoutAPlaceInTheFile) {
  Folder folder;
  const auto file = folder.write("harbour.toml",
                                 "hushed = 1\n"
                                 "preset.bobbing.behaviour = [{ kind = \"sway\", amplitude = [0, 1, 0] }]\n"
                                 "object.gig.use = [\"bobbing\"]\n"
                                 "[crowd.gull]\ncount = 2\nbox = [[0, 0, 0], [1, 1, 1]]\nuse = [\"bobbing\"]\n");
  for (const char* path : {"gig.sway.weight", "gull-1.sway.weight", "nobody.sway.weight", "sway.weight",
                           "preset.other.sway.weight", "gig.spin.speed"}) {
    const KeepPlan plan = plan_keep(SceneSource{file}, std::vector<ValueToKeep>{{path, Value{0.5}}});
    EXPECT_EQ(plan.refusals.size(), 1U) << path;
    EXPECT_TRUE(plan.lines.empty() && plan.after.empty()) << path;
  }
}

}  // namespace
}  // namespace hushed::tests
