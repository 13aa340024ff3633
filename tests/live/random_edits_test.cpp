// SPDX-License-Identifier: MIT
// Random edits, tuned values, undo and redo in play mode: what is kept reads back as the scene that played, and what is
// undone is as it was.

#include "session.hpp"

#include <algorithm>
#include <filesystem>
#include <fstream>
#include <random>
#include <sstream>
#include <thread>

#include <gtest/gtest.h>
// Must come after gtest, whose macros it uses.
#include <rapidcheck/gtest.h>

#include <hushed/detail/kind.hpp>
#include <hushed/hushed.hpp>

namespace hushed::tests {
namespace {

using detail::Json;
using detail::OpenFile;
using detail::Session;

/// All that a file says of the objects of a scene: parents, rest positions, stacks and values.
std::string contents(const Scene& scene) {
  std::string text;
  for (const Object object : objects_in_order(scene)) {
    const auto parent = scene.parent(object);
    text += scene.name(object) + " in " + (parent ? scene.name(*parent) : "the world");
    for (int axis = 0; axis < 3; ++axis) text += ' ' + as_text(scene.rest(object).position[axis]);
    text += '\n';
    for (const AnyBehaviour behaviour : scene.behaviours(object)) {
      const std::string path = scene.path(behaviour);
      text += "  " + path;
      for (const FieldInfo& field : scene.fields(behaviour)) {
        const auto value = scene.get(path + '.' + std::string{field.name});
        text += ' ' + (value ? as_text(*value) : std::string{"-"});
      }
      text += '\n';
    }
  }
  return text;
}

/// The contents of each object, in an order that does not depend on that of the scene.
std::vector<std::string> in_any_order(const std::string& contents) {
  std::vector<std::string> objects;
  std::istringstream in{contents};
  for (std::string line; std::getline(in, line);) {
    if (line.starts_with("  "))
      objects.back() += line;
    else
      objects.push_back(line);
  }
  std::sort(objects.begin(), objects.end());
  return objects;
}

class RandomEdits {
 public:
  explicit RandomEdits(std::uint64_t seed) : random_{seed} {
    std::filesystem::create_directories(folder_);
    std::ofstream{path_} << "# A few boats.\nhushed = 1\n\n[object.boat0]   # the first\n\n"
                            "[[object.boat0.behaviour]]\nkind = \"spin\"  # slowly\nspeed = 10\n\n"
                            "[object.boat1]\nposition = [4, 0, 0]\n\n[[object.boat1.behaviour]]\nkind = \"follow\"\n"
                            "target = \"boat0\"\n# A note between.\n\n# The end.\n";
    file_.reset(new OpenFile{path_, read_scene_file(path_), SceneSource{path_}});
    session_.emplace(*file_);
  }
  ~RandomEdits() { std::filesystem::remove_all(folder_); }

  const Scene& scene() const { return file_->playing.scene; }
  Scene on_disk() const { return load(path_); }
  bool can_undo() const { return session_->mode().can_undo(); }

  /// Sends a request; returns what was refused, or an empty text.
  std::string ask(const Json& request) {
    std::string refused;
    for (const Session::Answer& answer : session_->handle(1, request.dump())) {
      if (answer.message.kind != detail::Message::Kind::text) continue;
      const Json told = Json::parse(answer.message.content);
      if (told["kind"] == "refused") refused = told["text"];
    }
    return refused;
  }

  /// Most requests are possible; the others must be refused without a change.
  void step() {
    const std::string before = contents(scene());
    const std::string refused = ask(some_request());
    if (!refused.empty()) RC_ASSERT(contents(scene()) == before);
  }

  void keep() {
    Json values = Json::array();
    for (const PlayMode::Changed& change : session_->mode().changed())
      if (scene().find(change.path.substr(0, change.path.find('.'))))
        values.push_back({{"path", change.path}, {"for", "own"}});
    RC_ASSERT(ask({{"do", "plan"}, {"values", values}}) == "");
    RC_ASSERT(ask({{"do", "keep"}, {"values", values}}) == "");
  }

  /// Once in a while, another program adds a note to the file, which is read again. What was kept cannot be undone
  /// then.
  void perhaps_save_elsewhere() {
    if (pick(8) > 0) return;
    std::ofstream{path_, std::ios::app} << "# A note of another program.\n";
    const std::string before = contents(scene());
    for (int i = 0; i < 1000; ++i) {
      for (const Session::Answer& answer : session_->pass(Time{0}))
        if (answer.message.content.find("\"kind\":\"state\"") != std::string::npos) {
          RC_ASSERT(contents(scene()) == before);
          return;
        }
      std::this_thread::sleep_for(std::chrono::milliseconds{5});
    }
    RC_FAIL("the note was not noticed");
  }

 private:
  int pick(int below) { return std::uniform_int_distribution{0, below - 1}(random_); }
  std::string number() { return as_text(pick(40) / 4.0); }

  std::string object() {
    const auto all = objects_in_order(scene());
    if (all.empty() || pick(12) == 0) return "nobody";
    return scene().name(all[static_cast<std::size_t>(pick(static_cast<int>(all.size())))]);
  }
  std::string behaviour() {
    std::vector<std::string> all;
    for (const Object each : objects_in_order(scene()))
      for (const AnyBehaviour one : scene().behaviours(each)) all.push_back(scene().path(one));
    return all.empty() ? "nobody.spin" : all[static_cast<std::size_t>(pick(static_cast<int>(all.size())))];
  }

  Json one_edit(Json edit) { return {{"do", "edit"}, {"edits", Json::array({std::move(edit)})}}; }

  Json some_request() {
    const std::string new_name = "boat" + std::to_string(2 + pick(6));
    switch (pick(14)) {
      case 0: return {{"do", "undo"}};
      case 1: return {{"do", "redo"}};
      case 2: return {{"do", "step"}, {"by", pick(5)}};
      case 3: return {{"do", "set"}, {"path", behaviour() + ".weight"}, {"to", as_text(pick(5) / 4.0)}};
      case 4: return {{"do", "set"}, {"path", behaviour() + ".speed"}, {"to", number()}, {"gesture", pick(3)}};
      case 5:
        return one_edit(
            {{"edit", "add object"}, {"name", new_name}, {"keys", "{ position = [" + number() + ", 0, 1] }"}});
      case 6: return one_edit({{"edit", "copy object"}, {"object", object()}, {"name", new_name}});
      case 7: return one_edit({{"edit", "rename object"}, {"object", object()}, {"name", new_name}});
      case 8: return one_edit({{"edit", "remove object"}, {"object", object()}});
      case 9:
        return one_edit({{"edit", "set object"},
                         {"object", object()},
                         {"key", pick(2) == 0 ? "position" : "parent"},
                         {"to", pick(2) == 0 ? "[" + number() + ", 1, 0]" : object()}});
      case 10:
        return one_edit({{"edit", "add behaviour"},
                         {"object", object()},
                         {"keys", "{ kind = \"spin\", name = \"turn" + std::to_string(pick(4)) +
                                      "\", speed = " + number() + " }"}});
      case 11: return one_edit({{"edit", "remove behaviour"}, {"behaviour", behaviour()}});
      case 12: {
        const std::string other = behaviour();
        return one_edit(
            {{"edit", "move behaviour"}, {"behaviour", behaviour()}, {"before", other.substr(other.find('.') + 1)}});
      }
      default:
        return one_edit({{"edit", "set behaviour"}, {"behaviour", behaviour()}, {"key", "speed"}, {"to", number()}});
    }
  }

  std::mt19937_64 random_;
  std::filesystem::path folder_ = std::filesystem::temp_directory_path() / ("random-edits-" + std::to_string(getpid()));
  std::filesystem::path path_ = folder_ / "boats.toml";
  std::unique_ptr<OpenFile> file_;
  std::optional<Session> session_;
};

RC_GTEST_PROP(RandomEdits, ReadBackAsTheSceneThatPlayed, (std::uint64_t seed)) {
  RandomEdits edits{seed};
  for (int round = 0; round < 3; ++round) {
    for (int i = 0; i < 12; ++i) edits.step();
    edits.keep();
    RC_ASSERT(in_any_order(contents(edits.on_disk())) == in_any_order(contents(edits.scene())));
    edits.perhaps_save_elsewhere();
  }
}

RC_GTEST_PROP(RandomEdits, AreUndoneToTheFirst, (std::uint64_t seed)) {
  RandomEdits edits{seed};
  const std::string first = contents(edits.scene());
  for (int i = 0; i < 20; ++i) {
    edits.step();
    if (i % 8 == 5) edits.keep();
  }
  for (int i = 0; edits.can_undo() && i < 100; ++i) RC_ASSERT(edits.ask({{"do", "undo"}}) == "");
  RC_ASSERT(in_any_order(contents(edits.scene())) == in_any_order(first));
  RC_ASSERT(!edits.can_undo());
  edits.keep();
  RC_ASSERT(in_any_order(contents(edits.on_disk())) == in_any_order(first));
}

}  // namespace
}  // namespace hushed::tests
