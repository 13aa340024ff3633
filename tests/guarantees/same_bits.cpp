// SPDX-License-Identifier: MIT
// same_bits THREADS: prints a checksum over the bits of each part: functions, the results of all kernels object by
// object, a crowd, its state as bytes, and what follows from that state in another scene.

#include <bit>
#include <cstdint>
#include <cstdio>
#include <cstdlib>
#include <random>
#include <string>
#include <string_view>
#include <vector>

#include <hushed/hushed.hpp>
#include <hushed/kinds.hpp>
#include <hushed/motion.hpp>
#include <hushed/runtime_kind.hpp>
#include <hushed/script.hpp>

#include "lanes/trigonometry.hpp"

using namespace hushed;
using namespace std::chrono_literals;

namespace {

/// Random numbers that do not depend on the standard library.
class Random {
 public:
  double real(double low, double high) { return low + (high - low) * static_cast<double>(random_() >> 11) * 0x1p-53; }
  int below(int count) { return static_cast<int>(random_() % static_cast<std::uint64_t>(count)); }
  Vec3 vector(double most) { return {real(-most, most), real(-most, most), real(-most, most)}; }

 private:
  std::mt19937_64 random_{20};
};

void give_any(Scene& harbour, Object boat, const Place& place, Object leader, Random& random, const std::string& name) {
  Common common{.name = name};
  if (random.below(4) == 0) common.delay = seconds(random.real(0.0, 1.0));
  if (random.below(4) == 0) common.fade = seconds(random.real(0.1, 0.5));
  if (random.below(6) == 0) common.weight = random.real(0.0, 1.0);
  const Vec3 any = random.vector(2.0);
  const int times = random.below(3);  // a statement of its own: the order of operands is the compiler's
  const Time half_life = times * seconds(random.real(0.05, 0.3));
  const auto speed = degrees(random.real(10.0, 200.0));
  switch (random.below(12)) {
    case 0: harbour.give(boat, Spin{.axis = any, .speed = speed, .space = Space{random.below(3)}}, common); break;
    case 1:
      harbour.give(boat, Travel{.velocity = any, .between = {Vec3::Constant(-99), Vec3::Constant(99)}}, common);
      break;
    case 2: harbour.give(boat, Sway{.channel = Channel{random.below(3)}, .amplitude = any * 0.2}, common); break;
    case 3: harbour.give(boat, Orbit{.centre = place, .axis = any, .radius = 2.0, .speed = speed}, common); break;
    case 4: harbour.give(boat, Glide{.by = {{.position = any}}, .duration = seconds(0.6)}, common); break;
    case 5: harbour.give(boat, Roam{.box = {-Vec3::Ones(), Vec3::Ones()}, .speed = 2.0}, common); break;
    case 6:
      harbour.give(boat, Route{.points = {any, place, -any}, .speed = 2.0, .shape = PathShape::smooth}, common);
      break;
    case 7: harbour.give(boat, Follow{.target = leader, .half_life = half_life}, common); break;
    case 8: {
      Face face{.target = place, .half_life = half_life, .only = Turns{random.below(2)}};
      if (random.below(2) == 0) face.max_turn_speed = speed;
      harbour.give(boat, face, common);
      break;
    }
    case 9:
      harbour.give(boat, Spring{.channel = Channel{random.below(3)}, .frequency = 2.0, .velocity = any}, common);
      break;
    case 10: harbour.give(boat, Smooth{.half_life = {half_life, half_life, 0ms}}, common); break;
    default: harbour.give(boat, Steer{.urges = {urge::Wander{.seed = random.below(99)}, urge::Seek{place}}}, common);
  }
}

/// Each function of scripts, in one.
constexpr std::string_view script = R"(
fields = { { "near", object }, { "lean", 12, unit = "deg" } }
memory = { place = vector(0, 0, 0), turn = 0 }
function begin(pose, now, my, kept) kept.place = pose.position end
function apply(pose, now, my, kept)
  local there, turned = pose_of(my.near)
  kept.place = mix(there, kept.place, exp2(-3 * now.step))
  kept.turn = kept.turn + my.lean * now.step * (1 + random(floor(now.time)))
  local way = kept.place - where(my.near)
  pose.position = kept.place + cross(way, vector(0.1, 0.2, 0.3)) + vector(sin(kept.turn), cos(kept.turn), sqrt(length(way)))
  local angle = atan2(way.x, 1 + pow(abs(way.z), 1.7)) + clamp(dot(way, way), 0, 3) * pi
  pose.rotation = rotation(vector(1, 2, angle), kept.turn + angle) * turned
end
)";

std::shared_ptr<const detail::Kind> scripted() {
  Kinds kinds;
  add_scripts(kinds);
  std::vector<Diagnostic> mistakes;
  auto kind = kinds.load("leaning.lua", script, {}, mistakes);
  if (!kind) std::printf("%s\n", mistakes[0].sentence().c_str());
  return kind;
}

/// Boats of all kinds in groups of random sizes: plain lanes, lanes in transition, partial blocks, several chunks.
std::vector<Object> random_crowd(Scene& harbour, Random& random) {
  std::vector<Object> boats;
  for (int i = 0; i < 1500; ++i) {
    NewObject boat{.name = "boat" + std::to_string(i), .rest = at(random.vector(9.0))};
    const Object leader = i > 0 ? boats[static_cast<std::size_t>(i - 1 - random.below(i % 16 + 1) % i)] : Object{};
    if (i % 16 > 0 && random.below(3) == 0) boat.parent = leader;
    boats.push_back(harbour.add(boat));
    if (i % 16 == 0) continue;
    const Place place = random.below(2) == 0 ? Place{leader} : Place{random.vector(5.0)};
    for (int b = 0; b <= random.below(2); ++b)
      give_any(harbour, boats.back(), place, leader, random, "b" + std::to_string(b));
  }
  return boats;
}

/// The checksum of a part.
class Checksum {
 public:
  void take(std::uint64_t bits) { sum_ = sum_ * 6364136223846793005ULL + bits; }
  void take(double number) { take(std::bit_cast<std::uint64_t>(number)); }
  void take(const Pose& pose) {
    for (const double number : pose.position) take(number);
    for (const double number : pose.rotation.coeffs()) take(number);
    for (const double number : pose.scale) take(number);
  }
  void print(const char* part) const { std::printf("%-10s %016llx\n", part, static_cast<unsigned long long>(sum_)); }

 private:
  std::uint64_t sum_ = 0;
};

Checksum functions() {
  Checksum sum;
  for (int i = -200'000; i < 200'000; ++i) {
    const auto [sine, cosine] = detail::sine_cosine(i * 4.99);
    sum.take(sine);
    sum.take(cosine);
    sum.take(detail::arc_tangent(1.0, 1e-5 * i * i));
  }
  return sum;
}

/// Advances the scene by a frame, and takes the poses of the objects.
void play(Scene& scene, const std::vector<Object>& objects, Checksum& sum) {
  scene.advance(std::chrono::milliseconds{17});
  for (const Object object : objects) sum.take(scene.world(object));
}

/// Objects with every kind, in chains and alone.
Checksum kernels() {
  Scene harbour;
  Object last = harbour.add({.rest = {{1, 2, 3}, rotation(degrees(10), degrees(20), degrees(30)), {1.1, 1.2, 1.3}}});
  for (int i = 0; i < 100; ++i) {
    last = harbour.add({.parent = last, .rest = at(0.3, 0.1, 0.2)});
    harbour.give(last, Spin{.axis = Vec3{1, 2, i * 0.1}, .speed = degrees(37.3 + i), .space = Space{i % 3}});
    harbour.give(last,
                 Travel{.velocity = {0.7, i * 0.01, 0}, .between = {{-1, -1, -1}, {1, 1, 1}}, .at_edge = Edge{i % 3}},
                 {.delay = seconds(0.01 * i), .weight = 0.7, .fade = seconds(0.3)});
  }
  for (int i = 0; i < 20; ++i) {
    const Object gull = harbour.add({.parent = last, .rest = at(1, i, 0)}), ferry = harbour.add({});
    const Easing easing = Easing::parse(Easing::names()[static_cast<std::size_t>(2 * i)]);
    harbour.give(gull,
                 Orbit{.centre = last, .axis = {0.1, 1, 0.2}, .speed = degrees(20 + i), .face = OrbitFacing{i % 3}});
    harbour.give(gull, Sway{.channel = Channel{i % 3}, .amplitude = {0.1, 0.2, 0.3}, .wave = Wave{i % 5}});
    harbour.give(ferry, Route{.points = {{0, 0, 0}, gull, {9, 0, i * 1.0}, {3, 1, 4}},
                              .speed = 2.0 + i,
                              .shape = PathShape{i % 2},
                              .ends = RouteEnds{i % 3},
                              .easing = easing,
                              .face = RouteFacing::travel});
    harbour.give(ferry, Glide{.by = {{.rotation = rotation(degrees(3), degrees(2), degrees(i))}},
                              .duration = seconds(0.7),
                              .easing = easing,
                              .ends = GlideEnds{i % 3}});
    auto recorded = std::make_shared<MotionFile>();
    recorded->clips.push_back({"all", 0.0});
    recorded->add(
        "it",
        std::make_shared<Motion>(
            Motion::Channel{{0, 0.7, 2}, {0, 0, 0, 1, i * 1.0, 3, 2, 0, 1}},
            Motion::Channel{{0, 1, 2.5}, {0, 0, 0, 1, 0, 0.6, 0, 0.8, 0.6, 0, 0.8, 0}},
            Motion::Channel{{0, 1}, {0, 0, 0, 1, 1, 1, 1, 0, 0, 0, 2, 0, 2, 1, 1, 0, 0, 0}, Motion::Between::cubic}));
    harbour.give(harbour.add({}), Replay{.file = std::shared_ptr<const MotionFile>{recorded},
                                         .object = "it",
                                         .speed = 1.3 - i,
                                         .ends = ReplayEnds{i % 3},
                                         .blend = 300ms});
    harbour.give(harbour.add({}), Roam{.box = {{-1, -1, -1}, {1, 2, 3}}, .speed = 3.0, .easing = easing, .seed = i});
    const Object tug = harbour.add({.parent = gull, .rest = at(1, 2, 3)}), hook = harbour.add({.parent = gull});
    harbour.give(tug, Follow{.target = ferry,
                             .channels = {Channel::position, Channel::rotation, Channel::scale},
                             .half_life = 70ms * i,
                             .max_speed = 3.0,
                             .min_distance = 1.0,
                             .max_distance = 2.0,
                             .trail = 300ms});
    harbour.give(tug, Face{.target = ferry, .half_life = 90ms, .max_turn_speed = degrees(40 + i)});
    for (const Channel channel : {Channel::position, Channel::rotation})
      harbour.give(
          hook, Spring{.channel = channel, .frequency = 0.3 * i * i, .damping = 0.3 * (i % 7), .velocity = {9, 8, 7}},
          {.name = channel == Channel::position ? "swing" : "turn"});
    harbour.give(hook, Smooth{.half_life = {100ms, 200ms, 0ms}, .space = Space::world});
    const Object buoy = harbour.add({.parent = i % 2 == 0 ? std::optional{gull} : std::nullopt, .rest = at(2, i, 1)});
    const Place above{ferry, {0.1, 2, 0.3}, i % 3 == 0 ? Space::target : Space::world};
    for (const Channel channel : {Channel::position, Channel::rotation, Channel::scale})
      harbour.give(buoy,
                   Spring{.channel = channel,
                          .frequency = 0.4 + 0.1 * i,
                          .damping = 0.2,
                          .target = channel == Channel::position ? above : Place{gull},
                          .space = i % 4 < 2 ? Space::world : Space::parent},
                   {.name = "to-" + std::to_string(static_cast<int>(channel))});
  }
  const auto kind = scripted();
  for (int i = 0; i < 30; ++i) {
    const auto values = kind->make(nullptr);
    static_cast<RuntimeValues*>(values.get())->objects[0] = last;
    last = harbour.add({.rest = at(0.1 * i, 1, 0.3)});
    harbour.give(last, detail::AnyValues{*kind, values.get()}, {.delay = seconds(0.05 * i), .fade = seconds(0.2)});
  }
  std::vector<Object> shoal;
  for (int i = 0; i < 40; ++i) {
    NewObject fish{.rest = at(0.3 * (i % 7), 0.2 * (i % 3), 0.25 * i), .tags = {i < 36 ? "fish" : "rock"}};
    if (i >= 36) fish.shape = Shape{i % 2 == 0 ? Shape::Kind::box : Shape::Kind::sphere, {1.3, 1.1, 0.9}};
    shoal.push_back(harbour.add(fish));
  }
  for (int i = 0; i < 36; ++i)
    harbour.give(shoal[static_cast<std::size_t>(i)],
                 Steer{.urges = {urge::Wander{}, urge::Separation{.tag = "fish", .within = 1.0 + 0.1 * (i % 3)},
                                 urge::Alignment{.tag = "fish"}, urge::Cohesion{.tag = "fish"}, urge::Pursue{shoal[39]},
                                 urge::Arrive{Vec3{3, 0, 4}, 2.0}, urge::Avoid{.tag = "rock", .margin = 0.2},
                                 urge::Contain{{{-4, -1, -4}, {6, 3, 12}}}}});
  const std::vector<Object> all{harbour.objects().begin(), harbour.objects().end()};
  Checksum sum;
  for (int frame = 0; frame < 300; ++frame) play(harbour, all, sum);
  return sum;
}

/// A crowd whose behaviours are switched off and on while it plays.
class Crowd {
 public:
  explicit Crowd(int threads) : boats_{random_crowd(scene_, random_)} { scene_.set_threads(threads); }

  Checksum play_on(int frames) {
    Checksum sum;
    for (int frame = 0; frame < frames; ++frame) {
      for (int i = 0; i < 20; ++i) {
        const Object boat = boats_[static_cast<std::size_t>(random_.below(static_cast<int>(boats_.size())))];
        for (const AnyBehaviour behaviour : scene_.behaviours(boat)) scene_.toggle(behaviour);
      }
      play(scene_, boats_, sum);
    }
    return sum;
  }
  std::vector<std::byte> state() const { return scene_.snapshot().to_bytes(); }
  /// Continues like `other`, from its state.
  void continue_as(const Crowd& other) {
    scene_.restore(scene_.snapshot_from(other.state()));
    random_ = other.random_;
  }

 private:
  Random random_;
  Scene scene_;
  std::vector<Object> boats_;
};

}  // namespace

int main(int count, char** words) {
  functions().print("functions");
  kernels().print("kernels");
  const int threads = count > 1 ? std::atoi(words[1]) : 1;
  Crowd crowd{threads};
  Crowd other{threads};
  crowd.play_on(20).print("crowd");
  Checksum state;
  for (const std::byte byte : crowd.state()) state.take(std::uint64_t{std::to_integer<unsigned char>(byte)});
  state.print("state");
  other.continue_as(crowd);
  crowd.play_on(20).print("after");
  other.play_on(20).print("from state");
}
