// SPDX-License-Identifier: MIT
#pragma once

// The objects of an artist's file under those of a scene file.

#include <map>
#include <memory>
#include <string>
#include <vector>

#include <hushed/model.hpp>
#include <hushed/scene.hpp>
#include <hushed/value.hpp>

#include "gltf/artist_file.hpp"

namespace hushed::detail {

class ArtistBase {
 public:
  /// `place`: of its name in the scene file.
  ArtistBase(std::shared_ptr<const ArtistFile> file, TextPlace place);

  /// The table of all objects as a scene file would have it: those of the artist, in which keys of the scene file stand
  /// instead of the same keys; then those of the scene file alone. Valid as long as this is.
  const Value& under(const Value* objects);
  /// The names of the nodes that have instances.
  std::vector<std::string> instanced() const;
  /// The names of the instances of a node, for [crowd.NODE]; empty for other names.
  std::vector<std::string> instances_of(const std::string& node) const;
  /// Gives an object the model that the artist has made, unless it has a shape of the scene file.
  void dress(NewObject& object) const;

 private:
  std::shared_ptr<const ArtistFile> file_;
  TextPlace place_;
  std::map<std::string, std::shared_ptr<const Model>> models_;  ///< by name, of those without another shape
  Value objects_;
};

}  // namespace hushed::detail
