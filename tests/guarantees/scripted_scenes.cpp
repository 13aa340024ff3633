// SPDX-License-Identifier: MIT
// Scripts in the random scenes of these tests: a function of time, and one with memory.

#include <hushed/kinds.hpp>
#include <hushed/script.hpp>

#include "support/random_harbour.hpp"

namespace hushed::tests {
namespace {

constexpr const char* leaning = R"(
fields = { { "beside", object }, { "height", 0.4, range = { 0, 9 } }, { "turns", words{"left", "right"} } }
local sides = { -1, 1 }
function apply(pose, now, my)
  local side = sides[2]
  if my.turns == "left" then side = sides[1] end
  local there = where(my.beside)
  pose.position = pose.position + vector(0, my.height * sin(200 * now.since_start), 0) + (there - pose.position) / 8
  pose.rotation = rotation(vector(1, 2, 3 * side), 90 * now.since_start * random(3)) * pose.rotation
end
)";

constexpr const char* hauling = R"(
fields = { { "beside", object }, { "half_life", 0.3, range = { 0.01, 9 } } }
memory = { place = vector(0, 0, 0), turns = 0 }
function begin(pose, now, my, kept) kept.place = pose.position end
local function share(now, my) return exp2(-now.step / my.half_life) end
function apply(pose, now, my, kept)
  local there, turn = pose_of(my.beside)
  kept.place = mix(there + vector(0, 1, 0), kept.place, share(now, my))
  kept.turns = kept.turns + now.step
  pose.position = kept.place
  pose.rotation = rotation(vector(0, 1, 0), 20 * kept.turns) * turn
end
)";

std::shared_ptr<const detail::Kind> kind_of_script(const char* name, const char* text) {
  Kinds kinds;
  add_scripts(kinds);
  std::vector<Diagnostic> mistakes;
  auto kind = kinds.load(name, text, {}, mistakes);
  for (const Diagnostic& mistake : mistakes) ADD_FAILURE() << name << ": " << mistake.sentence();
  return kind;
}

void give(Scene& harbour, Object object, Object beside, const Common& common) {
  static KindInVersions of_time, with_memory;
  const auto& kind = common.fade > Time{0} ? of_time.made_by([] { return kind_of_script("leaning.lua", leaning); })
                                           : with_memory.made_by([] { return kind_of_script("hauling.lua", hauling); });
  const auto values = kind->make(nullptr);
  static_cast<RuntimeValues*>(values.get())->objects[0] = beside;
  harbour.give(object, detail::AnyValues{*kind, values.get()}, common);
}

const bool is_set = (RandomHarbour::give_script() = give, true);

}  // namespace
}  // namespace hushed::tests
