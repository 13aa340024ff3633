// SPDX-License-Identifier: MIT
// What single kinds and mixtures do not show: several threads, behaviours of users, objects that are hidden or never
// move, matrices for an engine, and the share of the memory's bandwidth that a large scene uses. Prints medians; each
// pair is measured in turn.

#include <algorithm>
#include <chrono>
#include <cstddef>
#include <cstdlib>
#include <functional>
#include <string>
#include <thread>
#include <vector>

#include <fmt/format.h>
#include <Eigen/Geometry>

#include <hushed/hushed.hpp>
#include <hushed/kinds.hpp>
#include <hushed/own.hpp>

#include "lanes/caches.hpp"
#include "rivals.hpp"
#include "side_by_side.hpp"

namespace {

using namespace hushed;

double seconds_of(const std::function<void()>& body) {
  const auto begin = std::chrono::steady_clock::now();
  body();
  return std::chrono::duration<double>(std::chrono::steady_clock::now() - begin).count();
}

/// The median times of one call of each, in s.
std::vector<double> medians(const std::vector<std::function<void()>>& bodies) {
  constexpr int rounds = 9;
  constexpr double least = 0.05;  // s a round
  std::vector<double> found;
  std::vector<std::vector<double>> times(bodies.size());
  std::vector<int> calls;
  for (const auto& body : bodies) {
    body();
    calls.push_back(std::max(1, static_cast<int>(least / std::max(seconds_of(body), 1e-9))));
  }
  for (int round = 0; round < rounds; ++round) {
    for (std::size_t i = 0; i < bodies.size(); ++i) {
      times[i].push_back(seconds_of([&] {
                           for (int call = 0; call < calls[i]; ++call) bodies[i]();
                         }) /
                         calls[i]);
    }
  }
  for (auto& each : times) {
    std::nth_element(each.begin(), each.begin() + rounds / 2, each.end());
    found.push_back(each[rounds / 2]);
  }
  return found;
}

std::function<void()> frame_of(Scene& scene) {
  return [&scene] { scene.advance(seconds(rivals::dt)); };
}

/// An own behaviour that does nearly nothing.
struct Lift {
  double height = 1.0;
  Pose apply(const Pose& in, const Moment&) const { return in.with_position(in.position + Vec3{0, height, 0}); }
};

std::string judged(double value, double goal, bool at_most) {
  const bool is_met = at_most ? value <= goal : value >= goal;
  return fmt::format("goal {} {:.4g}, {}", at_most ? "at most" : "at least", goal, is_met ? "met" : "missed");
}

void measure_threads() {
  for (const int count : {4'000, 10'000, 100'000}) {
    Scene one = rivals::scene_of_all(count), two = rivals::scene_of_all(count);
    two.set_threads(2);
    const auto times = medians({frame_of(one), frame_of(two)});
    fmt::print(
        "threads          {:>7} objects of all kinds: {:.1f} ns on one thread, {:.1f} on two, {:.2f} times; {}\n",
        count, times[0] * 1e9 / count, times[1] * 1e9 / count, times[0] / times[1],
        judged(times[0] / times[1], count < 10'000 ? 1.4 : 1.8, false));
  }
}

/// Frames of a game fall between two ticks, where state is advanced from the last tick once more for each frame.
void measure_frames_between_ticks() {
  constexpr int count = 10'000;
  for (const rivals::Rival& kind : rivals::all()) {
    const auto* const known = find_kind(kind.name);
    if (!known || !known->traits().has_memory) continue;
    Scene on_ticks = rivals::scene_of(kind, count), between = rivals::scene_of(kind, count);
    between.advance(std::chrono::microseconds{4'300});
    const auto times = medians({frame_of(on_ticks), frame_of(between)});
    fmt::print("between ticks    {:>7} objects, {:<6}: {:.1f} ns in a frame on a tick, {:.1f} ns between two\n", count,
               kind.name, times[0] * 1e9 / count, times[1] * 1e9 / count);
  }
}

void measure_own_behaviours() {
  constexpr int count = 10'000;
  Scene scene;
  for (int i = 0; i < count; ++i) scene.give(scene.add({}), Lift{1.0 + i});
  std::vector<Lift> lifts;
  for (int i = 0; i < count; ++i) lifts.push_back({1.0 + i});
  std::vector<Pose> in(count), out(count);
  const Moment now;
  const auto times = medians({frame_of(scene), [&] {
                                for (std::size_t i = 0; i < lifts.size(); ++i) out[i] = lifts[i].apply(in[i], now);
                                benchmark::ClobberMemory();
                              }});
  const double beyond = (times[0] - times[1]) * 1e9 / count;
  fmt::print("own behaviours   {:>7} objects: {:.1f} ns beyond their own work; {}\n", count, beyond,
             judged(beyond, 25.0, true));
}

/// Feeding each object before each frame, compared with frames of as many spins.
void measure_fed_objects() {
  constexpr int count = 10'000;
  Scene spins, fed;
  std::vector<Object> buoys;
  for (int i = 0; i < count; ++i) {
    spins.give(spins.add({}), Spin{.speed = degrees(i)});
    buoys.push_back(fed.add({}));
    fed.give(buoys.back(), Fed{});
  }
  double x = 0.0;
  const auto feed = [&] {
    x += 0.01;
    for (const Object buoy : buoys) fed.feed(buoy, at(x, 0, 0));
    fed.advance(seconds(rivals::dt));
  };
  const auto times = medians({frame_of(spins), feed});
  fmt::print("fed objects      {:>7} objects: {:.1f} ns with feeding them, {:.2f} times spins; {}\n", count,
             times[1] * 1e9 / count, times[1] / times[0], judged(times[1] / times[0], 2.0, true));
}

Object add_lantern(Scene& scene) {
  const Object lantern = scene.add({});
  scene.give(lantern, Sway{.amplitude = {0.2, 0.1, 0}});
  scene.give(lantern, Spring{.frequency = 2.0, .target = Place{Vec3{0, 2, 0}}});
  return lantern;
}

/// Of a scene with lanterns, 17 end in each frame, and 17 others are added.
void measure_changing_scenes() {
  constexpr std::size_t changed = 17, lantern_count = 170;
  double smallest = 0.0;
  for (const int count : {1'000, 10'000, 100'000}) {
    Scene idle = rivals::scene_of_all(count), changing = rivals::scene_of_all(count);
    std::vector<Object> lanterns;
    for (std::size_t i = 0; i < lantern_count; ++i) {
      add_lantern(idle);
      lanterns.push_back(add_lantern(changing));
    }
    std::size_t next = 0;
    const auto change = [&] {
      for (std::size_t i = 0; i < changed; ++i) {
        Object& lantern = lanterns[next++ % lantern_count];
        changing.end(lantern);
        lantern = add_lantern(changing);
      }
      changing.advance(seconds(rivals::dt));
    };
    const auto times = medians({frame_of(idle), change});
    const double more = (times[1] - times[0]) * 1e3;
    if (smallest == 0.0) smallest = more;
    fmt::print(
        "changing scenes  {:>7} objects: idle frame {:.3f} ms, with {} ended and added {:.3f} ms more, growth {:.2f}; "
        "{}\n",
        count, times[0] * 1e3, changed, more, more / smallest, judged(more, 0.2, true));
  }
}

void measure_objects_at_rest() {
  constexpr int count = 100'000;
  Scene still, hidden, visible;
  const Object dock = hidden.add({}), quay = visible.add({});
  for (int i = 0; i < count; ++i) {
    still.add({});
    hidden.give(hidden.add({.parent = dock}), Spin{});
    visible.give(visible.add({.parent = quay}), Spin{});
  }
  hidden.hide(dock);
  const auto times = medians({frame_of(still), frame_of(hidden), frame_of(visible)});
  fmt::print(
      "at rest          {:>7} objects without behaviours: {:.3f} ns; hidden ones that spin: {:.1f}, visible {:.1f}\n",
      count, times[0] * 1e9 / count, times[1] * 1e9 / count, times[2] * 1e9 / count);
}

void measure_matrices() {
  constexpr int count = 10'000;
  Scene scene = rivals::scene_of_all(count);
  std::vector<float> matrices(16 * scene.size());
  const std::vector<Pose> poses{scene.world_poses().begin(), scene.world_poses().end()};
  std::vector<Eigen::Matrix4f> by_hand(poses.size());
  const auto times = medians({[&] { scene.write_matrices(matrices); },
                              [&] {
                                for (std::size_t i = 0; i < poses.size(); ++i) {
                                  Eigen::Affine3d matrix{Eigen::Translation3d{poses[i].position} * poses[i].rotation};
                                  matrix.scale(poses[i].scale);
                                  by_hand[i] = matrix.matrix().cast<float>();
                                }
                                benchmark::ClobberMemory();
                              }});
  fmt::print("matrices         {:>7} objects: write_matrices {:.1f} ns, by hand {:.1f}, ratio {:.2f}\n", count,
             times[0] * 1e9 / count, times[1] * 1e9 / count, times[1] / times[0]);
}

/// a = b + 3 c over more memory than any cache holds; a line that is written is read before, and that counts.
void measure_bandwidth() {
  constexpr int count = 1'000'000;
  constexpr std::size_t numbers = 12'000'000;
  detail::LargeVector<double> a(numbers), b(numbers, 1.0), c(numbers, 2.0);
  Scene scene = rivals::scene_of(rivals::all()[0], count);
  const auto times = medians({[&] {
                                for (std::size_t i = 0; i < numbers; ++i) a[i] = b[i] + 3.0 * c[i];
                                benchmark::ClobberMemory();
                              },
                              frame_of(scene)});
  // The rest rotation, the block of a spin (axis, speed, phase), and the world rotation, read and written.
  constexpr double bytes = 8.0 * (4 + 5 + 2 * 4);
  const double triad = 4 * sizeof(double) * numbers / times[0] / 1e9, ours = bytes * count / times[1] / 1e9;
  fmt::print("bandwidth        {:>7} spinning objects: {:.1f} GB/s of {:.1f}, {:.0f} %; {}\n", count, ours, triad,
             100 * ours / triad, judged(100 * ours / triad, 75.0, false));
}

}  // namespace

/// Scenes of springs: saving, restoring, and playing eight frames again after a lantern was added.
void measure_snapshots() {
  const auto springs = [](int count) {
    Scene scene;
    for (int i = 0; i < count; ++i)
      scene.give(scene.add({.rest = at(i, 0, 0)}),
                 Spring{.frequency = 0.5, .damping = 0.01, .target = Vec3{0.1 * i, 3, 1}});
    scene.advance(seconds(1.234));
    return scene;
  };
  constexpr int count = 10'000;
  Scene scene = springs(count);
  std::vector<std::byte> bytes = scene.snapshot().to_bytes();
  const auto times =
      medians({[&] { bytes = scene.snapshot().to_bytes(); }, [&] { scene.restore(scene.snapshot_from(bytes)); }});
  fmt::print(
      "snapshots        {:>7} springs: {} bytes each; saved as bytes in {:.2f} ms ({}), restored in {:.2f} ms ({})\n",
      count, bytes.size() / count, times[0] * 1e3, judged(times[0] * 1e3, 2.0, true), times[1] * 1e3,
      judged(times[1] * 1e3, 2.0, true));

  constexpr int few = 200, frames = 8;
  Scene played = springs(few), with_lantern = springs(few);
  const Snapshot before = played.snapshot(), before_lantern = with_lantern.snapshot();
  const auto roll_back = [](Scene& of, const Snapshot& to, bool adds) {
    of.restore(to);
    if (adds) add_lantern(of);
    for (int frame = 0; frame < frames; ++frame) of.advance(seconds(rivals::dt));
  };
  const auto rollbacks =
      medians({[&] { roll_back(played, before, false); }, [&] { roll_back(with_lantern, before_lantern, true); }});
  fmt::print(
      "rollback         {:>7} springs: eight frames again in {:.3f} ms ({}), with an object that comes {:.3f} ms "
      "({})\n",
      few, rollbacks[0] * 1e3, judged(rollbacks[0] * 1e3, 0.5, true), rollbacks[1] * 1e3,
      judged(rollbacks[1] * 1e3, 0.5, true));
}

int main() {
  fmt::print("With {}, on {} processors; nanoseconds per object and frame.\n\n",
             side_by_side::name_of(side_by_side::instructions), std::thread::hardware_concurrency());
  measure_threads();
  measure_frames_between_ticks();
  measure_own_behaviours();
  measure_fed_objects();
  measure_changing_scenes();
  measure_snapshots();
  measure_objects_at_rest();
  measure_matrices();
  measure_bandwidth();
}
