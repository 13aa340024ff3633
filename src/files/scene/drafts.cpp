#include "scene/drafts.hpp"

#include <algorithm>
#include <set>

#include <hushed/name.hpp>

namespace hushed::inside {

void check_name(TableReader& table, TextPlace place, std::string_view name, std::string_view of_what) {
  if (const auto wrong = wrong_with_name(name, of_what)) table.complain(place, *wrong);
}

Object NamesInFile::object(std::string_view name) const {
  const auto found = numbers_.find(std::string{name});
  return found == numbers_.end() ? Object{} : Object{static_cast<std::uint32_t>(found->second), 1, 0};
}

std::vector<std::string_view> NamesInFile::objects() const {
  std::vector<std::string_view> names;
  for (const ObjectDraft& draft : drafts_) names.push_back(draft.object.name);
  return names;
}

std::vector<Object> NamesInFile::tagged(std::string_view tag) const {
  std::vector<Object> found;
  for (const ObjectDraft& draft : drafts_) {
    const auto& tags = draft.object.tags;
    if (&draft != draft_ && std::find(tags.begin(), tags.end(), tag) != tags.end())
      found.push_back(object(draft.object.name));
  }
  return found;
}

std::vector<std::string_view> NamesInFile::tags() const {
  std::set<std::string_view> all;
  for (const ObjectDraft& draft : drafts_) all.insert(draft.object.tags.begin(), draft.object.tags.end());
  return {all.begin(), all.end()};
}

const PoseParts* NamesInFile::pose(std::string_view name) const {
  if (!draft_) return nullptr;
  for (const PoseParts& pose : draft_->object.poses)
    if (pose.name == name) return &pose;
  return nullptr;
}

std::vector<std::string_view> NamesInFile::poses() const {
  return draft_ ? poses_of(*draft_) : std::vector<std::string_view>{};
}

std::vector<std::string_view> NamesInFile::behaviours_of(Object object) const {
  std::vector<std::string_view> names;
  for (const BehaviourDraft& behaviour : drafts_[object.index].behaviours) names.push_back(behaviour.name());
  return names;
}

const Kind* NamesInFile::kind_of(Object object, std::string_view name) const {
  for (const BehaviourDraft& behaviour : drafts_[object.index].behaviours)
    if (behaviour.name() == name) return behaviour.kind;
  return nullptr;
}

std::vector<std::string_view> NamesInFile::poses_of(const ObjectDraft& draft) {
  std::vector<std::string_view> names;
  for (const PoseParts& pose : draft.object.poses) names.push_back(pose.name);
  return names;
}

}  // namespace hushed::inside
