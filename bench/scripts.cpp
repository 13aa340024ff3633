// SPDX-License-Identifier: MIT
// Behaviours in Lua, and the same in C++: microseconds per object and tick, in one run.

#include <algorithm>
#include <chrono>
#include <cmath>
#include <string>
#include <vector>

#include <fmt/format.h>

#include <hushed/hushed.hpp>
#include <hushed/load.hpp>
#include <hushed/own.hpp>
#include <hushed/script.hpp>

namespace {

using namespace hushed;

/// scenes/scripts/winch.lua in C++.
struct Winch {
  double height = 3, speed = 1.5, half_life = 0.4;

  struct State {
    double hauled = 0;
  };
  State begin(const Pose& in, const Moment&) const { return {in.position.y()}; }
  Pose apply(State& kept, const Pose& in, const Moment& now) const {
    const double rest = height - kept.hauled, furthest = speed * now.step;
    kept.hauled += std::clamp(rest * (1 - std::exp2(-now.step / half_life)), -furthest, furthest);
    Pose out = in;
    out.position.y() = kept.hauled;
    return out;
  }
};

Scene scripted(int count) {
  Kinds kinds;
  add_scripts(kinds);
  return std::move(read_scene_text(fmt::format("hushed = 1\n[crowd.load]\ncount = {}\nbox = [[0, 0, 0], [9, 9, 9]]\n"
                                               "[[crowd.load.behaviour]]\nscript = \"scripts/winch.lua\"\n",
                                               count),
                                   SCENES "/loads.toml", {.kinds = &kinds})
                       .scene);
}

Scene compiled(int count) {
  Scene scene;
  for (int i = 0; i < count; ++i) scene.give(scene.add({.rest = at(i, 0, 0)}), Winch{});
  return scene;
}

/// The least of several runs of one tick.
double tick_of(Scene& scene) {
  double least = 1e9;
  for (int i = 0; i < 60; ++i) {
    const auto start = std::chrono::steady_clock::now();
    scene.advance(frame_time(1, 120.0));
    least = std::min(least, std::chrono::duration<double>(std::chrono::steady_clock::now() - start).count());
  }
  return least;
}

}  // namespace

int main() {
  fmt::print("{:>9} {:>16} {:>16} {:>10} {:>12}\n", "objects", "Lua, us each", "C++, us each", "ratio", "ms a tick");
  double first = 0.0, last = 0.0;
  for (const int count : {1'000, 10'000}) {
    Scene lua = scripted(count), cpp = compiled(count);
    const double by_lua = tick_of(lua) / count * 1e6, by_cpp = tick_of(cpp) / count * 1e6;
    fmt::print("{:>9} {:>16.3f} {:>16.3f} {:>10.1f} {:>12.2f}\n", count, by_lua, by_cpp, by_lua / by_cpp,
               by_lua * count / 1e3);
    (count == 1'000 ? first : last) = by_lua;
  }
  fmt::print("growth per object: {:.2f} (goal 1.3); a tick of 1 000: {:.2f} ms (goal 1.5)\n", last / first, first);
}
