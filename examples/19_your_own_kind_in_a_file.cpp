// SPDX-License-Identifier: MIT
// A behaviour of the program's own that scene files can name: with keys, errors at their place, presets and tuning like
// a built-in one.

#include <cmath>
#include <cstdio>

#include <hushed/hushed.hpp>
#include <hushed/load.hpp>
#include <hushed/own.hpp>

using namespace hushed;
using namespace std::chrono_literals;

/// A fish that leaps out of the water again and again.
struct Leap {
  double height = 1.0;  ///< m
  double length = 2.0;  ///< m
  Time every = 3s;

  static constexpr auto kind = "leap";
  static constexpr auto summary = "leaps out of the water again and again";
  static constexpr auto fields = std::tuple{
      field("height", &Leap::height, unit::length, "how high it leaps", slider(0, 3)),
      field("length", &Leap::length, unit::length, "how far it leaps", slider(0, 5)),
      field("every", &Leap::every, unit::seconds, "time from leap to leap, half of which it is in the air"),
  };

  std::optional<Diagnostic> check() const {
    if (every > Time{0}) return std::nullopt;
    return Diagnostic{{}, "there is no time for a leap; give a number above 0.", "every"};
  }

  Pose apply(const Pose& in, const Moment& now) const {
    const double leaps = now.since_start / in_seconds(every), part = std::min(2.0 * (leaps - std::floor(leaps)), 1.0);
    Pose out = in;
    out.position += Vec3{0, 4 * height * part * (1 - part), length * (std::floor(leaps) + part)};
    return out;
  }
};

constexpr auto bay = R"(hushed = 1
[object.mullet]
[[object.mullet.behaviour]]
kind   = "leap"
height = 1.5

[[rule]]
name = "tires"
when = { after = 4 }
do   = { set = "mullet.leap.height", to = 0.5 }
)";

int main() {
  Kinds mine;
  mine.add<Leap>();
  Scene scene = std::move(read_scene_text(bay, "bay.toml", {.kinds = &mine}).scene);
  const Object mullet = *scene.find("mullet");
  for (int i = 0; i < 8; ++i) {
    scene.advance(750ms);
    const Vec3 there = scene.world(mullet).position;
    std::printf("%.2f s: height %.2f, %.2f m on\n", in_seconds(scene.time()), there.y(), there.z());
  }
  try {
    (void)read_scene_text(std::string{bay} + "[object.bass]\n[[object.bass.behaviour]]\nkind = \"leap\"\nhieght = 2\n",
                          "bay.toml", {.kinds = &mine});
  } catch (const LoadError& error) {
    std::printf("%s\n", error.what());
  }
}

// Prints:
// 0.75 s: height 1.50, 1.00 m on
// 1.50 s: height 0.00, 2.00 m on
// 2.25 s: height 0.00, 2.00 m on
// 3.00 s: height 0.00, 2.00 m on
// 3.75 s: height 1.50, 3.00 m on
// 4.50 s: height 0.00, 4.00 m on
// 5.25 s: height 0.00, 4.00 m on
// 6.00 s: height 0.00, 4.00 m on
// bay.toml:14:1: bass.leap: unknown key "hieght"; did you mean "height"?
