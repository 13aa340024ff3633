// SPDX-License-Identifier: MIT
// Watches, and lists of them.

#include <hushed/hushed.hpp>
#include <hushed/watch.hpp>

#include "fuzz.hpp"

extern "C" int LLVMFuzzerTestOneInput(const std::uint8_t* data, std::size_t size) {
  using namespace hushed;
  static const Scene scene = [] {
    Scene made;
    const Object lamp = made.add({.name = "lamp"});
    made.add({.name = "tug", .parent = lamp});
    return made;
  }();
  if (size > 512) return 0;
  for (const std::string& text : split_watches(std::string{fuzz::text_of(data, size)})) {
    try {
      const Watch watch{text, scene};
      std::vector<double> numbers;
      if (watch.needs_past())
        watch.read_motion(Watch::motion({}, {}, {}), numbers);
      else
        watch.read(scene, numbers);
      if (numbers.size() != watch.columns().size()) std::abort();
    } catch (const Error&) {
    }
  }
  return 0;
}
