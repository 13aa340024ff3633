// SPDX-License-Identifier: MIT
// Recordings as glTF 2.0. A node for each object, the child of its parent's, with what it turns and moves by; below it
// a node with its shape, scaled as the object is in the world. (A scale in the node itself would shear what is below
// it.)
//
// Keys go to a nameless file as they come. When all are there it is known how many each channel has, and so where each
// belongs; then they are put in their places.

#include <algorithm>
#include <array>
#include <cstring>
#include <map>
#include <tuple>

#include <nlohmann/json.hpp>

#include <hushed/error.hpp>

#include <hushed/detail/new_file.hpp>
#include <hushed/model.hpp>
#include "gltf/keys.hpp"
#include "gltf/mesh.hpp"
#include "recording_format.hpp"

namespace hushed::detail {

namespace {

using OrderedJson = nlohmann::ordered_json;

/// Night in the harbour: base colours, in turn.
constexpr std::array<std::array<double, 3>, 6> colours{{{0.90, 0.55, 0.16},
                                                        {0.24, 0.52, 0.72},
                                                        {0.60, 0.66, 0.70},
                                                        {0.36, 0.62, 0.46},
                                                        {0.76, 0.38, 0.42},
                                                        {0.86, 0.78, 0.50}}};

constexpr int float_type = 5126, unsigned_short_type = 5123, vertex_target = 34962, index_target = 34963;

std::string_view bytes_of(const auto& values) {
  return {reinterpret_cast<const char*>(values.data()), values.size() * sizeof(values[0])};
}

std::uint64_t aligned(std::uint64_t size) { return (size + 3) / 4 * 4; }

/// What of a node moves.
enum class Moves { translation, rotation, scale };

struct Channel {
  std::size_t node;
  Moves moves;
  Keys keys;
  std::uint64_t count = 0;
  bool varies = false;
  Key first = {}, last = {};

  int parts() const { return moves == Moves::rotation ? 4 : 3; }
};

/// A key on its way to its place.
struct Stray {
  std::uint32_t channel;
  Key key;
};

struct CloseFile {
  void operator()(std::FILE* file) const { std::fclose(file); }
};

std::string as_uri(const std::string& name) {
  std::string uri;
  for (const char c : name) {
    const bool plain = (c >= '0' && c <= '9') || (c >= 'a' && c <= 'z') || (c >= 'A' && c <= 'Z') ||
                       std::string_view{"-._~"}.find(c) != std::string_view::npos;
    char code[4];
    std::snprintf(code, sizeof code, "%%%02X", static_cast<unsigned>(static_cast<unsigned char>(c)));
    plain ? uri.push_back(c) : void(uri += code);
  }
  return uri;
}

class GltfFormat final : public RecordingWriter::Format {
 public:
  GltfFormat(const RecordingPlan& plan, bool is_binary)
      : plan_{plan}, is_binary_{is_binary}, file_{plan.file}, strays_{std::tmpfile()} {
    if (!strays_) throw Error{"a temporary file cannot be created: " + std::string{std::strerror(errno)} + "."};
    if (!is_binary) beside_.emplace(std::filesystem::path{plan.file}.replace_extension(".bin"));
    for (std::size_t item = 0; item < plan.items.size(); ++item) {
      channels_.push_back({2 * item, Moves::translation, Keys{3}});
      channels_.push_back({2 * item, Moves::rotation, Keys{4}});
      channels_.push_back({2 * item + 1, Moves::scale, Keys{3}});
    }
  }

  void add(Time time, std::span<const Pose> shown) override {
    if (frames_ == 0) start_ = time;
    ++frames_;
    const auto at = static_cast<float>(in_seconds(time - start_));
    for (std::size_t item = 0; item < plan_.items.size(); ++item) {
      const Pose& pose = shown[item];
      Vec3 place = pose.position;
      Quat turn = pose.rotation;
      if (const auto parent = plan_.items[item].parent) {
        const Quat back = shown[*parent].rotation.conjugate();
        place = back * (pose.position - shown[*parent].position);
        turn = back * pose.rotation;
      }
      turn.normalize();
      take(3 * item, at, {place.x(), place.y(), place.z(), 0.0});
      take(3 * item + 1, at, {turn.x(), turn.y(), turn.z(), turn.w()});
      take(3 * item + 2, at, {pose.scale.x(), pose.scale.y(), pose.scale.z(), 0.0});
    }
  }

  void finish() override {
    for (std::size_t i = 0; i < channels_.size(); ++i)
      channels_[i].keys.finish([&](const Key& key) { hand_on(i, key); });
    OrderedJson document = describe();
    const std::uint64_t size = aligned(size_);
    if (size > 4'000'000'000)
      throw Error{plan_.file.string() +
                  ": the recording exceeds 4 GB, the limit of glTF; record fewer frames, or a .csv file."};
    document["buffers"] = OrderedJson::array({{{"byteLength", size}}});
    NewFile& binary = is_binary_ ? file_ : *beside_;
    std::uint64_t origin = 0;
    if (is_binary_) {
      std::string text = document.dump();
      text.resize(aligned(text.size()), ' ');
      const std::array<std::uint32_t, 5> head{0x46546C67, 2, static_cast<std::uint32_t>(28 + text.size() + size),
                                              static_cast<std::uint32_t>(text.size()), 0x4E4F534A};
      const std::array<std::uint32_t, 2> chunk{static_cast<std::uint32_t>(size), 0x004E4942};
      file_.write(bytes_of(head));
      file_.write(text);
      file_.write(bytes_of(chunk));
      origin = 28 + text.size();
    } else {
      document["buffers"][0]["uri"] =
          as_uri(std::filesystem::path{plan_.file}.replace_extension(".bin").filename().string());
      file_.write(document.dump(1, ' ') + "\n");
    }
    write_meshes(binary, origin);
    write_keys(binary, origin);
    if (beside_) beside_->commit();
    file_.commit();
  }

 private:
  void take(std::size_t channel, float time, const KeyValue& value) {
    channels_[channel].keys.add(time, value, [&](const Key& key) { hand_on(channel, key); });
  }

  void hand_on(std::size_t index, const Key& key) {
    Channel& channel = channels_[index];
    if (channel.count == 0) channel.first = key;
    channel.last = key;
    channel.varies = channel.varies || key.value != channel.first.value;
    ++channel.count;
    const Stray stray{static_cast<std::uint32_t>(index), key};
    if (std::fwrite(&stray, sizeof stray, 1, strays_.get()) != 1)
      throw Error{"a temporary file cannot be written: " + std::string{std::strerror(errno)} + "."};
  }

  // --- what the document says, and where its bytes go ---

  OrderedJson describe() {
    OrderedJson document;
    document["asset"] = {{"version", "2.0"}, {"generator", "Hushed Orbit"}};
    OrderedJson& extras = document["asset"]["extras"] = {{"frames", frames_}, {"start", in_seconds(start_)}};
    if (plan_.frames_per_second) extras["frames_per_second"] = *plan_.frames_per_second;
    document["scene"] = 0;
    OrderedJson scene = {{"nodes", OrderedJson::array()}};
    if (!plan_.title.empty()) scene["name"] = plan_.title;
    OrderedJson nodes = OrderedJson::array();
    for (std::size_t item = 0; item < plan_.items.size(); ++item) {
      const RecordingPlan::Item& what = plan_.items[item];
      nodes.push_back({{"name", what.name}, {"children", OrderedJson::array({2 * item + 1})}});
      nodes.push_back({{"name", what.name + " shape"}, {"mesh", mesh_for(what, item)}});
    }
    for (std::size_t item = 0; item < plan_.items.size(); ++item) {
      const auto parent = plan_.items[item].parent;
      (parent ? nodes[2 * *parent]["children"] : scene["nodes"]).push_back(2 * item);
    }
    if (frames_ > 0) rest_at_first(nodes);
    if (!plan_.items.empty()) document["scenes"] = OrderedJson::array({scene});
    if (plan_.items.empty()) document.erase("scene");
    if (!nodes.empty()) document["nodes"] = nodes;
    OrderedJson animation = describe_animation();
    if (!animation.is_null()) document["animations"] = OrderedJson::array({animation});
    if (!meshes_.empty()) document["meshes"] = meshes_;
    if (!materials_.empty()) document["materials"] = materials_;
    if (!textures_.empty()) {
      document["textures"] = textures_;
      document["images"] = images_;
      document["samplers"] = samplers_;
    }
    if (!accessors_.empty()) document["accessors"] = accessors_;
    if (!views_.empty()) document["bufferViews"] = views_;
    return document;
  }

  /// Constant poses are stored in the nodes, and the first visible pose of all others.
  void rest_at_first(OrderedJson& nodes) const {
    for (const Channel& channel : channels_) {
      const auto& v = channel.first.value;
      OrderedJson& node = nodes[channel.node];
      const bool is_rotation = channel.moves == Moves::rotation;
      const std::array<float, 4> natural = is_rotation                           ? std::array<float, 4>{0, 0, 0, 1}
                                           : channel.moves == Moves::translation ? std::array<float, 4>{0, 0, 0, 0}
                                                                                 : std::array<float, 4>{1, 1, 1, 0};
      if (v == natural) continue;
      node[key_of(channel.moves)] = is_rotation ? OrderedJson{v[0], v[1], v[2], v[3]} : OrderedJson{v[0], v[1], v[2]};
    }
  }

  static const char* key_of(Moves moves) {
    return moves == Moves::translation ? "translation" : moves == Moves::rotation ? "rotation" : "scale";
  }

  /// The mesh of an object; those alike share one.
  std::size_t mesh_for(const RecordingPlan::Item& item, std::size_t number) {
    const bool has_model = item.shape && item.shape->model;
    const std::size_t material = !item.shape ? 0 : has_model ? colours.size() : 1 + number % (colours.size() - 1);
    const Shape shape = item.shape.value_or(Shape{Shape::Kind::box, Vec3::Zero()});
    const std::tuple key{item.shape ? static_cast<int>(shape.kind) : -1, array_of(shape.size), array_of(shape.centre),
                         has_model ? shape.model->digest : 0, material};
    const auto [found, is_new] = mesh_numbers_.try_emplace(key, meshes_.size());
    if (!is_new) return found->second;
    OrderedJson primitives = OrderedJson::array();
    if (has_model) {
      for (const Model::Part& part : shape.model->parts)
        for (const Mesh& mesh : meshes_of(part)) primitives.push_back(primitive_of(mesh, material_for(part)));
    }
    if (primitives.empty())
      primitives.push_back(primitive_of(mesh_of(item.shape), material_for(has_model ? 1 : material)));
    const std::string name = !item.shape ? "marker" : has_model ? item.name : std::string{name_of(shape.kind)};
    meshes_.push_back({{"name", name}, {"primitives", std::move(primitives)}});
    return found->second;
  }

  static std::array<double, 3> array_of(const Vec3& v) { return {v.x(), v.y(), v.z()}; }

  OrderedJson primitive_of(const Mesh& mesh, std::size_t material) {
    const auto view = [&](std::string_view bytes, int target) {
      const std::size_t number = view_of(bytes);
      views_[number]["target"] = target;
      return number;
    };
    const auto accessor = [&](std::size_t in, int component, std::size_t count, const char* type) {
      accessors_.push_back({{"bufferView", in}, {"componentType", component}, {"count", count}, {"type", type}});
      return accessors_.size() - 1;
    };
    const std::size_t points = mesh.positions.size() / 3;
    const std::size_t position = accessor(view(bytes_of(mesh.positions), vertex_target), float_type, points, "VEC3");
    for (const auto& [name, least] : {std::pair{"min", true}, {"max", false}}) {
      OrderedJson ends = OrderedJson::array();
      for (std::size_t axis = 0; axis < 3; ++axis) {
        float end = mesh.positions[axis];
        for (std::size_t i = axis; i < mesh.positions.size(); i += 3)
          end = least ? std::min(end, mesh.positions[i]) : std::max(end, mesh.positions[i]);
        ends.push_back(end);
      }
      accessors_[position][name] = ends;
    }
    const std::size_t normal = accessor(view(bytes_of(mesh.normals), vertex_target), float_type, points, "VEC3");
    const std::size_t indices =
        accessor(view(bytes_of(mesh.indices), index_target), unsigned_short_type, mesh.indices.size(), "SCALAR");
    OrderedJson primitive = {
        {"attributes", {{"POSITION", position}, {"NORMAL", normal}}}, {"indices", indices}, {"material", material}};
    if (!mesh.texture_coordinates.empty())
      primitive["attributes"]["TEXCOORD_0"] =
          accessor(view(bytes_of(mesh.texture_coordinates), vertex_target), float_type, points, "VEC2");
    return primitive;
  }

  std::size_t view_of(std::string_view bytes) {
    views_.push_back({{"buffer", 0}, {"byteOffset", size_}, {"byteLength", bytes.size()}});
    mesh_bytes_.append(bytes);
    mesh_bytes_.resize(aligned(mesh_bytes_.size()));
    size_ = mesh_bytes_.size();
    return views_.size() - 1;
  }

  std::size_t texture_for(const std::shared_ptr<const Texture>& texture) {
    const auto [found, is_new] = texture_numbers_.try_emplace(texture, textures_.size());
    if (!is_new) return found->second;
    const auto code = [](Texture::Wrap wrap) {
      return wrap == Texture::Wrap::repeat ? 10497 : wrap == Texture::Wrap::mirror ? 33648 : 33071;
    };
    images_.push_back({{"bufferView", view_of(texture->bytes)},
                       {"mimeType", texture->format == Texture::Format::png ? "image/png" : "image/jpeg"}});
    samplers_.push_back({{"magFilter", texture->is_smooth ? 9729 : 9728},
                         {"minFilter", 9987},
                         {"wrapS", code(texture->across)},
                         {"wrapT", code(texture->down)}});
    textures_.push_back({{"sampler", samplers_.size() - 1}, {"source", images_.size() - 1}});
    return found->second;
  }

  /// The paint of a part of a model, in linear light.
  std::size_t material_for(const Model::Part& part) {
    const Colour& colour = part.colour;
    const auto [found, is_new] = paint_numbers_.try_emplace({css_of(colour), part.texture}, materials_.size());
    const auto linear = [](std::uint8_t byte) {
      const double share = byte / 255.0;
      return share <= 0.04045 ? share / 12.92 : std::pow((share + 0.055) / 1.055, 2.4);
    };
    if (is_new)
      materials_.push_back({{"name", css_of(colour)},
                            {"pbrMetallicRoughness",
                             {{"baseColorFactor", {linear(colour.red), linear(colour.green), linear(colour.blue), 1.0}},
                              {"metallicFactor", 0.0},
                              {"roughnessFactor", 0.8}}}});
    if (is_new && part.texture)
      materials_.back()["pbrMetallicRoughness"]["baseColorTexture"] = {{"index", texture_for(part.texture)}};
    return found->second;
  }

  std::size_t material_for(std::size_t colour) {
    const auto [found, is_new] = material_numbers_.try_emplace(colour, materials_.size());
    if (is_new)
      materials_.push_back({{"name", colour == 0 ? "marker" : "paint " + std::to_string(colour)},
                            {"pbrMetallicRoughness",
                             {{"baseColorFactor", {colours[colour][0], colours[colour][1], colours[colour][2], 1.0}},
                              {"metallicFactor", 0.0},
                              {"roughnessFactor", 0.8}}}});
    return found->second;
  }

  /// Times of all channels, then their values: those of three parts, then those of four.
  OrderedJson describe_animation() {
    OrderedJson samplers = OrderedJson::array(), channels = OrderedJson::array();
    places_.assign(channels_.size(), {});
    std::array<std::uint64_t, 3> sizes{};
    for (const Channel& channel : channels_) {
      if (!channel.varies) continue;
      sizes[0] += 4 * channel.count;
      sizes[channel.parts() == 3 ? 1 : 2] += 4 * static_cast<std::uint64_t>(channel.parts()) * channel.count;
    }
    if (sizes[0] == 0) return nullptr;
    std::array<std::uint64_t, 3> view_numbers{}, starts{}, used{};
    for (std::size_t i = 0; i < 3; ++i) {
      starts[i] = size_;
      if (sizes[i] == 0) continue;
      view_numbers[i] = views_.size();
      views_.push_back({{"buffer", 0}, {"byteOffset", size_}, {"byteLength", sizes[i]}});
      size_ += sizes[i];
    }
    for (std::size_t i = 0; i < channels_.size(); ++i) {
      const Channel& channel = channels_[i];
      if (!channel.varies) continue;
      const std::size_t kind = channel.parts() == 3 ? 1 : 2;
      places_[i] = {starts[0] + used[0], starts[kind] + used[kind]};
      accessors_.push_back({{"bufferView", view_numbers[0]},
                            {"byteOffset", used[0]},
                            {"componentType", float_type},
                            {"count", channel.count},
                            {"type", "SCALAR"},
                            {"min", {channel.first.time}},
                            {"max", {channel.last.time}}});
      accessors_.push_back({{"bufferView", view_numbers[kind]},
                            {"byteOffset", used[kind]},
                            {"componentType", float_type},
                            {"count", channel.count},
                            {"type", kind == 1 ? "VEC3" : "VEC4"}});
      used[0] += 4 * channel.count;
      used[kind] += 4 * static_cast<std::uint64_t>(channel.parts()) * channel.count;
      channels.push_back(
          {{"sampler", samplers.size()}, {"target", {{"node", channel.node}, {"path", key_of(channel.moves)}}}});
      samplers.push_back(
          {{"input", accessors_.size() - 2}, {"interpolation", "LINEAR"}, {"output", accessors_.size() - 1}});
    }
    OrderedJson animation = {{"name", "motion"}, {"samplers", samplers}, {"channels", channels}};
    return animation;
  }

  // --- the bytes ---

  void write_meshes(NewFile& to, std::uint64_t origin) const { to.write_at(origin, mesh_bytes_); }

  /// Each key from the nameless file to its place, some hundred of a channel at a time.
  void write_keys(NewFile& to, std::uint64_t origin) {
    constexpr std::size_t at_a_time = 512;
    std::vector<std::vector<Key>> waiting(channels_.size());
    const auto write = [&](std::size_t index) {
      std::vector<float> times, values;
      for (const Key& key : waiting[index]) {
        times.push_back(key.time);
        values.insert(values.end(), key.value.begin(), key.value.begin() + channels_[index].parts());
      }
      waiting[index].clear();
      auto& [time_place, value_place] = places_[index];
      to.write_at(origin + time_place, bytes_of(times));
      to.write_at(origin + value_place, bytes_of(values));
      time_place += 4 * times.size();
      value_place += 4 * values.size();
    };
    std::rewind(strays_.get());
    Stray stray{};
    while (std::fread(&stray, sizeof stray, 1, strays_.get()) == 1) {
      if (!channels_[stray.channel].varies) continue;
      waiting[stray.channel].push_back(stray.key);
      if (waiting[stray.channel].size() == at_a_time) write(stray.channel);
    }
    for (std::size_t i = 0; i < waiting.size(); ++i)
      if (!waiting[i].empty()) write(i);
  }

  RecordingPlan plan_;
  bool is_binary_;
  NewFile file_;
  std::optional<NewFile> beside_;
  std::unique_ptr<std::FILE, CloseFile> strays_;
  std::vector<Channel> channels_;
  std::int64_t frames_ = 0;
  Time start_ = {};

  OrderedJson meshes_ = OrderedJson::array(), materials_ = OrderedJson::array(), accessors_ = OrderedJson::array(),
              views_ = OrderedJson::array();
  std::map<std::tuple<int, std::array<double, 3>, std::array<double, 3>, std::uint64_t, std::size_t>, std::size_t>
      mesh_numbers_;
  OrderedJson images_ = OrderedJson::array(), samplers_ = OrderedJson::array(), textures_ = OrderedJson::array();
  std::map<std::pair<std::string, std::shared_ptr<const Texture>>, std::size_t> paint_numbers_;
  std::map<std::shared_ptr<const Texture>, std::size_t> texture_numbers_;
  std::map<std::size_t, std::size_t> material_numbers_;
  std::string mesh_bytes_;
  std::uint64_t size_ = 0;  ///< of the buffer so far
  std::vector<std::pair<std::uint64_t, std::uint64_t>> places_;
};

}  // namespace

std::unique_ptr<RecordingWriter::Format> gltf_format(const RecordingPlan& plan, bool is_binary) {
  return std::make_unique<GltfFormat>(plan, is_binary);
}

}  // namespace hushed::detail
