// SPDX-License-Identifier: MIT
#pragma once

// The numbers of a glTF file.

#include <cstddef>
#include <string>
#include <vector>

#include <tiny_gltf.h>

namespace hushed::detail {

/// The most corners of a mesh, or numbers of an accessor, that are read.
inline constexpr std::size_t most_corners = 5'000'000;

/// Throws a `Diagnostic` without a place in the text.
[[noreturn]] void refuse_gltf(const std::string& text);

/// An element of the model by its index, or refused. `where`: for errors; `what`: of the list.
template <class T>
const T& element(const std::vector<T>& all, int index, const std::string& where, const char* what) {
  if (index < 0 || static_cast<std::size_t>(index) >= all.size())
    refuse_gltf(where + ": " + what + ' ' + std::to_string(index) + " does not exist.");
  return all[static_cast<std::size_t>(index)];
}

/// Whether a buffer view lies within its buffer.
bool is_inside(const tinygltf::Buffer& buffer, const tinygltf::BufferView& view);

/// The numbers of accessors, with all ranges checked.
class AccessorReader {
 public:
  explicit AccessorReader(const tinygltf::Model& model) : model_{model} {}

  /// `parts`: 1 to 4, or refused. `where`: for errors.
  std::vector<double> numbers(int accessor, int parts, const std::string& where) const;

 private:
  void read(const tinygltf::BufferView& view, std::size_t offset, std::size_t stride, const tinygltf::Accessor& like,
            int parts, std::size_t count, std::vector<double>& to, const std::string& where) const;
  void replace(const tinygltf::Accessor& from, int parts, std::vector<double>& numbers, const std::string& where) const;

  const tinygltf::Model& model_;
};

}  // namespace hushed::detail
