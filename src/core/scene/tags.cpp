// SPDX-License-Identifier: MIT
#include "scene/tags.hpp"

#include <algorithm>

#include "scene/registry.hpp"

namespace hushed::detail {

void TagIndex::add(const std::vector<std::string>& tags, Object object, const Registry& registry) {
  for (const std::string& tag : tags) {
    Members& members = members_[tag];
    members.ever.push_back(object);
    ++members.there;
    ++edition_;
    members.has_changed = true;
    if (members.ever.size() > 64 + 2 * members.there) make_list(tag, members, registry);  // most of them have ended
  }
}

void TagIndex::remove(const std::vector<std::string>& tags) {
  for (const std::string& tag : tags) {
    Members& members = members_[tag];
    --members.there;
    ++edition_;
    members.has_changed = true;
  }
}

bool TagIndex::has(std::string_view tag) const {
  const auto found = members_.find(tag);
  return found != members_.end() && found->second.there > 0;
}

std::vector<std::string_view> TagIndex::tags() const {
  std::vector<std::string_view> all;
  for (const auto& [tag, members] : members_)
    if (members.there > 0) all.push_back(tag);
  return all;
}

void TagIndex::make_list(std::string_view tag, Members& members, const Registry& registry) {
  std::erase_if(members.ever, [&](Object object) {
    if (!registry.alive(object)) return true;
    const auto& tags = registry.objects[object.index].tags;
    return std::find(tags.begin(), tags.end(), tag) == tags.end();
  });
  std::sort(members.ever.begin(), members.ever.end(), [&](Object a, Object b) {
    const int order = registry.objects[a.index].name.compare(registry.objects[b.index].name);
    return order != 0 ? order < 0 : a.index < b.index;
  });
  members.ever.erase(std::unique(members.ever.begin(), members.ever.end()), members.ever.end());
  if (!members.list || *members.list != members.ever)
    members.list = std::make_shared<const std::vector<Object>>(members.ever);
  members.has_changed = false;
}

ObjectList TagIndex::all(std::string_view tag, const Registry& registry) const {
  if (!has(tag)) return nullptr;
  Members& members = members_.find(tag)->second;
  if (members.has_changed) make_list(tag, members, registry);
  return members.list;
}

ObjectList TagIndex::all_of_late(std::string_view tag, const Registry& registry) const {
  if (!has(tag)) return nullptr;
  const ObjectList& list = members_.find(tag)->second.list;
  return list ? list : all(tag, registry);
}

}  // namespace hushed::detail
