// SPDX-License-Identifier: MIT
// Requests of a page, compared with a scene that is played and edited by hand. Without sockets.

#include "session.hpp"

#include <cmath>
#include <cstring>
#include <filesystem>
#include <fstream>
#include <random>
#include <sstream>
#include <thread>

#include <gtest/gtest.h>

#include <hushed/hushed.hpp>
#include <hushed/key_file.hpp>
#include <hushed/recording_file.hpp>

namespace hushed::tests {
namespace {

using detail::Json;
using detail::Message;
using detail::OpenFile;
using detail::Session;

constexpr const char* text = R"(hushed = 1
[scene]
name = "small harbour"
[view]
watch = ["lamp.rotation.yaw"]
[[preset.bobbing.behaviour]]
kind = "sway"
amplitude = [0, 1, 0]
[object.lamp]
[[object.lamp.behaviour]]
kind = "spin"
speed = 40   # slow
[object.pilot]
[[object.pilot.behaviour]]
kind = "drive"
[object.gig]
use = ["bobbing"]
[object.punt]
use = ["bobbing"]
[[rule]]
name = "horn"
when = [{ pressed = "H" }]
do = [{ raise = "horn-heard" }]
)";

/// The messages of a session: its JSON, and the last frame.
struct Heard {
  std::vector<Json> told;
  std::string frame, bytes;

  void add(const std::vector<Session::Answer>& answers) {
    for (const Session::Answer& answer : answers) {
      if (answer.message.kind == Message::Kind::text) told.push_back(Json::parse(answer.message.content));
      if (answer.message.kind == Message::Kind::frame) frame = answer.message.content;
      if (answer.message.kind == Message::Kind::bytes) bytes = answer.message.content;
    }
  }
  Json last(std::string_view kind) const {
    for (auto each = told.rbegin(); each != told.rend(); ++each)
      if ((*each)["kind"] == kind) return *each;
    return nullptr;
  }
  double number_at(std::size_t place) const {
    double number = 0.0;
    std::memcpy(&number, frame.data() + place, sizeof number);
    return number;
  }
  double current() const { return number_at(16); }
  double yaw() const { return number_at(48); }  ///< the only column of the watches
};

class SessionTest : public ::testing::Test {
 protected:
  SessionTest() {
    std::filesystem::create_directories(folder_);
    write(text);
    file_ = open();
    session_.emplace(*file_);
    heard_.add(session_->greet());
  }
  ~SessionTest() override { std::filesystem::remove_all(folder_); }

  void write(const std::string& what) const { std::ofstream{path_} << what; }
  std::string read() const {
    std::ostringstream all;
    all << std::ifstream{path_}.rdbuf();
    return all.str();
  }
  std::unique_ptr<OpenFile> open() const {
    return std::unique_ptr<OpenFile>{new OpenFile{path_, read_scene_file(path_), SceneSource{path_}}};
  }
  void ask(const char* request, int client = 1) { heard_.add(session_->handle(client, request)); }
  void pass(double time) { heard_.add(session_->pass(seconds(time))); }
  /// Waits until the file has been read again or an error has been reported.
  void pass_until_read(const std::function<bool()>& is_read) {
    const auto latest = std::chrono::steady_clock::now() + std::chrono::seconds{5};
    while (!is_read() && std::chrono::steady_clock::now() < latest) {
      pass(0.0);
      std::this_thread::sleep_for(std::chrono::milliseconds{5});
    }
    EXPECT_TRUE(is_read());
  }

  bool scene_has_gull() const { return file_->playing.scene.find("gull").has_value(); }

  std::filesystem::path folder_ = std::filesystem::temp_directory_path() / ("session-" + std::to_string(getpid()));
  std::filesystem::path path_ = folder_ / "small.toml";
  std::unique_ptr<OpenFile> file_;
  std::optional<Session> session_;
  Heard heard_;
};

TEST_F(SessionTest, SendsEverythingThatAPageNeedsAtTheStart) {
  const Json scene = heard_.last("scene");
  EXPECT_EQ(scene["name"], "small harbour");
  EXPECT_EQ(scene["file"], "small.toml");
  ASSERT_EQ(scene["objects"].size(), 4U);
  EXPECT_EQ(scene["objects"][0]["name"], "lamp");
  EXPECT_EQ(scene["keys"].back(), (Json{{"key", "H"}, {"what", "horn"}}));
  EXPECT_EQ(heard_.last("state")["watches"][0]["text"], "lamp.rotation.yaw");
  EXPECT_EQ(heard_.current(), 0.0);
}

TEST_F(SessionTest, PlaysStepsBackAndOn) {
  ask(R"({"do": "play"})");
  pass(0.5);
  EXPECT_EQ(heard_.current(), 30.0);
  EXPECT_NEAR(heard_.yaw(), 20.0, 1e-9);
  ask(R"({"do": "step", "by": -12})");
  EXPECT_EQ(heard_.last("state")["playing"], false);
  EXPECT_NEAR(heard_.yaw(), 12.0, 1e-9);
  ask(R"({"do": "rhythm", "pace": 0.1})");
  ask(R"({"do": "play"})");
  pass(1.0);
  EXPECT_EQ(heard_.current(), 24.0);
  ask(R"({"do": "again"})");
  EXPECT_EQ(heard_.current(), 0.0);
}

TEST_F(SessionTest, TunesUndoesAndKeeps) {
  ask(R"({"do": "object", "name": "lamp"})");
  const Json field = heard_.last("object")["behaviours"][0]["fields"][1];
  EXPECT_EQ(field["name"], "speed");
  EXPECT_EQ(field["value"], 40.0);
  EXPECT_EQ(field["unit"], "deg/s");

  ask(R"({"do": "set", "path": "lamp.spin.speed", "to": "60"})");
  ask(R"({"do": "step", "by": 30})");
  EXPECT_NEAR(heard_.yaw(), 30.0, 1e-9);
  const Json changed = heard_.last("state")["changed"];
  ASSERT_EQ(changed.size(), 1U);
  EXPECT_EQ(changed[0]["before"], "40");
  EXPECT_EQ(changed[0]["now"], "60");

  ask(R"({"do": "undo"})");
  EXPECT_TRUE(heard_.last("state")["changed"].empty());
  ask(R"({"do": "redo"})");
  const char* const values = R"("values": [{"path": "lamp.spin.speed"}]})";
  ask((std::string{R"({"do": "keep", )"} + values).c_str());
  EXPECT_NE(heard_.last("refused"), nullptr) << "kept before it was shown";
  EXPECT_EQ(read(), text);
  ask((std::string{R"({"do": "plan", )"} + values).c_str());
  EXPECT_EQ(heard_.last("plan")["lines"][0]["after"], "speed = 60   # slow");
  ask((std::string{R"({"do": "keep", )"} + values).c_str());
  EXPECT_EQ(heard_.last("kept")["text"], "1 line of small.toml was written.");
  std::string expected = text;
  expected.replace(expected.find("= 40"), 4, "= 60");
  EXPECT_EQ(read(), expected);
  EXPECT_TRUE(heard_.last("state")["changed"].empty());
  pass(0.0);
  EXPECT_EQ(heard_.current(), 30.0);  // the session does not reload a file that it has written itself
}

TEST_F(SessionTest, KeepsForThePresetOfAnObject) {
  ask(R"({"do": "set", "path": "gig.sway.frequency", "to": "2"})");
  EXPECT_EQ(heard_.last("state")["changed"][0]["preset"], "preset.bobbing.sway");
  ask(R"({"do": "plan", "values": [{"path": "gig.sway.frequency", "for": "preset"}]})");
  EXPECT_EQ(heard_.last("plan")["lines"][0]["note"], "for all objects that use bobbing");
  ask(R"({"do": "keep", "values": [{"path": "gig.sway.frequency", "for": "preset"}]})");
  EXPECT_EQ(as_text(*load(path_).get("punt.sway.frequency")), "2");
  EXPECT_EQ(as_text(*file_->playing.scene.get("punt.sway.frequency")), "2");  // now, too
  EXPECT_TRUE(heard_.last("state")["changed"].empty());
}

TEST_F(SessionTest, KeepingForAllRemovesAnObjectsOwnValue) {
  const std::string own = std::string{text}.replace(std::string_view{text}.find("[object.punt]"), 13,
                                                    "[object.punt]\ntune = { \"bobbing.sway.frequency\" = 3 }");
  write(own);
  pass_until_read([&] { return as_text(*file_->playing.scene.get("punt.sway.frequency")) == "3"; });
  ask(R"({"do": "set", "path": "punt.sway.frequency", "to": "2"})");
  ask(R"({"do": "plan", "values": [{"path": "punt.sway.frequency", "for": "preset"}]})");
  ASSERT_EQ(heard_.last("plan")["lines"].size(), 2U);
  ask(R"({"do": "keep", "values": [{"path": "punt.sway.frequency", "for": "preset"}]})");
  EXPECT_EQ(as_text(*load(path_).get("punt.sway.frequency")), "2");
  EXPECT_EQ(as_text(*load(path_).get("gig.sway.frequency")), "2");
}

TEST_F(SessionTest, DoesNotOverwriteChangesOfAnotherProgram) {
  ask(R"({"do": "set", "path": "lamp.spin.speed", "to": "60"})");
  ask(R"({"do": "plan", "values": [{"path": "lamp.spin.speed"}]})");
  const std::string theirs = std::string{text} + "# theirs\n";
  write(theirs);
  ask(R"({"do": "keep", "values": [{"path": "lamp.spin.speed"}]})");
  EXPECT_NE(heard_.last("refused")["text"].get<std::string>().find("another program"), std::string::npos);
  EXPECT_EQ(read(), theirs);
}

TEST_F(SessionTest, ReloadsTheFileAndKeepsTimeAndTunedValues) {
  ask(R"({"do": "play"})");
  pass(0.5);
  ask(R"({"do": "set", "path": "gig.sway.frequency", "to": "3"})");
  std::string other = text;
  other.replace(other.find("= 40"), 4, "= 80");
  write(other + "[object.buoy]\n");
  pass_until_read([&] { return heard_.last("scene")["objects"].size() == 5; });
  EXPECT_EQ(as_text(*file_->playing.scene.get("lamp.spin.speed")), "80");
  EXPECT_EQ(as_text(*file_->playing.scene.get("gig.sway.frequency")), "3");
  EXPECT_EQ(heard_.last("state")["changed"][0]["path"], "gig.sway.frequency");
  pass(0.5);
  EXPECT_EQ(heard_.current(), 60.0);
  EXPECT_NEAR(heard_.yaw(), 60.0, 1e-9);  // 20 degrees in the first half of the second, 40 in the other
}

TEST_F(SessionTest, PlaysTheLastValidSceneWhileTheFileHasErrors) {
  ask(R"({"do": "play"})");
  std::string wrong = text;
  wrong.replace(wrong.find("speed"), 5, "sped ");
  write(wrong);
  pass_until_read([&] { return !heard_.last("state")["diagnostics"].is_null(); });
  const Json diagnostic = heard_.last("state")["diagnostics"][0];
  EXPECT_EQ(diagnostic["line"], 12);
  EXPECT_NE(diagnostic["text"].get<std::string>().find("did you mean \"speed\"?"), std::string::npos);
  pass(0.5);
  EXPECT_NEAR(heard_.yaw(), 20.0, 1e-9);
  write(text);
  pass_until_read([&] { return heard_.last("state")["diagnostics"].is_null(); });
}

TEST_F(SessionTest, AKeyIsHeldUntilTheLastClientReleasesIt) {
  const auto pilot = *file_->playing.scene.find("pilot");
  const auto z = [&] { return file_->playing.scene.world(pilot).position.z(); };
  ask(R"({"do": "press", "key": "W"})", 1);
  ask(R"({"do": "press", "key": "W"})", 2);
  ask(R"({"do": "play"})");
  pass(1.0);
  EXPECT_NEAR(z(), 5.0, 5.0 / 120.0 + 1e-9);
  ask(R"({"do": "release", "key": "W"})", 1);
  EXPECT_EQ(heard_.last("state")["held"][0], "W");
  heard_.add(session_->leave(2));
  EXPECT_TRUE(heard_.last("state")["held"].empty());
  const double there = z();
  pass(1.0);
  EXPECT_NEAR(z(), there, 5.0 / 120.0 + 1e-9);

  // Back to when it was held: a client that holds no key now does not drive on.
  ask(R"({"do": "show", "frame": 30})");
  ask(R"({"do": "play"})");
  EXPECT_TRUE(heard_.last("state")["held"].empty());
}

TEST_F(SessionTest, ReportsEventsForTheMarks) {
  ask(R"({"do": "press", "key": "H"})");
  ask(R"({"do": "step", "by": 10})");
  const Json marks = heard_.last("marks")["marks"];
  EXPECT_TRUE(std::any_of(marks.begin(), marks.end(), [](const Json& mark) { return mark["name"] == "horn-heard"; }));
}

TEST_F(SessionTest, AnswersEveryMistakeAndChangesNothing) {
  ask(R"({"do": "pause"})");  // all messages have been sent
  for (const char* request :
       {"", "7", "[]", "{}", R"({"do": 7})", R"({"do": "dance"})", R"({"do": "step"})", R"({"do": "step", "by": 0.5})",
        R"({"do": "step", "by": 1e300})", R"({"do": "set", "path": "lamp.spin.sped", "to": "1"})",
        R"({"do": "set", "path": "lamp.spin.speed", "to": "1e300"})", R"({"do": "set", "path": "lamp.spin.speed"})",
        R"({"do": "rhythm", "pace": 0})", R"({"do": "watch", "watches": ["nobody.speed"]})",
        R"({"do": "object", "name": "nobody"})", R"({"do": "keep", "values": 3})",
        R"({"do": "past", "ask": 1, "objects": ["nobody"], "first": 0, "last": 0})"}) {
    heard_.told.clear();
    ask(request);
    ASSERT_EQ(heard_.told.size(), 1U) << request;
    EXPECT_EQ(heard_.told[0]["kind"], "refused") << request;
    EXPECT_FALSE(heard_.told[0]["text"].get<std::string>().empty());
  }
}

TEST_F(SessionTest, SurvivesAnyMessage) {
  const std::vector<std::string> requests{
      R"({"do": "play", "frame": 3})",
      R"({"do": "step", "by": -1})",
      R"({"do": "show", "frame": 2})",
      R"({"do": "set", "path": "lamp.spin.speed", "to": "60", "gesture": 4})",
      R"({"do": "undo"})",
      R"({"do": "redo"})",
      R"({"do": "reset", "path": "gig.sway.frequency"})",
      R"({"do": "press", "key": "W"})",
      R"({"do": "axis", "name": "forward", "value": 0.4})",
      R"({"do": "watch", "watches": ["lamp.speed", "gig.position"]})",
      R"({"do": "past", "ask": 1, "objects": ["lamp", "gig"], "first": 0, "last": 9})",
      R"({"do": "ahead", "ask": 2, "objects": ["gig"], "seconds": 0.2})",
      R"({"do": "object", "name": "lamp"})",
      R"({"do": "plan", "values": [{"path": "gig.sway.frequency", "for": "preset"}]})",
      R"({"do": "again"})",
      R"({"do": "rhythm", "rate": 30, "pace": 2, "uneven": 5})"};
  std::mt19937_64 random{7};
  const std::string_view bytes = "{}[]\",:\\0123456789.-eE+tfnul \x00\xff\xc3(abz";
  std::size_t refused = 0, done = 0;
  for (int round = 0; round < 4000; ++round) {
    std::string request = requests[random() % requests.size()];
    for (auto changes = random() % 4; changes > 0; --changes) {
      const std::size_t at = random() % request.size();
      if (random() % 3 == 0)
        request.erase(at, 1 + random() % 3);
      else if (random() % 2 == 0)
        request[at] = bytes[random() % bytes.size()];
      else
        request.insert(at, 1 + random() % 2, bytes[random() % bytes.size()]);
      if (request.empty()) request = "{";
    }
    heard_.told.clear();
    ask(request.c_str(), static_cast<int>(random() % 3));
    heard_.last("refused").is_null() ? ++done : ++refused;
    if (round % 16 == 0) pass(0.05);
  }
  EXPECT_GT(refused, 500U);
  EXPECT_GT(done, 500U);
}

TEST(ProgramsSession, BeginsAnewWhereTheProgramAddsToItsScene) {
  Scene harbour;
  const Object lamp = harbour.add({.name = "lamp"});
  harbour.give(lamp, Spin{.speed = degrees(40)});
  Session session{harbour};
  Heard heard;
  heard.add(session.pass(seconds(0.5)));
  EXPECT_EQ(heard.current(), 1.0);  // one frame of the program
  harbour.add({.name = "buoy"});
  heard.add(session.pass(seconds(0.1)));
  EXPECT_EQ(heard.last("scene")["objects"].size(), 2U);
  heard.add(session.handle(1, R"({"do": "plan", "values": []})"));
  EXPECT_NE(heard.last("refused"), nullptr);  // of no file
}

TEST_F(SessionTest, DescribesTheFieldsOfEachUrge) {
  write(std::string{text} +
        "[object.gull]\n[[object.gull.behaviour]]\nkind = \"steer\"\nurges = [{ urge = \"wander\" }, { urge = "
        "\"flee\", target = [0, 0, 9], weight = 3 }]\n");
  pass_until_read([&] { return scene_has_gull(); });
  ask(R"({"do": "object", "name": "gull"})");
  const Json entries = heard_.last("object")["behaviours"][0]["fields"][0]["entries"];
  EXPECT_EQ(entries["key"], "urge");
  ASSERT_EQ(entries["list"].size(), 2U);
  EXPECT_EQ(entries["list"][0]["name"], "wander");
  const Json fields = entries["list"][1]["fields"];
  ASSERT_EQ(fields.size(), 3U);
  EXPECT_EQ(fields[0]["text"], "[0, 0, 9]");
  EXPECT_EQ(fields[1]["name"], "within");
  EXPECT_FALSE(fields[1].contains("text"));  // however far it is
  EXPECT_EQ(fields[2]["value"], 3.0);
  EXPECT_EQ(fields[2]["default"], "1");
  EXPECT_EQ(fields[2]["slider"], (Json{0.0, 5.0}));
}

TEST_F(SessionTest, ReportsTheUrgesOfAnAgentInTheCurrentFrame) {
  write(std::string{text} +
        "[object.gull]\n[[object.gull.behaviour]]\nkind = \"steer\"\nurges = [{ urge = \"seek\", target = [0, 0, 9] "
        "}]\n");
  pass_until_read([&] { return scene_has_gull(); });
  ask(R"({"do": "step", "by": 3})");
  ask(R"({"do": "urges", "name": "gull"})");
  const Json urges = heard_.last("urges")["urges"];
  ASSERT_EQ(urges.size(), 2U);
  EXPECT_EQ(urges[0]["urge"], "seek");
  EXPECT_EQ(urges[0]["velocity"], (Json{0.0, 0.0, 5.0}));
  EXPECT_EQ(urges[0]["share"], 1.0);
  EXPECT_EQ(urges[1]["urge"], "wanted");
  ask(R"({"do": "urges", "name": "lamp"})");
  EXPECT_TRUE(heard_.last("urges")["urges"].empty());
  ask(R"({"do": "step", "by": -1})");
  ask(R"({"do": "urges", "name": "gull"})");
  EXPECT_EQ(heard_.last("urges")["urges"][0]["velocity"], (Json{0.0, 0.0, 5.0}));
}

TEST_F(SessionTest, AKeyThatIsReleasedInThePastDropsNothing) {
  const auto z = [&] { return file_->playing.scene.world(*file_->playing.scene.find("pilot")).position.z(); };
  ask(R"({"do": "press", "key": "W"})");
  ask(R"({"do": "play"})");
  pass(1.0);
  const std::int64_t last = session_->mode().last();
  for (const bool by_leaving : {false, true}) {
    ask(R"({"do": "press", "key": "E"})", 2);
    ask(R"({"do": "show", "frame": 10})");
    if (by_leaving)
      heard_.add(session_->leave(2));
    else
      ask(R"({"do": "release", "key": "E"})", 2);
    EXPECT_EQ(session_->mode().last(), last);
    ask(R"({"do": "show", "frame": 1000000})");
  }
  // At the last frame, keys that are not held are released before the next frame is played.
  ask(R"({"do": "release", "key": "W"})");
  ask(R"({"do": "step", "by": 1})");
  const double there = z();
  ask(R"({"do": "step", "by": 30})");
  EXPECT_NEAR(z(), there, 5.0 / 120.0 + 1e-9);
}

TEST_F(SessionTest, AKeyThatIsHeldDrivesOnAfterAReloadAndAgain) {
  const auto z = [&] { return file_->playing.scene.world(*file_->playing.scene.find("pilot")).position.z(); };
  ask(R"({"do": "play"})");
  pass(0.5);
  std::this_thread::sleep_for(std::chrono::milliseconds{20});
  write(std::string{text} + "[object.gull]\n");
  pass_until_read([&] { return scene_has_gull(); });
  ask(R"({"do": "press", "key": "W"})");
  pass(0.5);
  ask(R"({"do": "again"})");
  ask(R"({"do": "play"})");
  pass(1.0);
  EXPECT_EQ(heard_.last("state")["held"][0], "W");
  EXPECT_NEAR(z(), 5.0, 0.1);
}

TEST(ProgramsSession, ContinuesWhereATunedObjectHasEnded) {
  Scene harbour;
  const Object pilot = harbour.add({.name = "pilot"}), lantern = harbour.add({.name = "lantern", .rest = at(3, 0, 0)});
  harbour.give(lantern, Attract{.to = pilot, .within = 6, .speed = 2.5, .reach = 0.8, .then = Gathered::end});
  Session session{harbour};
  Heard heard;
  heard.add(session.handle(1, R"({"do": "set", "path": "lantern.attract.speed", "to": "3"})"));
  for (int i = 0; i < 200; ++i) heard.add(session.pass(seconds(1.0 / 60)));
  EXPECT_FALSE(harbour.find("lantern"));
  EXPECT_NO_THROW(heard.add(session.handle(1, R"({"do": "pause"})")));
  EXPECT_EQ(heard.last("state")["changed"][0]["now"], "3");
  EXPECT_EQ(heard.last("refused"), nullptr);
}

TEST_F(SessionTest, DoesLongWorkInSlicesCompletely) {
  ask(R"({"do": "step", "by": 30})");
  session_->limit_slices(std::chrono::nanoseconds{1});  // one frame a slice
  ask(R"({"do": "step", "by": 20})");
  EXPECT_LE(session_->mode().last(), 31);
  int passes = 0;
  for (; session_->is_busy() && passes < 100; ++passes) pass(0.0);
  EXPECT_GE(passes, 18);
  EXPECT_EQ(session_->mode().last(), 50);

  // A prediction continues while another client steps, and starts from the frame of its request.
  heard_.bytes.clear();
  ask(R"({"do": "ahead", "ask": 5, "objects": ["lamp"], "seconds": 1})");
  pass(0.0);
  ask(R"({"do": "step", "by": 1})", 2);
  for (passes = 0; session_->is_busy() && passes < 200; ++passes) pass(0.0);
  ASSERT_FALSE(heard_.bytes.empty());
  EXPECT_GT(passes, 20);
  EXPECT_EQ(session_->mode().last(), 51);
  const double first_time = [&] {
    double time = 0.0;
    std::memcpy(&time, heard_.bytes.data() + 40, sizeof time);
    return time;
  }();
  EXPECT_NEAR(first_time, 50.0 / 60, 1e-9);
}

TEST_F(SessionTest, PredictsFromBeforeAndAfterAChange) {
  session_->limit_slices(std::chrono::nanoseconds{1});
  const auto ahead = [this](int number) {
    ask((R"({"do": "ahead", "objects": ["lamp"], "seconds": 0.5, "ask": )" + std::to_string(number) + "}").c_str());
  };
  const auto set = [this](const char* speed) {
    ask((std::string{R"({"do": "set", "gesture": 1, "path": "lamp.spin.speed", "to": ")"} + speed + "\"}").c_str());
  };
  ahead(1);
  ahead(2);  // from equal values: it replaces the first request
  set("50");
  ahead(3);
  set("60");
  ahead(4);
  std::vector<std::uint32_t> answered;
  for (int passes = 0; session_->is_busy() && passes < 200; ++passes) {
    heard_.bytes.clear();
    pass(0.0);
    if (heard_.bytes.empty()) continue;
    std::memcpy(&answered.emplace_back(), heard_.bytes.data() + 4, sizeof(std::uint32_t));
  }
  EXPECT_EQ(answered, (std::vector<std::uint32_t>{2, 4}));
}

TEST_F(SessionTest, RefusesFramesThatAreTooLong) {
  for (const char* const rate : {"1e-300", "0", "-1", "0.5"}) {
    ask((std::string{R"({"do": "rhythm", "rate": )"} + rate + "}").c_str());
    EXPECT_EQ(heard_.last("refused")["do"], "rhythm") << rate;
    heard_.told.clear();
  }
  ask(R"({"do": "step", "by": 3})");
  EXPECT_EQ(session_->mode().last(), 3);
}

// --- editing ---------------------------------------------------------------------------------------------------------

/// A request with one edit.
std::string one_edit(const std::string& edit) { return R"({"do": "edit", "edits": [{"edit": )" + edit + "}]}"; }

TEST_F(SessionTest, EditsTheSceneAndWritesTheEditsWhenTheyAreKept) {
  pass(0.5);
  ask(one_edit(R"("add behaviour", "object": "lamp", "keys": "{ kind = \"sway\", amplitude = [0, 1, 0] }")").c_str());
  ask(one_edit(R"("add object", "name": "buoy", "keys": "{ position = [1, 0, 2] }")").c_str());
  ask(one_edit(R"("remove object", "object": "punt")").c_str());
  const Scene& scene = file_->playing.scene;
  EXPECT_TRUE(scene.find_behaviour("lamp.sway"));
  EXPECT_TRUE(scene.find("buoy"));
  EXPECT_FALSE(scene.find("punt"));
  EXPECT_EQ(heard_.last("state")["edits"], Json::array({"lamp.sway is added", "buoy is added", "punt is removed"}));
  EXPECT_EQ(read(), text);

  ask(R"({"do": "undo"})");
  EXPECT_TRUE(scene.find("punt"));
  ask(R"({"do": "redo"})");
  EXPECT_FALSE(scene.find("punt"));

  ask(R"({"do": "plan", "values": []})");
  const Json lines = heard_.last("plan")["lines"];
  EXPECT_EQ(lines.size(), 7u);  // three of the sway, two of the buoy, two of the punt
  ask(R"({"do": "keep", "values": []})");
  EXPECT_EQ(read(), std::string{text}
                        .replace(std::string{text}.find("[object.punt]\nuse = [\"bobbing\"]\n"), 32,
                                 "\n[object.buoy]\nposition = [1, 0, 2]\n\n")
                        .insert(std::string{text}.find("[object.pilot]"),
                                "\n[[object.lamp.behaviour]]\nkind      = \"sway\"\namplitude = [0, 1, 0]\n\n"));
  EXPECT_TRUE(heard_.last("state")["edits"].empty());
  EXPECT_TRUE(read_scene_file(path_).scene.find_behaviour("lamp.sway"));

  ask(R"({"do": "undo"})");  // what is on disk can be undone, and kept without it
  EXPECT_TRUE(scene.find("punt"));
  EXPECT_EQ(heard_.last("state")["edits"], Json::array({"undone: punt is removed"}));
  ask(R"({"do": "plan", "values": []})");
  ask(R"({"do": "keep", "values": []})");
  EXPECT_TRUE(load(path_).find("punt"));
  ask(R"({"do": "redo"})");
  EXPECT_FALSE(scene.find("punt"));
  EXPECT_EQ(heard_.last("state")["edits"], Json::array({"punt is removed"}));
}

TEST_F(SessionTest, NoLongerUndoesWhatIsOnDiskOnceAnotherProgramHasSavedTheFile) {
  ask(one_edit(R"("remove object", "object": "punt")").c_str());
  ask(R"({"do": "plan", "values": []})");
  ask(R"({"do": "keep", "values": []})");
  ask(one_edit(R"("add object", "name": "buoy", "keys": "{ position = [1, 0, 2] }")").c_str());
  write(read() + "[object.gull]\n");
  pass_until_read([&] { return scene_has_gull(); });
  const Scene& scene = file_->playing.scene;
  EXPECT_TRUE(scene.find("buoy"));
  ask(R"({"do": "undo"})");
  EXPECT_FALSE(scene.find("buoy"));
  EXPECT_FALSE(session_->mode().can_undo());
  EXPECT_FALSE(scene.find("punt"));
}

TEST_F(SessionTest, UndoesEditsAndTunedValuesInOneOrder) {
  ask(R"({"do": "set", "path": "lamp.spin.speed", "to": "80"})");
  ask(one_edit(R"("remove object", "object": "lamp")").c_str());
  ask(R"({"do": "set", "path": "gig.sway.frequency", "to": "0.5"})");
  EXPECT_FALSE(file_->playing.scene.find("lamp"));
  ask(R"({"do": "undo"})");
  EXPECT_EQ(file_->playing.scene.get("gig.sway.frequency")->number(), Value{1.0}.number());
  EXPECT_FALSE(file_->playing.scene.find("lamp"));
  ask(R"({"do": "undo"})");
  ASSERT_TRUE(file_->playing.scene.find("lamp"));
  EXPECT_EQ(file_->playing.scene.get("lamp.spin.speed")->number(), 80.0);  // tuned before it was removed
  ask(R"({"do": "redo"})");
  EXPECT_FALSE(file_->playing.scene.find("lamp"));
}

TEST_F(SessionTest, KeepsMotionAndTunedValuesOfARenamedObject) {
  ask(R"({"do": "set", "path": "lamp.spin.speed", "to": "80"})");
  for (int i = 0; i < 60; ++i) pass(1.0 / 60.0);
  ask(R"({"do": "step", "by": 60})");
  Scene& scene = file_->playing.scene;
  const Pose before = scene.world(*scene.find("lamp"));
  ask(one_edit(R"("rename object", "object": "lamp", "name": "light")").c_str());
  ASSERT_TRUE(scene.find("light"));
  EXPECT_TRUE(scene.world(*scene.find("light")).rotation.isApprox(before.rotation, 1e-12));
  EXPECT_EQ(heard_.last("state")["changed"][0]["path"], "light.spin.speed");
  ask(R"({"do": "undo"})");
  EXPECT_EQ(scene.get("lamp.spin.speed")->number(), 80.0);
  EXPECT_TRUE(scene.world(*scene.find("lamp")).rotation.isApprox(before.rotation, 1e-12));
}

TEST_F(SessionTest, UndoesWhatWasTunedBeforeAnotherObjectGotTheName) {
  Scene& scene = file_->playing.scene;
  ask(R"({"do": "set", "path": "gig.sway.frequency", "to": "3"})");
  ask(R"({"do": "plan", "values": [{"path": "gig.sway.frequency", "for": "own"}]})");
  ask(R"({"do": "keep", "values": [{"path": "gig.sway.frequency", "for": "own"}]})");
  ask(one_edit(R"("remove object", "object": "gig")").c_str());
  ask(one_edit(R"("rename object", "object": "punt", "name": "gig")").c_str());
  while (session_->mode().can_undo()) ask(R"({"do": "undo"})");
  EXPECT_EQ(scene.get("gig.sway.frequency")->number(), 1.0);
  EXPECT_EQ(scene.get("punt.sway.frequency")->number(), 1.0);
}

TEST_F(SessionTest, UndoesWhatWasTunedBeforeEditsThatAnotherProgramSaved) {
  Scene& scene = file_->playing.scene;
  ask(R"({"do": "set", "path": "gig.sway.frequency", "to": "3"})");
  ask(R"({"do": "set", "path": "punt.sway.frequency", "to": "2"})");
  ask(one_edit(R"("remove object", "object": "gig")").c_str());
  ask(one_edit(R"("rename object", "object": "punt", "name": "gig")").c_str());
  ask(R"({"do": "plan", "values": []})");
  ask(R"({"do": "keep", "values": []})");
  write(read() + "[object.gull]\n");
  pass_until_read([&] { return scene_has_gull(); });
  EXPECT_EQ(scene.get("gig.sway.frequency")->number(), 2.0);
  ask(R"({"do": "undo"})");  // of the punt, which is the gig now
  EXPECT_EQ(scene.get("gig.sway.frequency")->number(), 1.0);
  EXPECT_FALSE(session_->mode().can_undo());  // the other gig will not be back
}

TEST_F(SessionTest, UndoesARenameOfAnObjectThatAnotherProgramHasRemoved) {
  ask(R"({"do": "set", "path": "lamp.spin.speed", "to": "80"})");
  ask(one_edit(R"("rename object", "object": "punt", "name": "dory")").c_str());
  std::string changed = text;
  changed.replace(changed.find("[object.punt]\nuse = [\"bobbing\"]\n"), 32, "[object.gull]\n");
  write(changed);
  pass_until_read([&] { return scene_has_gull(); });
  ask(R"({"do": "undo"})");
  ask(R"({"do": "undo"})");
  EXPECT_EQ(heard_.last("refused"), nullptr) << heard_.last("refused");
  EXPECT_EQ(file_->playing.scene.get("lamp.spin.speed")->number(), 40.0);
}

TEST_F(SessionTest, RefusesEditsThatMakeNoSceneAndStaysAsItIs) {
  for (const std::string& edit : {
           one_edit(R"("add behaviour", "object": "lamp", "keys": "{ kind = \"spin\" }")"),
           one_edit(R"("add behaviour", "object": "lamp", "keys": "{ kind = \"nod\" }")"),
           one_edit(R"("remove behaviour", "behaviour": "gig.sway")"),
           one_edit(R"("set object", "object": "lamp", "key": "parent", "to": "lamp")"),
           one_edit(R"("paint", "object": "lamp")"),
           std::string{R"({"do": "edit", "edits": []})"},
       }) {
    heard_.told.clear();
    ask(edit.c_str());
    EXPECT_EQ(heard_.last("refused")["do"], "edit") << edit;
  }
  EXPECT_EQ(heard_.last("state"), nullptr);
  ask(R"({"do": "undo"})");
  EXPECT_TRUE(file_->source.descriptions().empty());
}

TEST_F(SessionTest, MakesEditsAgainInAFileThatSomeoneElseHasChanged) {
  ask(one_edit(R"("remove behaviour", "behaviour": "pilot.drive")").c_str());
  ask(one_edit(R"("set object", "object": "punt", "key": "position", "to": "[1, 2, 3]")").c_str());
  std::string changed = text;
  changed.replace(changed.find("[object.punt]\nuse = [\"bobbing\"]\n"), 32, "[object.gull]\n");
  write(changed);
  pass_until_read([&] { return scene_has_gull(); });
  EXPECT_FALSE(file_->playing.scene.find_behaviour("pilot.drive"));
  EXPECT_EQ(heard_.last("state")["edits"], Json::array({"pilot.drive is removed"}));
  EXPECT_NE(heard_.last("state")["lost"].dump().find("punt"), std::string::npos);
}

/// A glTF file with many boards of 6 000 corners, whose last object has a name; 1.2 MB, and much to read.
std::string boards(const std::string& last) {
  constexpr int boards = 300, corners = 6'000;
  Json json{{"asset", {{"version", "2.0"}}}, {"nodes", Json::array()}, {"meshes", Json::array()}};
  json["accessors"] = {{{"bufferView", 0}, {"componentType", 5126}, {"count", corners}, {"type", "VEC3"}}};
  json["bufferViews"] = {{{"buffer", 0}, {"byteLength", 12 * corners}}};
  json["buffers"] = {{{"byteLength", 1'200'000}}};
  for (int i = 0; i < boards; ++i) {
    json["meshes"].push_back({{"primitives", {{{"attributes", {{"POSITION", 0}}}}}}});
    json["nodes"].push_back({{"name", i + 1 < boards ? "board" : last}, {"mesh", i}});
  }
  std::string head = json.dump(), made = "glTF";
  head.resize((head.size() + 3) / 4 * 4, ' ');
  const auto put = [&](std::size_t number) {
    const auto bits = static_cast<std::uint32_t>(number);
    made.append(reinterpret_cast<const char*>(&bits), 4);
  };
  for (const std::size_t number : {std::size_t{2}, 28 + head.size() + 1'200'000, head.size()}) put(number);
  made += "JSON" + head;
  put(1'200'000);
  made += std::string{"BIN\0", 4};
  std::vector<float> numbers(300'000);
  for (std::size_t i = 0; i < numbers.size(); ++i) numbers[i] = static_cast<float>(i % 97);
  return made.append(reinterpret_cast<const char*>(numbers.data()), 4 * numbers.size());
}

TEST_F(SessionTest, PlaysOnWhileALargeFileIsRead) {
  const auto save = [this](const std::string& last) {
    std::ofstream{folder_ / "boards.glb", std::ios::binary} << boards(last);
  };
  session_.reset();
  save("plank");
  write("hushed = 1\n[scene]\nfrom = \"boards.glb\"\n[[object.plank.behaviour]]\nkind = \"spin\"\n");
  file_ = open();
  session_.emplace(*file_);
  ask(R"({"do": "play"})");
  write("hushed = 1\n[scene]\nfrom = \"boards.glb\"\n[[object.deck.behaviour]]\nkind = \"spin\"\n");
  save("deck");
  int passes = 0;
  std::vector<int> percents;
  const auto latest = std::chrono::steady_clock::now() + std::chrono::seconds{20};
  while (!file_->playing.scene.find("deck") && std::chrono::steady_clock::now() < latest) {
    pass(1.0 / 60.0);
    ++passes;
    const Json reading = heard_.last("state")["reading"];
    if (reading.is_object()) percents.push_back(reading["percent"]);
    std::this_thread::sleep_for(std::chrono::milliseconds{1});
  }
  ASSERT_TRUE(file_->playing.scene.find("deck"));
  EXPECT_GT(percents.size(), 1u);
  EXPECT_TRUE(std::is_sorted(percents.begin(), percents.end()));
  EXPECT_EQ(heard_.current(), passes);  // a frame for every pass
  EXPECT_EQ(heard_.last("state")["diagnostics"], nullptr);
  EXPECT_EQ(heard_.last("state")["reading"], nullptr);
}

TEST_F(SessionTest, CountsDragsOfOneGestureAsOneEdit) {
  for (int i = 1; i <= 3; ++i)
    ask((R"({"do": "edit", "gesture": 7, "edits": [{"edit": "set object", "object": "lamp", "key": "position", "to": "[0, )" +
         std::to_string(i) + R"(, 0]"}]})")
            .c_str());
  EXPECT_EQ(file_->playing.scene.rest(*file_->playing.scene.find("lamp")).position.y(), 3.0);
  const auto lamp = session_->mode().past().find("lamp");
  EXPECT_EQ(session_->mode().poses(0)[*lamp].position.y(), 3.0);  // the frame that is displayed, at once
  ask(R"({"do": "undo"})");
  EXPECT_EQ(file_->playing.scene.rest(*file_->playing.scene.find("lamp")).position.y(), 0.0);
  EXPECT_TRUE(file_->source.descriptions().empty());
}

TEST_F(SessionTest, OffersKindsWithKeysThatMakeASoundBehaviour) {
  ask(R"({"do": "kinds", "object": "lamp"})");
  const Json kinds = heard_.last("kinds")["kinds"];
  EXPECT_EQ(kinds.size(), 16u);
  for (const Json& kind : kinds) {
    std::string keys = kind["keys"];
    keys.insert(keys.size() - 2, ", name = \"another\"");
    const SceneSource next = edited(file_->source.now(), AddBehaviour{"lamp", parse_value(keys)});
    EXPECT_NO_THROW(read_scene_source(next)) << keys;
  }
}

TEST_F(SessionTest, TellsAndFiresRules) {
  ask(R"({"do": "step", "by": 2})");
  ask(R"({"do": "rules"})");
  const Json rule = heard_.last("rules")["rules"][0];
  EXPECT_EQ(rule["name"], "horn");
  EXPECT_EQ(rule["written"]["when"], Json::array({"{ pressed = \"H\" }"}));
  EXPECT_EQ(rule["conditions"], Json::array({false}));
  EXPECT_EQ(rule["fired"], 0);
  ask(R"({"do": "fire", "rule": "horn"})");
  ask(R"({"do": "step", "by": 1})");
  EXPECT_EQ(heard_.last("marks")["marks"][0]["name"], "horn-heard");
  ask(R"({"do": "press", "key": "H"})");
  ask(R"({"do": "step", "by": 2})");
  ask(R"({"do": "rules"})");
  EXPECT_EQ(heard_.last("rules")["rules"][0]["fired"], 1);
  ask(R"({"do": "release", "key": "H"})");
  ask(one_edit(R"("set rule", "rule": "horn", "key": "enabled", "to": "false")").c_str());
  ask(R"({"do": "press", "key": "H"})");
  ask(R"({"do": "step", "by": 4})");
  ask(R"({"do": "rules"})");
  EXPECT_EQ(heard_.last("rules")["rules"][0]["fired"], 1);
  EXPECT_EQ(heard_.last("rules")["rules"][0]["enabled"], false);
}

// --- tries, files for the page, input
// ----------------------------------------------------------------------------------

TEST_F(SessionTest, ComparesTwoTriesFromTheSameFrame) {
  ask(R"({"do": "try"})");
  ask(R"({"do": "set", "path": "gig.sway.frequency", "to": "0.5"})");
  ask(R"({"do": "set", "path": "gig.sway.amplitude", "to": "[0, 2, 0]"})");
  ask(R"({"do": "try"})");
  ask(R"({"do": "use try", "name": "A"})");
  const Scene& scene = file_->playing.scene;
  EXPECT_EQ(scene.get("gig.sway.frequency")->number(), 1.0);
  ask(R"({"do": "undo"})");  // all values at once
  EXPECT_EQ(scene.get("gig.sway.frequency")->number(), 0.5);
  EXPECT_EQ(heard_.last("state")["tries"].size(), 2u);

  ask(R"({"do": "compare", "ask": 5, "tries": ["A", "B"], "objects": ["gig"], "seconds": 2})");
  for (int i = 0; i < 200 && heard_.last("comparison").is_null(); ++i) pass(0.0);
  const Json told = heard_.last("comparison");
  ASSERT_FALSE(told.is_null());
  EXPECT_EQ(told["values"][1]["path"], "gig.sway.frequency");
  EXPECT_EQ(told["values"][1]["values"], Json::array({"1", "0.5"}));
  ASSERT_EQ(told["objects"].size(), 1u);
  // sin(2 pi t) and 2 sin(pi t), at the frames of a play by hand
  double largest = 0.0;
  constexpr double pi = 3.14159265358979323846;
  for (int frame = 0; frame <= 60; ++frame) {
    const double t = frame / 30.0;
    largest = std::max(largest, std::abs(std::sin(2.0 * pi * t) - 2.0 * std::sin(pi * t)));
  }
  EXPECT_NEAR(told["objects"][0]["largest"], largest, 1e-6);
  EXPECT_EQ(scene.get("gig.sway.frequency")->number(), 0.5);  // as before

  ask(R"({"do": "drop try", "name": "A"})");
  ask(R"({"do": "compare", "ask": 7, "tries": ["A", "B"], "objects": [], "seconds": 2})");
  EXPECT_EQ(heard_.last("refused")["do"], "compare");
}

TEST_F(SessionTest, MeasuresAndFindsValuesBesideThePlay) {
  const auto wait = [this](std::string_view kind) {
    for (int i = 0; i < 12'000 && heard_.last(kind).is_null(); ++i) {
      std::this_thread::sleep_for(std::chrono::milliseconds{5});
      pass(0.0);
    }
    return heard_.last(kind);
  };
  ask(R"({"do": "measures"})");
  EXPECT_EQ(heard_.last("measures")["measures"][0]["name"], "peak");
  ask(R"({"do": "step", "by": 30})");
  ask(R"({"do": "set", "path": "gig.sway.amplitude", "to": "[0, 3, 0]"})");
  ask(R"json({"do": "measure", "measure": "peak(gig.position.y)", "seconds": 2})json");
  EXPECT_NEAR(wait("measured")["value"].get<double>(), 3.0, 1e-9);  // from the beginning, with the present values
  EXPECT_EQ(heard_.last("measured")["unit"], "m");

  ask(R"json({"do": "find", "path": "gig.sway.amplitude.y", "low": 0, "high": 5, "want": "peak(gig.position.y) = 1.25",
              "seconds": 2})json");
  const Json found = wait("found");
  EXPECT_EQ(found["met"], true);
  EXPECT_NEAR(found["before"].get<double>(), 3.0, 1e-9);
  EXPECT_NEAR(found["value"].get<double>(), 1.25, 1e-6);
  EXPECT_EQ(found["try"], "A");
  const Scene& scene = file_->playing.scene;
  EXPECT_EQ(as_text(*scene.get("gig.sway.amplitude")), "[0, 3, 0]");  // only a try until it is used
  ask(R"({"do": "use try", "name": "A"})");
  EXPECT_EQ(as_text(*scene.get("gig.sway.amplitude")), "[0, 1.25, 0]");
  EXPECT_EQ(as_text(*scene.get("punt.sway.amplitude")), "[0, 1, 0]");

  heard_.told.clear();
  ask(R"json({"do": "find", "path": "lamp.spin.speed", "low": 0, "high": 5, "want": "reached(lamp.rotation.yaw, 90) = 1 s",
              "seconds": 3})json");
  const Json nearest = wait("found");
  EXPECT_EQ(nearest["met"], false);
  EXPECT_FALSE(nearest.contains("try"));

  heard_.told.clear();
  ask(R"json({"do": "find", "path": "lamp.spin.speed", "low": 0, "high": 5, "want": "peek(lamp.rotation.yaw) = 1 s",
              "seconds": 30})json");
  EXPECT_NE(heard_.last("refused")["text"].get<std::string>().find("did you mean \"peak\"?"), std::string::npos);
  ask(R"json({"do": "find", "path": "lamp.spin.speed", "low": 0, "high": 5, "want": "reached(lamp.rotation.yaw, 90) = 1 s",
              "seconds": 3000})json");
  ask(R"({"do": "stop finding"})");  // waits until the thread has stopped
  pass(0.0);
  const Json stopped = heard_.last("found");
  EXPECT_TRUE(stopped.is_null() || stopped["complete"] == false);
}

TEST_F(SessionTest, ComparesTriesWithOtherObjectsAndBehaviours) {
  ask(R"({"do": "step", "by": 30})");
  ask(R"({"do": "set", "path": "gig.sway.amplitude", "to": "[0, 2, 0]"})");
  ask(R"({"do": "try"})");
  ask(one_edit(R"("remove object", "object": "punt")").c_str());
  ask(one_edit(R"("add behaviour", "object": "gig",
                  "keys": "{ kind = \"sway\", name = \"swell\", amplitude = [3, 0, 0], frequency = 0.25 }")")
          .c_str());
  const std::string before = file_->source.now().files().front().text;
  const auto compared = [&](const char* tries) {
    heard_.told.clear();
    ask((std::string{R"({"do": "compare", "ask": 5, "objects": ["gig", "lamp"], "seconds": 2, "tries": )"} + tries +
         '}')
            .c_str());
    for (int i = 0; i < 200 && heard_.last("comparison").is_null(); ++i) pass(0.0);
    return heard_.last("comparison");
  };
  for (const bool is_back : {false, true}) {
    // The swell begins at this frame: 3 sin(pi t / 2) is largest after a second. All else goes on as before.
    const Json told = is_back ? compared(R"(["now", "B"])") : compared(R"(["A", "now"])");
    ASSERT_FALSE(told.is_null()) << heard_.last("refused");
    EXPECT_EQ(told["structure"], true);
    EXPECT_EQ(told["only"], Json::array({Json::array({"punt"}), Json::array()}));
    ASSERT_EQ(told["objects"].size(), 1u);
    EXPECT_EQ(told["objects"][0]["name"], "gig");
    EXPECT_NEAR(told["objects"][0]["largest"], 3.0, 1e-9);
    EXPECT_NEAR(told["objects"][0]["at"], 1.0, 1e-9);
    if (is_back) break;
    EXPECT_EQ(file_->source.now().files().front().text, before);
    ask(R"({"do": "try"})");
    ask(R"({"do": "use try", "name": "A"})");
  }
}

TEST_F(SessionTest, BringsBackTheStructureOfATry) {
  ask(R"({"do": "try"})");
  ask(one_edit(R"("remove object", "object": "punt")").c_str());
  ask(R"({"do": "use try", "name": "A"})");
  EXPECT_TRUE(file_->playing.scene.find("punt"));
  ask(R"({"do": "undo"})");
  EXPECT_FALSE(file_->playing.scene.find("punt"));
}

TEST_F(SessionTest, KeepsTriesThroughAKeep) {
  ask(R"({"do": "try"})");
  ask(R"({"do": "set", "path": "lamp.spin.speed", "to": "80"})");
  ask(R"({"do": "plan", "values": [{"path": "lamp.spin.speed", "for": "own"}]})");
  ask(R"({"do": "keep", "values": [{"path": "lamp.spin.speed", "for": "own"}]})");
  EXPECT_NE(read().find("speed = 80"), std::string::npos);
  ask(R"({"do": "use try", "name": "A"})");  // the values that the file had then
  EXPECT_EQ(file_->playing.scene.get("lamp.spin.speed")->number(), 40.0);
  EXPECT_EQ(heard_.last("state")["edits"], Json::array());
}

TEST_F(SessionTest, SaysWhereATryIsOutdated) {
  ask(one_edit(R"("remove object", "object": "punt")").c_str());
  ask(R"({"do": "try"})");
  ask(R"({"do": "undo"})");
  write(std::string{text} + "[object.gull]\n");
  pass_until_read([&] { return scene_has_gull(); });
  ask(R"({"do": "use try", "name": "A"})");
  EXPECT_EQ(heard_.last("refused")["do"], "use try");
  EXPECT_TRUE(scene_has_gull());
}

TEST_F(SessionTest, DropsNoFramesForARefusedEdit) {
  ask(R"({"do": "step", "by": 10})");
  ask(R"({"do": "show", "frame": 4})");
  ask(one_edit(R"("add behaviour", "object": "lamp", "keys": "{ kind = \"nod\" }")").c_str());
  EXPECT_EQ(heard_.last("refused")["do"], "edit");
  EXPECT_EQ(session_->mode().last(), 10);
}

TEST_F(SessionTest, SendsFiles) {
  const auto content = [this] {
    std::uint32_t head[2] = {};
    std::memcpy(head, heard_.bytes.data(), sizeof head);
    EXPECT_EQ(head[0], 4u);
    return std::pair{heard_.bytes.substr(8, head[1]), heard_.bytes.substr(8 + head[1])};
  };
  ask(R"({"do": "set", "path": "lamp.spin.speed", "to": "80"})");
  ask(R"({"do": "export", "what": "scene"})");
  EXPECT_EQ(content().first, "small-now.toml");
  EXPECT_EQ(content().second, std::string{text}.replace(std::string{text}.find("speed = 40"), 10, "speed = 80"));

  ask(R"({"do": "press", "key": "H"})");
  ask(R"({"do": "step", "by": 3})");
  ask(R"({"do": "export", "what": "keys"})");
  EXPECT_EQ(content().second, key_file_text(std::vector<InputChange>{{Time{}, "H", InputChange::What::down}}));

  heard_.bytes.clear();
  ask(R"({"do": "export", "what": "recording", "format": "csv", "first": 0, "last": 3})");
  for (int i = 0; i < 100 && heard_.bytes.empty(); ++i) pass(0.0);
  EXPECT_EQ(content().first, "small.csv");
  const auto file = folder_ / "sent.csv";
  std::ofstream{file, std::ios::binary} << content().second;
  const Recording sent = read_recording(file);
  ASSERT_EQ(sent.frames(), 4u);
  const auto lamp = session_->mode().past().find("lamp");
  EXPECT_EQ(sent.at(3, *sent.find("lamp")).rotation.coeffs(), session_->mode().poses(3)[*lamp].rotation.coeffs());
}

TEST_F(SessionTest, PlaysAKeyFileFromTheCurrentFrameOn) {
  ask(R"({"do": "step", "by": 6})");
  ask(R"({"do": "input", "text": "time,key,change\n0.05,W,down\n0.2,H,down\n0.25,H,up\n"})");
  ask(R"({"do": "step", "by": 12})");
  ASSERT_EQ(heard_.last("marks")["marks"].size(), 2u);  // the rule, and its event
  EXPECT_NEAR(heard_.last("marks")["marks"][0]["time"], 0.2, 0.02);
  ask(R"({"do": "show", "frame": 8})");
  ask(R"({"do": "set", "path": "lamp.spin.speed", "to": "80"})");
  ask(R"({"do": "step", "by": 12})");
  EXPECT_EQ(heard_.last("marks")["marks"].size(), 2u);  // the input comes again
  ask(R"({"do": "input", "text": "time,key,change\n0.9,H,sideways\n"})");
  EXPECT_EQ(heard_.last("refused")["do"], "input");
}

}  // namespace
}  // namespace hushed::tests
