// SPDX-License-Identifier: MIT
// One behaviour twice: a winch in C++, and as a script in Lua. Both haul a load to a height, with the same result. The
// program keeps its files in itself, as games do that ship an archive.

#include <algorithm>
#include <cmath>
#include <cstdio>
#include <string>

#include <hushed/hushed.hpp>
#include <hushed/load.hpp>
#include <hushed/own.hpp>
#include <hushed/script.hpp>

using namespace hushed;
using namespace std::chrono_literals;

/// Hauls its load to a height, and lets it settle.
struct Winch {
  double height = 3.0;  ///< m
  double speed = 1.5;   ///< m/s, at most
  Time half_life = 400ms;

  static constexpr auto kind = "winch";
  static constexpr auto fields = std::tuple{
      field("height", &Winch::height, unit::metres, "where the load should hang", slider(0, 10)),
      field("speed", &Winch::speed, unit::metres_per_second, "how fast it hauls at most", slider(0.1, 5)),
      field("half_life", &Winch::half_life, unit::seconds, "until half of the rest is hauled", slider(0.05, 2)),
  };

  struct State {
    double hauled = 0.0;
  };
  State begin(const Pose& in, const Moment&) const { return {in.position.y()}; }
  Pose apply(State& kept, const Pose& in, const Moment& now) const {
    const double furthest = speed * now.step;
    const double share = 1 - std::exp2(-now.step / in_seconds(half_life));
    kept.hauled += std::clamp((height - kept.hauled) * share, -furthest, furthest);
    return in.with_position({in.position.x(), kept.hauled, in.position.z()});
  }
};

constexpr auto in_lua = R"(
about = "hauls its load to a height, and lets it settle"
fields = {
  { "height", 3, unit = "m", range = { -100, 100 }, slider = { 0, 10 }, help = "where the load should hang" },
  { "speed", 1.5, unit = "m/s", range = { 0, 100 }, slider = { 0.1, 5 }, help = "how fast it hauls at most" },
  { "half_life", 0.4, unit = "s", range = { 0.001, 60 }, slider = { 0.05, 2 }, help = "until half of the rest is hauled" },
}
memory = { hauled = 0 }
function begin(pose, now, my, kept)
  kept.hauled = pose.position.y
end
function apply(pose, now, my, kept)
  local furthest = my.speed * now.step
  local share = 1 - exp2(-now.step / my.half_life)
  kept.hauled = kept.hauled + clamp((my.height - kept.hauled) * share, -furthest, furthest)
  pose.position = vector(pose.position.x, kept.hauled, pose.position.z)
end
)";

constexpr auto quay = R"(hushed = 1
[object.crate]
position = [0, 8, 0]
[[object.crate.behaviour]]
kind   = "winch"
height = 2

[object.barrel]
position = [3, 8, 0]
[[object.barrel.behaviour]]
script = "hoist.lua"
height = 2
)";

int main() {
  Kinds kinds;
  kinds.add<Winch>();
  add_scripts(kinds);
  kinds.set_file_reader([](const std::string& file) -> std::string {
    if (file == "quay.toml") return quay;
    if (file == "hoist.lua") return in_lua;
    throw Error{"the archive has no such file."};
  });
  Scene scene = std::move(read_scene_file("quay.toml", {.kinds = &kinds}).scene);
  const Object crate = *scene.find("crate"), barrel = *scene.find("barrel");
  std::printf("seconds   C++      Lua\n");
  for (int i = 0; i <= 6; ++i) {
    std::printf("%7d   %.4f   %.4f\n", i, scene.world(crate).position.y(), scene.world(barrel).position.y());
    scene.advance(1s);
  }
}

// Prints:
// seconds   C++      Lua
//       0   8.0000   8.0000
//       1   6.5000   6.5000
//       2   5.0000   5.0000
//       3   3.5000   3.5000
//       4   2.3184   2.3184
//       5   2.0563   2.0563
//       6   2.0100   2.0100
