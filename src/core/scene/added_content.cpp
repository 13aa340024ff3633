// SPDX-License-Identifier: MIT
#include "scene/added_content.hpp"

#include <tuple>

namespace hushed::detail {

std::vector<std::pair<Index, Index>> AddedContent::add() {
  const Registry& old = old_.registry;
  std::vector<std::pair<Index, Index>> rules;
  const auto for_objects = [&](auto&& visit) {  // parents first
    for (Index top = 0; top < old.objects.size(); ++top)
      if (old.presences[top].is_alive() && old.objects[top].parent == none) old.for_subtree(top, visit);
  };
  for_objects([this](Index index) { add_object(index); });
  add_presets();
  for_objects([&](Index index) { old.for_stack(index, [this](Index b) { add_behaviour(b); }); });
  add_rules(rules);
  return rules;
}

void AddedContent::add_object(Index index) {
  const ObjectRecord& before = old_.registry.objects[index];
  if (before.is_base || registry_.alive(old_.registry.handle(index))) return;
  NewObject object{.name = before.name,
                   .parent = {},
                   .rest = before.rest,
                   .inherit = before.inherit,
                   .tags = before.tags,
                   .shape = before.shape,
                   .poses = before.poses,
                   .number = before.number};
  if (before.parent != none) {
    object.parent = old_.registry.handle(before.parent);
    if (!registry_.alive(*object.parent)) return;  // it is lost with its parent
  }
  registry_.add_again(object, old_.registry.handle(index));
}

void AddedContent::add_presets() {
  for (const PresetRecord& preset : old_presets_.all())
    for (const PresetBehaviour& behaviour : preset.behaviours) {
      if (behaviour.is_base) continue;
      try {
        presets_.add(preset.name, *behaviour.kind, behaviour.values.get(), behaviour.common);
      } catch (const BadValue&) {  // the new scene has one of that name
      }
    }
}

void AddedContent::add_behaviour(Index index) {
  const Registry& old = old_.registry;
  const BehaviourRecord& before = old.behaviours[index];
  if (before.is_base || !registry_.alive(old.handle(before.object))) return;
  const std::string path = old.path_of(index);
  if (registry_.find_behaviour(before.object, old.name_of_behaviour(index)) != none) return;
  const void* values = old.store(before).values(before.row);
  const auto lose = [&](const std::string& why) { lost_.push_back(path + " was not kept: " + why + '.'); };
  if (before.kind->needs_all_dependencies(values))
    for (const Object& target : before.dependencies.each)
      if (old.alive(target) && !registry_.alive(target)) return lose(old.name(target.index) + " no longer exists");
  try {
    BehaviourRecord& record =
        registry_.behaviours[next_.give_again(before.object, *before.kind, values, before.common)];
    record.given = before.given;
    std::tie(record.preset, record.number_in_preset) = preset_of(before);
    if (record.preset != none) record.own = before.own;
  } catch (const DependencyCycle& cycle) {
    lose(cycle.what());
  }
}

std::pair<Index, Index> AddedContent::preset_of(const BehaviourRecord& before) const {
  if (before.preset == none) return {none, 0};
  const PresetRecord& was = old_presets_.all()[before.preset];
  const std::string_view name = name_of(was.behaviours[before.number_in_preset]);
  for (Index number = 0; number < presets_.all().size(); ++number) {
    const PresetRecord& preset = presets_.all()[number];
    for (Index i = 0; preset.name == was.name && i < preset.behaviours.size(); ++i)
      if (name_of(preset.behaviours[i]) == name && preset.behaviours[i].kind == before.kind) return {number, i};
  }
  return {none, 0};
}

void AddedContent::add_rules(std::vector<std::pair<Index, Index>>& added) {
  const Rules& before = old_.rules;
  for (auto number = static_cast<Index>(before.base_count()); number < before.size(); ++number) {
    Rule rule = before.rule(number);
    Rule of_old = rule;
    if (next_.rules.number_of(rule.name) && !before.is_name_chosen(number)) continue;  // the new scene has its own
    if (const auto mistake = next_.rules.resolve_all(rule)) {
      rule = of_old;
      if (!before.resolve_all(of_old)) {
        lost_.push_back("rule " + rule.name + " was not kept: " + mistake->text);
        continue;
      }  // otherwise it refers to something that ended before
    }
    if (next_.rules.number_of(rule.name)) rule.name.clear();
    added.emplace_back(number, next_.rules.add_again(std::move(rule), before.is_name_chosen(number)));
  }
}

}  // namespace hushed::detail
