// SPDX-License-Identifier: MIT
// Key files: recorded input.

#include <hushed/hushed.hpp>
#include <hushed/key_file.hpp>
#include <hushed/load.hpp>

#include "fuzz.hpp"

extern "C" int LLVMFuzzerTestOneInput(const std::uint8_t* data, std::size_t size) {
  using namespace hushed;
  if (size > 4096) return 0;
  try {
    Scene scene;
    scene.give(scene.add({.name = "pilot"}), Drive{});
    for (const InputChange& change : read_key_text(fuzz::text_of(data, size), "fuzz.csv")) scene.input(change);
    scene.advance(std::chrono::milliseconds{100});
  } catch (const Error&) {
  }
  return 0;
}
