// SPDX-License-Identifier: MIT
// Public functions called from callbacks, and from behaviours while they are evaluated.

#include <gtest/gtest.h>
#include <hushed/hushed.hpp>
#include <hushed/own.hpp>

#include <functional>
#include <map>

namespace hushed {
namespace {

using namespace std::chrono_literals;

using Call = std::function<void(Scene&)>;

/// Every function of a scene, for a lamp that turns and a buoy beside it.
std::map<std::string, Call> all_calls() {
  const auto lamp = [](Scene& s) { return *s.find("lamp"); };
  const auto turning = [](Scene& s) { return *s.find_behaviour<Spin>("lamp.spin"); };
  return {
      {"add", [](Scene& s) { s.add({}); }},
      {"give", [=](Scene& s) { s.give(lamp(s), Sway{}, {.name = "another"}); }},
      {"add_to_preset", [](Scene& s) { s.add_to_preset("calm", Sway{}); }},
      {"use", [](Scene& s) { s.use(s.add({}), "bobbing"); }},
      {"presets", [](Scene& s) { (void)s.presets(); }},
      {"end", [](Scene& s) { s.end(*s.find("buoy")); }},
      {"hide", [=](Scene& s) { s.hide(lamp(s)); }},
      {"show", [=](Scene& s) { s.show(lamp(s)); }},
      {"when", [](Scene& s) { s.when(happened("fog")).then(raise("blast")); }},
      {"rules", [](Scene& s) { (void)s.rules(); }},
      {"on", [](Scene& s) { s.on("fog", [](const Event&) {}); }},
      {"press", [](Scene& s) { s.press("W"); }},
      {"axis", [](Scene& s) { s.axis("forward", 0.5); }},
      {"input",
       [](Scene& s) {
         s.input({s.time(), "W", InputChange::What::down});
       }},
      {"advance", [](Scene& s) { s.advance(100ms); }},
      {"time", [](Scene& s) { (void)s.time(); }},
      {"seek", [](Scene& s) { s.seek(seconds(0.2)); }},
      {"snapshot", [](Scene& s) { s.restore(s.snapshot()); }},
      {"become",
       [](Scene& s) {
         Scene next{120.0, s};
         next.give(next.add({.name = "lamp"}), Spin{});
         s.hot_reload(std::move(next));
       }},
      {"world", [=](Scene& s) { (void)s.world(lamp(s)); }},
      {"local", [=](Scene& s) { (void)s.local(lamp(s)); }},
      {"world_poses", [](Scene& s) { (void)s.world_poses(); }},
      {"objects", [](Scene& s) { (void)s.objects(); }},
      {"write_matrices",
       [](Scene& s) {
         std::vector<float> matrices(16 * s.size());
         s.write_matrices(matrices);
       }},
      {"events", [](Scene& s) { (void)s.events(); }},
      {"behaviours", [=](Scene& s) { (void)s.behaviours(lamp(s)); }},
      {"tune", [=](Scene& s) { s.tune(turning(s))->speed = degrees(10); }},
      {"tune_common", [=](Scene& s) { s.tune_common(turning(s))->weight = 0.5; }},
      {"set", [](Scene& s) { s.set("lamp.spin.speed", Value{20.0}); }},
      {"get", [](Scene& s) { (void)s.get("lamp.spin.speed"); }},
      {"reset", [](Scene& s) { s.reset("lamp.spin.speed"); }},
      {"start", [=](Scene& s) { s.start(turning(s)); }},
      {"stop", [=](Scene& s) { s.stop(turning(s)); }},
      {"restart", [=](Scene& s) { s.restart(turning(s)); }},
      {"toggle", [=](Scene& s) { s.toggle(turning(s)); }},
      {"place", [=](Scene& s) { s.place(lamp(s), "lowered"); }},
      {"retarget", [](Scene& s) { s.retarget(*s.find_behaviour("tug.follow"), *s.find("buoy")); }},
      {"raise", [](Scene& s) { s.raise("wind"); }},
      {"size", [](Scene& s) { (void)s.size(); }},
  };
}

Scene small_harbour() {
  Scene harbour;
  harbour.add_to_preset("bobbing", Sway{});
  const Object lamp =
      harbour.add({.name = "lamp", .poses = {PoseParts{.name = "lowered", .position = Vec3{0, -2, 0}}}});
  harbour.give(lamp, Spin{});
  harbour.add({.name = "buoy", .rest = at(3, 0, 0)});
  harbour.give(harbour.add({.name = "tug"}), Follow{.target = lamp});
  return harbour;
}

std::size_t count(const Scene& harbour, std::string_view event) {
  return static_cast<std::size_t>(std::count_if(harbour.events().begin(), harbour.events().end(),
                                                [&](const Event& each) { return each.name == event; }));
}

TEST(CallsFromCallbacks, FromACallbackTakeEffectBetweenTwoFrames) {
  for (const auto& [name, call] : all_calls()) {
    Scene harbour = small_harbour();
    harbour.when(after(seconds(0.5))).once().then(raise("fog"));
    int heard = 0;
    harbour.on("fog", [&, &call = call](const Event&) {
      if (++heard == 1) call(harbour);
    });
    harbour.on("fog", [&](const Event&) { ++heard; });
    harbour.advance(600ms);
    EXPECT_EQ(heard, 2) << name;
    EXPECT_EQ(count(harbour, "failed"), name == "advance" ? 1U : 0U) << name;
    const Time now = harbour.time();
    harbour.advance(200ms);
    EXPECT_EQ(harbour.time(), now + 200ms) << name;
    EXPECT_EQ(now, name == "seek" ? seconds(0.2) : seconds(0.6)) << name;
  }
}

TEST(CallsFromCallbacks, ReplaceTheSceneAfterTheLastCallback) {
  Scene harbour = small_harbour();
  std::vector<bool> has_buoy;
  harbour.on("fog", [&](const Event&) {
    Scene next{120.0, harbour};
    next.give(next.add({.name = "lamp"}), Spin{});
    EXPECT_TRUE(harbour.hot_reload(std::move(next)).empty());
    harbour.advance(16ms);  // moves nothing here, and replaces nothing yet
    has_buoy.push_back(harbour.find("buoy").has_value());
  });
  harbour.on("fog", [&](const Event&) { has_buoy.push_back(harbour.find("buoy").has_value()); });
  harbour.raise("fog");
  harbour.advance(16ms);
  EXPECT_EQ(has_buoy, (std::vector{true, true}));
  EXPECT_FALSE(harbour.find("buoy"));
  harbour.advance(984ms);
  EXPECT_NEAR(pitch_yaw_roll(harbour.world(*harbour.find("lamp")).rotation).yaw.in_degrees(), 90.0, 1e-9);
}

/// A behaviour with a likely mistake: it calls the scene instead of the moment. It may also catch the error.
struct Meddler {
  const Call* call;
  Scene* scene;
  bool swallows = false;
  Pose apply(const Pose& in, const Moment& now) const {
    if (now.time < seconds(0.5)) return in;
    try {
      (*call)(*scene);
    } catch (...) {
      if (!swallows) throw;
    }
    return in.with_position({7, 7, 7});
  }
};

TEST(CallsFromCallbacks, FromABehaviourRaiseAnEventAndTheProgramContinues) {
  for (const bool swallows : {false, true}) {
    for (const auto& [name, call] : all_calls()) {
      Scene harbour = small_harbour();
      const Object gull = harbour.add({.name = "gull", .rest = at(1, 0, 0)});
      harbour.give(gull, Meddler{&call, &harbour, swallows});
      harbour.advance(600ms);
      ASSERT_EQ(count(harbour, "failed"), 1U) << name;
      for (const Event& event : harbour.events()) {
        if (event.name != "failed") continue;
        EXPECT_NE(event.why.find("now.world(...)"), std::string::npos) << event.why;
      }
      EXPECT_EQ(harbour.world(gull).position, Vec3(1, 0, 0)) << name;
      harbour.advance(1s);
      EXPECT_EQ(harbour.time(), seconds(1.6)) << name;
      EXPECT_EQ(harbour.size(), 4U) << name;
    }
  }
}

TEST(CallsFromCallbacks, OfASceneThatWasMovedFromAreErrors) {
  for (const auto& [name, call] : all_calls()) {
    Scene harbour = small_harbour();
    const Scene other = std::move(harbour);
    if (name == "advance")
      EXPECT_NO_THROW(call(harbour));
    else
      EXPECT_THROW(call(harbour), Error) << name;
    EXPECT_EQ(other.size(), 3U);
  }
}

TEST(CallsFromCallbacks, FromDependenciesAreErrors) {
  struct Curious {
    Scene* scene;
    std::vector<Object> dependencies() const { return {scene->add({})}; }
    Pose apply(const Pose& in, const Moment&) const { return in; }
  };
  Scene harbour = small_harbour();
  EXPECT_THROW(harbour.give(*harbour.find("lamp"), Curious{&harbour}), Error);
  EXPECT_EQ(harbour.size(), 3U);
}

}  // namespace
}  // namespace hushed
