// SPDX-License-Identifier: MIT
#include "gltf/accessors.hpp"

#include <algorithm>
#include <cstdint>
#include <cstring>

#include <fmt/format.h>

#include <hushed/value.hpp>

namespace hushed::detail {

namespace {

template <class T>
double as(const unsigned char* bytes) {
  T value;
  std::memcpy(&value, bytes, sizeof value);
  return static_cast<double>(value);
}

double number(const unsigned char* bytes, int type, bool is_normalized) {
  switch (type) {
    case TINYGLTF_COMPONENT_TYPE_FLOAT: return as<float>(bytes);
    case TINYGLTF_COMPONENT_TYPE_DOUBLE: return as<double>(bytes);
    case TINYGLTF_COMPONENT_TYPE_BYTE:
      return is_normalized ? std::max(as<std::int8_t>(bytes) / 127.0, -1.0) : as<std::int8_t>(bytes);
    case TINYGLTF_COMPONENT_TYPE_UNSIGNED_BYTE: return as<std::uint8_t>(bytes) / (is_normalized ? 255.0 : 1.0);
    case TINYGLTF_COMPONENT_TYPE_SHORT:
      return is_normalized ? std::max(as<std::int16_t>(bytes) / 32767.0, -1.0) : as<std::int16_t>(bytes);
    case TINYGLTF_COMPONENT_TYPE_UNSIGNED_SHORT: return as<std::uint16_t>(bytes) / (is_normalized ? 65535.0 : 1.0);
    default: return as<std::uint32_t>(bytes);
  }
}

}  // namespace

void refuse_gltf(const std::string& text) { throw Diagnostic{{}, text}; }

bool is_inside(const tinygltf::Buffer& buffer, const tinygltf::BufferView& view) {
  return view.byteOffset <= buffer.data.size() && view.byteLength <= buffer.data.size() - view.byteOffset;
}

std::vector<double> AccessorReader::numbers(int accessor, int parts, const std::string& where) const {
  const tinygltf::Accessor& from = element(model_.accessors, accessor, where, "accessor");
  if (tinygltf::GetNumComponentsInType(static_cast<std::uint32_t>(from.type)) != parts)
    refuse_gltf(fmt::format("{}: accessor {} has another number of parts than {}.", where, accessor, parts));
  const int size = tinygltf::GetComponentSizeInBytes(static_cast<std::uint32_t>(from.componentType));
  if (size <= 0) refuse_gltf(fmt::format("{}: accessor {} has an unknown type of numbers.", where, accessor));
  if (from.count > most_corners) refuse_gltf(fmt::format("{}: accessor {} has too many numbers.", where, accessor));
  std::vector<double> numbers(from.count * static_cast<std::size_t>(parts), 0.0);
  if (from.bufferView >= 0) {
    const tinygltf::BufferView& view = element(model_.bufferViews, from.bufferView, where, "buffer view");
    const int stride = from.ByteStride(view);
    if (stride <= 0) refuse_gltf(fmt::format("{}: accessor {} has a wrong stride.", where, accessor));
    read(view, from.byteOffset, static_cast<std::size_t>(stride), from, parts, from.count, numbers, where);
  }
  if (from.sparse.isSparse) replace(from, parts, numbers, where);
  return numbers;
}

void AccessorReader::read(const tinygltf::BufferView& view, std::size_t offset, std::size_t stride,
                          const tinygltf::Accessor& like, int parts, std::size_t count, std::vector<double>& to,
                          const std::string& where) const {
  const tinygltf::Buffer& buffer = element(model_.buffers, view.buffer, where, "buffer");
  const auto size =
      static_cast<std::size_t>(tinygltf::GetComponentSizeInBytes(static_cast<std::uint32_t>(like.componentType)));
  const std::size_t row = size * static_cast<std::size_t>(parts);
  const bool fits =
      is_inside(buffer, view) && offset <= view.byteLength &&
      (count == 0 || (view.byteLength - offset >= row &&
                      (count - 1) <= (view.byteLength - offset - row) / std::max<std::size_t>(stride, 1)));
  if (!fits) refuse_gltf(where + ": its numbers are outside the file.");
  const unsigned char* const bytes = buffer.data.data() + view.byteOffset + offset;
  for (std::size_t i = 0; i < count; ++i)
    for (std::size_t part = 0; part < static_cast<std::size_t>(parts); ++part)
      to[i * static_cast<std::size_t>(parts) + part] =
          number(bytes + i * stride + part * size, like.componentType, like.normalized);
}

void AccessorReader::replace(const tinygltf::Accessor& from, int parts, std::vector<double>& numbers,
                             const std::string& where) const {
  const auto count = static_cast<std::size_t>(std::max(from.sparse.count, 0));
  if (count > from.count) refuse_gltf(where + ": it replaces more numbers than it has.");
  tinygltf::Accessor index;
  index.componentType = from.sparse.indices.componentType;
  std::vector<double> places(count), values(count * static_cast<std::size_t>(parts));
  const auto size = tinygltf::GetComponentSizeInBytes(static_cast<std::uint32_t>(index.componentType));
  const auto row = tinygltf::GetComponentSizeInBytes(static_cast<std::uint32_t>(from.componentType)) * parts;
  if (size <= 0 || row <= 0) refuse_gltf(where + ": a sparse accessor has an unknown type of numbers.");
  const auto offset = [](int bytes) { return static_cast<std::size_t>(std::max(bytes, 0)); };
  read(element(model_.bufferViews, from.sparse.indices.bufferView, where, "buffer view"),
       offset(from.sparse.indices.byteOffset), static_cast<std::size_t>(size), index, 1, count, places, where);
  read(element(model_.bufferViews, from.sparse.values.bufferView, where, "buffer view"),
       offset(from.sparse.values.byteOffset), static_cast<std::size_t>(row), from, parts, count, values, where);
  for (std::size_t i = 0; i < count; ++i) {
    const auto place = static_cast<std::size_t>(places[i]);
    if (place >= from.count) refuse_gltf(where + ": it replaces a number that it does not have.");
    std::copy_n(values.begin() + static_cast<std::ptrdiff_t>(i * static_cast<std::size_t>(parts)), parts,
                numbers.begin() + static_cast<std::ptrdiff_t>(place * static_cast<std::size_t>(parts)));
  }
}

}  // namespace hushed::detail
