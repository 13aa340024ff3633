// SPDX-License-Identifier: MIT
// One preset for several boats. One boat has its own value; tuning the preset moves the others.

#include <cstdio>
#include <vector>

#include <hushed/hushed.hpp>

using namespace hushed;

int main() {
  Scene harbour;
  harbour.add_to_preset("bobbing", Sway{.amplitude = {0, 0.1, 0}, .frequency = 0.4});
  const std::vector<OwnValue> light{{"sway.frequency", Value{0.7}}};
  for (const char* boat : {"gig", "punt", "dory"})
    harbour.use(harbour.add({.name = boat}), "bobbing", boat == std::string{"punt"} ? light : std::vector<OwnValue>{});

  const auto show = [&](const char* what) {
    std::printf("%-20s", what);
    for (const char* boat : {"gig", "punt", "dory"})
      std::printf("  %s %.1f Hz", boat, *harbour.get(std::string{boat} + ".sway.frequency")->number());
    std::puts("");
  };
  show("as they are:");
  harbour.set("preset.bobbing.sway.frequency", Value{0.5});
  show("the preset tuned:");
  harbour.set("gig.sway.frequency", Value{0.3});
  show("the gig tuned:");
  harbour.set("preset.bobbing.sway.frequency", Value{0.6});
  show("the preset again:");
}

// Prints:
// as they are:          gig 0.4 Hz  punt 0.7 Hz  dory 0.4 Hz
// the preset tuned:     gig 0.5 Hz  punt 0.7 Hz  dory 0.5 Hz
// the gig tuned:        gig 0.3 Hz  punt 0.7 Hz  dory 0.5 Hz
// the preset again:     gig 0.3 Hz  punt 0.7 Hz  dory 0.6 Hz
