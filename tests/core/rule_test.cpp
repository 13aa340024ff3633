// SPDX-License-Identifier: MIT
#include <gtest/gtest.h>

#include <cmath>

#include <algorithm>
#include <string>
#include <vector>

#include <hushed/hushed.hpp>

namespace hushed {
namespace {

using namespace std::chrono_literals;

/// The ticks at which an event is raised in a play.
std::vector<std::int64_t> ticks_of(Scene& harbour, std::string_view event, Time length) {
  std::vector<std::int64_t> ticks;
  const Time end = harbour.time() + length;
  while (harbour.time() < end) {
    harbour.advance(7ms);
    for (const Event& each : harbour.events())
      if (each.name == event) ticks.push_back(std::llround(in_seconds(each.time) * 120));
  }
  return ticks;
}
using Ticks = std::vector<std::int64_t>;

/// A bridge that opens on the horn while the pilot boat is near its post, which is not its axis.
struct SwingBridge {
  Scene harbour;
  Object bridge, boat, ferry;
  Behaviour<Glide> swing;

  SwingBridge() {
    const PoseParts open{"open", Vec3{0, 1, 0}, rotation(axis::up, degrees(80)), std::nullopt};
    bridge = harbour.add({.name = "bridge", .rest = at(10, 0, 0), .poses = {open}});
    boat = harbour.add({.name = "pilot", .rest = at(0, 0, 30), .tags = {"pilot-boat"}});
    ferry = harbour.add({.name = "ferry", .rest = at(10, 0, 9), .tags = {"boat"}});
    swing = harbour.give(bridge, Glide{.to = {{.name = "open"}}, .duration = 4s}, {.name = "swing", .enabled = false});
    harbour.give(boat, Travel{.velocity = {0, 0, -10}}, {.enabled = false});
    harbour.when(pressed("H"), closer_than(Tagged{"pilot-boat"}, Vec3{0, 0, 8}, 3.0)).then(toggle(swing));
  }
  void horn() {
    harbour.press("H");
    harbour.advance(1ms);
    harbour.release("H");
  }
};

TEST(Rule, OpensTheBridgeOnTheHornOfTheRightBoatAtTheRightPlace) {
  SwingBridge made;
  Scene& harbour = made.harbour;
  harbour.advance(1s);
  made.horn();  // the ferry is at the post, but it is not a pilot boat
  harbour.advance(1s);
  EXPECT_FALSE(harbour.running(made.swing));

  harbour.start(*harbour.find_behaviour("pilot.travel"));
  harbour.advance(2s);  // at z = 10, near a post at z = 8
  harbour.stop(*harbour.find_behaviour("pilot.travel"));
  harbour.advance(1s);
  EXPECT_FALSE(harbour.running(made.swing));  // nearness alone is not enough
  made.horn();
  harbour.advance(2s);
  const auto opened = [&] { return pitch_yaw_roll(harbour.world(made.bridge).rotation).yaw.in_degrees(); };
  const double half = opened();
  EXPECT_NEAR(half, 40, 0.5);
  EXPECT_NEAR(harbour.world(made.bridge).position.x(), 10 - 10 * half / 80, 1e-9);  // both arrive together
  made.horn();                                                                      // it turns back from where it is
  harbour.advance(500ms);
  EXPECT_NEAR(opened(), half - 10, 1);
  harbour.advance(3s);
  EXPECT_EQ(harbour.world(made.bridge).position, Vec3(10, 0, 0));
}

TEST(Rule, SeesAKeyThatIsPressedAndReleasedBetweenTwoTicks) {
  Scene harbour;
  harbour.when(pressed("H")).called("pressed").then(raise("goes-down"));
  harbour.when(released("H")).called("released").then(raise("goes-up"));
  harbour.when(held("H")).called("held").then(raise("is-down"));
  harbour.advance(51ms);
  harbour.press("H");
  harbour.advance(1ms);
  harbour.release("H");
  EXPECT_EQ(ticks_of(harbour, "goes-down", 1s), Ticks{8});  // heard at tick 7, done at the next
  harbour.press("H");
  EXPECT_EQ(ticks_of(harbour, "is-down", 1s).size(), 1U);
  harbour.seek(40ms);
  EXPECT_EQ(ticks_of(harbour, "goes-up", 1s), Ticks{});  // what was pressed later is forgotten
}

TEST(Rule, FiresEachTimeOnceOrAtEveryTick) {
  Scene harbour;
  const Object cog = harbour.add({.name = "cog"});
  harbour.give(cog, Spin{.speed = degrees(360)});
  harbour.when(above("cog.rotation.yaw", 90)).called("each").then(raise("each"));
  harbour.when(above("cog.rotation.yaw", 90)).called("once").once().then(raise("once"));
  harbour.when(between("cog.rotation.yaw", 89.0, 96.1)).called("while").at_every_tick().then(raise("while"));
  harbour.when(above("cog.rotation.yaw", 90)).called("lasting").lasting(200ms).then(raise("lasting"));
  harbour.when(above("cog.rotation.yaw", 90)).called("too-long").lasting(300ms).then(raise("too-long"));
  // 3 degrees a tick: 93 at tick 31, 96 at 32; 180 at 60 is the last one above.
  EXPECT_EQ(ticks_of(harbour, "each", 110s).size(), 110U);
  harbour.seek(0s);
  EXPECT_EQ(ticks_of(harbour, "each", 2500ms), (Ticks{32, 152, 272}));
  harbour.seek(0s);
  EXPECT_EQ(ticks_of(harbour, "once", 2500ms), Ticks{32});
  harbour.seek(0s);
  EXPECT_EQ(ticks_of(harbour, "while", 2s), (Ticks{31, 32, 33, 151, 152, 153}));
  harbour.seek(0s);
  EXPECT_EQ(ticks_of(harbour, "lasting", 2s), (Ticks{56, 176}));
  harbour.seek(0s);
  EXPECT_EQ(ticks_of(harbour, "too-long", 2s), Ticks{});
}

TEST(Rule, HoldsForAllAnyAndNone) {
  Scene harbour;
  Rule rule{
      .name = "all", .when = {after(1s)}, .any = {held("A"), held("B")}, .unless = {held("C")}, .then = {raise("yes")}};
  harbour.add_rule(rule);
  const auto fires = [&] { return !ticks_of(harbour, "yes", 100ms).empty(); };
  harbour.press("A");
  EXPECT_FALSE(fires());
  harbour.advance(1s - harbour.time());
  EXPECT_TRUE(fires());
  harbour.press("C");
  harbour.press("B");
  harbour.release("A");
  EXPECT_FALSE(fires());
  harbour.release("C");
  EXPECT_TRUE(fires());
}

TEST(Rule, EvaluatesDistancesAndAreas) {
  Scene harbour;
  const Object tug = harbour.add({.name = "tug", .tags = {"boat"}});
  harbour.add({.name = "buoy", .rest = at(10, 0, 0), .tags = {"boat"}});
  harbour.give(tug, Travel{.velocity = {1, 0, 0}});
  harbour.when(closer_than(tug, "buoy", 2.0)).then(raise("near"));
  harbour.when(farther_than(tug, "buoy", 2.0)).then(raise("far"));
  harbour.when(inside(tug, Box{{5, -1, -1}, {6, 1, 1}})).then(raise("in-box"));
  harbour.when(inside(Tagged{"boat", {"buoy"}}, Sphere{"buoy", 1.0})).then(raise("in-ball"));
  harbour.when(closer_than(Tagged{"boat"}, Tagged{"boat"}, 3.0)).then(raise("two"));
  harbour.when(above("tug.speed", 0.5), below("distance(tug,buoy)", 4.0)).then(raise("comes"));
  std::vector<std::pair<std::string, long>> told;
  while (harbour.time() < Time{14s}) {
    harbour.advance(50ms);
    for (const Event& event : harbour.events())
      if (event.name != "fired") told.emplace_back(event.name, std::lround(in_seconds(event.time) * 100));
  }
  EXPECT_EQ(
      told,
      (std::vector<std::pair<std::string, long>>{
          {"far", 1}, {"in-box", 501}, {"comes", 602}, {"two", 701}, {"near", 801}, {"in-ball", 901}, {"far", 1202}}));
}

TEST(Rule, IsNotTriggeredByItsOwnEvents) {
  Scene harbour;
  harbour.when(after(100ms)).called("begin").then(raise("ping"));
  harbour.when(happened("ping")).called("a").then(raise("pong"));
  harbour.when(happened("pong")).called("b").then(raise("ping"));
  harbour.when(happened("ping")).called("echo").then(raise("ping"));
  std::vector<std::string> told;
  for (int i = 0; i < 200; ++i) {
    harbour.advance(10ms);
    for (const Event& event : harbour.events())
      if (event.name == "fired") told.emplace_back(event.rule);
  }
  EXPECT_EQ(told.front(), "begin");
  EXPECT_EQ(std::count(told.begin(), told.end(), "begin"), 1);
  // begin sets off a and echo; each is set off again by what came of the other, and then it is at an end.
  EXPECT_LE(told.size(), 10U);
  EXPECT_GE(std::count(told.begin(), told.end(), "b"), 1);
}

TEST(Rule, GivesAFollowerItsNextLeader) {
  Scene harbour;
  const Object ferry = harbour.add({.name = "ferry", .tags = {"boat"}});
  harbour.give(ferry, Travel{.velocity = {1, 0, 0}});
  harbour.add({.name = "tug"});
  const auto follow = harbour.give(*harbour.find("tug"), Follow{.target = "ferry", .offset = Vec3{0, 0, 0}});
  harbour.add({.name = "skiff", .rest = at(3, 0, 0), .tags = {"boat"}});
  harbour.add({.name = "dory", .rest = at(3, 0, 9), .tags = {"boat"}});
  harbour.when(after(2s)).then(end("ferry"));
  harbour.when(happened("lost", "tug")).lasting(0s).then(retarget(follow, Tagged{"boat"}));
  harbour.advance(2010ms);
  const Vec3 held = harbour.world(*harbour.find("tug")).position;
  EXPECT_NEAR(held.x(), 2, 0.02);
  EXPECT_FALSE(harbour.find("ferry"));
  EXPECT_EQ(harbour.values(follow).target.name, "ferry");
  harbour.advance(1s);
  EXPECT_EQ(harbour.values(follow).target.name, "skiff");  // the nearest
  EXPECT_NEAR((harbour.world(*harbour.find("tug")).position - Vec3{3, 0, 0}).norm(), 0.0, 1e-9);
  harbour.seek(1s);
  EXPECT_EQ(harbour.values(follow).target.name, "ferry");
  EXPECT_NEAR(harbour.world(*harbour.find("tug")).position.x(), 1, 1e-9);
  harbour.advance(2s);
  EXPECT_EQ(harbour.values(follow).target.name, "skiff");
}

TEST(Rule, ExecutesEveryAction) {
  Scene harbour;
  const Object flag = harbour.add({.name = "flag", .poses = {{"up", Vec3{0, 5, 0}}}});
  const Object lamp = harbour.add({.name = "lamp"}), hook = harbour.add({.name = "hook"});
  const auto spin = harbour.give(lamp, Spin{});
  const auto spring = harbour.give(hook, Spring{.damping = 0});
  const auto sway = harbour.give(hook, Sway{.amplitude = {1, 0, 0}}, {.name = "swing", .enabled = false});
  const Object pole = harbour.add({.name = "pole", .parent = flag, .rest = at(1, 0, 0)});
  harbour.when(after(1s)).called("all").then(place(flag, "up"), set("lamp.spin.speed", Value{10.0}),
                                             kick(spring, {0, 2, 0}), start(sway), hide("pole"), raise("done"));
  harbour.advance(1s);
  EXPECT_EQ(harbour.world(flag).position.y(), 0);
  harbour.advance(frame_time(121, 120) - harbour.time());
  EXPECT_EQ(harbour.world(flag).position.y(), 5);  // at the next tick, and without a bridge
  EXPECT_EQ(harbour.world(pole).position, Vec3(1, 5, 0));
  EXPECT_TRUE(harbour.hidden(pole));
  EXPECT_TRUE(harbour.running(sway));
  EXPECT_EQ(harbour.values(spin).speed.in_degrees(), 10);
  harbour.advance(250ms);
  EXPECT_NEAR(harbour.world(hook).position.y(), 2 / (2 * M_PI), 1e-9);
  EXPECT_EQ(harbour.report("all").fired, 1);
  harbour.place(flag, "up");
  EXPECT_THROW(harbour.place(flag, "down"), BadValue);
}

TEST(Rule, CallsCallbacksThatMayChangeTheScene) {
  Scene harbour;
  harbour.add({.name = "buoy"});
  harbour.when(after(100ms)).then(raise("now"));
  int calls = 0;
  harbour.on("now", [&](const Event& event) {
    ++calls;
    EXPECT_EQ(event.time, frame_time(13, 120));
    EXPECT_EQ(harbour.time(), Time{200ms});  // once the frame is shown
    harbour.end(*harbour.find("buoy"));
    harbour.add({.name = "lantern"});
    harbour.raise("later");
  });
  harbour.on("later", [](const Event&) { throw BadValue{"the lantern is out"}; });
  harbour.advance(200ms);
  EXPECT_EQ(calls, 1);
  EXPECT_TRUE(harbour.find("lantern"));
  EXPECT_FALSE(harbour.find("buoy"));
  harbour.advance(50ms);
  harbour.advance(50ms);
  const auto& events = harbour.events();
  ASSERT_EQ(events.size(), 1U);
  EXPECT_EQ(harbour.describe(events[0]), "the callback of \"later\": the lantern is out");
}

TEST(Rule, IsEvaluatedFromTheFirstTickAndActsInTheOrderOfNames) {
  Scene harbour;
  const auto spin = harbour.give(harbour.add({.name = "lamp"}), Spin{});
  for (const char* name : {"b", "c", "a"})
    harbour.when(after(0s)).called(name).then(set("lamp.spin.speed", Value{double(name[0])}), raise(name));
  std::string order;
  for (int i = 0; i < 30; ++i) {
    harbour.advance(1ms);
    for (const Event& event : harbour.events()) {
      EXPECT_EQ(event.time, frame_time(1, 120));  // judged at tick 0, done at the next
      if (event.name != "fired") order += event.name;
    }
  }
  EXPECT_EQ(order, "abc");
  EXPECT_EQ(harbour.values(spin).speed.in_degrees(), 'c');  // the last one has the last word
}

TEST(Rule, KnowsRunningBehaviours) {
  Scene harbour;
  const Object bridge = harbour.add({.name = "bridge"});
  const auto lift =
      harbour.give(bridge, Glide{.by = {{.position = Vec3{0, 3, 0}}}, .duration = 1s}, {.enabled = false});
  harbour.when(running(lift)).called("up").then(raise("starts"));
  harbour.when(after(0s)).unless(running(lift)).called("down").then(raise("stands"));
  EXPECT_EQ(ticks_of(harbour, "stands", 1s), Ticks{1});
  harbour.start(lift);
  EXPECT_EQ(ticks_of(harbour, "starts", 1s).size(), 1U);
  harbour.stop(lift);
  EXPECT_EQ(ticks_of(harbour, "stands", 1s).size(), 1U);
}

TEST(Rule, IgnoresEndedObjectsAndReportsFailures) {
  Scene harbour;
  const Object ferry = harbour.add({.name = "ferry"}), tug = harbour.add({.name = "tug"}),
               skiff = harbour.add({.name = "skiff"});
  const auto spin = harbour.give(skiff, Spin{});
  const auto follow = harbour.give(tug, Follow{.target = ferry});
  harbour.give(ferry, Follow{.target = skiff});
  const auto chase = harbour.give(skiff, Follow{.target = ferry, .half_life = 1s}, {.reads = Reads::last_tick});
  harbour.when(after(100ms)).called("a").then(end(skiff));
  harbour.when(after(100ms)).called("b").then(start(spin), hide(skiff), retarget(chase, tug));  // too late
  harbour.when(after(200ms)).called("c").then(retarget(follow, tug), raise("goes-on"));         // itself
  std::vector<std::string> told;
  for (int i = 0; i < 50; ++i) {
    harbour.advance(10ms);
    for (const Event& event : harbour.events())
      if (event.name == "failed" || event.name == "goes-on") told.push_back(harbour.describe(event));
  }
  ASSERT_EQ(told.size(), 2U);
  EXPECT_NE((told[0] + told[1]).find("rule c: "), std::string::npos);
  EXPECT_NE((told[0] + told[1]).find("goes-on was raised by rule c"), std::string::npos);
  EXPECT_EQ(harbour.values(follow).target.name, "ferry");
}

TEST(Rule, ContinuesFromASnapshotBetweenEvaluationAndAction) {
  Scene harbour;
  const Object lamp = harbour.add({.name = "lamp"});
  harbour.give(lamp, Spin{});
  harbour.give(lamp, Travel{.velocity = {3, 0, 0}});
  harbour.when(above("lamp.position.x", 1.0)).lasting(50ms).then(stop("lamp.travel"));
  harbour.when(above("lamp.speed", 2.0)).once().then(set("lamp.spin.speed", Value{10.0}));
  harbour.advance(frame_time(47, 120) + Time{1000});  // 1.175 m: judged at this tick, done at the next
  const Snapshot here = harbour.snapshot();
  Vec3 places[2];
  for (Vec3& place : places) {
    harbour.restore(here);
    harbour.advance(1s);
    place = harbour.world(lamp).position;
  }
  EXPECT_EQ(places[0], places[1]);
  EXPECT_NEAR(places[0].x(), 3 * 48.0 / 120, 1e-9);
  EXPECT_THROW(harbour.report("nobody"), BadValue);
}

TEST(Rule, ForgetsTheValueItSetOnceItsObjectHasEndedAndItsIndexIsUsedAgain) {
  Scene harbour;
  const Object lamp = harbour.add({.name = "lamp"});
  harbour.give(lamp, Spin{});
  harbour.when(after(10s)).then(set("lamp.spin.speed", Value{90.0}));
  harbour.advance(1s);
  harbour.end(lamp);
  const Object hook = harbour.add({.name = "hook"});
  harbour.advance(1s);  // the lamp's place is free from here on, and the hook's spin takes it
  const auto spin = harbour.give(hook, Spin{.speed = degrees(30)});
  harbour.advance(2s);
  harbour.tune(spin)->speed = degrees(50);
  harbour.seek(3s);
  EXPECT_EQ(harbour.values(spin).speed.in_degrees(), 50);  // no rule sets it, so that it stays as it was tuned
  harbour.advance(20s);                                    // the rule fires, and leaves the hook alone
  EXPECT_EQ(harbour.values(spin).speed.in_degrees(), 50);
}

TEST(Rule, IsRepeatedBySeekWithTheValuesOfItsTime) {
  Scene harbour;
  const auto spin = harbour.give(harbour.add({.name = "lamp"}), Spin{.speed = degrees(40)});
  harbour.when(after(2s)).then(set("lamp.spin.speed", Value{90.0}));
  harbour.advance(3s);
  const auto yaw = [&] { return pitch_yaw_roll(harbour.world(*harbour.find("lamp")).rotation).yaw.in_degrees(); };
  const double there = yaw();
  EXPECT_NEAR(there, 40 * (2 + 1 / 120.0) + 90 * (1 - 1 / 120.0), 1e-9);
  harbour.seek(1s);
  EXPECT_EQ(harbour.values(spin).speed.in_degrees(), 40);
  EXPECT_NEAR(yaw(), 40, 1e-9);
  harbour.seek(3s);
  EXPECT_EQ(yaw(), there);
}

TEST(Input, IgnoresRepeatedKeysAndKeepsAxes) {
  Scene harbour;
  harbour.when(pressed("H")).called("down").then(raise("down"));
  harbour.when(released("H")).called("up").then(raise("up"));
  const Object boat = harbour.add({.name = "pilot"});
  harbour.give(boat, Drive{.speed = 2});
  EXPECT_FALSE(harbour.last_input());
  harbour.release("H");  // it was not down
  harbour.press("H");
  harbour.axis("forward", 0.5);
  harbour.advance(1s);
  harbour.press("H");  // it still is
  EXPECT_EQ(ticks_of(harbour, "down", 1s).size() + ticks_of(harbour, "up", 1s).size(), 0U);
  EXPECT_NEAR(harbour.world(boat).position.z(), in_seconds(harbour.time()) - 1 / 120.0, 1e-9);
  EXPECT_EQ(harbour.last_input(), Time{1s});
}

TEST(Rule, SaysWhatIsWrong) {
  Scene harbour;
  const Object bridge = harbour.add({.name = "bridge"});
  harbour.give(bridge, Spin{});
  const auto refusal = [&](const Rule& rule) -> std::string {
    try {
      harbour.add_rule(rule);
    } catch (const BadValue& error) {
      return error.what();
    }
    return "accepted";
  };
  const Condition always = after(0s);
  EXPECT_EQ(refusal({.name = "r", .when = {pressed("")}, .then = {hide("bridge")}}),
            "rule \"r\": the name of the key is empty; give one, such as \"H\".");
  EXPECT_EQ(refusal({.name = "r", .when = {closer_than("bridge", "bridge", -1)}, .then = {hide("bridge")}}),
            "rule \"r\": within: -1 is out of range; give a number from 0 to 1e9.");
  EXPECT_EQ(refusal({.name = "r", .when = {above("bridge.speed", std::nan(""))}, .then = {hide("bridge")}}),
            "rule \"r\": above: nan is out of range; give a number from -1e9 to 1e9.");
  EXPECT_EQ(refusal({.name = "r", .when = {after(-1s)}, .then = {hide("bridge")}}),
            "rule \"r\": after: the time is negative; give 0 s or more.");
  EXPECT_EQ(refusal({.name = "r", .when = {always}, .then = {toggle("bridge.spni")}}),
            "rule \"r\": bridge has no behaviour \"spni\"; did you mean \"spin\"?");
  EXPECT_EQ(refusal({.name = "r", .when = {closer_than("bridge", "piolt", 3)}, .then = {hide("bridge")}}),
            "rule \"r\": no object \"piolt\" in this scene; give bridge.");
  EXPECT_NE(refusal({.name = "r", .when = {above("bridge.position", 3)}, .then = {hide("bridge")}}).find("3 numbers"),
            std::string::npos);
  EXPECT_NE(refusal({.name = "r", .when = {always}, .then = {kick("bridge.spin", {0, 1, 0})}}).find("no velocity"),
            std::string::npos);
  EXPECT_NE(refusal({.name = "r", .when = {always}, .then = {set("bridge.spin.speed", Value{"fast"})}}).find("number"),
            std::string::npos);
  EXPECT_NE(refusal({.name = "r", .when = {always}, .then = {place("bridge", "open")}}).find("no pose"),
            std::string::npos);
  EXPECT_NE(refusal({.name = "r", .when = {}, .then = {hide("bridge")}}).find("no condition"), std::string::npos);
  EXPECT_EQ(refusal({.name = "r", .when = {always}, .then = {hide("bridge")}}), "accepted");
  EXPECT_NE(refusal({.name = "r", .when = {always}, .then = {hide("bridge")}}).find("another rule has this name"),
            std::string::npos);
}

/// A buoy far from the origin, which never moves.
Scene still_harbour() {
  Scene harbour;
  harbour.add({.name = "buoy", .rest = at(1000, 0, 0)});
  harbour.add({.name = "pier"});
  return harbour;
}

TEST(Rule, KnowsNoSpeedAtTheTickAtWhichItIsAdded) {
  Scene harbour = still_harbour();
  harbour.give(harbour.add({.name = "ferry"}), Travel{.velocity = {3, 0, 0}});
  harbour.advance(10s);
  harbour.when(above("buoy.speed", 5)).called("drifts").then(raise("drifts"));
  harbour.when(below("ferry.speed", 2)).called("slow").then(raise("slow"));
  harbour.when(above("ferry.acceleration.x", 5)).called("jerk").then(raise("jerk"));
  harbour.advance(1s);
  for (const char* const rule : {"drifts", "slow", "jerk"}) EXPECT_EQ(harbour.report(rule).fired, 0) << rule;
}

TEST(Rule, KeepsItsStateWhereRulesAreAdded) {
  Scene harbour = still_harbour();
  harbour.when(above("buoy.speed", 5)).called("m-drifts").then(raise("drifts"));
  harbour.advance(10s);
  harbour.when(above("pier.speed", 5)).called("a-first").then(raise("sinks"));
  harbour.when(above("pier.speed", 5)).called("z-last").then(raise("sinks"));
  harbour.advance(1s);
  for (const char* const rule : {"m-drifts", "a-first", "z-last"}) EXPECT_EQ(harbour.report(rule).fired, 0) << rule;
}

TEST(Rule, KeepsItsStateThroughAReload) {
  const auto add_rule = [](Scene& harbour, const char* watched) {
    harbour.when(above(watched, 5)).called("drifts").then(raise("drifts"));
  };
  Scene harbour = still_harbour();
  add_rule(harbour, "buoy.speed");
  harbour.advance(10s);
  for (const char* const watched : {"buoy.speed", "pier.speed"}) {  // the same rule, and one about something else
    Scene next{120.0, harbour};
    next.add({.name = "buoy", .rest = at(1000, 0, 0)});
    next.add({.name = "pier"});
    add_rule(next, watched);
    harbour.hot_reload(std::move(next));
    harbour.advance(1s);
    EXPECT_EQ(harbour.report("drifts").fired, 0) << watched;
  }
}

TEST(Rule, ProcessesEventsFromBeforeAReload) {
  Scene harbour = still_harbour();
  harbour.when(happened("fog")).called("horn").then(raise("blast"));
  harbour.advance(1s);
  harbour.raise("fog");
  Scene next{120.0, harbour};
  next.add({.name = "pier"});
  next.when(happened("fog")).called("horn").then(raise("blast"));
  harbour.hot_reload(std::move(next));
  harbour.advance(1s);
  EXPECT_EQ(harbour.report("horn").fired, 1);
}

TEST(Rule, IsNotTriggeredByItsOwnEventsAfterAReload) {
  Scene harbour = still_harbour();
  const auto add_rules = [](Scene& to) {
    to.when(happened("call")).called("horn").then(raise("answer"));
    to.when(happened("answer")).called("bell").then(raise("call"));
  };
  add_rules(harbour);
  harbour.raise("call");
  for (int tick = 0; tick < 6; ++tick) {
    harbour.advance(frame_time(1, 120.0));
    Scene next{120.0, harbour};
    add_rules(next);
    harbour.hot_reload(std::move(next));
  }
  EXPECT_EQ(harbour.report("horn").fired, 1);
  EXPECT_EQ(harbour.report("bell").fired, 1);
}

}  // namespace
}  // namespace hushed
