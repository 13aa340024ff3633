// SPDX-License-Identifier: MIT
// Scenes from glTF files that artists have made, and their motion, compared with values computed by
// tests/gltf/samples.py.

#include <algorithm>
#include <array>
#include <cmath>
#include <cstdio>
#include <cstring>
#include <filesystem>
#include <fstream>
#include <functional>
#include <map>
#include <sstream>
#include <thread>

#include <gtest/gtest.h>
#include <nlohmann/json.hpp>

#include <hushed/behaviour/replay.hpp>
#include <hushed/edit.hpp>
#include <hushed/hushed.hpp>
#include <hushed/load.hpp>
#include <hushed/model.hpp>
#include <hushed/motion.hpp>
#include <hushed/read_ahead.hpp>
#include <hushed/recording_file.hpp>

#include "support/demo.hpp"

namespace hushed::tests {
namespace {

using namespace std::chrono_literals;
using Json = nlohmann::json;

const std::filesystem::path scenes = std::filesystem::path{HARBOUR}.parent_path();

SceneFile read_text(const std::string& text) {
  return read_scene_text("hushed = 1\n" + text, (scenes / "x.toml").string());
}

std::string refusal(const std::string& text) {
  try {
    read_text(text);
    return "accepted";
  } catch (const LoadError& error) {
    const std::string what = error.what();
    return what.substr(what.find("x.toml") + 6);
  }
}

TEST(Artist, NodesAreObjects) {
  const SceneFile file = read_text("[scene]\nfrom = \"artist.glb\"\n");
  const Scene& scene = file.scene;
  EXPECT_EQ(scene.size(), 16u);
  const Object lamp = scene.find("lamp").value(), tower = scene.find("lighthouse").value();
  EXPECT_EQ(scene.parent(lamp), tower);
  EXPECT_EQ(scene.world(lamp).position, Vec3(-12, 11, -11));  // mole + lighthouse + lamp
  EXPECT_EQ(scene.tags(tower), std::vector<std::string>{"tall"});
  EXPECT_EQ(scene.tags(scene.find("Ferry-No-2").value()), std::vector<std::string>{"boat"});
  EXPECT_TRUE(scene.find("view-from-the-quay"));  // a camera
  EXPECT_EQ(scene.rest(scene.find("bollard-7").value()).position, Vec3(2, 1, 12));
  // a quarter turn about +Y, in the numbers of a float
  EXPECT_NEAR(scene.rest(scene.find("gangway").value()).rotation.y(), std::sqrt(0.5), 1e-7);
  // bounds: the hull from -4.5 to 4.8 along z, from -0.6 to 2.4 along y
  const Shape& hull = scene.shape(scene.find("Ferry-No-2").value()).value();
  EXPECT_NEAR(hull.size.z(), 9.3, 1e-6);
  EXPECT_NEAR(hull.centre.z(), 0.15, 1e-6);
  EXPECT_NEAR(hull.centre.y(), 0.9, 1e-6);
  ASSERT_TRUE(hull.model);
  EXPECT_EQ(hull.model->parts.size(), 2u);
  EXPECT_EQ(css_of(hull.model->parts[1].colour), "#d9d4c7");
  EXPECT_FALSE(scene.shape(scene.find("view-from-the-quay").value()));
}

TEST(Artist, KeysOfTheSceneFileStandInsteadOfTheArtists) {
  const SceneFile file = read_text(
      "[scene]\nfrom = \"artist.glb\"\n[object.gangway]\nrotation = [0, 0, 0]\ntags = [\"wood\"]\n"
      "[object.buoy]\nshape = { kind = \"sphere\", size = 2 }\n[object.lamp]\nparent = \"buoy\"\n[object.gull]\n");
  const Scene& scene = file.scene;
  const Object gangway = scene.find("gangway").value();
  EXPECT_EQ(scene.rest(gangway).rotation.coeffs(), Quat::Identity().coeffs());
  EXPECT_EQ(scene.rest(gangway).position.x(), -5.8);  // still the artist's
  EXPECT_EQ(scene.tags(gangway), std::vector<std::string>{"wood"});
  EXPECT_TRUE(scene.shape(gangway)->model);
  EXPECT_EQ(scene.shape(scene.find("buoy").value())->kind, Shape::Kind::sphere);
  EXPECT_FALSE(scene.shape(scene.find("buoy").value())->model);
  EXPECT_EQ(scene.parent(scene.find("lamp").value()), scene.find("buoy"));
  EXPECT_EQ(scene.size(), 17u);
}

/// The poses that samples.py prints, of all files, by file and time.
TEST(Replay, PlaysKeysAsTheStandardDefinesThem) {
  const std::string folder = testing::TempDir() + "gltf_samples";
  std::filesystem::create_directories(folder);
  const std::string script = (scenes.parent_path() / "tests/gltf/samples.py").string();
  ASSERT_EQ(std::system(("python3 " + script + ' ' + folder + " > " + folder + "/expected.txt").c_str()), 0);
  std::map<std::string, SceneFile> files;
  std::ifstream expected{folder + "/expected.txt"};
  int poses = 0;
  for (std::string line; std::getline(expected, line); ++poses) {
    std::istringstream words{line};
    std::string name, node;
    double time = 0.0;
    words >> name >> time >> node;
    if (!files.contains(name)) {
      SceneFile made = read_scene_text("hushed = 1\n[scene]\nfrom = \"" + name + ".gltf\"\n", folder + "/x.toml");
      const auto motions = read_motions(folder + '/' + name + ".gltf");
      for (const MotionFile::Entry& each : motions->entries)
        made.scene.give(made.scene.find(each.object).value(), Replay{.file = motions});
      files.emplace(name, std::move(made));
    }
    Scene& scene = files.at(name).scene;
    scene.advance(seconds(time) - scene.time());
    const Pose pose = scene.world(scene.find(node).value());
    double p[10];
    for (double& number : p) words >> number;
    EXPECT_LT((pose.position - Vec3(p[0], p[1], p[2])).norm(), 1e-9) << line;
    const double same = std::abs(pose.rotation.coeffs().dot(Eigen::Vector4d(p[3], p[4], p[5], p[6])));
    EXPECT_LT(std::abs(1.0 - same), 1e-12) << line;
    EXPECT_LT((pose.scale - Vec3(p[7], p[8], p[9])).norm(), 1e-9) << line;
  }
  EXPECT_EQ(poses, 12 * 7);
}

/// x = 2 t from 0 to 4 s, and a quarter turn.
std::shared_ptr<const MotionFile> straight() {
  auto file = std::make_shared<MotionFile>();
  file->clips.push_back({"there", 0.0});
  file->add("boat",
            std::make_shared<Motion>(Motion::Channel{{0.0, 4.0}, {0, 0, 0, 8, 0, 0}},
                                     Motion::Channel{{0.0, 4.0}, {0, 0, 0, 1, 0, std::sqrt(0.5), 0, std::sqrt(0.5)}},
                                     Motion::Channel{}));
  return file;
}

double x_after(Replay replay, double time) {
  Scene scene;
  const Object boat = scene.add({.name = "boat", .rest = at(50, 0, 0)});
  replay.file = straight();
  scene.give(boat, replay);
  scene.advance(seconds(time));
  return scene.world(boat).position.x();
}

TEST(Replay, EndsLoopsAndReturns) {
  using enum ReplayEnds;
  EXPECT_DOUBLE_EQ(x_after({}, 3.0), 6.0);
  EXPECT_DOUBLE_EQ(x_after({}, 30.0), 8.0);
  EXPECT_DOUBLE_EQ(x_after({.speed = 0.5}, 3.0), 3.0);
  EXPECT_DOUBLE_EQ(x_after({.start = 3s}, 0.5), 7.0);
  EXPECT_NEAR(x_after({.ends = loop}, 4000001.0), 2.0, 1e-9);
  EXPECT_NEAR(x_after({.ends = return_}, 5.0), 6.0, 1e-12);
  EXPECT_NEAR(x_after({.ends = return_}, 9.0), 2.0, 1e-12);
  EXPECT_DOUBLE_EQ(x_after({.speed = -1.0}, 1.0), 6.0);  // from the end
  EXPECT_DOUBLE_EQ(x_after({.speed = -1.0}, 9.0), 0.0);
  EXPECT_NEAR(x_after({.speed = -1.0, .ends = loop}, 5.0), 6.0, 1e-12);
  EXPECT_DOUBLE_EQ(x_after({.speed = -1.0, .ends = loop}, 0.0), 8.0);  // at the end, not yet at the beginning
  EXPECT_DOUBLE_EQ(x_after({.speed = 0.0, .start = 3s, .ends = return_}, 100.0), 6.0);
  EXPECT_DOUBLE_EQ(x_after({.speed = -1.0, .start = 6s}, 1.0), 8.0);  // beyond the end, until it comes in
  EXPECT_DOUBLE_EQ(x_after({.speed = -1.0, .start = 6s}, 3.0), 6.0);
  EXPECT_NEAR(x_after({.speed = -1.0, .start = 1s, .ends = return_}, 3.0), 4.0, 1e-12);
  EXPECT_DOUBLE_EQ(x_after({.channels = {Channel::rotation}}, 3.0), 50.0);
  // blended: in the last second the way from 6 to 8 goes over to 0
  EXPECT_DOUBLE_EQ(x_after({.ends = loop, .blend = 1s}, 3.0), 6.0);
  EXPECT_NEAR(x_after({.ends = loop, .blend = 1s}, 3.5), 3.5, 1e-12);
  EXPECT_NEAR(x_after({.ends = loop, .blend = 1s}, 3.999999), 0.0, 1e-4);
}

TEST(Replay, IsTunedWithoutAJumpAndDependsOnTimeAlone) {
  const auto played = [](Time step, std::vector<Pose>& at_ends) {
    Scene scene;
    const Object boat = scene.add({.name = "boat"});
    scene.give(boat, Replay{.file = straight(), .ends = ReplayEnds::return_});
    scene.give(boat, Spring{.frequency = 2.0, .damping = 0.4});
    const auto go_on = [&](double until) {
      while (scene.time() + step <= seconds(until)) scene.advance(step);
      scene.advance(seconds(until) - scene.time());
      at_ends.push_back(scene.world(boat));
    };
    go_on(5.5);
    scene.set("boat.replay.speed", Value{-0.5});
    go_on(6.0);
    scene.set("boat.replay.ends", Value{std::string{"loop"}});
    go_on(15.25);
  };
  std::vector<Pose> a, b;
  played(seconds(1.0 / 60.0), a);
  played(seconds(0.31), b);
  for (std::size_t i = 0; i < a.size(); ++i) {
    EXPECT_EQ(a[i].position, b[i].position) << i;
    EXPECT_EQ(a[i].rotation.coeffs(), b[i].rotation.coeffs()) << i;
  }
  Scene scene;
  const Object boat = scene.add({.name = "boat"});
  scene.give(boat, Replay{.file = straight(), .ends = ReplayEnds::return_});
  scene.advance(seconds(5.5));  // on the way back, at 2.5 s of the clip
  const double before = scene.world(boat).position.x();
  scene.set("boat.replay.speed", Value{-0.5});
  EXPECT_NEAR(scene.world(boat).position.x(), before, 1e-9);
  scene.advance(seconds(1.0));  // forwards again, at half the speed
  EXPECT_NEAR(scene.world(boat).position.x(), before + 1.0, 1e-9);
}

/// The whole circle: recorded, read as a scene, and replayed.
TEST(Replay, RepeatsARecordedHarbour) {
  const std::string file = testing::TempDir() + "circle.glb";
  constexpr int frames = 300;
  std::vector<std::string> names;
  std::vector<Pose> poses;  // frame after frame
  {
    Scene scene = demo();
    const std::vector<Object> objects{scene.objects().begin(), scene.objects().end()};
    for (const Object object : objects) names.push_back(scene.name(object));
    RecordingWriter writer{file, scene, 60.0};
    for (int frame = 0; frame <= frames; ++frame) {
      scene.advance(frame_time(frame, 60.0) - scene.time());
      writer.add(scene);
      for (const Object object : objects) poses.push_back(scene.world(object));
    }
    writer.finish();
  }
  SceneFile again = read_scene_text("hushed = 1\n[scene]\nfrom = \"circle.glb\"\n", testing::TempDir() + "x.toml");
  const auto motions = read_motions(file);
  ASSERT_EQ(again.scene.size(), names.size());
  std::vector<Object> objects;
  for (const std::string& name : names) {
    objects.push_back(again.scene.find(name).value());
    again.scene.give(objects.back(), Replay{.file = motions});
  }
  double furthest = 0.0, most_turned = 0.0;
  for (int frame = 0; frame <= frames; ++frame) {
    again.scene.advance(frame_time(frame, 60.0) - again.scene.time());
    for (std::size_t i = 0; i < objects.size(); ++i) {
      const Pose &was = poses[static_cast<std::size_t>(frame) * objects.size() + i], is = again.scene.world(objects[i]);
      furthest = std::max(furthest, (was.position - is.position).norm());
      most_turned = std::max(most_turned, was.rotation.angularDistance(is.rotation));
    }
  }
  EXPECT_LT(most_turned, 1e-6);
  EXPECT_LT(furthest, 3e-6);  // a float has 24 bits: 1e-6 m for each coordinate at 16 to 32 m
}

/// The artist's file as text, changed.
std::string changed(const std::function<void(Json&)>& change) {
  std::ifstream in{scenes / "artist.glb", std::ios::binary};
  const std::string bytes{std::istreambuf_iterator<char>{in}, {}};
  std::uint32_t length = 0;
  std::memcpy(&length, bytes.data() + 12, 4);
  Json json = Json::parse(bytes.substr(20, length));
  change(json);
  std::string text = json.dump();
  text.resize((text.size() + 3) / 4 * 4, ' ');
  std::string made = bytes.substr(0, 12);
  const auto put = [&](std::uint32_t number) { made.append(reinterpret_cast<const char*>(&number), 4); };
  put(static_cast<std::uint32_t>(text.size()));
  put(0x4E4F534A);
  made += text + bytes.substr(20 + length);
  const auto whole = static_cast<std::uint32_t>(made.size());
  std::memcpy(made.data() + 8, &whole, 4);
  return made;
}

TEST(Artist, SaysWhatCannotBeRead) {
  const auto said = [](const std::function<void(Json&)>& change) {
    const std::filesystem::path folder = testing::TempDir() + "artist_mistakes";
    std::filesystem::create_directories(folder);
    std::ofstream{folder / "a.glb", std::ios::binary} << changed(change);
    try {
      read_scene_text("hushed = 1\n[scene]\nfrom = \"a.glb\"\n", (folder / "x.toml").string());
      return std::string{"accepted"};
    } catch (const LoadError& error) {
      const std::string what = error.what();
      return what.substr(what.find("x.toml") + 6);
    }
  };
  EXPECT_EQ(said([](Json&) {}), "accepted");
  EXPECT_EQ(
      said([](Json& json) {
        json["nodes"][6]["rotation"] = {0, 0, 0, 2};
      }),
      ":3:8: from: a.glb: node 6 \"Ferry No. 2\": its rotation does not have length 1; apply its transform in the "
      "modelling program.");
  EXPECT_EQ(said([](Json& json) { json["nodes"][6]["matrix"] = {1, 0, 0, 0, 1, 1, 0, 0, 0, 0, 1, 0, 0, 0, 0, 1}; }),
            ":3:8: from: a.glb: node 6 \"Ferry No. 2\": its matrix is sheared, which a pose cannot be; apply its "
            "transform in the modelling program.");
  EXPECT_EQ(said([](Json& json) { json["extensionsRequired"] = {"KHR_draco_mesh_compression"}; }),
            ":3:8: from: a.glb: its meshes are compressed (KHR_draco_mesh_compression), which is not read; export it "
            "without compression.");
  EXPECT_EQ(said([](Json& json) { json["extensionsRequired"] = {"EXT_tides"}; }),
            ":3:8: from: a.glb: it requires the extension EXT_tides, which is not read; export it without.");
  EXPECT_EQ(said([](Json& json) {
              json["accessors"][json["animations"][0]["samplers"][0]["output"].get<std::size_t>()]["count"] = 500;
            }),
            ":3:8: from: a.glb: animation 0 \"crossing\": its numbers are outside the file.");
  EXPECT_EQ(said([](Json& json) { json["animations"][1]["samplers"][0]["interpolation"] = "LINEAR"; }),
            ":3:8: from: a.glb: animation 1 \"bobbing\": buoy: position: there are 36 numbers for 4 keys.");
  EXPECT_EQ(said([](Json& json) { json["nodes"][2]["children"] = {3}; }),
            ":3:8: from: a.glb: node 3 \"lighthouse\": it has two parents, or is its own.");
  EXPECT_EQ(said([](Json& json) { json["asset"]["version"] = "1.0"; }),
            ":3:8: from: a.glb: its version is \"1.0\"; export glTF 2.0.");
  EXPECT_EQ(refusal("[scene]\nfrom = \"artist.glb\"\n[crowd.bolard]\ntags = [\"iron\"]\n"),
            ":4:8: bolard: no node of the file that the scene is from has this name and instances; did you mean "
            "\"bollard\"?");
  EXPECT_EQ(refusal("[scene]\nfrom = \"nowhere.glb\"\n"),
            ":3:8: from: nowhere.glb: the file does not exist; check the path.");
  EXPECT_EQ(
      refusal("[scene]\nfrom = \"artist.glb\"\n[[object.buoy.behaviour]]\nkind = \"replay\"\nclip = \"bobing\"\n"),
      ":6:1: buoy.replay: clip: no animation is called \"bobing\"; did you mean \"bobbing\"?");
  EXPECT_EQ(refusal("[scene]\nfrom = \"artist.glb\"\n[[object.mole.behaviour]]\nkind = \"replay\"\nclip = \"gusts\"\n"),
            ":4:1: mole.replay: object: the animation \"gusts\" does not move \"mole\"; give weather-vane.");
  EXPECT_EQ(refusal("[[object.mole.behaviour]]\nkind = \"replay\"\n"),
            ":2:1: mole.replay: \"file\" is missing; give a glTF file or a recording.");
}

TEST(Artist, SaysWhereAFileIsBroken) {
  const std::filesystem::path file = testing::TempDir() + "artist_broken.gltf";
  const auto said = [&](const std::string& bytes) {
    std::ofstream{file, std::ios::binary} << bytes;
    try {
      return describe_artist_file(file);
    } catch (const LoadError& error) {
      return error.diagnostics().front().text;
    }
  };
  const std::string whole = changed([](Json&) {});
  EXPECT_EQ(said("PNG"), "this is no glTF file; give a .glb or a .gltf file.");
  EXPECT_EQ(said(""), "this is no glTF file; give a .glb or a .gltf file.");
  EXPECT_EQ(said("{\n  \"asset\": {,\n"), "its JSON is wrong at line 2, column 13; export it again.");
  EXPECT_EQ(said(whole.substr(0, 3000)), "the file is incomplete: it has 3000 of " + std::to_string(whole.size()) +
                                             " bytes; export or copy it again.");
  std::string other = whole;
  other[4] = 1;
  EXPECT_EQ(said(other), "its version is 1; export glTF 2.0.");
  other = whole;
  other[20] = 'x';
  EXPECT_EQ(said(other), "the JSON in it is wrong at line 1, column 1; export it again.");
}

TEST(Artist, MirrorsAndInstancesAreRead) {
  const std::filesystem::path folder = testing::TempDir() + "artist_mirrored";
  std::filesystem::create_directories(folder);
  std::ofstream{folder / "a.glb", std::ios::binary} << changed([](Json& json) {
    json["nodes"][6].erase("translation"),
        json["nodes"][6]["matrix"] = {-2, 0, 0, 0, 0, 1, 0, 0, 0, 0, 1, 0, 5, 6, 7, 1};
  });
  const SceneFile file = read_scene_text("hushed = 1\n[scene]\nfrom = \"a.glb\"\n", (folder / "x.toml").string());
  const Pose& rest = file.scene.rest(file.scene.find("Ferry-No-2").value());
  EXPECT_EQ(rest.position, Vec3(5, 6, 7));
  // The matrix maps (1, 1, 1) to (-2 + 5, 1 + 6, 1 + 7).
  EXPECT_LT((compose(rest, at(1, 1, 1)).position - Vec3(3, 7, 8)).norm(), 1e-12);
}

/// A folder with the artist's file and a scene from it.
std::filesystem::path folder_with(const std::string& scene) {
  const std::filesystem::path folder =
      testing::TempDir() + "artist_" + testing::UnitTest::GetInstance()->current_test_info()->name();
  std::filesystem::remove_all(folder);
  std::filesystem::create_directories(folder);
  std::filesystem::copy_file(scenes / "artist.glb", folder / "artist.glb");
  std::ofstream{folder / "x.toml"} << scene;
  return folder;
}

TEST(Artist, EditsAreWrittenIntoTheSceneFileAsOverrides) {
  const std::string before =
      "hushed = 1\n[scene]\nfrom = \"artist.glb\"  # of the artist\n\n[[object.buoy.behaviour]]\nkind = \"replay\"\n";
  const SceneSource source{folder_with(before) / "x.toml"};
  const SceneSource moved = edited(source, SetObjectKey{"gangway", "position", parse_value("[1, 2, 3]")});
  EXPECT_EQ(moved.files().front().text, before + "\n[object.gangway]\nposition = [1, 2, 3]\n");
  const SceneFile read = read_scene_source(moved);
  EXPECT_EQ(read.scene.rest(read.scene.find("gangway").value()).position, Vec3(1, 2, 3));
  EXPECT_NEAR(read.scene.rest(read.scene.find("gangway").value()).rotation.y(), std::sqrt(0.5), 1e-7);  // the artist's
  const SceneSource given = edited(moved, AddBehaviour{"lamp", parse_value("{ kind = \"spin\", speed = 40 }")});
  const SceneFile spinning = read_scene_source(given);
  EXPECT_EQ(spinning.scene.behaviours(spinning.scene.find("lamp").value()).size(), 1u);
  EXPECT_THROW(edited(source, RemoveObject{"mole"}), BadValue);
  // An instance is placed by itself; behaviours belong to its crowd, once there is one.
  const SceneSource crowd = edited(source.with_text(before + "\n[crowd.bollard]\ntags = [\"iron\"]\n"),
                                   SetObjectKey{"bollard-3", "position", parse_value("[1, 2, 3]")});
  const SceneFile placed =
      read_scene_source(edited(crowd, AddBehaviour{"bollard-4", parse_value("{ kind = \"spin\", speed = 40 }")}));
  EXPECT_EQ(placed.scene.rest(placed.scene.find("bollard-3").value()).position, Vec3(1, 2, 3));
  EXPECT_EQ(placed.scene.rest(placed.scene.find("bollard-7").value()).position, Vec3(2, 1, 12));
  EXPECT_EQ(placed.scene.behaviours(placed.scene.find("bollard-7").value()).size(), 1u);
  EXPECT_THROW(edited(source, SetObjectKey{"mol", "position", parse_value("[1, 2, 3]")}), BadValue);
}

TEST(Artist, AChangedFileIsTakenOverWithTheState) {
  const auto folder = folder_with(
      "hushed = 1\n[scene]\nfrom = \"artist.glb\"\n[[object.buoy.behaviour]]\nkind = \"replay\"\nends = \"loop\"\n"
      "[[object.buoy.behaviour]]\nkind = \"spring\"\nfrequency = 0.5\n");
  SceneFile playing = read_scene_file(folder / "x.toml");
  EXPECT_NE(std::find(playing.files.begin(), playing.files.end(), folder / "artist.glb"), playing.files.end());
  playing.scene.advance(seconds(1.7));
  const Object buoy = playing.scene.find("buoy").value();
  const Pose before = playing.scene.world(buoy);
  std::ofstream{folder / "artist.glb", std::ios::binary} << changed([](Json& json) {
    json["nodes"][8]["name"] = "plank", json["nodes"].push_back({{"name", "skip"}, {"translation", {9, 0, 0}}}),
    json["scenes"][0]["nodes"].push_back(9);
  });
  reload(playing, folder / "x.toml");
  EXPECT_FALSE(playing.scene.find("gangway"));
  EXPECT_TRUE(playing.scene.find("plank"));
  EXPECT_EQ(playing.scene.world(playing.scene.find("skip").value()).position, Vec3(9, 0, 0));
  EXPECT_LT((playing.scene.world(buoy).position - before.position).norm(), 1e-9);
  EXPECT_EQ(playing.scene.find("buoy"), buoy);
}

/// Of two loads of a scene.
std::shared_ptr<const Model> model_in(const SceneFile& file, const char* object) {
  return file.scene.shape(file.scene.find(object).value()).value().model;
}

TEST(Artist, TexturesLieOnTheirTriangles) {
  const auto corners_of = [](const Model::Part& part, const auto& use) {
    for (const std::uint32_t i : part.indices)
      use(Vec3{part.positions[3 * i], part.positions[3 * i + 1], part.positions[3 * i + 2]},
          part.texture_coordinates.at(2 * i), part.texture_coordinates.at(2 * i + 1));
  };
  const auto model = model_in(read_text("[scene]\nfrom = \"artist.glb\"\n"), "mole");
  const Model::Part& wall = model->parts.at(0);
  ASSERT_TRUE(wall.texture);
  EXPECT_EQ(wall.texture->bytes.substr(1, 3), "PNG");
  EXPECT_EQ(wall.texture->across, Texture::Wrap::repeat);
  // scripts/artist_scene.py lays 3 m of it on each side; from above along z and -x.
  std::size_t above = 0;
  corners_of(wall, [&](const Vec3& corner, float u, float v) {
    if (std::abs(u - corner.z() / 3.0) < 1e-5 && std::abs(v + corner.x() / 3.0) < 1e-5 && corner.y() == 1.0) ++above;
  });
  EXPECT_GE(above, 6u);

  const auto folder = folder_with("hushed = 1\n[scene]\nfrom = \"artist.glb\"\n");
  std::ofstream{folder / "artist.glb", std::ios::binary} << changed([](Json& json) {
    for (Json& material : json["materials"]) {
      Json& paint = material["pbrMetallicRoughness"];
      if (paint.contains("baseColorTexture"))
        paint["baseColorTexture"]["extensions"]["KHR_texture_transform"] = {
            {"offset", {0.5, 0.25}}, {"scale", {2, 1}}, {"rotation", std::acos(0.0)}};
    }
    json["samplers"] = {{{"wrapS", 33648}, {"wrapT", 33071}, {"magFilter", 9728}}};
  });
  const auto turned = model_in(read_scene_file(folder / "x.toml"), "mole");
  const Model::Part& placed = turned->parts.at(0);
  EXPECT_NE(turned->digest, model->digest);
  EXPECT_EQ(placed.texture->across, Texture::Wrap::mirror);
  EXPECT_EQ(placed.texture->down, Texture::Wrap::clamp);
  EXPECT_FALSE(placed.texture->is_smooth);
  for (std::size_t i = 0; i < wall.texture_coordinates.size(); i += 2) {  // a quarter turn of (2 u, v)
    EXPECT_NEAR(placed.texture_coordinates[i], wall.texture_coordinates[i + 1] + 0.5, 1e-5);
    EXPECT_NEAR(placed.texture_coordinates[i + 1], -2.0 * wall.texture_coordinates[i] + 0.25, 1e-5);
  }
  std::ofstream{folder / "artist.glb", std::ios::binary} << changed([](Json& json) {
    json["images"][0] = {{"uri", "no such picture.png"}};
    json["images"][1]["bufferView"] = 0;
  });
  EXPECT_FALSE(model_in(read_scene_file(folder / "x.toml"), "mole")->parts[0].texture);
  const std::string said = describe_artist_file(folder / "artist.glb");
  EXPECT_NE(said.find("its texture \"no such picture.png\" cannot be read; its base colour is shown"), said.npos)
      << said;
}

TEST(Artist, InstancesAreACrowdThatIsGivenBehaviours) {
  const SceneFile file = read_text(
      "[scene]\nfrom = \"artist.glb\"\n[crowd.bollard]\ntags = [\"iron\"]\n"
      "[[crowd.bollard.behaviour]]\nkind = \"roam\"\nbox = [[-1, 0, -1], [1, 2, 1]]\nduration = 1\n"
      "[[object.bollard-3.behaviour]]\nkind = \"spin\"\n");
  const Scene& scene = file.scene;
  EXPECT_EQ(scene.rest(scene.find("bollard-7").value()).position, Vec3(2, 1, 12));
  EXPECT_EQ(scene.tags(scene.find("bollard-2").value()), (std::vector<std::string>{"bollard", "iron"}));
  EXPECT_EQ(scene.get("bollard-1.roam.seed")->number().value() + 6.0, scene.get("bollard-7.roam.seed")->number());
  const auto third = scene.behaviours(scene.find("bollard-3").value());
  ASSERT_EQ(third.size(), 2u);
  EXPECT_EQ(scene.path(third[0]), "bollard-3.roam");  // below its own
  EXPECT_EQ(refusal("[scene]\nfrom = \"artist.glb\"\n[crowd.bollard]\ncount = 3\n"),
            ":5:1: bollard: count: the artist's file says it for each instance; give it to one, as "
            "[object.bollard-1], or remove it.");
  EXPECT_EQ(
      refusal("[scene]\nfrom = \"artist.glb\"\n[[crowd.bollard.behaviour]]\nkind = \"spin\"\n"
              "[[object.bollard-3.behaviour]]\nkind = \"spin\"\n"),
      ":6:1: bollard-3: the behaviour \"spin\" in line 4 has the same name; give this one another: name = \"...\".");
}

TEST(Artist, FilesAreReadAgainOnlyWhereTheyHaveChanged) {
  const auto folder = folder_with("hushed = 1\n[scene]\nfrom = \"artist.gltf\"\n");
  const std::string bytes = changed([](Json&) {});
  std::uint32_t length = 0;
  std::memcpy(&length, bytes.data() + 12, 4);
  Json json = Json::parse(bytes.substr(20, length));
  json["buffers"][0]["uri"] = "artist.bin";
  std::string binary = bytes.substr(28 + length);
  const auto write = [&](const char* name, const std::string& text, std::chrono::hours ago) {
    std::ofstream{folder / name, std::ios::binary} << text;
    std::filesystem::last_write_time(folder / name, std::filesystem::file_time_type::clock::now() - ago);
  };
  write("artist.gltf", json.dump(), std::chrono::hours{3});
  write("artist.bin", binary, std::chrono::hours{3});
  SceneFile playing = read_scene_file(folder / "x.toml");
  EXPECT_EQ(playing.files.back(), folder / "artist.bin");
  const auto model = model_in(playing, "mole");
  reload(playing, folder / "x.toml");
  EXPECT_EQ(model_in(playing, "mole"), model);  // the same one, from memory

  const ReadAhead ahead{playing.scene};
  std::vector<double> shares;
  for (std::size_t i = 0; i < 3 * sizeof(float); ++i)
    binary[json["bufferViews"][2]["byteOffset"].get<std::size_t>() + i] = 0;
  write("artist.bin", binary, std::chrono::hours{2});
  std::thread{[&] { ahead.read(folder / "artist.gltf", [&](double share) { shares.push_back(share); }); }}.join();
  EXPECT_TRUE(std::is_sorted(shares.begin(), shares.end()));
  EXPECT_GT(shares.size(), 10u);
  EXPECT_EQ(model_in(playing, "mole"), model);
  reload(playing, folder / "x.toml");
  const auto changed_model = model_in(playing, "mole");
  EXPECT_NE(changed_model, model);
  // Of a replay, too: its .bin file is watched, and read again.
  std::ofstream{folder / "y.toml"} << "hushed = 1\n[object.boat]\n[[object.boat.behaviour]]\nkind = \"replay\"\n"
                                      "file = \"artist.gltf\"\nobject = \"Ferry-No-2\"\n";
  SceneFile boat = read_scene_file(folder / "y.toml");
  EXPECT_EQ(boat.files.back(), folder / "artist.bin");
  EXPECT_EQ(boat.scene.world(boat.scene.find("boat").value()).position, Vec3(14, 0, -14));
  const auto output = json["animations"][0]["samplers"][0]["output"].get<std::size_t>();
  const auto view = json["accessors"][output]["bufferView"].get<std::size_t>();
  const std::array<float, 3> there{1, 2, 3};
  std::memcpy(binary.data() + json["bufferViews"][view]["byteOffset"].get<std::size_t>(), there.data(), sizeof there);
  write("artist.bin", binary, std::chrono::hours{1});
  boat.scene.set("boat.replay.speed", Value{0.5});
  reload(boat, folder / "y.toml");
  EXPECT_EQ(boat.scene.world(boat.scene.find("boat").value()).position, Vec3(1, 2, 3));
  EXPECT_EQ(boat.scene.get("boat.replay.speed")->number(), 0.5);  // tuned values stay

  read_scene_file(folder / "x.toml", {.like = &playing.scene});
  shares.clear();
  ahead.read(folder / "artist.gltf", [&](double share) { shares.push_back(share); });
  EXPECT_TRUE(shares.empty());
}

TEST(Artist, ModelsAreRecorded) {
  const std::string file = testing::TempDir() + "artist_recorded.glb";
  SceneFile first = read_text(
      "[scene]\nfrom = \"artist.glb\"\n[object.lamp]\nshape = { kind = \"box\", size = 2, centre = [0, 1, 0] }\n");
  RecordingWriter writer{file, first.scene, 60.0};
  for (int frame = 0; frame < 2; ++frame) writer.add(first.scene);
  writer.finish();
  const SceneFile again =
      read_scene_text("hushed = 1\n[scene]\nfrom = \"artist_recorded.glb\"\n", testing::TempDir() + "x.toml");
  for (const char* const name : {"Ferry-No-2", "buoy", "bollard-3", "lamp", "mole", "gangway"}) {
    const Shape &was = first.scene.shape(first.scene.find(name).value()).value(),
                is = again.scene.shape(again.scene.find(name).value()).value();
    EXPECT_LT((was.size - is.size).norm(), 1e-6) << name;
    EXPECT_LT((was.centre - is.centre).norm(), 1e-6) << name;
    if (!was.model) continue;
    ASSERT_EQ(was.model->parts.size(), is.model->parts.size()) << name;
    for (std::size_t part = 0; part < was.model->parts.size(); ++part) {
      EXPECT_EQ(css_of(was.model->parts[part].colour), css_of(is.model->parts[part].colour)) << name;
      const Model::Part &before = was.model->parts[part], &after = is.model->parts[part];
      ASSERT_EQ(before.indices.size(), after.indices.size()) << name;
      ASSERT_EQ(before.texture != nullptr, after.texture != nullptr) << name;
      if (!before.texture) continue;
      EXPECT_EQ(before.texture->bytes, after.texture->bytes) << name;
      for (std::size_t i = 0; i < before.indices.size(); ++i)
        for (std::size_t axis = 0; axis < 2; ++axis)
          EXPECT_EQ(before.texture_coordinates[2 * before.indices[i] + axis],
                    after.texture_coordinates[2 * after.indices[i] + axis])
              << name;
    }
  }
}

}  // namespace
}  // namespace hushed::tests
