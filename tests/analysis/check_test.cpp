// SPDX-License-Identifier: MIT
// A corpus of mistakes: for each, a scene with the mistake and a similar scene without it.

#include <hushed/check.hpp>

#include <gtest/gtest.h>

#include <hushed/behaviour/spin.hpp>
#include <hushed/field.hpp>
#include <hushed/kinds.hpp>
#include <hushed/load.hpp>
#include <hushed/own.hpp>
#include <hushed/script.hpp>

#include "support/demo.hpp"

namespace hushed::tests {
namespace {

struct Case {
  std::string code, object;
  std::string wrong, right;  ///< scene files without their first line
  std::string name = {};     ///< of the test, where a code has several
};

std::ostream& operator<<(std::ostream& out, const Case& each) {
  return out << (each.name.empty() ? each.code : each.name);
}

/// A behaviour that remembers something outside of its state.
struct Haunted {
  bool steady = false;

  static constexpr auto kind = "haunted";
  static constexpr auto fields =
      std::tuple{field("steady", &Haunted::steady, unit::none, "false: it counts its calls")};

  Pose apply(const Pose& in, const Moment& now) const {
    static int calls = 0;
    return in.with_position({now.since_start, steady ? 0.0 : 1e-9 * ++calls, 0});
  }
};

/// The kinds that the corpus names: those of the program, and scripts, which are no files on the disk.
Kinds kinds_of_corpus() {
  Kinds kinds;
  kinds.add<Haunted>();
  add_scripts(kinds);
  kinds.set_file_reader([](const std::string& file) -> std::string {
    if (file == "turning.lua")
      return "fields = { { \"turns\", 10 } }\nfunction apply(pose, now, my)\nlocal sum = 0\n"
             "for i = 1, my.turns do sum = sum + i * now.time end\n"
             "pose.position = vector(0, now.time, sum)\nend";
    if (file == "unread.lua" || file == "read.lua")
      return std::string{"fields = { { \"speed\", 1 }, { \"lean\", 2 } }\nfunction apply(pose, now, my)\n"} +
             "pose.position = vector(0, now.time * my.speed, " + (file == "read.lua" ? "my.lean" : "2") + ")\nend";
    throw Error{"there is no such script."};
  });
  return kinds;
}

std::vector<Finding> found_in(const std::string& text) {
  const auto read = [&](double ticks) {
    const std::string whole = "hushed = 1\n" + text;
    const Kinds kinds = kinds_of_corpus();
    const double rate = read_scene_text(whole, "corpus", {.kinds = &kinds}).scene.tick_rate();
    return read_scene_text(whole, "corpus", {.tick_rate = rate * ticks, .kinds = &kinds});
  };
  CheckOptions options;
  const SceneFile file = read(1.0);
  options.area = file.view.area;
  options.ignored = file.ignored;
  options.unused_presets = file.unused_presets;
  return check([&](double ticks) { return read(ticks).scene; }, options);
}

std::string listed(const std::vector<Finding>& findings) {
  std::string text;
  for (const Finding& each : findings) text += each.object + " " + each.code + ": " + each.text + "\n";
  return text;
}

const std::string ferry_in_line = "[object.ferry]\n[[object.ferry.behaviour]]\nkind=\"travel\"\nvelocity=[3,0,0]\n";
const std::string ferry_in_circles =
    "[object.ferry]\nposition=[4,0,0]\n[[object.ferry.behaviour]]\nkind=\"orbit\"\ncentre=[0,0,0]\nradius=4\nperiod="
    "12\n";

std::vector<Case> corpus() {
  const std::string gull = "[object.gull]\n[[object.gull.behaviour]]\n",
                    post = "[object.post]\n[[object.post.behaviour]]\n",
                    bell = "[object.bell]\nposition=[0,1,0]\n[[object.bell.behaviour]]\n";
  const std::string tug =
      "[object.tug]\nposition=[-3,0,0]\n[[object.tug.behaviour]]\nkind=\"follow\"\ntarget=\"ferry\"\n";
  return {
      {"never-moves", "gull", gull + "kind=\"sway\"\namplitude=[0,0,0]\nfrequency=1\n",
       gull + "kind=\"sway\"\namplitude=[0,1,0]\nfrequency=1\n"},
      {"never-moves", "gull", gull + "kind=\"spin\"\ndelay=100\n", gull + "kind=\"spin\"\ndelay=5\n", "never-starts"},
      {"no-effect", "gull",
       gull + "kind=\"sway\"\namplitude=[0,1,0]\nfrequency=0.3\n[[object.gull.behaviour]]\nkind=\"orbit\"\ncentre=[0,0,"
              "0]\nradius=4\nperiod=9\n",
       gull + "kind=\"orbit\"\ncentre=[0,0,0]\nradius=4\nperiod=9\n[[object.gull.behaviour]]\nkind=\"sway\"\namplitude="
              "[0,1,0]\nfrequency=0.3\n"},
      {"round-turn", "post",
       "[object.post]\nshape={kind=\"cylinder\",size=[1,4,1]}\n[[object.post.behaviour]]\nkind=\"spin\"\naxis=\"y\"\n",
       "[object.post]\nshape={kind=\"cylinder\",size=[1,4,1]}\n[[object.post.behaviour]]\nkind=\"spin\"\naxis=\"x\"\n"},
      {"round-turn", "post",
       "[object.post]\nshape={kind=\"sphere\"}\n[[object.post.behaviour]]\nkind=\"spin\"\naxis=[1,2,3]\n",
       "[object.post]\nshape={kind=\"sphere\"}\n[[object.post.behaviour]]\nkind=\"spin\"\naxis=[1,2,3]\n"
       "[object.lamp]\nparent=\"post\"\nposition=[0,0,2]\n",
       "a-ball-with-a-lamp"},
      {"jump", "gull", gull + "kind=\"sway\"\nwave=\"square\"\namplitude=[0,1,0]\nfrequency=0.2\n",
       gull + "kind=\"sway\"\nwave=\"triangle\"\namplitude=[0,1,0]\nfrequency=0.2\n"},
      {"shiver", "gull", gull + "kind=\"sway\"\namplitude=[0,0.1,0]\nfrequency=29\n",
       gull + "kind=\"sway\"\namplitude=[0,0.1,0]\nfrequency=5\n"},
      {"seam", "gull", gull + "kind=\"glide\"\nby={position=[6,0,0]}\nduration=3\nends=\"repeat\"\n",
       gull + "kind=\"glide\"\nby={position=[6,0,0]}\nduration=3\nends=\"return\"\neasing=\"in-out-sine\"\n"},
      {"seam", "gull",
       gull + "kind=\"glide\"\nfrom={rotation=[0,0,0]}\nto={rotation=[0,179,0]}\nduration=3\nends=\"repeat\"\n",
       gull + "kind=\"glide\"\nfrom={rotation=[0,0,0]}\nto={rotation=[0,179,0]}\nduration=3\nends=\"return\"\neasing="
              "\"in-out-sine\"\n",
       "a-turn"},
      {"seam", "gull", gull + "kind=\"glide\"\nby={position=[6,0,0]}\nduration=3\nends=\"return\"\n",
       gull + "kind=\"glide\"\nby={position=[6,0,0]}\nduration=3\nends=\"return\"\neasing=\"smoothstep\"\n", "a-kink"},
      {"up-along-view", "post", ferry_in_circles + post + "kind=\"face\"\ntarget=[0,8,0]\n",
       ferry_in_circles + post + "kind=\"face\"\ntarget=\"ferry\"\n"},
      {"never-reaches", "tug", ferry_in_circles + tug + "offset=[0,0,0]\nmax_speed=0.2\n",
       ferry_in_circles + tug + "offset=[0,0,0]\nmax_speed=6\n"},
      {"falls-behind", "tug", ferry_in_line + tug + "min_distance=2\nmax_distance = 4\nmax_speed=2\n",
       ferry_in_line + tug + "min_distance=2\nmax_distance = 4\nmax_speed=4\n"},
      {"enters-obstacle", "gull",
       std::string{"[object.ferry]"} +
           "\ntags=[\"boat\"]\nshape={kind=\"box\",size=[2,2,6]}\n[[object.ferry.behaviour]]\nkind="
           "\"travel\"\nvelocity=[0,0,9]\n"
           "[object.gull]\nposition=[0,0,20]\n[[object.gull.behaviour]]\nkind=\"steer\"\nmax_speed=1\nurges=[{urge="
           "\"avoid\",tag=\"boat\"}]\n",
       std::string{"[object.ferry]"} +
           "\ntags=[\"boat\"]\nshape={kind=\"box\",size=[2,2,6]}\n[[object.ferry.behaviour]]\nkind="
           "\"travel\"\nvelocity=[0,0,2]\n"
           "[object.gull]\nposition=[0,0,20]\n[[object.gull.behaviour]]\nkind=\"steer\"\nmax_speed=6\nurges=[{urge="
           "\"avoid\",tag=\"boat\"}]\n"},
      {"leaves-view", "ferry", "[view]\narea=[[-10,-1,-10],[20,5,10]]\n" + ferry_in_line,
       "[view]\narea=[[-10,-1,-10],[40,5,10]]\n" + ferry_in_line},
      {"unsettled", "bell", bell + "kind=\"spring\"\nfrequency=0.5\ndamping=0.03\ntarget=[0,0,0]\n",
       bell + "kind=\"spring\"\nfrequency=0.5\ndamping=0.3\ntarget=[0,0,0]\n"},
      {"rings", "bell", bell + "kind=\"spring\"\nfrequency=2\ndamping=0\nvelocity=[1,0,0]\n",
       bell + "kind=\"spring\"\nfrequency=2\ndamping=0.2\nvelocity=[1,0,0]\n"},
      {"tick-rate", "tug", "[scene]\ntick_rate=2\n" + ferry_in_circles + tug + "offset=[0,0,0]\nreads=\"last tick\"\n",
       "[scene]\ntick_rate=120\n" + ferry_in_circles + tug + "offset=[0,0,0]\nreads=\"last tick\"\n"},
      {"unused", "gull",
       "[object.gull.pose.up]\nposition=[0,4,0]\n[object.gull.pose.away]\nposition=[9,4,0]\n" + gull +
           "kind=\"glide\"\nto=\"up\"\nduration=3\n",
       "[object.gull.pose.up]\nposition=[0,4,0]\n" + gull + "kind=\"glide\"\nto=\"up\"\nduration=3\n"},
      {"unused", "bobbing", "[[preset.bobbing.behaviour]]\nkind=\"spin\"\n" + gull + "kind=\"spin\"\n",
       "[[preset.bobbing.behaviour]]\nkind=\"spin\"\n[object.gull]\nuse=[\"bobbing\"]\n", "preset"},
      {"rule-never", "call",
       ferry_in_line + "[[rule]]\nname=\"call\"\nwhen=[{near=\"ferry\",to=[0,0,50],within=5}]\ndo=[{raise=\"ahoy\"}]\n",
       ferry_in_line +
           "[[rule]]\nname=\"call\"\nwhen=[{near=\"ferry\",to=[15,0,0],within=5}]\ndo=[{raise=\"ahoy\"}]\n"},
      {"rule-never", "call",
       ferry_in_line +
           "[[rule]]\nname=\"call\"\nwhen=[{near=\"ferry\",to=[15,0,0],within=5}]\nfor=4\ndo=[{raise=\"a\"}]\n",
       ferry_in_line +
           "[[rule]]\nname=\"call\"\nwhen=[{near=\"ferry\",to=[15,0,0],within=5}]\nfor=3\ndo=[{raise=\"a\"}]\n",
       "never-so-long"},
      {"rule-always", "call",
       ferry_in_line +
           "[[rule]]\nname=\"call\"\nwhen=[{near=\"ferry\",to=[0,0,0],within=500}]\ndo=[{raise=\"ahoy\"}]\n",
       ferry_in_circles +
           "[[rule]]\nname=\"call\"\nwhen=[{near=\"ferry\",to=[4,0,0],within=2}]\ndo=[{raise=\"ahoy\"}]\n"},
      {"rule-stuck", "call",
       ferry_in_line + "[[rule]]\nname=\"call\"\nwhen=[{value=\"ferry.position.x\",above=9}]\ndo=[{raise=\"ahoy\"}]\n",
       ferry_in_circles +
           "[[rule]]\nname=\"call\"\nwhen=[{value=\"ferry.position.x\",above=3}]\ndo=[{raise=\"ahoy\"}]\n"},
      {"not-repeatable", "gull", gull + "kind=\"haunted\"\n", gull + "kind=\"haunted\"\nsteady=true\n"},
      {"slow-script", "gull", gull + "script=\"turning.lua\"\nturns=9000\n", gull + "script=\"turning.lua\"\n"},
      {"unread-field", "gull", gull + "script=\"unread.lua\"\n", gull + "script=\"read.lua\"\n"},
      {"unused", "gull",
       "[object.gull]\nignore={jump=\"it was once meant to\"}\n[[object.gull.behaviour]]\nkind=\"spin\"\n",
       gull + "kind=\"spin\"\n", "ignore"}};
}

class Corpus : public testing::TestWithParam<Case> {};

TEST_P(Corpus, IsFoundInTheSceneWithTheMistakeOnly) {
  const auto wrong = found_in(GetParam().wrong), right = found_in(GetParam().right);
  const auto is_it = [](const Finding& each) {
    return each.code == GetParam().code && each.object == GetParam().object;
  };
  EXPECT_TRUE(std::any_of(wrong.begin(), wrong.end(), is_it)) << listed(wrong);
  EXPECT_TRUE(right.empty()) << listed(right);
  for (const Finding& each : wrong) EXPECT_FALSE(each.text.empty() || each.hint.empty());
}

INSTANTIATE_TEST_SUITE_P(Mistakes, Corpus, testing::ValuesIn(corpus()), [](const auto& info) {
  std::string name = info.param.name.empty() ? info.param.code : info.param.code + "-" + info.param.name;
  name.erase(std::remove(name.begin(), name.end(), '-'), name.end());
  return name;
});

TEST(Check, FindsEveryCodeInTheCorpus) {
  const auto cases = corpus();
  for (const FindingCode& code : finding_codes())
    EXPECT_TRUE(std::any_of(cases.begin(), cases.end(), [&](const Case& each) { return each.code == code.code; }))
        << code.code;
}

std::vector<Finding> found_in_the_demo(std::int64_t last_frame) {
  CheckOptions options;
  options.last_frame = last_frame;
  options.area = demo_file().view.area;
  return check([&](double ticks) { return demo(120.0 * ticks); }, options);
}

TEST(Check, FindsNothingInTheDemo) {
  const auto found = found_in_the_demo(600);
  EXPECT_TRUE(found.empty()) << listed(found);
}

TEST(Check, FindsNothingInTheDemoUntilTheFerryIsBack) {
  const auto found = found_in_the_demo(2400);
  EXPECT_TRUE(found.empty()) << listed(found);
}

/// A gull that an external program moves: it jumps at two seconds.
struct Startled {
  Pose apply(const Pose& in, const Moment& now) const {
    return in.with_position({0, std::sin(now.since_start) + (now.since_start > 2.0 ? 3.0 : 0.0), 0});
  }
};

TEST(Check, ChecksOwnBehavioursAndStopsOnRequest) {
  const auto make = [](double ticks) {
    Scene harbour{120.0 * ticks};
    const Object gull = harbour.add({.name = "gull"});
    harbour.give(gull, Startled{});
    harbour.give(gull, Spin{});
    return harbour;
  };
  CheckOptions options;
  int plays = 0;
  options.goes_on = [&](int done) {
    plays = done;
    return done < 2;
  };
  const auto found = check(make, options);
  ASSERT_EQ(found.size(), 1U) << listed(found);
  EXPECT_EQ(found[0].code, "jump");
  EXPECT_EQ(found[0].severity, Severity::doubt);
  EXPECT_EQ(found[0].frame, 121);  // the first after two seconds
  EXPECT_EQ(plays, 2);

  int frames = 0;
  options.goes_on = [&](int) { return ++frames < 100; };  // in the middle of the first
  EXPECT_TRUE(check(make, options).empty());
  EXPECT_EQ(frames, 100);
}

TEST(Check, ReportsTheFrameAndIgnoresFindingsWithAReason) {
  const auto found = found_in(
      "[object.gull]\nignore={jump=\"it is a signal flag\"}\n[[object.gull.behaviour]]\n"
      "kind=\"sway\"\nwave=\"square\"\namplitude=[0,1,0]\nfrequency=0.2\n");
  ASSERT_EQ(found.size(), 1U) << listed(found);
  EXPECT_EQ(found[0].ignored_because, "it is a signal flag");
  EXPECT_NEAR(static_cast<double>(*found[0].frame % 150), 0.0, 1.0);  // each half of five seconds
}

}  // namespace
}  // namespace hushed::tests
