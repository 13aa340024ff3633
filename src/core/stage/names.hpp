#pragma once

// The names of a scene, as the values of its behaviours and its rules ask for them.

#include <hushed/inside/scene_names.hpp>

#include "stage/cast.hpp"

namespace hushed::inside {

class NamesInScene final : public SceneNames {
 public:
  /// What a behaviour of one object may name; of none, what a rule may. Who reads the last tick does not come after
  /// those with a tag, and may learn of the newest of them later.
  explicit NamesInScene(const Cast& cast, Index object = none, Reads reads = Reads::now)
      : cast_{cast}, object_{object}, reads_{reads} {}

  Object object(std::string_view name) const override;
  std::vector<std::string_view> objects() const override { return cast_.names(); }
  ObjectList tagged(std::string_view tag) const override {
    return reads_ == Reads::now ? cast_.tags.all(tag, cast_) : cast_.tags.all_of_late(tag, cast_);
  }
  std::vector<std::string_view> tags() const override { return cast_.tags.tags(); }
  bool has_tag(std::string_view tag) const override { return cast_.tags.has(tag); }
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
  Reads reads_;
};

}  // namespace hushed::inside
