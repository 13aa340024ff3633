#include "stage/names.hpp"

#include <algorithm>

namespace hushed::inside {

Object NamesInScene::object(std::string_view name) const {
  const Index found = cast_.find(name);
  return found == none ? Object{} : cast_.handle(found);
}

std::vector<Object> NamesInScene::tagged(std::string_view tag) const {
  std::vector<Object> found;
  for (Index i = 0; i < cast_.objects.size(); ++i) {
    const ObjectRecord& object = cast_.objects[i];
    if (i == object_ || !object.in_use || object.ended) continue;
    if (std::find(object.tags.begin(), object.tags.end(), tag) != object.tags.end()) found.push_back(cast_.handle(i));
  }
  std::stable_sort(found.begin(), found.end(),
                   [&](Object a, Object b) { return cast_.objects[a.index].name < cast_.objects[b.index].name; });
  return found;
}

std::vector<std::string_view> NamesInScene::tags() const {
  std::vector<std::string_view> all;
  for (const ObjectRecord& object : cast_.objects)
    if (object.in_use && !object.ended) all.insert(all.end(), object.tags.begin(), object.tags.end());
  std::sort(all.begin(), all.end());
  all.erase(std::unique(all.begin(), all.end()), all.end());
  return all;
}

bool NamesInScene::has_tag(std::string_view tag) const {
  return std::any_of(cast_.objects.begin(), cast_.objects.end(), [&](const ObjectRecord& object) {
    return object.in_use && !object.ended &&
           std::find(object.tags.begin(), object.tags.end(), tag) != object.tags.end();
  });
}

const PoseParts* NamesInScene::pose(std::string_view name) const {
  if (object_ == none) return nullptr;
  for (const PoseParts& pose : cast_.objects[object_].poses)
    if (pose.name == name) return &pose;
  return nullptr;
}

std::vector<std::string_view> NamesInScene::poses() const {
  return object_ == none ? std::vector<std::string_view>{} : poses_of(cast_.handle(object_));
}

std::vector<std::string_view> NamesInScene::behaviours_of(Object object) const {
  std::vector<std::string_view> names;
  cast_.for_stack(object.index, [&](Index behaviour) { names.push_back(cast_.name_of_behaviour(behaviour)); });
  return names;
}

const Kind* NamesInScene::kind_of(Object object, std::string_view behaviour) const {
  const Index found = cast_.find_behaviour(object.index, behaviour);
  return found == none ? nullptr : cast_.behaviours[found].kind;
}

std::vector<std::string_view> NamesInScene::poses_of(Object object) const {
  std::vector<std::string_view> names;
  for (const PoseParts& pose : cast_.objects[object.index].poses) names.push_back(pose.name);
  return names;
}

}  // namespace hushed::inside
