// SPDX-License-Identifier: MIT
// Scripts: whatever the text is, it is refused with a place, or plays within its budget.

#include <cmath>

#include <hushed/hushed.hpp>
#include <hushed/own.hpp>
#include <hushed/script.hpp>

#include "fuzz.hpp"

extern "C" int LLVMFuzzerTestOneInput(const std::uint8_t* data, std::size_t size) {
  using namespace hushed;
  if (size > 4096) return 0;
  Kinds kinds;
  add_scripts(kinds);
  std::vector<Diagnostic> mistakes;
  const auto kind = kinds.load("fuzz.lua", fuzz::text_of(data, size), {}, mistakes);
  if ((kind == nullptr) != !mistakes.empty()) std::abort();
  for (const Diagnostic& mistake : mistakes)
    if (mistake.place.line < 1 || mistake.text.empty()) std::abort();
  if (!kind) return 0;

  Scene scene;
  const Object buoy = scene.add({.name = "buoy"}), mast = scene.add({.rest = at(0, 3, 0)});
  const auto values = kind->make(nullptr);
  if (const FieldInfo* aim = detail::aim_of(*kind)) aim->aim(values.get(), mast);
  try {
    scene.give(buoy, detail::AnyValues{*kind, values.get()}, {});
  } catch (const BadValue&) {  // it needs more objects
    return 0;
  }
  scene.advance(seconds(0.03));
  if (!scene.world(buoy).position.allFinite()) std::abort();
  return 0;
}
