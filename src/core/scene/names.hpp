// SPDX-License-Identifier: MIT
#pragma once

// Resolves the names in the values of behaviours and in rules.

#include <hushed/detail/scene_names.hpp>

#include "scene/registry.hpp"

namespace hushed::detail {

class NamesInScene final : public SceneNames {
 public:
  /// The names for a behaviour of `object`, or for a rule where it is none. A behaviour that reads the last tick is not
  /// evaluated after objects with a tag, and may get an older list of them.
  explicit NamesInScene(const Registry& registry, Index object = none, Reads reads = Reads::now)
      : registry_{registry}, object_{object}, reads_{reads} {}
  /// For a behaviour that plays: its values may go on naming objects that have ended.
  static NamesInScene with_lost(const Registry& registry, Index object, Reads reads) {
    NamesInScene names{registry, object, reads};
    names.keeps_lost_ = true;
    return names;
  }

  Object object(std::string_view name) const override;
  std::vector<std::string_view> objects() const override { return registry_.names(); }
  ObjectList tagged(std::string_view tag) const override {
    return reads_ == Reads::now ? registry_.tags.all(tag, registry_) : registry_.tags.all_of_late(tag, registry_);
  }
  std::vector<std::string_view> tags() const override { return registry_.tags.tags(); }
  bool has_tag(std::string_view tag) const override { return registry_.tags.has(tag); }
  const PoseParts* pose(std::string_view name) const override;
  std::vector<std::string_view> poses() const override;
  std::string name_of(Object object) const override {
    return registry_.alive(object) ? registry_.name(object.index) : "";
  }

  bool keeps_lost() const override { return keeps_lost_; }

  std::string_view own_name() const override {
    return object_ == none ? std::string_view{} : std::string_view{registry_.objects[object_].name};
  }

  std::vector<std::string_view> behaviours_of(Object object) const override;
  const Kind* kind_of(Object object, std::string_view behaviour) const override;
  std::vector<std::string_view> poses_of(Object object) const override;
  std::string path_of(AnyBehaviour behaviour) const override {
    return registry_.alive(behaviour) ? registry_.path_of(behaviour.index) : "";
  }

 private:
  const Registry& registry_;
  Index object_;
  Reads reads_;
  bool keeps_lost_ = false;
};

}  // namespace hushed::detail
