// SPDX-License-Identifier: MIT
#pragma once

// Finds everything that rules name: objects, behaviours and poses.

#include <string_view>
#include <vector>

#include <hushed/detail/export.hpp>
#include <hushed/detail/reading.hpp>

namespace hushed HUSHED_API {
namespace detail {

class Kind;

class SceneNames : public Names {
 public:
  virtual std::vector<std::string_view> behaviours_of(Object object) const = 0;
  /// The kind of the behaviour of that name, or nullptr.
  virtual const Kind* kind_of(Object object, std::string_view behaviour) const = 0;
  virtual std::vector<std::string_view> poses_of(Object object) const = 0;
  /// The path of a behaviour: "lamp.spin".
  virtual std::string path_of(AnyBehaviour behaviour) const = 0;

 protected:
  ~SceneNames() = default;
};

}  // namespace detail
}  // namespace hushed
