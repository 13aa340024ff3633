// SPDX-License-Identifier: MIT
#pragma once

// A value of a scene by its path, or one number inside it. In the library HushedOrbit::study.

#include <optional>
#include <string>
#include <vector>

#include <hushed/detail/export.hpp>
#include <hushed/scene.hpp>
#include <hushed/value.hpp>

namespace hushed HUSHED_API {

/// What a sweep varies, and what `solve` changes.
class OneValue {
 public:
  /// `path`: as for `Scene::set`, or something inside a value: "boat.travel.velocity.x", "boat.glide.to.position.x",
  /// "ferry.route.points.2.x" (lists count from 0). Throws `BadValue` where the scene has none.
  OneValue(std::string path, const Scene& scene);

  const std::string& path() const { return path_; }
  const std::string& whole_path() const { return whole_; }  ///< of the value that it is inside of
  /// The value at `whole_path` with another number inside; `value` itself where it is no number inside one. Throws
  /// `BadValue` for a text in the place of a number.
  Value whole_with(const Scene& scene, const Value& value) const;
  /// Sets it, as `Scene::set` does.
  void set(Scene& scene, const Value& value) const;
  /// Nothing where it is left out.
  std::optional<Value> get(const Scene& scene) const;
  /// Throws `BadValue` where it is no number.
  double number(const Scene& scene) const;

 private:
  std::string path_, whole_;
  std::vector<std::string> inside_;
};

}  // namespace hushed
