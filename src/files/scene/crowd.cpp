// SPDX-License-Identifier: MIT
#include "scene/crowd.hpp"

#include <algorithm>
#include <optional>

#include <hushed/seeded.hpp>

namespace hushed::detail {

namespace {

struct SeedFound {
  const FieldInfo* field;
  std::int64_t value;
};

std::optional<SeedFound> seed_of(const BehaviourDraft& behaviour) {
  for (const FieldInfo& field : behaviour.kind->fields()) {
    if (field.name != "seed") continue;
    const auto value = field.get(behaviour.values.get());
    if (value && value->as<std::int64_t>()) return SeedFound{&field, *value->as<std::int64_t>()};
  }
  return std::nullopt;
}

/// As the first one has them, but for seeds, which are counted on.
std::vector<BehaviourDraft> copies(const std::vector<BehaviourDraft>& behaviours, std::int64_t number) {
  std::vector<BehaviourDraft> made;
  for (const BehaviourDraft& behaviour : behaviours) {
    BehaviourDraft& copy = made.emplace_back(behaviour);
    copy.values = behaviour.kind->make(behaviour.values.get());
    if (const auto seed = seed_of(copy)) (void)seed->field->set(copy.values.get(), Value{seed->value + number});
  }
  return made;
}

}  // namespace

std::vector<ObjectDraft> read_crowd(const Value::Entry& entry, ObjectReading& reading) {
  TableReader table{entry.value, entry.key, reading.diagnostics};
  check_name(table, entry.place, entry.key, "a crowd");
  const std::size_t before = reading.diagnostics.size();
  std::int64_t count = 0, seed = 0;
  Box box;
  const auto needs = [&](std::string_view key, std::string_view example) {
    if (!table.has(key)) table.report(entry.place, in_quotes(key) + " is missing; give " + std::string{example} + ".");
  };
  needs("count", "the number of members, such as count = 12");
  needs("box", "the box in which they start, such as box = [[-5, 0, -5], [5, 0, 5]]");
  constexpr Unit how_many{"", 1.0, 100'000.0};
  table.read("count", how_many, count);
  table.read("seed", unit::none, seed);
  if (table.read("box", unit::metres, box) &&
      (!box.min.allFinite() || !box.max.allFinite() || (box.min.array() > box.max.array()).any()))
    table.report(table.find("box")->value.place, "box: give two corners, the lower numbers first, without inf.");
  if (const auto* position = table.find("position"))
    table.report(position->place,
                 "position: not allowed here, because members start at random places in the box; remove it.");
  const std::size_t first_ignored = reading.ignored.size();
  const ObjectDraft one = read_object(table, entry.key, entry.place, reading);
  const std::size_t ignored = reading.ignored.size() - first_ignored;
  if (reading.diagnostics.size() != before) count = std::min<std::int64_t>(count, 1);

  std::vector<ObjectDraft> members;
  for (std::int64_t number = 1; number <= count; ++number) {
    ObjectDraft& member = members.emplace_back(one);
    member.object.name = entry.key + '-' + std::to_string(number);
    for (int i = 0; i < 3; ++i) {
      const auto drawn = static_cast<std::uint64_t>(3 * (number - 1) + i);
      member.object.rest.position[i] =
          box.min[i] + (box.max[i] - box.min[i]) * seeded_number(static_cast<std::uint64_t>(seed), drawn);
    }
    member.behaviours = copies(one.behaviours, number - 1);
    for (BehaviourDraft& behaviour : member.behaviours) {
      behaviour.whose = member.object.name + '.' + std::string{behaviour.name()};
      if (const auto own = seed_of(behaviour))
        for (ObjectDraft::Use& use : member.uses)
          if (use.preset == behaviour.preset)
            use.own.push_back({std::string{behaviour.name()} + ".seed", Value{own->value}});
    }
    for (std::size_t i = 0; i < ignored; ++i) {
      IgnoredFinding ignore = reading.ignored[first_ignored + i];
      ignore.object = member.object.name;
      reading.ignored.push_back(std::move(ignore));
    }
  }
  return members;
}

}  // namespace hushed::detail
