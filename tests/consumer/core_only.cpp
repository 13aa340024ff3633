// SPDX-License-Identifier: MIT
// A game that uses the core only, compiled without exceptions and without run-time type information.

#include <cstdio>

#include <hushed/fwd.hpp>
#include <hushed/hushed.hpp>
#include <hushed/own.hpp>

using namespace hushed;
using namespace std;  // no name of the library collides

static_assert(HUSHED_VERSION >= 100 && version_minor == 1);

struct Bob {
  double height = 1.0;
  std::string label = "bob";
  Easing easing = {};  // types of the library have functions that a shared library must export
  Box within = {};
  Pose apply(const Pose& in, const Moment& now) const {
    return in.with_position(in.position + axis::up * (height * now.since_start));
  }
  static constexpr auto fields = std::tuple{field("height", &Bob::height, unit::metres, "how far it rises a second"),
                                            field("label", &Bob::label, unit::none, "what it is called"),
                                            field("easing", &Bob::easing, unit::none, "how it rises"),
                                            field("within", &Bob::within, unit::metres, "where it stays")};
};

int main() {
  Scene harbour;
  const Object buoy = harbour.add({.name = "buoy"});
  harbour.give(buoy, Bob{});
  harbour.give(buoy, Bob{2.0});  // two behaviours without a name do not collide
  harbour.set("buoy.own-2.label", Value{std::string{"second"}});
  harbour.advance(chrono::seconds{1});
  std::printf("the buoy is %.0f m up\n", harbour.world(buoy).position.y());
}
