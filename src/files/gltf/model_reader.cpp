// SPDX-License-Identifier: MIT
#include "gltf/model_reader.hpp"

#include <algorithm>
#include <array>
#include <cmath>
#include <string_view>

#include <fmt/format.h>

#include <hushed/value.hpp>

namespace hushed::detail {

namespace {

double to_srgb(double linear) {
  const double held = std::clamp(linear, 0.0, 1.0);
  return held <= 0.0031308 ? 12.92 * held : 1.055 * std::pow(held, 1.0 / 2.4) - 0.055;
}

/// FNV-1a of all numbers.
std::uint64_t digest_of(const Model& model) {
  std::uint64_t digest = 14695981039346656037ULL;
  const auto add = [&digest](const void* data, std::size_t size) {
    const auto* const bytes = static_cast<const unsigned char*>(data);
    for (std::size_t i = 0; i < size; ++i) digest = (digest ^ bytes[i]) * 1099511628211ULL;
  };
  for (const Model::Part& part : model.parts) {
    add(part.positions.data(), part.positions.size() * sizeof(float));
    add(part.indices.data(), part.indices.size() * sizeof(std::uint32_t));
    add(&part.colour, sizeof part.colour);
    if (!part.texture) continue;
    const std::array how{static_cast<std::uint8_t>(part.texture->across), static_cast<std::uint8_t>(part.texture->down),
                         static_cast<std::uint8_t>(part.texture->is_smooth)};
    add(part.texture_coordinates.data(), part.texture_coordinates.size() * sizeof(float));
    add(part.texture->bytes.data(), part.texture->bytes.size());
    add(how.data(), how.size());
  }
  return digest;
}

bool has_faces(const tinygltf::Primitive& primitive) {
  return primitive.mode < 0 || primitive.mode == TINYGLTF_MODE_TRIANGLES ||
         primitive.mode == TINYGLTF_MODE_TRIANGLE_STRIP || primitive.mode == TINYGLTF_MODE_TRIANGLE_FAN;
}

Texture::Wrap wrap_of(int code) {
  return code == TINYGLTF_TEXTURE_WRAP_MIRRORED_REPEAT ? Texture::Wrap::mirror
         : code == TINYGLTF_TEXTURE_WRAP_CLAMP_TO_EDGE ? Texture::Wrap::clamp
                                                       : Texture::Wrap::repeat;
}

/// What KHR_texture_transform does to texture coordinates: scaled, rotated counterclockwise, moved.
struct Placing {
  double offset[2] = {0.0, 0.0}, scale[2] = {1.0, 1.0}, angle = 0.0;
  int set = 0;  ///< of coordinates

  explicit Placing(const tinygltf::TextureInfo& info) : set{info.texCoord} {
    const auto found = info.extensions.find("KHR_texture_transform");
    if (found == info.extensions.end() || !found->second.IsObject()) return;
    const tinygltf::Value& from = found->second;
    const auto pair = [&from](const char* name, double(&to)[2]) {
      if (!from.Has(name) || !from.Get(name).IsArray() || from.Get(name).ArrayLen() != 2) return;
      for (int i = 0; i < 2; ++i)
        if (from.Get(name).Get(i).IsNumber()) to[i] = from.Get(name).Get(i).GetNumberAsDouble();
    };
    pair("offset", offset);
    pair("scale", scale);
    if (from.Has("rotation") && from.Get("rotation").IsNumber()) angle = from.Get("rotation").GetNumberAsDouble();
    if (from.Has("texCoord") && from.Get("texCoord").IsInt()) set = from.Get("texCoord").GetNumberAsInt();
  }

  std::array<double, 2> of(double across, double down) const {
    const double u = across * scale[0], v = down * scale[1];
    return {std::cos(angle) * u + std::sin(angle) * v + offset[0],
            std::cos(angle) * v - std::sin(angle) * u + offset[1]};
  }
};

}  // namespace

BoundedModel stretched(const BoundedModel& from, const Vec3& scale) {
  auto made = std::make_shared<Model>(*from.model);
  for (Model::Part& part : made->parts)
    for (std::size_t i = 0; i < part.positions.size(); ++i)
      part.positions[i] *= static_cast<float>(scale[static_cast<Eigen::Index>(i % 3)]);
  made->digest = digest_of(*made);
  const Vec3 a = from.bounds.min.cwiseProduct(scale), b = from.bounds.max.cwiseProduct(scale);
  return {std::move(made), {a.cwiseMin(b), a.cwiseMax(b)}};
}

const BoundedModel& ModelReader::mesh(int index, const std::string& where) {
  const auto known = meshes_.find(index);
  if (known != meshes_.end()) return known->second;
  const tinygltf::Mesh& mesh = element(from_.meshes, index, where, "mesh");
  const std::string place =
      mesh.name.empty() ? fmt::format("mesh {}", index) : fmt::format("mesh {} {}", index, in_quotes(mesh.name));
  return meshes_[index] = read(mesh, place);
}

BoundedModel ModelReader::read(const tinygltf::Mesh& mesh, const std::string& where) {
  auto model = std::make_shared<Model>();
  Box bounds{Vec3::Constant(1e300), Vec3::Constant(-1e300)};
  for (const tinygltf::Primitive& primitive : mesh.primitives) {
    if (primitive.extensions.contains("KHR_draco_mesh_compression"))
      refuse_gltf(where +
                  ": it is compressed (KHR_draco_mesh_compression), which is not read; export it without compression.");
    if (!primitive.targets.empty()) note(where, "its morph targets are not read.");
    const auto position = primitive.attributes.find("POSITION");
    if (!has_faces(primitive) || position == primitive.attributes.end()) {
      note(where, "a part without triangles is not shown.");
      continue;
    }
    Model::Part part;
    for (const double number : accessors_.numbers(position->second, 3, where)) {
      if (!(std::abs(number) <= 1e9)) refuse_gltf(where + ": a corner is not finite, or beyond 1e9.");
      part.positions.push_back(static_cast<float>(number));
    }
    const std::size_t corners = part.positions.size() / 3;
    if ((corners_ += corners) > most_corners)
      refuse_gltf(where + ": the meshes have more than 5 million corners in all.");
    for (std::size_t i = 0; i < corners; ++i) {
      const Vec3 corner{part.positions[3 * i], part.positions[3 * i + 1], part.positions[3 * i + 2]};
      bounds.min = bounds.min.cwiseMin(corner);
      bounds.max = bounds.max.cwiseMax(corner);
    }
    part.indices = indices_of(primitive, corners, where);
    paint(part, primitive, where);
    model->parts.push_back(std::move(part));
  }
  if (model->parts.empty() || !(bounds.min.array() <= bounds.max.array()).all()) return {};
  model->digest = digest_of(*model);
  return {std::move(model), bounds};
}

std::vector<std::uint32_t> ModelReader::indices_of(const tinygltf::Primitive& primitive, std::size_t corners,
                                                   const std::string& where) const {
  std::vector<std::uint32_t> order;
  if (primitive.indices >= 0) {
    for (const double index : accessors_.numbers(primitive.indices, 1, where)) {
      if (!(index >= 0.0 && index < static_cast<double>(corners)))
        refuse_gltf(where + ": a triangle names a corner that does not exist.");
      order.push_back(static_cast<std::uint32_t>(index));
    }
  } else {
    for (std::size_t i = 0; i < corners; ++i) order.push_back(static_cast<std::uint32_t>(i));
  }
  if (primitive.mode < 0 || primitive.mode == TINYGLTF_MODE_TRIANGLES) {
    order.resize(order.size() / 3 * 3);
    return order;
  }
  std::vector<std::uint32_t> triangles;
  for (std::size_t i = 2; i < order.size(); ++i) {
    const bool is_fan = primitive.mode == TINYGLTF_MODE_TRIANGLE_FAN;
    const std::uint32_t a = is_fan ? order[0] : order[i - 2], b = order[i - 1], c = order[i];
    const bool is_odd = !is_fan && i % 2 == 1;
    triangles.insert(triangles.end(), {is_odd ? b : a, is_odd ? a : b, c});
  }
  return triangles;
}

void ModelReader::paint(Model::Part& part, const tinygltf::Primitive& primitive, const std::string& where) {
  std::array<double, 3> linear{0.8, 0.8, 0.8};
  if (primitive.material >= 0) {
    const auto& paint = element(from_.materials, primitive.material, where, "material").pbrMetallicRoughness;
    for (std::size_t i = 0; i < 3 && paint.baseColorFactor.size() >= 3; ++i) linear[i] = paint.baseColorFactor[i];
    if (paint.baseColorTexture.index >= 0) lay_texture(part, primitive, paint.baseColorTexture, where);
  }
  const auto byte = [](double share) { return static_cast<std::uint8_t>(std::lround(255.0 * to_srgb(share))); };
  part.colour = {byte(linear[0]), byte(linear[1]), byte(linear[2])};
}

void ModelReader::lay_texture(Model::Part& part, const tinygltf::Primitive& primitive,
                              const tinygltf::TextureInfo& info, const std::string& where) {
  const Placing placing{info};
  const auto coordinates = primitive.attributes.find(fmt::format("TEXCOORD_{}", placing.set));
  if (coordinates == primitive.attributes.end())
    return note(where, "it has no coordinates for its texture; its base colour is shown.");
  const auto made = texture(info.index, where);
  if (!made) return;
  const std::vector<double> numbers = accessors_.numbers(coordinates->second, 2, where);
  if (numbers.size() / 2 != part.positions.size() / 3)
    refuse_gltf(where + ": it has not as many coordinates of its texture as corners.");
  for (std::size_t i = 0; i < numbers.size(); i += 2)
    for (const double number : placing.of(numbers[i], numbers[i + 1])) {
      if (!(std::abs(number) <= 1e9))
        refuse_gltf(where + ": a coordinate of its texture is not finite, or beyond 1e9.");
      part.texture_coordinates.push_back(static_cast<float>(number));
    }
  part.texture = made;
}

std::shared_ptr<const Texture> ModelReader::texture(int index, const std::string& where) {
  const auto known = textures_.find(index);
  if (known != textures_.end()) return known->second;
  const tinygltf::Texture& from = element(from_.textures, index, where, "texture");
  if (from.source < 0) {
    note(where, "its texture has no picture in PNG or JPEG; its base colour is shown.");
    return textures_[index] = nullptr;
  }
  const tinygltf::Image& image = element(from_.images, from.source, where, "image");
  auto made = std::make_shared<Texture>();
  if (image.bufferView >= 0) {
    const tinygltf::BufferView& view = element(from_.bufferViews, image.bufferView, where, "buffer view");
    const tinygltf::Buffer& buffer = element(from_.buffers, view.buffer, where, "buffer");
    if (!is_inside(buffer, view)) refuse_gltf(where + ": its texture is outside the file.");
    const auto first = buffer.data.begin() + static_cast<std::ptrdiff_t>(view.byteOffset);
    made->bytes.assign(first, first + static_cast<std::ptrdiff_t>(view.byteLength));
  } else {
    made->bytes.assign(image.image.begin(), image.image.end());
  }
  using namespace std::string_view_literals;
  const bool is_png = made->bytes.starts_with("\x89PNG"sv), is_jpeg = made->bytes.starts_with("\xFF\xD8\xFF"sv);
  if (!is_png && !is_jpeg) {
    const std::string what = !made->bytes.empty() ? "its texture is neither PNG nor JPEG"
                                                  : "its texture " + in_quotes(image.uri) + " cannot be read";
    note(where, what + "; its base colour is shown.");
    return textures_[index] = nullptr;
  }
  made->format = is_png ? Texture::Format::png : Texture::Format::jpeg;
  if (from.sampler >= 0) {
    const tinygltf::Sampler& sampler = element(from_.samplers, from.sampler, where, "sampler");
    made->across = wrap_of(sampler.wrapS);
    made->down = wrap_of(sampler.wrapT);
    made->is_smooth = sampler.magFilter != TINYGLTF_TEXTURE_FILTER_NEAREST;
  }
  return textures_[index] = std::move(made);
}

}  // namespace hushed::detail
