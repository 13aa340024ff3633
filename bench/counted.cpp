// SPDX-License-Identifier: MIT
// Plays eight frames of a thousand objects, for counting instructions: of one kind, or "mixture".
//
//     valgrind --tool=callgrind --toggle-collect=counted_frames bench_counted spin

#include <algorithm>
#include <cstdio>
#include <string_view>

#include "rivals.hpp"

/// The part whose instructions are counted.
extern "C" [[gnu::noinline]] void counted_frames(hushed::Scene& scene) {
  for (int frame = 0; frame < 8; ++frame) scene.advance(hushed::seconds(rivals::dt));
}

int main(int count, char** words) {
  const std::string_view name = count > 1 ? words[1] : "mixture";
  const auto& all = rivals::all();
  const auto kind = std::find_if(all.begin(), all.end(), [&](const rivals::Rival& each) { return each.name == name; });
  if (kind == all.end() && name != "mixture") {
    for (const rivals::Rival& each : all) std::puts(each.name.c_str());
    std::puts("mixture");
    return name == "--list" ? 0 : 2;
  }
  hushed::Scene scene = kind == all.end() ? rivals::scene_of_all(1000) : rivals::scene_of(*kind, 1000);
  counted_frames(scene);
}
