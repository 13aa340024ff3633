// SPDX-License-Identifier: MIT
#include "gltf/artist_file.hpp"

#include <algorithm>
#include <array>
#include <cmath>
#include <cstring>
#include <map>
#include <set>

#include <fmt/format.h>
#include <tiny_gltf.h>

#include <hushed/error.hpp>
#include <hushed/kinds.hpp>
#include <hushed/load.hpp>

#include "read_whole.hpp"

namespace hushed::detail {

namespace {

constexpr std::uintmax_t most_bytes = std::uintmax_t{256} << 20;
constexpr std::size_t most_nodes = 100'000, most_corners = 5'000'000;

[[noreturn]] void refuse(const std::string& text) { throw Diagnostic{{}, text}; }

/// How to reach files beside it, for the library.
struct Reading {
  const std::filesystem::path& folder;
  const Kinds& kinds;
};

bool is_inside(const std::string& name) {
  const std::filesystem::path path{name};
  return !path.is_absolute() && std::find(path.begin(), path.end(), std::filesystem::path{".."}) == path.end();
}

bool leave_image(tinygltf::Image*, int, std::string*, std::string*, int, int, const unsigned char*, int, void*) {
  return true;  // textures are not shown
}

tinygltf::Model parsed(const std::filesystem::path& file, const std::string& text, const Kinds& kinds) {
  const std::filesystem::path folder = file.parent_path();
  Reading reading{folder, kinds};
  tinygltf::TinyGLTF loader;
  loader.SetImageLoader(leave_image, nullptr);
  tinygltf::FsCallbacks files{};
  files.FileExists = [](const std::string& name, void*) { return is_inside(name); };
  files.ExpandFilePath = [](const std::string& name, void*) { return name; };
  files.ReadWholeFile = [](std::vector<unsigned char>* out, std::string* error, const std::string& name, void* data) {
    const Reading& from = *static_cast<const Reading*>(data);
    try {
      const std::string bytes =
          read_whole(from.folder / name, {"the .bin file of a .gltf file", most_bytes}, from.kinds);
      out->assign(bytes.begin(), bytes.end());
      return true;
    } catch (const std::exception& problem) {
      if (error) *error += problem.what();
      return false;
    }
  };
  files.WriteWholeFile = [](std::string*, const std::string&, const std::vector<unsigned char>&, void*) {
    return false;
  };
  files.user_data = &reading;
  loader.SetFsCallbacks(files);

  tinygltf::Model model;
  std::string error, warning;
  const bool is_read =
      text.starts_with("glTF")
          ? loader.LoadBinaryFromMemory(&model, &error, &warning, reinterpret_cast<const unsigned char*>(text.data()),
                                        static_cast<unsigned>(text.size()), "")
          : loader.LoadASCIIFromString(&model, &error, &warning, text.data(), static_cast<unsigned>(text.size()), "");
  if (!is_read) {
    while (!error.empty() && (error.back() == '\n' || error.back() == ' ')) error.pop_back();
    std::replace(error.begin(), error.end(), '\n', ' ');
    refuse("this is no glTF 2.0 file that can be read: " + (error.empty() ? "its structure is wrong" : error) + '.');
  }
  if (!model.asset.version.starts_with("2."))
    refuse("its version is " + in_quotes(model.asset.version) + "; export glTF 2.0.");
  for (const std::string& name : model.extensionsRequired) {
    static const std::set<std::string> known{"KHR_mesh_quantization", "EXT_mesh_gpu_instancing", "KHR_lights_punctual",
                                             "KHR_texture_transform", "KHR_materials_unlit"};
    if (name == "KHR_draco_mesh_compression" || name == "EXT_meshopt_compression")
      refuse("its meshes are compressed (" + name + "), which is not read; export it without compression.");
    if (!known.contains(name)) refuse("it requires the extension " + name + ", which is not read; export it without.");
  }
  if (model.nodes.size() > most_nodes)
    refuse(fmt::format("it has {} nodes; {} are the most that are read.", model.nodes.size(), most_nodes));
  return model;
}

/// The numbers of accessors, with all ranges checked.
class Numbers {
 public:
  explicit Numbers(const tinygltf::Model& model) : model_{model} {}

  /// `parts`: 1 to 4, or refused. `where`: for errors.
  std::vector<double> of(int accessor, int parts, const std::string& where) const {
    const tinygltf::Accessor& from = at(model_.accessors, accessor, where, "accessor");
    if (tinygltf::GetNumComponentsInType(static_cast<std::uint32_t>(from.type)) != parts)
      refuse(fmt::format("{}: accessor {} has another number of parts than {}.", where, accessor, parts));
    const int size = tinygltf::GetComponentSizeInBytes(static_cast<std::uint32_t>(from.componentType));
    if (size <= 0) refuse(fmt::format("{}: accessor {} has an unknown type of numbers.", where, accessor));
    if (from.count > most_corners) refuse(fmt::format("{}: accessor {} has too many numbers.", where, accessor));
    std::vector<double> numbers(from.count * static_cast<std::size_t>(parts), 0.0);
    if (from.bufferView >= 0) {
      const tinygltf::BufferView& view = at(model_.bufferViews, from.bufferView, where, "buffer view");
      const int stride = from.ByteStride(view);
      if (stride <= 0) refuse(fmt::format("{}: accessor {} has a wrong stride.", where, accessor));
      read(view, from.byteOffset, static_cast<std::size_t>(stride), from, parts, from.count, numbers, where);
    }
    if (from.sparse.isSparse) replace(from, parts, numbers, where);
    return numbers;
  }

 private:
  template <class T>
  static const T& at(const std::vector<T>& all, int index, const std::string& where, const char* what) {
    if (index < 0 || static_cast<std::size_t>(index) >= all.size())
      refuse(fmt::format("{}: {} {} does not exist.", where, what, index));
    return all[static_cast<std::size_t>(index)];
  }

  void read(const tinygltf::BufferView& view, std::size_t offset, std::size_t stride, const tinygltf::Accessor& like,
            int parts, std::size_t count, std::vector<double>& to, const std::string& where) const {
    const tinygltf::Buffer& buffer = at(model_.buffers, view.buffer, where, "buffer");
    const auto size =
        static_cast<std::size_t>(tinygltf::GetComponentSizeInBytes(static_cast<std::uint32_t>(like.componentType)));
    const std::size_t row = size * static_cast<std::size_t>(parts);
    const bool fits =
        view.byteOffset <= buffer.data.size() && view.byteLength <= buffer.data.size() - view.byteOffset &&
        offset <= view.byteLength &&
        (count == 0 || (view.byteLength - offset >= row &&
                        (count - 1) <= (view.byteLength - offset - row) / std::max<std::size_t>(stride, 1)));
    if (!fits) refuse(where + ": its numbers are outside the file.");
    const unsigned char* const bytes = buffer.data.data() + view.byteOffset + offset;
    for (std::size_t i = 0; i < count; ++i)
      for (std::size_t part = 0; part < static_cast<std::size_t>(parts); ++part)
        to[i * static_cast<std::size_t>(parts) + part] =
            number(bytes + i * stride + part * size, like.componentType, like.normalized);
  }

  template <class T>
  static double as(const unsigned char* bytes) {
    T value;
    std::memcpy(&value, bytes, sizeof value);
    return static_cast<double>(value);
  }

  static double number(const unsigned char* bytes, int type, bool is_normalized) {
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

  void replace(const tinygltf::Accessor& from, int parts, std::vector<double>& numbers,
               const std::string& where) const {
    const auto count = static_cast<std::size_t>(std::max(from.sparse.count, 0));
    if (count > from.count) refuse(where + ": it replaces more numbers than it has.");
    tinygltf::Accessor index;
    index.componentType = from.sparse.indices.componentType;
    std::vector<double> places(count), values(count * static_cast<std::size_t>(parts));
    const auto size = tinygltf::GetComponentSizeInBytes(static_cast<std::uint32_t>(index.componentType));
    const auto row = tinygltf::GetComponentSizeInBytes(static_cast<std::uint32_t>(from.componentType)) * parts;
    if (size <= 0 || row <= 0) refuse(where + ": a sparse accessor has an unknown type of numbers.");
    const auto offset = [](int bytes) { return static_cast<std::size_t>(std::max(bytes, 0)); };
    read(at(model_.bufferViews, from.sparse.indices.bufferView, where, "buffer view"),
         offset(from.sparse.indices.byteOffset), static_cast<std::size_t>(size), index, 1, count, places, where);
    read(at(model_.bufferViews, from.sparse.values.bufferView, where, "buffer view"),
         offset(from.sparse.values.byteOffset), static_cast<std::size_t>(row), from, parts, count, values, where);
    for (std::size_t i = 0; i < count; ++i) {
      const auto place = static_cast<std::size_t>(places[i]);
      if (place >= from.count) refuse(where + ": it replaces a number that it does not have.");
      std::copy_n(values.begin() + static_cast<std::ptrdiff_t>(i * static_cast<std::size_t>(parts)), parts,
                  numbers.begin() + static_cast<std::ptrdiff_t>(place * static_cast<std::size_t>(parts)));
    }
  }

  const tinygltf::Model& model_;
};

double to_srgb(double linear) {
  const double held = std::clamp(linear, 0.0, 1.0);
  return held <= 0.0031308 ? 12.92 * held : 1.055 * std::pow(held, 1.0 / 2.4) - 0.055;
}

/// A model and its bounds.
struct Made {
  std::shared_ptr<const Model> model;
  Box bounds;
};

class Reader {
 public:
  Reader(const tinygltf::Model& model, ArtistFile& to) : model_{model}, numbers_{model}, to_{to} {
    is_recording_ = model.asset.generator == "Hushed Orbit";
  }

  void read() {
    to_.is_recording = is_recording_;
    walk();
    if (is_recording_) bring_into_world();
    for (std::size_t i = 0; i < model_.animations.size(); ++i) read_animation(i);
  }

 private:
  std::string where(const char* what, std::size_t index, const std::string& name) const {
    return name.empty() ? fmt::format("{} {}", what, index) : fmt::format("{} {} {}", what, index, in_quotes(name));
  }
  std::string node_place(std::size_t index) const { return where("node", index, model_.nodes[index].name); }

  /// A unique name of letters, digits, - and _.
  std::string name_for(const std::string& written, std::size_t index) {
    std::string name;
    for (const char c : written) {
      const bool is_plain =
          (c >= 'a' && c <= 'z') || (c >= 'A' && c <= 'Z') || (c >= '0' && c <= '9') || c == '-' || c == '_';
      if (is_plain)
        name += c;
      else if (!name.empty() && name.back() != '-')
        name += '-';
    }
    while (name.ends_with('-')) name.pop_back();
    if (name.empty()) name = "node-" + std::to_string(index);
    std::string unique = name;
    for (int i = 2; !names_.insert(unique).second; ++i) unique = name + '-' + std::to_string(i);
    return unique;
  }

  void walk() {
    numbers_of_nodes_.assign(model_.nodes.size(), none);
    std::vector<int> roots;
    if (!model_.scenes.empty()) {
      const auto chosen = static_cast<std::size_t>(std::max(model_.defaultScene, 0));
      if (chosen >= model_.scenes.size()) refuse(fmt::format("scene {} does not exist.", chosen));
      roots = model_.scenes[chosen].nodes;
    } else {
      std::vector<bool> is_child(model_.nodes.size(), false);
      for (const tinygltf::Node& node : model_.nodes)
        for (const int child : node.children)
          if (child >= 0 && static_cast<std::size_t>(child) < is_child.size())
            is_child[static_cast<std::size_t>(child)] = true;
      for (std::size_t i = 0; i < is_child.size(); ++i)
        if (!is_child[i]) roots.push_back(static_cast<int>(i));
    }
    struct Step {
      int node;
      std::optional<std::size_t> parent;
    };
    std::vector<Step> open;
    for (auto root = roots.rbegin(); root != roots.rend(); ++root) open.push_back({*root, std::nullopt});
    while (!open.empty()) {
      const Step step = open.back();
      open.pop_back();
      if (step.node < 0 || static_cast<std::size_t>(step.node) >= model_.nodes.size())
        refuse(fmt::format("node {} does not exist.", step.node));
      const auto index = static_cast<std::size_t>(step.node);
      if (numbers_of_nodes_[index] != none) refuse(node_place(index) + ": it has two parents, or is its own.");
      const tinygltf::Node& node = model_.nodes[index];
      if (is_recording_ && step.parent && node.name == to_.nodes[*step.parent].written + " shape") {
        numbers_of_nodes_[index] = *step.parent;
        dress(to_.nodes[*step.parent], node, index, pose_of(node, index).scale);
        continue;
      }
      numbers_of_nodes_[index] = to_.nodes.size();
      add(node, index, step.parent);
      const std::size_t number = numbers_of_nodes_[index];
      for (auto child = node.children.rbegin(); child != node.children.rend(); ++child)
        open.push_back({*child, number});
    }
  }

  void bring_into_world() {
    for (ArtistNode& node : to_.nodes)  // parents first
      if (node.parent) node.pose = compose(to_.nodes[*node.parent].pose, node.pose);
    for (ArtistNode& node : to_.nodes) node.parent.reset();
  }

  void add(const tinygltf::Node& node, std::size_t index, std::optional<std::size_t> parent) {
    ArtistNode made{name_for(node.name, index), node.name, parent, pose_of(node, index),
                    tags_of(node, index),       "",        {},     {}};
    if (node.camera >= 0) made.what = "camera";
    if (node.extensions.contains("KHR_lights_punctual")) made.what = "light";
    if (node.skin >= 0) to_.notes.push_back(node_place(index) + ": its skin is not read; it stays rigid.");
    tell_of_shear(made, index);
    const auto instancing = node.extensions.find("EXT_mesh_gpu_instancing");
    if (instancing == node.extensions.end()) dress(made, node, index, Vec3::Ones());
    to_.nodes.push_back(std::move(made));
    if (instancing != node.extensions.end()) add_instances(node, index, instancing->second);
  }

  void tell_of_shear(const ArtistNode& node, std::size_t index) {
    const Vec3 above = node.parent ? scales_[*node.parent] : Vec3{Vec3::Ones()};
    scales_.resize(to_.nodes.size() + 1, Vec3::Ones());
    scales_[to_.nodes.size()] = above.cwiseProduct(node.pose.scale);
    const bool is_even =
        above.cwiseAbs().maxCoeff() - above.cwiseAbs().minCoeff() <= 1e-4 * above.cwiseAbs().maxCoeff();
    const bool is_turned = 1.0 - std::abs(node.pose.rotation.w()) > 1e-9;
    if (!is_even && is_turned)
      to_.notes.push_back(node_place(index) +
                          ": the scale above it is uneven, and it is turned, so it would be sheared; it is not.");
  }

  void add_instances(const tinygltf::Node& node, std::size_t index, const tinygltf::Value& extension) {
    const std::string place = node_place(index);
    const std::size_t parent = to_.nodes.size() - 1;
    const auto numbers = [&](const char* name, int parts) -> std::vector<double> {
      if (!extension.Has("attributes") || !extension.Get("attributes").Has(name)) return {};
      return numbers_.of(extension.Get("attributes").Get(name).GetNumberAsInt(), parts, place);
    };
    const std::vector<double> positions = numbers("TRANSLATION", 3), rotations = numbers("ROTATION", 4),
                              scales = numbers("SCALE", 3);
    const std::size_t count = std::max({positions.size() / 3, rotations.size() / 4, scales.size() / 3});
    if (to_.nodes.size() + count > most_nodes) refuse(place + ": there are too many instances.");
    for (std::size_t i = 0; i < count; ++i) {
      ArtistNode made{
          name_for(to_.nodes[parent].name + '-' + std::to_string(i + 1), index), "", parent, {}, {}, "", {}, {}};
      if (3 * i + 2 < positions.size())
        made.pose.position = {positions[3 * i], positions[3 * i + 1], positions[3 * i + 2]};
      if (4 * i + 3 < rotations.size())
        made.pose.rotation =
            unit(Quat{rotations[4 * i + 3], rotations[4 * i], rotations[4 * i + 1], rotations[4 * i + 2]}, place);
      if (3 * i + 2 < scales.size()) made.pose.scale = {scales[3 * i], scales[3 * i + 1], scales[3 * i + 2]};
      check(made.pose, place);
      made.tags.push_back(to_.nodes[parent].name);
      dress(made, node, index, Vec3::Ones());
      to_.nodes.push_back(std::move(made));
    }
  }

  static Quat unit(const Quat& given, const std::string& place) {
    const double length = given.norm();
    if (!(std::abs(length - 1.0) < 1e-2))
      refuse(place + ": its rotation does not have length 1; apply its transform in the modelling program.");
    return given.normalized();
  }

  static void check(const Pose& pose, const std::string& place) {
    const auto is_near = [](const Vec3& v) { return v.allFinite() && v.cwiseAbs().maxCoeff() <= 1e9; };
    if (!is_near(pose.position) || !is_near(pose.scale)) refuse(place + ": its pose is not finite, or beyond 1e9.");
  }

  Pose pose_of(const tinygltf::Node& node, std::size_t index) {
    const std::string place = node_place(index);
    Pose pose;
    if (node.matrix.size() == 16) return pose_of_matrix(node.matrix, place);
    if (node.translation.size() == 3) pose.position = {node.translation[0], node.translation[1], node.translation[2]};
    if (node.rotation.size() == 4)
      pose.rotation = unit(Quat{node.rotation[3], node.rotation[0], node.rotation[1], node.rotation[2]}, place);
    if (node.scale.size() == 3) pose.scale = {node.scale[0], node.scale[1], node.scale[2]};
    check(pose, place);
    return pose;
  }

  /// Columns first. A reflection becomes a negative scale along x.
  static Pose pose_of_matrix(const std::vector<double>& m, const std::string& place) {
    Eigen::Matrix3d axes;
    for (std::size_t i = 0; i < 12; ++i)
      if (i % 4 < 3) axes(static_cast<Eigen::Index>(i % 4), static_cast<Eigen::Index>(i / 4)) = m[i];
    Pose pose;
    pose.position = {m[12], m[13], m[14]};
    pose.scale = axes.colwise().norm();
    check(pose, place);
    if (pose.scale.minCoeff() < 1e-12)
      refuse(place +
             ": its matrix has a scale of 0, so its rotation is not known; export translation, rotation and scale.");
    if (axes.determinant() < 0.0) pose.scale.x() = -pose.scale.x();
    const Eigen::Matrix3d turn = axes * pose.scale.cwiseInverse().asDiagonal();
    if (!(turn.transpose() * turn).isIdentity(1e-4))
      refuse(place + ": its matrix is sheared, which a pose cannot be; apply its transform in the modelling program.");
    pose.rotation = Quat{turn}.normalized();
    return pose;
  }

  std::vector<std::string> tags_of(const tinygltf::Node& node, std::size_t index) {
    std::vector<std::string> tags;
    if (!node.extras.IsObject() || !node.extras.Has("tags")) return tags;
    const tinygltf::Value& list = node.extras.Get("tags");
    for (std::size_t i = 0; list.IsArray() && i < list.ArrayLen(); ++i) {
      const tinygltf::Value& tag = list.Get(static_cast<int>(i));
      const std::string text = tag.IsString() ? tag.Get<std::string>() : "";
      const bool is_name =
          !text.empty() &&
          text.find_first_not_of("abcdefghijklmnopqrstuvwxyzABCDEFGHIJKLMNOPQRSTUVWXYZ0123456789-_") == text.npos;
      if (is_name && std::find(tags.begin(), tags.end(), text) == tags.end())
        tags.push_back(text);
      else if (!is_name)
        to_.notes.push_back(node_place(index) + ": the tag " + in_quotes(text) + " is no name, and is left out.");
    }
    return tags;
  }

  /// Gives a node its mesh, stretched by a scale.
  void dress(ArtistNode& made, const tinygltf::Node& node, std::size_t index, const Vec3& scale) {
    if (node.mesh < 0) return;
    if (static_cast<std::size_t>(node.mesh) >= model_.meshes.size())
      refuse(fmt::format("{}: mesh {} does not exist.", node_place(index), node.mesh));
    const Made& one =
        made_.contains(node.mesh) ? made_[node.mesh] : made_[node.mesh] = mesh_of(static_cast<std::size_t>(node.mesh));
    if (!one.model) return;
    made.model = one.model;
    made.bounds = one.bounds;
    if (scale.isOnes()) return;
    auto stretched = std::make_shared<Model>(*one.model);
    for (Model::Part& part : stretched->parts)
      for (std::size_t i = 0; i < part.positions.size(); ++i)
        part.positions[i] *= static_cast<float>(scale[static_cast<Eigen::Index>(i % 3)]);
    stretched->digest = digest_of(*stretched);
    made.model = stretched;
    const Vec3 a = one.bounds.min.cwiseProduct(scale), b = one.bounds.max.cwiseProduct(scale);
    made.bounds = {a.cwiseMin(b), a.cwiseMax(b)};
  }

  /// FNV-1a of all numbers.
  static std::uint64_t digest_of(const Model& model) {
    std::uint64_t digest = 14695981039346656037ULL;
    const auto add = [&digest](const void* data, std::size_t size) {
      const auto* const bytes = static_cast<const unsigned char*>(data);
      for (std::size_t i = 0; i < size; ++i) digest = (digest ^ bytes[i]) * 1099511628211ULL;
    };
    for (const Model::Part& part : model.parts) {
      add(part.positions.data(), part.positions.size() * sizeof(float));
      add(part.indices.data(), part.indices.size() * sizeof(std::uint32_t));
      add(&part.colour, sizeof part.colour);
    }
    return digest;
  }

  Made mesh_of(std::size_t index) {
    const tinygltf::Mesh& mesh = model_.meshes[index];
    const std::string place = where("mesh", index, mesh.name);
    auto model = std::make_shared<Model>();
    Box bounds{Vec3::Constant(1e300), Vec3::Constant(-1e300)};
    for (const tinygltf::Primitive& primitive : mesh.primitives) {
      if (primitive.extensions.contains("KHR_draco_mesh_compression"))
        refuse(place +
               ": it is compressed (KHR_draco_mesh_compression), which is not read; export it without compression.");
      if (!primitive.targets.empty()) to_.notes.push_back(place + ": its morph targets are not read.");
      const int mode = primitive.mode < 0 ? TINYGLTF_MODE_TRIANGLES : primitive.mode;
      const bool has_faces =
          mode == TINYGLTF_MODE_TRIANGLES || mode == TINYGLTF_MODE_TRIANGLE_STRIP || mode == TINYGLTF_MODE_TRIANGLE_FAN;
      const auto position = primitive.attributes.find("POSITION");
      if (!has_faces || position == primitive.attributes.end()) {
        to_.notes.push_back(place + ": a part without triangles is not shown.");
        continue;
      }
      Model::Part part;
      for (const double number : numbers_.of(position->second, 3, place)) {
        if (!(std::abs(number) <= 1e9)) refuse(place + ": a corner is not finite, or beyond 1e9.");
        part.positions.push_back(static_cast<float>(number));
      }
      const std::size_t corners = part.positions.size() / 3;
      if ((corners_ += corners) > most_corners) refuse(place + ": the meshes have more than 5 million corners in all.");
      for (std::size_t i = 0; i < corners; ++i) {
        const Vec3 corner{part.positions[3 * i], part.positions[3 * i + 1], part.positions[3 * i + 2]};
        bounds.min = bounds.min.cwiseMin(corner);
        bounds.max = bounds.max.cwiseMax(corner);
      }
      part.indices = indices_of(primitive, mode, corners, place);
      part.colour = colour_of(primitive.material, place);
      model->parts.push_back(std::move(part));
    }
    if (model->parts.empty() || !(bounds.min.array() <= bounds.max.array()).all()) return {};
    model->digest = digest_of(*model);
    return {std::move(model), bounds};
  }

  std::vector<std::uint32_t> indices_of(const tinygltf::Primitive& primitive, int mode, std::size_t corners,
                                        const std::string& place) {
    std::vector<std::uint32_t> order;
    if (primitive.indices >= 0) {
      for (const double index : numbers_.of(primitive.indices, 1, place)) {
        if (!(index >= 0.0 && index < static_cast<double>(corners)))
          refuse(place + ": a triangle names a corner that does not exist.");
        order.push_back(static_cast<std::uint32_t>(index));
      }
    } else {
      for (std::size_t i = 0; i < corners; ++i) order.push_back(static_cast<std::uint32_t>(i));
    }
    if (mode == TINYGLTF_MODE_TRIANGLES) {
      order.resize(order.size() / 3 * 3);
      return order;
    }
    std::vector<std::uint32_t> triangles;
    for (std::size_t i = 2; i < order.size(); ++i) {
      const bool is_fan = mode == TINYGLTF_MODE_TRIANGLE_FAN;
      const std::uint32_t a = is_fan ? order[0] : order[i - 2], b = order[i - 1], c = order[i];
      const bool is_odd = !is_fan && i % 2 == 1;
      triangles.insert(triangles.end(), {is_odd ? b : a, is_odd ? a : b, c});
    }
    return triangles;
  }

  Colour colour_of(int material, const std::string& place) {
    std::array<double, 3> linear{0.8, 0.8, 0.8};
    if (material >= 0) {
      if (static_cast<std::size_t>(material) >= model_.materials.size())
        refuse(fmt::format("{}: material {} does not exist.", place, material));
      const tinygltf::PbrMetallicRoughness& paint =
          model_.materials[static_cast<std::size_t>(material)].pbrMetallicRoughness;
      for (std::size_t i = 0; i < 3 && paint.baseColorFactor.size() >= 3; ++i) linear[i] = paint.baseColorFactor[i];
      if (paint.baseColorTexture.index >= 0)
        to_.notes.push_back(place + ": its texture is not shown; its base colour is.");
    }
    const auto byte = [](double share) { return static_cast<std::uint8_t>(std::lround(255.0 * to_srgb(share))); };
    return {byte(linear[0]), byte(linear[1]), byte(linear[2])};
  }

  void read_animation(std::size_t index) {
    const tinygltf::Animation& animation = model_.animations[index];
    const std::string place = where("animation", index, animation.name);
    std::string name = animation.name.empty() ? "animation-" + std::to_string(index + 1) : animation.name;
    const std::string written = name;
    const auto is_taken = [&] {
      return std::any_of(to_.motions.clips.begin(), to_.motions.clips.end(),
                         [&](const auto& clip) { return clip.name == name; });
    };
    for (int i = 2; is_taken(); ++i) name = written + '-' + std::to_string(i);
    to_.motions.clips.push_back({name});
    struct Channels {
      Motion::Channel position, rotation, scale;
    };
    std::map<std::size_t, Channels> moved;  // by the number of the object
    for (const tinygltf::AnimationChannel& channel : animation.channels) {
      if (channel.target_node < 0) continue;
      if (static_cast<std::size_t>(channel.target_node) >= model_.nodes.size())
        refuse(fmt::format("{}: node {} does not exist.", place, channel.target_node));
      const std::size_t number = numbers_of_nodes_[static_cast<std::size_t>(channel.target_node)];
      if (number == none) continue;  // not in the scene
      if (channel.target_path == "weights") {
        to_.notes.push_back(place + ": the weights of morph targets are not read.");
        continue;
      }
      Channels& channels = moved[number];
      const int parts = channel.target_path == "rotation" ? 4 : 3;
      Motion::Channel& to = parts == 4                             ? channels.rotation
                            : channel.target_path == "translation" ? channels.position
                                                                   : channels.scale;
      if (channel.sampler < 0 || static_cast<std::size_t>(channel.sampler) >= animation.samplers.size())
        refuse(fmt::format("{}: sampler {} does not exist.", place, channel.sampler));
      const tinygltf::AnimationSampler& sampler = animation.samplers[static_cast<std::size_t>(channel.sampler)];
      to.between = sampler.interpolation == "STEP"          ? Motion::Between::step
                   : sampler.interpolation == "CUBICSPLINE" ? Motion::Between::cubic
                                                            : Motion::Between::linear;
      to.times = numbers_.of(sampler.input, 1, place);
      to.values = numbers_.of(sampler.output, parts, place);
    }
    for (auto& [number, channels] : moved) {
      try {
        to_.motions.add(to_.nodes[number].name,
                        std::make_shared<Motion>(std::move(channels.position), std::move(channels.rotation),
                                                 std::move(channels.scale)));
      } catch (const BadValue& error) {
        refuse(fmt::format("{}: {}: {}", place, to_.nodes[number].name, error.what()));
      }
    }
  }

  static constexpr std::size_t none = static_cast<std::size_t>(-1);

  const tinygltf::Model& model_;
  Numbers numbers_;
  ArtistFile& to_;
  bool is_recording_ = false;
  std::set<std::string> names_;
  std::vector<Vec3> scales_;                   ///< of each object and all above it
  std::vector<std::size_t> numbers_of_nodes_;  ///< the object of each node of the file
  std::map<int, Made> made_;
  std::size_t corners_ = 0;
};

}  // namespace

ArtistFile read_artist_file(const std::filesystem::path& file, const Kinds& kinds) {
  const std::string text = read_whole(file, {"a glTF file, such as harbour.glb", most_bytes}, kinds);
  try {
    const tinygltf::Model model = parsed(file, text, kinds);
    ArtistFile made;
    Reader{model, made}.read();
    return made;
  } catch (const Diagnostic& diagnostic) {
    throw LoadError{file.string(), {diagnostic}};
  }
}

}  // namespace hushed::detail
