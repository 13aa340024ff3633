// SPDX-License-Identifier: MIT
#pragma once

#include <filesystem>
#include <string>
#include <vector>

#include <hushed/scene.hpp>

namespace hushed::detail {

/// A kind that an object can be given.
struct StartingKind {
  std::string name, summary;
  std::string keys;  ///< the table that a new behaviour begins with: { kind = "spin", speed = 45 }
};

/// All kinds that the file of a scene may name, and the scripts that the scene uses, with keys that make sense for an
/// object where it is. `folder`: the one of the scene's file.
std::vector<StartingKind> starting_kinds(const Scene& scene, Object object, const std::filesystem::path& folder);

}  // namespace hushed::detail
