// SPDX-License-Identifier: MIT
#include "scene/drafts.hpp"

#include <algorithm>
#include <set>

#include <hushed/name.hpp>

namespace hushed::detail {

void check_name(TableReader& table, TextPlace place, std::string_view name, std::string_view of_what) {
  if (const auto wrong = wrong_with_name(name, of_what)) table.report(place, *wrong);
}

void read_ignored(const Value& value, const std::string& whose, std::vector<IgnoredFinding>& ignored,
                  Diagnostics& diagnostics) {
  const auto* reasons = value.as<Value::Table>();
  if (!reasons) {
    diagnostics.push_back(
        {value.place, whose + ": ignore: expected a table of codes and reasons, such as { rings = \"a bell does\" }."});
    return;
  }
  std::vector<std::string_view> codes;
  for (const FindingCode& each : finding_codes()) codes.push_back(each.code);
  for (const Value::Entry& entry : *reasons) {
    const auto* reason = entry.value.as<std::string>();
    if (std::find(codes.begin(), codes.end(), entry.key) == codes.end())
      diagnostics.push_back({entry.place, whose + ": ignore: `hushed check` has no finding " + in_quotes(entry.key) +
                                              suggestion(entry.key, codes)});
    else if (!reason || reason->empty())
      diagnostics.push_back({entry.value.place, whose + ": ignore: the reason is missing; give the reason why " +
                                                    entry.key + " is right here, in quotes."});
    else
      ignored.push_back({whose, entry.key, *reason});
  }
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

std::string NamesInFile::suggest(std::string_view name) const {
  auto& known = once_.suggestions;
  if (const auto found = known.find(name); found != known.end()) return found->second;
  return known.emplace(name, SceneNames::suggest(name)).first->second;
}

ObjectList NamesInFile::tagged(std::string_view tag) const {
  if (const auto known = once_.tagged.find(tag); known != once_.tagged.end()) return known->second;
  std::vector<Object> found;
  for (const ObjectDraft& draft : drafts_) {
    const auto& tags = draft.object.tags;
    if (std::find(tags.begin(), tags.end(), tag) != tags.end()) found.push_back(object(draft.object.name));
  }
  ObjectList list = found.empty() ? nullptr : std::make_shared<const std::vector<Object>>(std::move(found));
  return once_.tagged.emplace(tag, std::move(list)).first->second;
}

std::vector<std::string_view> NamesInFile::tags() const {
  if (!once_.tags) {
    std::set<std::string_view> all;
    for (const ObjectDraft& draft : drafts_) all.insert(draft.object.tags.begin(), draft.object.tags.end());
    once_.tags.emplace(all.begin(), all.end());
  }
  return *once_.tags;
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

}  // namespace hushed::detail
