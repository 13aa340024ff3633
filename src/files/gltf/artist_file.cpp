// SPDX-License-Identifier: MIT
#include "gltf/artist_file.hpp"

#include <algorithm>
#include <cmath>
#include <map>
#include <set>

#include <fmt/format.h>

#include <hushed/error.hpp>
#include <hushed/kinds.hpp>
#include <hushed/load.hpp>

#include "gltf/accessors.hpp"
#include "gltf/container.hpp"
#include "gltf/model_reader.hpp"
#include "read_whole.hpp"

namespace hushed::detail {

namespace {

constexpr std::uintmax_t most_bytes = std::uintmax_t{256} << 20;
constexpr std::size_t most_nodes = 100'000;

/// How to reach files beside it, for the library; and those that have been read.
struct Reading {
  const std::filesystem::path& folder;
  const Kinds& kinds;
  std::vector<std::string>& beside;
};

bool is_beside(const std::string& name) {
  const std::filesystem::path path{name};
  return !path.is_absolute() && std::find(path.begin(), path.end(), std::filesystem::path{".."}) == path.end();
}

/// Keeps pictures as they are in their files. Those within the buffers are taken from there, with their ranges checked.
bool keep_image(tinygltf::Image* image, int, std::string*, std::string*, int, int, const unsigned char* bytes, int size,
                void*) {
  if (image->bufferView < 0 && size > 0) image->image.assign(bytes, bytes + size);
  return true;
}

tinygltf::Model parsed(const std::filesystem::path& file, const std::string& text, const Kinds& kinds,
                       std::vector<std::string>& beside) {
  const std::filesystem::path folder = file.parent_path();
  Reading reading{folder, kinds, beside};
  tinygltf::TinyGLTF loader;
  loader.SetImageLoader(keep_image, nullptr);
  tinygltf::FsCallbacks files{};
  files.FileExists = [](const std::string& name, void*) { return is_beside(name); };
  files.ExpandFilePath = [](const std::string& name, void*) { return name; };
  files.ReadWholeFile = [](std::vector<unsigned char>* out, std::string* error, const std::string& name, void* data) {
    const Reading& from = *static_cast<const Reading*>(data);
    try {
      const std::filesystem::path path = from.folder / name;
      const std::string bytes = read_whole(path, {"a .bin file or a picture of a .gltf file", most_bytes}, from.kinds);
      from.beside.push_back(path.lexically_normal().string());
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

  if (const auto wrong = wrong_with_header(text)) refuse_gltf(*wrong);
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
    if (const auto wrong = wrong_with_json(text)) refuse_gltf(*wrong);
    refuse_gltf("its content is not what glTF 2.0 says" + (error.empty() ? "" : ": " + error) + "; export it again.");
  }
  if (!model.asset.version.starts_with("2."))
    refuse_gltf("its version is " + in_quotes(model.asset.version) + "; export glTF 2.0.");
  for (const std::string& name : model.extensionsRequired) {
    static const std::set<std::string> known{"KHR_mesh_quantization", "EXT_mesh_gpu_instancing", "KHR_lights_punctual",
                                             "KHR_texture_transform", "KHR_materials_unlit"};
    if (name == "KHR_draco_mesh_compression" || name == "EXT_meshopt_compression")
      refuse_gltf("its meshes are compressed (" + name + "), which is not read; export it without compression.");
    if (!known.contains(name))
      refuse_gltf("it requires the extension " + name + ", which is not read; export it without.");
  }
  if (model.nodes.size() > most_nodes)
    refuse_gltf(fmt::format("it has {} nodes; {} are the most that are read.", model.nodes.size(), most_nodes));
  return model;
}

class Reader {
 public:
  Reader(const tinygltf::Model& model, ArtistFile& to, const ReadProgress& progress)
      : model_{model}, accessors_{model}, models_{model, to.notes}, to_{to}, progress_{progress} {
    is_recording_ = model.asset.generator == "Hushed Orbit";
  }

  void read() {
    to_.is_recording = is_recording_;
    walk();
    if (is_recording_) bring_into_world();
    for (std::size_t i = 0; i < model_.animations.size(); ++i) {
      tell_one_more();
      read_animation(i);
    }
    to_.motions = std::make_shared<const MotionFile>(std::move(clips_));
  }

 private:
  /// Nodes and animations, one after another; parsing the file is the first half.
  void tell_one_more() {
    const auto all = static_cast<double>(model_.nodes.size() + model_.animations.size());
    if (progress_) progress_(0.5 + 0.5 * static_cast<double>(done_++) / all);
  }

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
      if (chosen >= model_.scenes.size()) refuse_gltf(fmt::format("scene {} does not exist.", chosen));
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
        refuse_gltf(fmt::format("node {} does not exist.", step.node));
      const auto index = static_cast<std::size_t>(step.node);
      tell_one_more();
      if (numbers_of_nodes_[index] != none) refuse_gltf(node_place(index) + ": it has two parents, or is its own.");
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
      return accessors_.numbers(extension.Get("attributes").Get(name).GetNumberAsInt(), parts, place);
    };
    const std::vector<double> positions = numbers("TRANSLATION", 3), rotations = numbers("ROTATION", 4),
                              scales = numbers("SCALE", 3);
    const std::size_t count = std::max({positions.size() / 3, rotations.size() / 4, scales.size() / 3});
    if (to_.nodes.size() + count > most_nodes) refuse_gltf(place + ": there are too many instances.");
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
      made.is_instance = true;
      dress(made, node, index, Vec3::Ones());
      to_.nodes.push_back(std::move(made));
    }
  }

  static Quat unit(const Quat& given, const std::string& place) {
    const double length = given.norm();
    if (!(std::abs(length - 1.0) < 1e-2))
      refuse_gltf(place + ": its rotation does not have length 1; apply its transform in the modelling program.");
    return given.normalized();
  }

  static void check(const Pose& pose, const std::string& place) {
    const auto is_near = [](const Vec3& v) { return v.allFinite() && v.cwiseAbs().maxCoeff() <= 1e9; };
    if (!is_near(pose.position) || !is_near(pose.scale))
      refuse_gltf(place + ": its pose is not finite, or beyond 1e9.");
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
      refuse_gltf(
          place +
          ": its matrix has a scale of 0, so its rotation is not known; export translation, rotation and scale.");
    if (axes.determinant() < 0.0) pose.scale.x() = -pose.scale.x();
    const Eigen::Matrix3d turn = axes * pose.scale.cwiseInverse().asDiagonal();
    if (!(turn.transpose() * turn).isIdentity(1e-4))
      refuse_gltf(place +
                  ": its matrix is sheared, which a pose cannot be; apply its transform in the modelling program.");
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
    const BoundedModel& plain = models_.mesh(node.mesh, node_place(index));
    if (!plain.model) return;
    const BoundedModel dress = scale.isOnes() ? plain : stretched(plain, scale);
    made.model = dress.model;
    made.bounds = dress.bounds;
  }

  void read_animation(std::size_t index) {
    const tinygltf::Animation& animation = model_.animations[index];
    const std::string place = where("animation", index, animation.name);
    std::string name = animation.name.empty() ? "animation-" + std::to_string(index + 1) : animation.name;
    const std::string written = name;
    const auto is_taken = [&] {
      return std::any_of(clips_.clips.begin(), clips_.clips.end(), [&](const auto& clip) { return clip.name == name; });
    };
    for (int i = 2; is_taken(); ++i) name = written + '-' + std::to_string(i);
    clips_.clips.push_back({name});
    struct Channels {
      Motion::Channel position, rotation, scale;
    };
    std::map<std::size_t, Channels> moved;  // by the number of the object
    for (const tinygltf::AnimationChannel& channel : animation.channels) {
      if (channel.target_node < 0) continue;
      if (static_cast<std::size_t>(channel.target_node) >= model_.nodes.size())
        refuse_gltf(fmt::format("{}: node {} does not exist.", place, channel.target_node));
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
        refuse_gltf(fmt::format("{}: sampler {} does not exist.", place, channel.sampler));
      const tinygltf::AnimationSampler& sampler = animation.samplers[static_cast<std::size_t>(channel.sampler)];
      to.between = sampler.interpolation == "STEP"          ? Motion::Between::step
                   : sampler.interpolation == "CUBICSPLINE" ? Motion::Between::cubic
                                                            : Motion::Between::linear;
      to.times = accessors_.numbers(sampler.input, 1, place);
      to.values = accessors_.numbers(sampler.output, parts, place);
    }
    for (auto& [number, channels] : moved) {
      try {
        clips_.add(to_.nodes[number].name,
                   std::make_shared<Motion>(std::move(channels.position), std::move(channels.rotation),
                                            std::move(channels.scale)));
      } catch (const BadValue& error) {
        refuse_gltf(fmt::format("{}: {}: {}", place, to_.nodes[number].name, error.what()));
      }
    }
  }

  static constexpr std::size_t none = static_cast<std::size_t>(-1);

  const tinygltf::Model& model_;
  AccessorReader accessors_;
  ModelReader models_;
  ArtistFile& to_;
  const ReadProgress& progress_;
  std::size_t done_ = 0;  ///< nodes and animations
  MotionFile clips_;
  bool is_recording_ = false;
  std::set<std::string> names_;
  std::vector<Vec3> scales_;                   ///< of each object and all above it
  std::vector<std::size_t> numbers_of_nodes_;  ///< the object of each node of the file
};

}  // namespace

ArtistFile read_artist_file(const std::filesystem::path& file, const Kinds& kinds, const ReadProgress& progress) {
  const std::string text = read_whole(file, {"a glTF file, such as harbour.glb", most_bytes}, kinds);
  try {
    ArtistFile made;
    const tinygltf::Model model = parsed(file, text, kinds, made.beside);
    Reader reader{model, made, progress};
    reader.read();
    return made;
  } catch (const Diagnostic& diagnostic) {
    throw LoadError{file.string(), {diagnostic}};
  }
}

}  // namespace hushed::detail
