// SPDX-License-Identifier: MIT
#include "scene/nearest.hpp"
#include "lanes/conversions.hpp"

#include <algorithm>

namespace hushed::detail {

void Nearest::plan() {
  known_.clear();
  for (const BehaviourRecord& behaviour : registry_.behaviours) {
    if (!behaviour.in_use || behaviour.common.reads != Reads::last_tick) continue;
    for (const ObjectList& list : behaviour.dependencies.lists) {
      const auto is_it = [&](const Known& known) { return known.list == list; };
      if (std::any_of(known_.begin(), known_.end(), is_it)) continue;
      known_.emplace_back().list = list;
      known_.back().tree.reserve(list->size());
    }
  }
}

void Nearest::update(bool before) noexcept {
  for (Known& known : known_) update(known, before);
}

void Nearest::update(Known& known, bool before) const noexcept {
  if (known.edition == ticks_.edition && known.presence_edition == registry_.presence_edition && known.before == before)
    return;
  known.edition = ticks_.edition;
  known.presence_edition = registry_.presence_edition;
  known.before = before;
  known.tree.clear();
  const auto& poses = before ? ticks_.before : ticks_.last;
  for (std::uint32_t number = 0; number < known.list->size(); ++number) {
    const Object object = (*known.list)[number];
    if (registry_.is_there(object) && ticks_.knows(object.index))
      known.tree.add(numbers(poses[ticks_.place_of(object.index)].position), number);
  }
  known.tree.build();
}

std::optional<Object> Nearest::find(const ObjectList& list, const VecOf<double>& point, Object owner,
                                    bool before) const noexcept {
  const auto known = std::find_if(known_.begin(), known_.end(), [&](const Known& each) { return each.list == list; });
  if (known == known_.end()) return std::nullopt;
  update(*known, before);
  const std::uint32_t found =
      known->tree.nearest(point, [&](std::uint32_t number) { return (*list)[number] != owner; });
  return found == PointTree::none ? Object{} : (*list)[found];
}

}  // namespace hushed::detail
