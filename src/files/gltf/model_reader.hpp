// SPDX-License-Identifier: MIT
#pragma once

// The meshes of a glTF file as models, with their base colours and textures.

#include <cstdint>
#include <map>
#include <memory>
#include <string>
#include <vector>

#include <hushed/box.hpp>
#include <hushed/model.hpp>
#include <hushed/vector.hpp>

#include "gltf/accessors.hpp"

namespace hushed::detail {

/// A model, or nullptr where nothing of it can be drawn, and its bounds.
struct BoundedModel {
  std::shared_ptr<const Model> model;
  Box bounds;
};

BoundedModel stretched(const BoundedModel& from, const Vec3& scale);

class ModelReader {
 public:
  /// What is not read is said in `notes`.
  ModelReader(const tinygltf::Model& from, std::vector<std::string>& notes)
      : from_{from}, accessors_{from}, notes_{notes} {}

  /// The mesh with an index; `where`: of the node that has it. Throws a `Diagnostic`.
  const BoundedModel& mesh(int index, const std::string& where);

 private:
  BoundedModel read(const tinygltf::Mesh& mesh, const std::string& where);
  std::vector<std::uint32_t> indices_of(const tinygltf::Primitive& primitive, std::size_t corners,
                                        const std::string& where) const;
  void paint(Model::Part& part, const tinygltf::Primitive& primitive, const std::string& where);
  void lay_texture(Model::Part& part, const tinygltf::Primitive& primitive, const tinygltf::TextureInfo& info,
                   const std::string& where);
  std::shared_ptr<const Texture> texture(int index, const std::string& where);
  void note(const std::string& where, const std::string& text) { notes_.push_back(where + ": " + text); }

  const tinygltf::Model& from_;
  AccessorReader accessors_;
  std::vector<std::string>& notes_;
  std::map<int, BoundedModel> meshes_;
  std::map<int, std::shared_ptr<const Texture>> textures_;
  std::size_t corners_ = 0;
};

}  // namespace hushed::detail
