#include "stage/names.hpp"

#include <algorithm>

namespace hushed::inside {

Object NamesInScene::object(std::string_view name) const {
  const Index found = cast_.find(name);
  return found == none ? Object{} : cast_.handle(found);
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
