// SPDX-License-Identifier: MIT
#pragma once

// The demo harbour, on which every guarantee is tested too.

#include <algorithm>
#include <fstream>
#include <iterator>
#include <string>
#include <vector>

#include <hushed/key_file.hpp>
#include <hushed/kinds.hpp>
#include <hushed/load.hpp>
#include <hushed/script.hpp>

namespace hushed::tests {

inline Kinds kinds_with_scripts() {
  Kinds kinds;
  add_scripts(kinds);
  return kinds;
}

inline SceneFile demo_file(std::optional<double> tick_rate = {}) {
  const Kinds kinds = kinds_with_scripts();
  return read_scene_file(HARBOUR, {.tick_rate = tick_rate, .kinds = &kinds});
}

/// The demo with its recorded input.
inline Scene demo(double tick_rate = 120.0) {
  SceneFile file = demo_file(tick_rate);
  for (const InputChange& change : read_key_file(file.view.keys)) file.scene.input(change);
  return std::move(file.scene);
}

/// The demo with its objects declared in the opposite order.
inline Scene demo_backwards() {
  std::ifstream in{HARBOUR};
  const std::string text{std::istreambuf_iterator<char>{in}, {}};
  std::vector<std::string> pieces;  // the text before the objects, then that of each object
  std::size_t from = 0;
  for (std::size_t next = 0; next != std::string::npos; from = next) {
    next = text.find("\n[object.", from + 1);
    pieces.push_back(text.substr(from, next - from) + '\n');
  }
  std::reverse(pieces.begin() + 1, pieces.end());
  std::string whole;
  for (const std::string& piece : pieces) whole += piece;
  const auto name =
      std::filesystem::path{HARBOUR}.replace_filename("backwards.toml");  // beside the files that it includes
  const Kinds kinds = kinds_with_scripts();
  SceneFile file = read_scene_text(whole, name.string(), {.kinds = &kinds});
  for (const InputChange& change : read_key_file(file.view.keys)) file.scene.input(change);
  return std::move(file.scene);
}

/// Its world poses, in the order of the names.
inline std::vector<Pose> poses_by_name(const Scene& scene) {
  std::vector<Object> objects{scene.objects().begin(), scene.objects().end()};
  std::sort(objects.begin(), objects.end(), [&](Object a, Object b) { return scene.name(a) < scene.name(b); });
  std::vector<Pose> poses;
  for (const Object object : objects) poses.push_back(scene.world(object));
  return poses;
}

}  // namespace hushed::tests
