// SPDX-License-Identifier: MIT
#pragma once

// Marks objects and all objects that depend on them.

#include "check/checked.hpp"

namespace hushed::detail {

/// A mark for each object.
class Marks {
 public:
  explicit Marks(const Played& played) : played_{played}, marked_(played.objects.size(), false) {}

  void mark(Object object) {
    if (const std::size_t number = number_of(object); number < marked_.size()) marked_[number] = true;
  }
  void mark(std::string_view name) {
    if (const auto found = played_.scene.find(name)) mark(*found);
  }
  /// Marks all objects that depend on a marked one: its children, and objects whose behaviours read it.
  std::vector<bool> spread() {
    const auto depends = [this](Object object) {
      const auto is_marked = [this](Object on) { return number_of(on) < marked_.size() && marked_[number_of(on)]; };
      const Scene& scene = played_.scene;
      if (const auto parent = scene.parent(object); parent && is_marked(*parent)) return true;
      const auto stack = scene.behaviours(object);
      return std::any_of(stack.begin(), stack.end(), [&](AnyBehaviour behaviour) {
        const auto dependencies = scene.dependencies(behaviour);
        return std::any_of(dependencies.begin(), dependencies.end(), is_marked);
      });
    };
    for (bool more = true; more;) {
      more = false;
      for (std::size_t i = 0; i < marked_.size(); ++i)
        if (!marked_[i] && played_.scene.alive(played_.objects[i]) && depends(played_.objects[i]))
          marked_[i] = more = true;
    }
    return std::move(marked_);
  }

 private:
  std::size_t number_of(Object object) const {
    return static_cast<std::size_t>(std::find(played_.objects.begin(), played_.objects.end(), object) -
                                    played_.objects.begin());
  }

  const Played& played_;
  std::vector<bool> marked_;
};

}  // namespace hushed::detail
