// SPDX-License-Identifier: MIT
#include "scene/crowd.hpp"

#include <algorithm>
#include <optional>

#include <hushed/seeded.hpp>

#include "scene/behaviour_reader.hpp"

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

/// Gives a member the behaviours of the crowd; `number` is counted from 0.
void give(ObjectDraft& member, const ObjectDraft& one, std::int64_t number) {
  member.behaviours = copies(one.behaviours, number);
  member.uses = one.uses;
  member.from_keys = one.from_keys;
  for (BehaviourDraft& behaviour : member.behaviours) {
    behaviour.whose = member.object.name + '.' + std::string{behaviour.name()};
    if (const auto own = seed_of(behaviour))
      for (ObjectDraft::Use& use : member.uses)
        if (use.preset == behaviour.preset)
          use.own.push_back({std::string{behaviour.name()} + ".seed", Value{own->value}});
  }
}

/// What is ignored of the crowd is ignored of a member. `first` and `count`: of the crowd's in `reading.ignored`.
void ignore(const ObjectDraft& member, ObjectReading& reading, std::size_t first, std::size_t count) {
  for (std::size_t i = 0; i < count; ++i) {
    IgnoredFinding finding = reading.ignored[first + i];
    finding.object = member.object.name;
    reading.ignored.push_back(std::move(finding));
  }
}

/// Of one object: behaviours from keys, then those of presets, then all others; those of the crowd first in each.
std::vector<BehaviourDraft> stacked(const ObjectDraft& crowd, const ObjectDraft& own) {
  std::vector<BehaviourDraft> all;
  const auto take = [&all](const ObjectDraft& draft, int which) {
    for (std::size_t i = 0; i < draft.behaviours.size(); ++i) {
      const bool is_from_key = static_cast<std::ptrdiff_t>(i) < draft.from_keys;
      const int kind = is_from_key ? 0 : draft.behaviours[i].preset.empty() ? 2 : 1;
      if (kind == which) all.push_back(draft.behaviours[i]);
    }
  };
  for (int which = 0; which < 3; ++which)
    for (const ObjectDraft* const draft : {&crowd, &own}) take(*draft, which);
  return all;
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
    give(member, one, number - 1);
    ignore(member, reading, first_ignored, ignored);
  }
  return members;
}

void give_to_instances(const Value::Entry& entry, std::span<ObjectDraft* const> instances, ObjectReading& reading) {
  TableReader table{entry.value, entry.key, reading.diagnostics};
  for (const std::string_view key : {"count", "seed", "box", "parent", "position", "rotation", "quaternion",
                                     "axis_angle", "scale", "inherit", "shape", "pose"})
    if (const auto* given = table.find(key))
      table.report(given->place, std::string{key} +
                                     ": the artist's file says it for each instance; give it to one, as [object." +
                                     instances.front()->object.name + "], or remove it.");
  const std::size_t first_ignored = reading.ignored.size();
  const ObjectDraft one = read_object(table, entry.key, entry.place, reading);
  const std::size_t ignored = reading.ignored.size() - first_ignored;
  for (std::size_t number = 0; number < instances.size(); ++number) {
    ObjectDraft& member = *instances[number];
    ObjectDraft given{entry.place, {}, {}, {}, {}, 0, {}};
    given.object.name = member.object.name;
    give(given, one, static_cast<std::int64_t>(number));
    member.behaviours = stacked(given, member);
    member.from_keys += given.from_keys;
    member.uses.insert(member.uses.begin(), given.uses.begin(), given.uses.end());
    for (const std::string& tag : one.object.tags)
      if (std::find(member.object.tags.begin(), member.object.tags.end(), tag) == member.object.tags.end())
        member.object.tags.push_back(tag);
    check_names(member.behaviours, member.object.name, reading.diagnostics);
    ignore(member, reading, first_ignored, ignored);
  }
}

}  // namespace hushed::detail
