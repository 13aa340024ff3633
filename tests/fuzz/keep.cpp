// SPDX-License-Identifier: MIT
// Writing tuned values: the first line of the input is "path = value", the rest a scene file. The new text can be read
// back.

#include <cstdlib>

#include <hushed/keep.hpp>
#include <hushed/load.hpp>

#include "fuzz.hpp"

extern "C" int LLVMFuzzerTestOneInput(const std::uint8_t* data, std::size_t size) {
  using namespace hushed;
  if (size > 4096) return 0;
  const std::string_view all = fuzz::text_of(data, size);
  const std::size_t line = all.find('\n'), equals = all.find(" = ");
  if (line == all.npos || equals == all.npos || equals > line) return 0;
  try {
    const ValueToKeep value{std::string{all.substr(0, equals)}, parse_value(all.substr(equals + 3, line - equals - 3))};
    const KeepPlan plan = plan_keep(SceneSource{fuzz::file_with(all.substr(line + 1), ".toml")}, {&value, 1});
    for (const SceneSource::File& file : plan.after) SceneSource{fuzz::file_with(file.text, ".kept.toml")};
  } catch (const Error&) {
  }
  return 0;
}
