// SPDX-License-Identifier: MIT
#include "scene/names.hpp"

#include <algorithm>

namespace hushed::detail {

Object NamesInScene::object(std::string_view name) const {
  const Index found = registry_.find(name);
  return found == none ? Object{} : registry_.handle(found);
}

const PoseParts* NamesInScene::pose(std::string_view name) const {
  if (object_ == none) return nullptr;
  for (const PoseParts& pose : registry_.objects[object_].poses)
    if (pose.name == name) return &pose;
  return nullptr;
}

std::vector<std::string_view> NamesInScene::poses() const {
  return object_ == none ? std::vector<std::string_view>{} : poses_of(registry_.handle(object_));
}

std::vector<std::string_view> NamesInScene::behaviours_of(Object object) const {
  std::vector<std::string_view> names;
  registry_.for_stack(object.index, [&](Index behaviour) { names.push_back(registry_.name_of_behaviour(behaviour)); });
  return names;
}

const Kind* NamesInScene::kind_of(Object object, std::string_view behaviour) const {
  const Index found = registry_.find_behaviour(object.index, behaviour);
  return found == none ? nullptr : registry_.behaviours[found].kind;
}

std::vector<std::string_view> NamesInScene::poses_of(Object object) const {
  std::vector<std::string_view> names;
  for (const PoseParts& pose : registry_.objects[object.index].poses) names.push_back(pose.name);
  return names;
}

}  // namespace hushed::detail
