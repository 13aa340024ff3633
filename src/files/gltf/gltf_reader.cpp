// SPDX-License-Identifier: MIT
// Reads back the glTF files that recordings are written to.

#include <algorithm>
#include <cmath>
#include <cstring>
#include <functional>
#include <set>

#include <nlohmann/json.hpp>

#include <hushed/error.hpp>

#include "gltf/keys.hpp"
#include "read_whole.hpp"
#include "recording_format.hpp"

namespace hushed::detail {

namespace {

using Json = nlohmann::json;

[[noreturn]] void refuse(const std::string& text) { throw Diagnostic{{}, text}; }

std::uint32_t number_at(const std::string& bytes, std::size_t place) {
  std::uint32_t number = 0;
  if (place + 4 > bytes.size()) refuse("the file is incomplete.");
  std::memcpy(&number, bytes.data() + place, 4);
  return number;
}

/// Of an even recording, in memory.
constexpr std::int64_t most_frames = 10'000'000;

struct Document {
  Json json;
  std::string buffer;
};

Document open_document(const std::filesystem::path& file, const std::string& text) {
  Document document;
  if (text.starts_with("glTF")) {
    const std::size_t length = number_at(text, 12);
    if (20 + length > text.size()) refuse("the file is incomplete.");
    document.json = Json::parse(text.substr(20, length), nullptr, false);
    if (text.size() > 28 + length) document.buffer = text.substr(28 + length, number_at(text, 20 + length));
  } else {
    document.json = Json::parse(text, nullptr, false);
    if (document.json.is_object() && document.json.contains("buffers"))
      document.buffer = read_whole(std::filesystem::path{file}.replace_extension(".bin"),
                                   {"the .bin file beside a .gltf file", std::uintmax_t{4} << 30});
  }
  if (!document.json.is_object()) refuse("this is not a glTF file.");
  return document;
}

/// One channel of a node, or what it stands at.
class Track {
 public:
  explicit Track(const std::vector<float>& still, int parts) : parts_{parts} {
    if (still.size() != static_cast<std::size_t>(parts)) refuse("a node has a wrong number of values.");
    Key key{0.0F, {}};
    std::copy(still.begin(), still.end(), key.value.begin());
    keys_.push_back(key);
  }
  void set_keys(const std::vector<float>& times, const std::vector<float>& values) {
    const auto parts = static_cast<std::size_t>(parts_);
    const auto is_finite = [](float number) { return std::isfinite(number); };
    if (!std::all_of(times.begin(), times.end(), is_finite) || !std::all_of(values.begin(), values.end(), is_finite))
      refuse("a channel has a number that is not finite.");
    if (times.empty() || values.size() != parts * times.size())
      refuse("a channel has a different number of values and times.");
    if (std::adjacent_find(times.begin(), times.end(), std::greater_equal{}) != times.end())
      refuse("the times of a channel are not increasing.");
    keys_.assign(times.size(), {});
    for (std::size_t i = 0; i < times.size(); ++i) {
      keys_[i].time = times[i];
      std::copy_n(values.begin() + static_cast<std::ptrdiff_t>(parts * i), parts, keys_[i].value.begin());
    }
  }
  KeyValue at(float time) const {
    const auto after =
        std::upper_bound(keys_.begin(), keys_.end(), time, [](float t, const Key& key) { return t < key.time; });
    if (after == keys_.begin()) return between(keys_.front().value, keys_.front().value, 0.0, parts_);
    const Key& a = *(after - 1);
    if (after == keys_.end() || a.time == time) return between(a.value, a.value, 0.0, parts_);
    const double share = (static_cast<double>(time) - static_cast<double>(a.time)) /
                         (static_cast<double>(after->time) - static_cast<double>(a.time));
    return between(a.value, after->value, share, parts_);
  }
  void times_to(std::set<float>& all) const {
    for (const Key& key : keys_) all.insert(key.time);
  }

 private:
  int parts_;
  std::vector<Key> keys_;
};

struct Node {
  std::string name;
  std::optional<std::size_t> parent;
  Track translation, rotation, scale;
  std::optional<std::size_t> shape;  ///< the node below it that has its scale
};

std::vector<float> floats(const Json& node, const char* key, std::vector<float> otherwise) {
  return node.contains(key) ? node.at(key).get<std::vector<float>>() : std::move(otherwise);
}

std::vector<float> values_of(const Document& document, std::size_t accessor) {
  const Json& what = document.json.at("accessors").at(accessor);
  const Json& view = document.json.at("bufferViews").at(what.at("bufferView").get<std::size_t>());
  const auto type = what.at("type").get<std::string>();
  const std::size_t parts = type == "SCALAR" ? 1 : type == "VEC3" ? 3 : 4;
  const std::size_t place = view.value("byteOffset", std::size_t{0}) + what.value("byteOffset", std::size_t{0});
  const auto count = what.at("count").get<std::size_t>();
  if (place > document.buffer.size() || count > (document.buffer.size() - place) / (4 * parts))
    refuse("the file is incomplete.");
  std::vector<float> values(parts * count);
  std::memcpy(values.data(), document.buffer.data() + place, 4 * values.size());
  return values;
}

Node& node_at(std::vector<Node>& nodes, const Json& number) {
  const auto at = number.get<std::size_t>();
  if (at >= nodes.size())
    refuse("it names node " + std::to_string(at) + " of " + std::to_string(nodes.size()) + ", counted from 0.");
  return nodes[at];
}

std::vector<Node> nodes_of(const Document& document) {
  std::vector<Node> nodes;
  for (const Json& node : document.json.value("nodes", Json::array()))
    nodes.push_back({node.value("name", ""),
                     {},
                     Track{floats(node, "translation", {0, 0, 0}), 3},
                     Track{floats(node, "rotation", {0, 0, 0, 1}), 4},
                     Track{floats(node, "scale", {1, 1, 1}), 3},
                     {}});
  for (std::size_t i = 0; i < nodes.size(); ++i)
    for (const Json& child : document.json.at("nodes").at(i).value("children", Json::array())) {
      Node& below = node_at(nodes, child);
      below.parent = i;
      if (below.name == nodes[i].name + " shape") nodes[i].shape = child.get<std::size_t>();
    }
  return nodes;
}

Pose local_of(const Node& node, float at) {
  const KeyValue t = node.translation.at(at), r = node.rotation.at(at);
  return {{t[0], t[1], t[2]}, Quat{r[3], r[0], r[1], r[2]}.normalized(), Vec3::Ones()};
}

Pose world_of(const std::vector<Node>& nodes, std::size_t index, float at) {
  std::vector<std::size_t> above;  // the node, its parent, and so on
  for (std::optional<std::size_t> next = index; next; next = nodes[*next].parent) {
    if (above.size() > nodes.size()) refuse("the nodes form a cycle.");
    above.push_back(*next);
  }
  Pose pose = local_of(nodes[above.back()], at);
  for (auto node = above.rbegin() + 1; node != above.rend(); ++node) pose = compose(pose, local_of(nodes[*node], at));
  return pose;
}

}  // namespace

Recording read_gltf(const std::filesystem::path& file, const std::string& text) try {
  const Document document = open_document(file, text);
  std::vector<Node> nodes = nodes_of(document);
  const Json extras = document.json.at("asset").value("extras", Json::object());
  for (const Json& animation : document.json.value("animations", Json::array())) {
    for (const Json& channel : animation.at("channels")) {
      const Json& sampler = animation.at("samplers").at(channel.at("sampler").get<std::size_t>());
      Node& node = node_at(nodes, channel.at("target").at("node"));
      const auto path = channel.at("target").at("path").get<std::string>();
      Track& track = path == "translation" ? node.translation : path == "rotation" ? node.rotation : node.scale;
      track.set_keys(values_of(document, sampler.at("input").get<std::size_t>()),
                     values_of(document, sampler.at("output").get<std::size_t>()));
    }
  }

  Recording recording;
  std::vector<std::size_t> which;
  for (std::size_t i = 0; i < nodes.size(); ++i) {
    if (!nodes[i].shape) continue;
    which.push_back(i);
    recording.objects.push_back(nodes[i].name);
  }
  if (which.empty() && !nodes.empty()) refuse("not a recording; give a file made by `hushed play --record`.");

  const Time start = seconds(extras.value("start", 0.0));
  std::vector<float> moments;
  if (const double per_second = extras.value("frames_per_second", 0.0); per_second > 0.0) {
    const auto frames = extras.value("frames", std::int64_t{0});
    if (per_second < 1e-3 || per_second > 1e6 || frames > most_frames)
      refuse("the number of frames in asset.extras is not possible.");
    for (std::int64_t frame = 0; frame < frames; ++frame) {
      recording.times.push_back(start + frame_time(frame, per_second));
      moments.push_back(static_cast<float>(in_seconds(frame_time(frame, per_second))));
    }
  } else {
    std::set<float> all;
    for (const Node& node : nodes)
      for (const Track* track : {&node.translation, &node.rotation, &node.scale}) track->times_to(all);
    for (const float moment : all) recording.times.push_back(start + seconds(static_cast<double>(moment)));
    moments.assign(all.begin(), all.end());
  }
  for (const float moment : moments) {
    for (const std::size_t i : which) {
      const KeyValue s = nodes[*nodes[i].shape].scale.at(moment);
      recording.poses.push_back(world_of(nodes, i, moment).with_scale({s[0], s[1], s[2]}));
    }
  }
  return recording;
} catch (const Json::exception& error) {
  refuse(std::string{"not a recording made by `hushed play --record`: "} + error.what());
}

}  // namespace hushed::detail
