// SPDX-License-Identifier: MIT
// Edits of the structure of scene files, compared with texts edited by hand, and with a model of random files.

#include <algorithm>
#include <filesystem>
#include <fstream>
#include <random>
#include <sstream>

#include <gtest/gtest.h>
// Must come after gtest, whose macros it uses.
#include <rapidcheck/gtest.h>

#include <hushed/edit.hpp>
#include <hushed/load.hpp>

namespace hushed::tests {
namespace {

const std::string scene = R"toml(# The harbour.
hushed = 1

[view]
watch = ["lamp.rotation.yaw", "distance(gig, lamp)"]

# The lamp on the mole.
[object.lamp]   # white
position = [0, 12, 0]

[[object.lamp.behaviour]]
kind  = "spin"
speed = 40      # slow
# Turns for ever.

# Nods.
[[object.lamp.behaviour]]
kind = "sway"
amplitude = [0, 0.1, 0]

# ---- ships ----

[object.gig]
[[object.gig.behaviour]]
kind = "follow"
target = "lamp"

[[rule]]
name = "horn"   # with H
when = [{ pressed = "H" }]
do = [{ stop = "lamp.spin" }]

[[expect]]
measure = "closest(gig, lamp)"   # they do not touch
above = 1
)toml";

SceneSource source_of(const std::string& text) {
  const auto file = std::filesystem::temp_directory_path() / ("edit-" + std::to_string(getpid()) + ".toml");
  std::ofstream{file, std::ios::binary} << "hushed = 1\n";
  SceneSource source = SceneSource{file}.with_text(text);
  std::filesystem::remove(file);
  return source;
}

std::string after(const std::string& text, const SceneEdit& edit) {
  return edited(source_of(text), edit).files().front().text;
}

std::string replaced(std::string text, const std::string& what, const std::string& by) {
  const std::size_t at = text.find(what);
  EXPECT_NE(at, std::string::npos) << what;
  return text.replace(at, what.size(), by);
}

Value table(const std::string& text) { return parse_value("{ " + text + " }"); }

TEST(Edit, AddsABehaviourAtItsPlaceInTheStack) {
  EXPECT_EQ(after(scene, AddBehaviour{"lamp", table("kind = \"spin\", name = \"tilt\", axis = \"x\""), "sway"}),
            replaced(scene, "# Nods.\n", R"([[object.lamp.behaviour]]
kind = "spin"
name = "tilt"
axis = "x"

# Nods.
)"));
  EXPECT_EQ(after(scene, AddBehaviour{"gig", table("kind = \"spin\"")}),
            replaced(scene, "target = \"lamp\"\n", R"(target = "lamp"

[[object.gig.behaviour]]
kind = "spin"
)"));
}

TEST(Edit, RemovesATableWithItsOwnCommentsAndNoOthers) {
  EXPECT_EQ(after(scene, RemoveBehaviour{"lamp.sway"}), replaced(scene, R"(# Nods.
[[object.lamp.behaviour]]
kind = "sway"
amplitude = [0, 0.1, 0]

)",
                                                                 ""));
  EXPECT_EQ(after(scene, RemoveBehaviour{"lamp.spin"}), replaced(scene, R"([[object.lamp.behaviour]]
kind  = "spin"
speed = 40      # slow
# Turns for ever.

)",
                                                                 ""));
  EXPECT_THROW(after(scene, RemoveObject{"gig"}), BadValue);  // an expectation names it
  const std::string bare = replaced(scene, scene.substr(scene.find("\n[[expect]]")), "");
  EXPECT_EQ(after(bare, RemoveObject{"gig"}), replaced(replaced(bare, R"([object.gig]
[[object.gig.behaviour]]
kind = "follow"
target = "lamp"

)",
                                                                ""),
                                                       ", \"distance(gig, lamp)\"", ""));
}

TEST(Edit, MovesABehaviourWithItsComments) {
  const std::string moved = after(scene, MoveBehaviour{"lamp.sway", "spin"});
  EXPECT_EQ(moved, replaced(replaced(scene, R"(# Nods.
[[object.lamp.behaviour]]
kind = "sway"
amplitude = [0, 0.1, 0]

)",
                                     ""),
                            R"([[object.lamp.behaviour]]
kind  = "spin")",
                            R"(# Nods.
[[object.lamp.behaviour]]
kind = "sway"
amplitude = [0, 0.1, 0]

[[object.lamp.behaviour]]
kind  = "spin")"));
  EXPECT_EQ(after(moved, MoveBehaviour{"lamp.sway"}), scene);
}

TEST(Edit, RenamesAnObjectWhereverItIsNamed) {
  std::string expected = scene;
  for (const auto& [old, now] : std::vector<std::pair<std::string, std::string>>{
           {"\"lamp.rotation.yaw\", \"distance(gig, lamp)\"", "\"light.rotation.yaw\", \"distance(gig, light)\""},
           {"[object.lamp]", "[object.light]"},
           {"[[object.lamp.behaviour]]\nkind  = ", "[[object.light.behaviour]]\nkind  = "},
           {"[[object.lamp.behaviour]]\nkind = ", "[[object.light.behaviour]]\nkind = "},
           {"target = \"lamp\"", "target = \"light\""},
           {"\"lamp.spin\"", "\"light.spin\""},
           {"closest(gig, lamp)", "closest(gig, light)"}})
    expected = replaced(expected, old, now);
  EXPECT_EQ(after(scene, RenameObject{"lamp", "light"}), expected);
  EXPECT_THROW(after(scene, RenameObject{"lamp", "gig"}), BadValue);
  EXPECT_THROW(after(scene, RenameObject{"lamp", "the lamp"}), BadValue);
}

TEST(Edit, SetsKeysOfObjectsAndRules) {
  EXPECT_EQ(after(scene, SetObjectKey{"lamp", "position", parse_value("[0, 13, 0]")}),
            replaced(scene, "[0, 12, 0]", "[0, 13, 0]"));
  EXPECT_EQ(after(scene, SetObjectKey{"gig", "parent", Value{std::string{"lamp"}}}),
            replaced(scene, "[object.gig]\n", "[object.gig]\nparent = \"lamp\"\n"));
  EXPECT_EQ(after(scene, SetObjectKey{"lamp", "position", std::nullopt}),
            replaced(scene, "position = [0, 12, 0]\n", ""));
  EXPECT_EQ(after(scene, SetRuleKey{"horn", "for", Value{0.5}}),
            replaced(scene, "do = [{ stop = \"lamp.spin\" }]\n", "do = [{ stop = \"lamp.spin\" }]\nfor = 0.5\n"));
}

TEST(Edit, AddsAndRemovesObjectsAndRules) {
  EXPECT_EQ(after(scene, AddObject{"buoy", table("position = [1, 0, 2], tags = [\"afloat\"]")}),
            replaced(scene, "target = \"lamp\"\n", R"(target = "lamp"

[object.buoy]
position = [1, 0, 2]
tags     = ["afloat"]
)"));
  EXPECT_EQ(after(scene, CopyObject{"lamp", "lamp-2"}),
            replaced(scene, "amplitude = [0, 0.1, 0]\n", R"(amplitude = [0, 0.1, 0]

[object.lamp-2]   # white
position = [0, 12, 0]

[[object.lamp-2.behaviour]]
kind  = "spin"
speed = 40      # slow
# Turns for ever.

[[object.lamp-2.behaviour]]
kind = "sway"
amplitude = [0, 0.1, 0]
)"));
  const std::string with_rule =
      after(scene, AddRule{table("name = \"bell\", when = [{ after = 2 }], do = [{ raise = \"bell\" }]")});
  EXPECT_EQ(with_rule, replaced(scene, "do = [{ stop = \"lamp.spin\" }]\n", R"(do = [{ stop = "lamp.spin" }]

[[rule]]
name = "bell"
when = [{ after = 2 }]
do   = [{ raise = "bell" }]
)"));
  EXPECT_EQ(after(with_rule, RemoveRule{"bell"}), scene);
}

TEST(Edit, EditsListsInBrackets) {
  const std::string brackets = R"(hushed = 1
[object]
lamp = { position = [0, 1, 0], behaviour = [
  { kind = "spin" },   # turns
  { kind = "sway", amplitude = [0, 1, 0] }  # nods
] }
)";
  EXPECT_EQ(after(brackets, RemoveBehaviour{"lamp.spin"}),
            replaced(brackets, "  { kind = \"spin\" },   # turns\n", ""));
  EXPECT_EQ(after(brackets, AddBehaviour{"lamp", table("kind = \"pace\"")}),
            replaced(brackets, "  # nods\n", ",  # nods\n  { kind = \"pace\" }\n"));
  EXPECT_EQ(after(brackets, AddBehaviour{"lamp", table("kind = \"pace\""), "spin"}),
            replaced(brackets, "  { kind = \"spin\" }", "  { kind = \"pace\" },\n  { kind = \"spin\" }"));
  EXPECT_EQ(after(brackets, RemoveObject{"lamp"}), "hushed = 1\n[object]\n");
}

TEST(Edit, RefusesWhatTheFileDoesNotHave) {
  EXPECT_THROW(after(scene, RemoveBehaviour{"lamp.orbit"}), BadValue);
  EXPECT_THROW(after(scene, RemoveObject{"punt"}), BadValue);
  EXPECT_THROW(after(scene, RemoveRule{"bell"}), BadValue);
  EXPECT_THROW(after(scene, AddObject{"lamp", table("")}), BadValue);
  const std::string dotted = "hushed = 1\nobject.lamp.position = [0, 1, 0]\n";
  EXPECT_THROW(after(dotted, RenameObject{"lamp", "light"}), BadValue);
}

// --- random files ---------------------------------------------------------------------------------------------------

/// A file as a list of blocks, each with comments of its own that no other block has. Behaviours follow their object.
struct Block {
  int object = 0;
  std::string name;  ///< of a behaviour; empty for the object itself
  std::string text;
};

class RandomFile {
 public:
  explicit RandomFile(std::mt19937_64& random) : random_{random} {
    const int objects = 1 + pick(4);
    for (int i = 0; i < objects; ++i) {
      const std::string name = "boat" + std::to_string(i);
      blocks_.push_back({i, "",
                         above() + indent() + "[object." + name + "]" + beside() + "position = [" +
                             std::to_string(pick(9)) + ", 0, 1]" + beside() + below()});
      for (int j = pick(4); j > 0; --j) add(i, {}, "sway" + std::to_string(count_++));
    }
  }

  std::string text() const {
    std::string all = "# The first line.\nhushed = 1\n";
    for (const Block& block : blocks_) all += "\n" + block.text;
    return all;
  }

  /// Makes a random edit of a text and of this model of it.
  SceneEdit edit() {
    std::vector<std::size_t> behaviours;
    for (std::size_t i = 0; i < blocks_.size(); ++i)
      if (!blocks_[i].name.empty()) behaviours.push_back(i);
    const int what = behaviours.empty() ? 0 : pick(4);
    if (what == 0) {
      const int object = blocks_[static_cast<std::size_t>(pick(static_cast<int>(blocks_.size())))].object;
      const std::string name = "spin" + std::to_string(count_++);
      const std::string before = some_of(object, "");
      Block made{object, name, "[[object." + boat(object) + ".behaviour]]\nkind = \"spin\"\nname = \"" + name + "\"\n"};
      blocks_.insert(place_before(object, before), made);
      return AddBehaviour{boat(object), table("kind = \"spin\", name = \"" + name + "\""), before};
    }
    const auto chosen =
        blocks_.begin() +
        static_cast<std::ptrdiff_t>(behaviours[static_cast<std::size_t>(pick(static_cast<int>(behaviours.size())))]);
    const Block block = *chosen;
    const std::string path = boat(block.object) + '.' + block.name;
    if (what == 1) {
      blocks_.erase(chosen);
      return RemoveBehaviour{path};
    }
    if (what == 2) {
      const std::string before = some_of(block.object, block.name);
      blocks_.erase(chosen);
      blocks_.insert(place_before(block.object, before), block);
      return MoveBehaviour{path, before};
    }
    const int object = block.object;
    std::erase_if(blocks_, [&](const Block& each) { return each.object == object; });
    return RemoveObject{boat(object)};
  }
  bool empty() const { return blocks_.empty(); }

  /// The blocks that were there at the beginning, without the lines between them.
  std::vector<std::string> first_blocks() const {
    std::vector<std::string> all;
    for (const Block& block : blocks_)
      if (!block.name.starts_with("spin")) all.push_back(block.text);
    return all;
  }
  /// The paths of all behaviours, in the order of the file.
  std::vector<std::string> paths() const {
    std::vector<std::string> all;
    for (const Block& block : blocks_)
      if (!block.name.empty()) all.push_back(boat(block.object) + '.' + block.name);
    return all;
  }

 private:
  int pick(int below) { return std::uniform_int_distribution{0, below - 1}(random_); }
  static std::string boat(int object) { return "boat" + std::to_string(object); }
  std::string comment() { return "# note " + std::to_string(count_++) + (pick(3) == 0 ? " [object.x] = \"\"\"" : ""); }
  std::string above() {
    std::string lines;
    for (int i = pick(3); i > 0; --i) lines += comment() + '\n';
    return lines;
  }
  std::string below() { return pick(3) == 0 ? comment() + '\n' : ""; }
  std::string beside() { return (pick(3) == 0 ? "  " + comment() : "") + '\n'; }
  std::string indent() { return std::string(static_cast<std::size_t>(pick(2)) * 2, ' '); }

  void add(int object, const std::string& before, const std::string& name) {
    std::string text = above() + indent() + "[[object." + boat(object) + ".behaviour]]" + beside() + "kind = \"sway\"" +
                       beside() + "name = \"" + name + "\"" + beside();
    text += pick(2) == 0 ? "amplitude = [0, 1,  " + comment() + "\n  0]" + beside()
                         : "frequency = 0.5" + beside() + "amplitude = [0, 1, 0]" + beside();
    blocks_.insert(place_before(object, before), {object, name, text + below()});
  }

  /// A random behaviour of the object but one, or none for the top of the stack.
  std::string some_of(int object, const std::string& but) {
    std::vector<std::string> names{""};
    for (const Block& block : blocks_)
      if (block.object == object && !block.name.empty() && block.name != but) names.push_back(block.name);
    return names[static_cast<std::size_t>(pick(static_cast<int>(names.size())))];
  }

  std::vector<Block>::iterator place_before(int object, const std::string& name) {
    auto end = blocks_.begin();
    for (auto each = blocks_.begin(); each != blocks_.end(); ++each) {
      if (each->object != object) continue;
      if (!name.empty() && each->name == name) return each;
      end = std::next(each);
    }
    return end;
  }

  std::mt19937_64& random_;
  std::vector<Block> blocks_;
  int count_ = 0;
};

/// New tables are indented as those beside them.
std::vector<std::string> lines_of(const std::string& text) {
  std::vector<std::string> lines;
  std::istringstream in{text};
  for (std::string line; std::getline(in, line);)
    if (!line.empty()) lines.push_back(line.substr(line.find_first_not_of(' ')));
  return lines;
}

RC_GTEST_PROP(Edit, OfRandomFilesChangesOnlyWhatItIsAbout, (std::uint64_t seed)) {
  std::mt19937_64 random{seed};
  RandomFile file{random};
  SceneSource source = source_of(file.text());
  for (int i = 0; i < 12 && !file.empty(); ++i) {
    const SceneEdit edit = file.edit();
    source = edited(source, edit);
    const std::string& text = source.files().front().text;
    RC_ASSERT(lines_of(text) == lines_of(file.text()));
    for (const std::string& block : file.first_blocks()) RC_ASSERT(text.find(block) != std::string::npos);
    const SceneFile read = read_scene_source(source);
    std::vector<std::string> paths;
    for (const Object object : objects_in_order(read.scene))
      for (const AnyBehaviour behaviour : read.scene.behaviours(object)) paths.push_back(read.scene.path(behaviour));
    RC_ASSERT(paths == file.paths());
  }
}

}  // namespace
}  // namespace hushed::tests
