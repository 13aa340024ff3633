// SPDX-License-Identifier: MIT
#include "scene/artist_base.hpp"

#include <algorithm>

#include <hushed/colour.hpp>

namespace hushed::detail {

namespace {

constexpr double thinnest = 1e-3;  ///< m: a shape has no side of 0

Value numbers_of(const double* numbers, std::size_t count, TextPlace place) {
  Value::List list;
  for (std::size_t i = 0; i < count; ++i) list.emplace_back(numbers[i], place);
  return Value{std::move(list), place};
}

}  // namespace

ArtistBase::ArtistBase(std::shared_ptr<const ArtistFile> file, TextPlace place)
    : file_{std::move(file)}, place_{place} {}

const Value& ArtistBase::under(const Value* objects) {
  Value::Table all;
  std::map<std::string, std::size_t, std::less<>> numbers;
  const auto add = [&](Value::Table& table, std::string key, Value value) {
    value.place = place_;
    table.push_back({std::move(key), place_, std::move(value)});
  };
  for (const ArtistNode& node : file_->nodes) {
    Value::Table table;
    if (node.parent) add(table, "parent", Value{file_->nodes[*node.parent].name});
    if (!node.pose.position.isZero()) add(table, "position", numbers_of(node.pose.position.data(), 3, place_));
    if (!node.pose.rotation.coeffs().isApprox(Quat::Identity().coeffs(), 0.0))
      add(table, "quaternion", numbers_of(node.pose.rotation.coeffs().data(), 4, place_));
    if (!node.pose.scale.isOnes(0.0)) add(table, "scale", numbers_of(node.pose.scale.data(), 3, place_));
    if (!node.tags.empty()) {
      Value::List tags;
      for (const std::string& tag : node.tags) tags.emplace_back(tag, place_);
      add(table, "tags", Value{std::move(tags)});
    }
    if (node.model) {
      const Vec3 size = (node.bounds.max - node.bounds.min).cwiseMax(thinnest);
      const Vec3 centre = 0.5 * (node.bounds.max + node.bounds.min);
      Value::Table shape;
      add(shape, "kind", Value{std::string{"box"}});
      add(shape, "size", numbers_of(size.data(), 3, place_));
      add(shape, "centre", numbers_of(centre.data(), 3, place_));
      add(shape, "colour", Value{css_of(node.model->parts.front().colour)});
      add(table, "shape", Value{std::move(shape)});
      models_[node.name] = node.model;
    }
    numbers[node.name] = all.size();
    all.push_back({node.name, place_, Value{std::move(table), place_}});
  }
  for (const Value::Entry& given : objects ? *objects->as<Value::Table>() : Value::Table{}) {
    const auto known = numbers.find(given.key);
    const auto* keys = given.value.as<Value::Table>();
    if (known == numbers.end() || !keys) {
      all.push_back(given);
      continue;
    }
    Value::Table merged = *all[known->second].value.as<Value::Table>();
    for (const Value::Entry& key : *keys) {
      if (key.key == "rotation" || key.key == "axis_angle")  // other ways to say what the quaternion says
        std::erase_if(merged, [](const Value::Entry& each) { return each.key == "quaternion"; });
      const auto same =
          std::find_if(merged.begin(), merged.end(), [&](const auto& each) { return each.key == key.key; });
      if (same == merged.end())
        merged.push_back(key);
      else
        *same = key;
      if (key.key == "shape") models_.erase(given.key);
    }
    all[known->second] = {given.key, given.place, Value{std::move(merged), given.value.place}};
  }
  objects_ = Value{std::move(all), objects ? objects->place : place_};
  return objects_;
}

std::vector<std::string> ArtistBase::instanced() const {
  std::vector<std::string> names;
  for (const ArtistNode& each : file_->nodes)
    if (each.is_instance && std::find(names.begin(), names.end(), file_->nodes[*each.parent].name) == names.end())
      names.push_back(file_->nodes[*each.parent].name);
  return names;
}

std::vector<std::string> ArtistBase::instances_of(const std::string& node) const {
  std::vector<std::string> names;
  for (const ArtistNode& each : file_->nodes)
    if (each.is_instance && file_->nodes[*each.parent].name == node) names.push_back(each.name);
  return names;
}

void ArtistBase::dress(NewObject& object) const {
  const auto found = models_.find(object.name);
  if (found != models_.end() && object.shape) object.shape->model = found->second;
}

}  // namespace hushed::detail
