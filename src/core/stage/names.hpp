#pragma once

// The names of a scene, as the values of its behaviours and its rules ask for them.

#include <hushed/inside/scene_names.hpp>

#include "stage/cast.hpp"

namespace hushed::inside {

class NamesInScene final : public SceneNames {
 public:
  /// What a behaviour of one object may name; of none, what a rule may.
  explicit NamesInScene(const Cast& cast, Index object = none) : cast_{cast}, object_{object} {}

  Object object(std::string_view name) const override;
  std::vector<std::string_view> objects() const override { return cast_.names(); }
  std::vector<Object> tagged(std::string_view tag) const override;
  std::vector<std::string_view> tags() const override;
  bool has_tag(std::string_view tag) const override;
  const PoseParts* pose(std::string_view name) const override;
  std::vector<std::string_view> poses() const override;
  std::string name_of(Object object) const override { return cast_.alive(object) ? cast_.name(object.index) : ""; }

  std::vector<std::string_view> behaviours_of(Object object) const override;
  const Kind* kind_of(Object object, std::string_view behaviour) const override;
  std::vector<std::string_view> poses_of(Object object) const override;
  std::string path_of(AnyBehaviour behaviour) const override {
    return cast_.alive(behaviour) ? cast_.path_of(behaviour.index) : "";
  }

 private:
  const Cast& cast_;
  Index object_;
};

}  // namespace hushed::inside
