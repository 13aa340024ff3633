// SPDX-License-Identifier: MIT
#include <hushed/recording_file.hpp>

#include <fstream>
#include <map>
#include <set>
#include <sstream>

#include <gtest/gtest.h>
#include <tiny_gltf.h>

#include <hushed/behaviour/spin.hpp>
#include <hushed/behaviour/travel.hpp>
#include <hushed/load.hpp>

#include "support/demo.hpp"

namespace hushed::tests {
namespace {

using namespace std::chrono_literals;

constexpr std::int64_t short_play = 200, whole_play = 600;  // the last frames

std::string path_of(const std::string& name) { return testing::TempDir() + name; }

Recording played_harbour() {
  Scene harbour = demo();
  return record(harbour, FrameTimes{60.0}, short_play);
}

void write_harbour(const std::string& file, std::int64_t last_frame = short_play) {
  Scene harbour = demo();
  RecordingWriter writer{file, harbour, 60.0};
  for (std::int64_t frame = 0; frame <= last_frame; ++frame) {
    harbour.advance(frame_time(frame, 60.0) - harbour.time());
    writer.add(harbour);
  }
  writer.finish();
}

/// A second reader: the floats of an accessor, by an independent library.
std::vector<double> floats(const tinygltf::Model& model, int accessor_index) {
  const auto& accessor = model.accessors[static_cast<std::size_t>(accessor_index)];
  const auto& view = model.bufferViews[static_cast<std::size_t>(accessor.bufferView)];
  const auto& bytes = model.buffers[static_cast<std::size_t>(view.buffer)].data;
  const std::size_t count =
      accessor.count *
      static_cast<std::size_t>(tinygltf::GetNumComponentsInType(static_cast<std::uint32_t>(accessor.type)));
  std::vector<float> values(count);
  std::memcpy(values.data(), bytes.data() + view.byteOffset + accessor.byteOffset, 4 * count);
  return {values.begin(), values.end()};
}

/// The matrices of all nodes at a time, by the specification of the format.
class Model {
 public:
  explicit Model(const std::string& file) {
    tinygltf::TinyGLTF reader;
    std::string error, warning;
    const bool is_binary = file.ends_with(".glb");
    const bool read = is_binary ? reader.LoadBinaryFromFile(&model, &error, &warning, file)
                                : reader.LoadASCIIFromFile(&model, &error, &warning, file);
    EXPECT_TRUE(read) << error;
    EXPECT_EQ(error + warning, "");
    for (const auto& channel : model.animations.at(0).channels) {
      const auto& sampler = model.animations[0].samplers[static_cast<std::size_t>(channel.sampler)];
      EXPECT_EQ(sampler.interpolation, "LINEAR");
      tracks_[{channel.target_node, channel.target_path}] = {floats(model, sampler.input),
                                                             floats(model, sampler.output)};
    }
  }

  Eigen::Affine3d world(int node, double time) const {
    Eigen::Affine3d matrix = local(node, time);
    for (std::size_t i = 0; i < model.nodes.size(); ++i)
      for (const int child : model.nodes[i].children)
        if (child == node) return world(static_cast<int>(i), time) * matrix;
    return matrix;
  }
  std::map<std::string, int> names() const {
    std::map<std::string, int> names;
    for (std::size_t i = 0; i < model.nodes.size(); ++i) names[model.nodes[i].name] = static_cast<int>(i);
    return names;
  }
  std::size_t keys(int node, const std::string& path) const {
    const auto found = tracks_.find({node, path});
    return found == tracks_.end() ? 0 : found->second.times.size();
  }

  tinygltf::Model model;

 private:
  struct Track {
    std::vector<double> times, values;
  };

  Eigen::Affine3d local(int index, double time) const {
    const auto& node = model.nodes[static_cast<std::size_t>(index)];
    const auto t = value(index, "translation", time, node.translation, {0, 0, 0});
    const auto r = value(index, "rotation", time, node.rotation, {0, 0, 0, 1});
    const auto s = value(index, "scale", time, node.scale, {1, 1, 1});
    return Eigen::Translation3d{t[0], t[1], t[2]} * Eigen::Quaterniond{r[3], r[0], r[1], r[2]}.normalized() *
           Eigen::Scaling(s[0], s[1], s[2]);
  }
  std::vector<double> value(int node, const std::string& path, double time, const std::vector<double>& still,
                            const std::vector<double>& natural) const {
    const auto found = tracks_.find({node, path});
    if (found == tracks_.end()) return still.empty() ? natural : still;
    const std::vector<double>&times = found->second.times, &values = found->second.values;
    const std::size_t parts = natural.size();
    std::size_t after = 0;
    while (after < times.size() && times[after] <= time) ++after;
    const auto key = [&](std::size_t i) {
      return std::vector(values.begin() + static_cast<std::ptrdiff_t>(i * parts),
                         values.begin() + static_cast<std::ptrdiff_t>((i + 1) * parts));
    };
    if (after == 0 || after == times.size()) return key(after == 0 ? 0 : after - 1);
    const auto a = key(after - 1), b = key(after);
    const double share = (time - times[after - 1]) / (times[after] - times[after - 1]);
    if (parts == 4) {
      const Eigen::Quaterniond q =
          Eigen::Quaterniond{a[3], a[0], a[1], a[2]}.slerp(share, Eigen::Quaterniond{b[3], b[0], b[1], b[2]});
      return {q.x(), q.y(), q.z(), q.w()};
    }
    return {a[0] + share * (b[0] - a[0]), a[1] + share * (b[1] - a[1]), a[2] + share * (b[2] - a[2])};
  }

  std::map<std::pair<int, std::string>, Track> tracks_;
};

TEST(Recording, KnowsHiddenAndEndedObjects) {
  Scene harbour;
  const Object ferry = harbour.add({.name = "ferry"}), paper = harbour.add({.name = "paper", .parent = ferry});
  harbour.give(ferry, Travel{.velocity = {1, 0, 0}});
  harbour.when(after(seconds(1))).called("away").then(hide(ferry));
  harbour.when(after(seconds(2))).called("back").then(show(ferry), end(paper));
  const Recording played = record(harbour, FrameTimes{10.0}, 30);
  std::string times;
  for (std::size_t frame = 0; frame <= 30; ++frame)
    times += played.is_hidden(frame, 0) ? 'h' : played.is_hidden(frame, 1) ? 'e' : '.';
  EXPECT_EQ(times, std::string(11, '.') + std::string(10, 'h') + std::string(10, 'e'));
  EXPECT_NEAR(played.at(30, 0).position.x(), 3, 1e-9);  // it moves on unseen
  EXPECT_EQ(played.at(30, 1).position, played.at(20, 1).position);
  ASSERT_EQ(played.happenings.size(), 2U);
  EXPECT_EQ(played.happenings[0].name, "away");
}

TEST(Recording, ReadsBackToTheSameBitsAsRows) {
  const Recording played = played_harbour();
  for (const char* name : {"harbour.csv", "harbour.jsonl"}) {
    write_harbour(path_of(name));
    const Recording read = read_recording(path_of(name));
    ASSERT_EQ(read.objects, played.objects);
    ASSERT_EQ(read.times, played.times);
    for (std::size_t i = 0; i < played.poses.size(); ++i) {
      ASSERT_EQ(read.poses[i].position, played.poses[i].position);
      ASSERT_EQ(read.poses[i].scale, played.poses[i].scale);
      ASSERT_EQ(std::abs(read.poses[i].rotation.dot(played.poses[i].rotation)), played.poses[i].rotation.squaredNorm());
    }
  }
}

TEST(Recording, ShowsEveryReaderOfGltfTheSamePoses) {
  const Recording played = played_harbour();
  for (const char* name : {"harbour.glb", "harbour.gltf"}) {
    write_harbour(path_of(name));
    const Model model{path_of(name)};
    const auto names = model.names();
    const Recording read = read_recording(path_of(name));
    ASSERT_EQ(read.objects, played.objects);
    ASSERT_EQ(read.times, played.times);
    for (std::size_t frame = 0; frame < played.frames(); ++frame) {
      const auto moment = static_cast<double>(static_cast<float>(in_seconds(played.times[frame])));
      for (std::size_t object = 0; object < played.objects.size(); ++object) {
        const Pose& pose = played.at(frame, object);
        const Eigen::Affine3d node = model.world(names.at(played.objects[object]), moment);
        const Eigen::Affine3d shape = model.world(names.at(played.objects[object] + " shape"), moment);
        EXPECT_LT((node.translation() - pose.position).cwiseAbs().maxCoeff(), 1e-6) << played.objects[object];
        EXPECT_LT((node.linear() - pose.rotation.toRotationMatrix()).cwiseAbs().maxCoeff(), 1e-6);
        EXPECT_LT((shape.linear() - pose.rotation.toRotationMatrix() * pose.scale.asDiagonal()).cwiseAbs().maxCoeff(),
                  1e-6);
        EXPECT_LT((read.at(frame, object).position - pose.position).cwiseAbs().maxCoeff(), 1e-6);
        EXPECT_LT(read.at(frame, object).rotation.angularDistance(pose.rotation), 2e-6);
      }
    }
  }
}

TEST(Recording, KeepsScalesThatNestedMatricesWouldShear) {
  Scene harbour;
  const Object barge =
      harbour.add({.name = "barge", .rest = {{3, 0, 1}, rotation(axis::up, degrees(30)), {3, 1, 0.5}}});
  const Object deck = harbour.add({.name = "deck",
                                   .parent = barge,
                                   .rest = {{1, 2, 3}, rotation(degrees(20), degrees(40), degrees(0)), {1, 2, 1}}});
  harbour.give(barge, Spin{});
  RecordingWriter writer{path_of("barge.glb"), harbour, 30.0};
  for (int frame = 0; frame < 30; ++frame, harbour.advance(Time{units_per_second / 30})) writer.add(harbour);
  writer.finish();
  const Model model{path_of("barge.glb")};
  harbour.seek(0s);
  const Eigen::Affine3d shape = model.world(model.names().at("deck shape"), 0.0);
  const Pose pose = harbour.world(deck);
  EXPECT_LT((shape.translation() - pose.position).norm(), 1e-6);
  EXPECT_LT((shape.linear() - pose.rotation.toRotationMatrix() * pose.scale.asDiagonal()).norm(), 2e-6);
}

TEST(Recording, LeavesOutRedundantKeys) {
  write_harbour(path_of("thin.glb"), whole_play);
  const Model model{path_of("thin.glb")};
  const auto names = model.names();
  EXPECT_EQ(model.keys(names.at("mast"), "translation"), 0U);       // made fast
  EXPECT_EQ(model.keys(names.at("lighthouse"), "rotation"), 0U);    // never turns
  EXPECT_LT(model.keys(names.at("lamp"), "rotation"), 400U);        // turns at an even rate: between its neighbours
  EXPECT_LT(model.keys(names.at("trolley"), "translation"), 515U);  // waits for 90 frames at the end of the jib
  EXPECT_GT(model.keys(names.at("buoy"), "translation"), 100U);     // swings
}

TEST(Recording, GetsItsNameOnlyWhenItIsComplete) {
  const std::string file = path_of("kept.csv");
  std::ofstream{file} << "what was there";
  {
    Scene harbour = demo();
    RecordingWriter writer{file, harbour};
    writer.add(harbour);
  }
  std::ostringstream text;
  text << std::ifstream{file}.rdbuf();
  EXPECT_EQ(text.str(), "what was there");
  for (const auto& entry : std::filesystem::directory_iterator{std::filesystem::path{file}.parent_path()})
    EXPECT_FALSE(entry.path().string().starts_with(file + '.')) << entry.path();
}

TEST(Recording, RefusesATruncatedFile) {
  write_harbour(path_of("whole.glb"));
  std::ostringstream content;
  content << std::ifstream{path_of("whole.glb"), std::ios::binary}.rdbuf();
  const std::string whole = content.str();
  for (std::size_t length = 0; length < whole.size(); length += 4'999) {
    std::ofstream{path_of("cut.glb"), std::ios::binary} << whole.substr(0, length);
    EXPECT_THROW(read_recording(path_of("cut.glb")), LoadError) << length;
  }
}

TEST(Recording, ReadsDeeplyNestedNodes) {
  constexpr int depth = 100'000;
  std::ofstream file{path_of("deep.gltf"), std::ios::binary};
  file << R"({"asset":{"extras":{"frames":1,"frames_per_second":1}},"nodes":[)";
  for (int i = 0; i < depth; ++i) file << R"({"translation":[0,1,0],"children":[)" << i + 1 << "]},";
  file << R"({"name":"buoy","translation":[0,1,0],"children":[)" << depth + 1 << R"(]},{"name":"buoy shape"}]})";
  file.close();
  EXPECT_EQ(read_recording(path_of("deep.gltf")).at(0, 0).position.y(), depth + 1);
}

TEST(Recording, ReportsErrorsInAFile) {
  const std::string parts =
      "a.position.x,a.position.y,a.position.z,a.rotation.x,a.rotation.y,a.rotation.z,a.rotation.w,"
      "a.scale.x,a.scale.y,a.scale.z";
  const auto said = [](const std::string& name, const std::string& text) {
    std::ofstream{path_of(name), std::ios::binary} << text;
    try {
      read_recording(path_of(name));
    } catch (const LoadError& error) {
      return std::string{error.what()}.substr(path_of(name).size());
    }
    return std::string{"read"};
  };
  for (const auto& [name, text, words] : std::vector<std::tuple<std::string, std::string, std::string>>{
           {"a.csv", "", ": the file is empty"},
           {"a.csv", "frame,time,a.speed\n", ":1:1: column \"a.speed\" is not a part of a pose"},
           {"a.csv", "frame,time,a.position.x\n", ":1:1: column \"a.position.y\" is missing; record the play again."},
           {"a.csv", "frame," + parts + "\n", ":1:1: no column \"time\""},
           {"a.csv", "frame,time," + parts + "\n0,0,1,2\n", ":2:1: found 4 numbers; the header has 12 columns."},
           {"a.csv", "frame,time," + parts + "\n0,0,1,2,x,0,0,0,1,1,1,1\n", ":2:5: \"x\" is not a number."},
           {"a.csv", "frame,time," + parts + "\n0,0,1,2,3,0,0,0,2,1,1,1\n",
            ":2:1: a: the rotation does not have length 1."},
           {"a.csv", "frame,time," + parts + "\n0,1,1,2,3,0,0,0,1,1,1,1\n1,1,1,2,3,0,0,0,1,1,1,1\n",
            ":3:1: time 1 is not later than"},
           {"a.jsonl", "[1]\n", ":1:1: the line is not a JSON object."},
           {"a.glb", "glTF", ": the file is incomplete."},
           {"a.gltf", "{\"asset\":{\"version\":\"2.0\"},\"nodes\":[{\"name\":\"n\"}]}", ": not a recording; give"},
           {"a.gltf",
            "{\"asset\":{\"extras\":{\"frames\":1,\"frames_per_second\":1}},\"nodes\":[{\"name\":\"n\",\"children\":[0,"
            "1]},"
            "{\"name\":\"n shape\"}]}",
            ": the nodes form a cycle."},
           {"a.gltf", R"({"asset":{},"nodes":[{"name":"n","children":[7]}]})",
            ": it names node 7 of 1, counted from 0."},
           {"a.gltf",
            R"({"asset":{},"animations":[{"channels":[{"sampler":0,"target":{"node":0,"path":"scale"}}],)"
            R"("samplers":[{}]}]})",
            ": it names node 0 of 0, counted from 0."},
           {"a.gltf", R"({"asset":{},"nodes":[{"name":"n","rotation":[0,0,0,1,2,3,4,5,6,7]}]})",
            ": a node has a wrong number of values."},
           {"a.gltf",
            R"({"asset":{"extras":{"frames":1000000000,"frames_per_second":1}},)"
            R"("nodes":[{"name":"n","children":[1]},{"name":"n shape"}]})",
            ": the number of frames in asset.extras is not possible."},
           {"a.gltf",
            R"({"asset":{"extras":{"frames":2,"frames_per_second":1e-300}},)"
            R"("nodes":[{"name":"n","children":[1]},{"name":"n shape"}]})",
            ": the number of frames in asset.extras is not possible."},
           {"a.gltf",
            "{\"asset\":{\"extras\":{\"frames\":9e9,\"frames_per_second\":1}},\"nodes\":[{\"name\":\"n\",\"children\":["
            "1]},"
            "{\"name\":\"n shape\"}]}",
            ": the number of frames in asset.extras is not possible."},
           {"a.gltf", "{}", ": not a recording made by"},
           {"a.txt", "", ": unknown format; give a file that ends in .csv"}})
    EXPECT_TRUE(said(name, text).starts_with(words)) << text << ": " << said(name, text);
}

}  // namespace
}  // namespace hushed::tests
