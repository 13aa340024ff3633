// SPDX-License-Identifier: MIT
// Loading a scene file of 50 000 objects, compared with parsing the text by the TOML parser alone. Each run is in a
// process of its own, in turn, so that neither uses the memory of the other.

#include <sys/resource.h>
#include <sys/wait.h>
#include <unistd.h>

#include <algorithm>
#include <chrono>
#include <cmath>
#include <string>
#include <vector>

#include <fmt/format.h>
#include <toml++/toml.h>

#include <hushed/kinds.hpp>
#include <hushed/load.hpp>
#include <hushed/script.hpp>
#include <hushed/watch.hpp>

namespace {

std::string scene_of(int count) {
  std::string text = "hushed = 1\n";
  for (int i = 0; i < count; ++i) {
    text += fmt::format("\n[object.boat-{}]\nposition = [{}, 0, {:.2f}]\nrotation = [0, {}, 0]\ntags = [\"boat\"]\n", i,
                        i, 0.01 * i, i % 360);
    if (i % 2) text += fmt::format("parent = \"boat-{}\"\n", i - 1);
    if (i / 2 % 2)
      text += fmt::format("[[object.boat-{}.behaviour]]\nkind = \"spin\"\nspeed = {}\n", i, i % 90);
    else
      text += fmt::format("[[object.boat-{}.behaviour]]\nkind = \"travel\"\nvelocity = [1, 0, 0.{}]\n", i, i % 10);
  }
  return text;
}

struct Cost {
  double seconds;
  double megabytes;
};

/// Runs `work` in a child process. Returns its time and the growth of its memory.
template <class Work>
Cost cost_of(Work&& work) {
  int channel[2];
  if (pipe(channel) != 0) std::abort();
  if (fork() == 0) {
    const auto memory = [] {
      rusage usage{};
      getrusage(RUSAGE_SELF, &usage);
      return static_cast<double>(usage.ru_maxrss) / 1024.0;
    };
    const double before = memory();
    const auto start = std::chrono::steady_clock::now();
    work();
    const Cost cost{std::chrono::duration<double>(std::chrono::steady_clock::now() - start).count(), memory() - before};
    _exit(write(channel[1], &cost, sizeof cost) == sizeof cost ? 0 : 1);
  }
  Cost cost{};
  if (read(channel[0], &cost, sizeof cost) != sizeof cost) std::abort();
  wait(nullptr);
  close(channel[0]);
  close(channel[1]);
  return cost;
}

Cost median(std::vector<Cost> costs) {
  std::sort(costs.begin(), costs.end(), [](const Cost& a, const Cost& b) { return a.seconds < b.seconds; });
  return costs[costs.size() / 2];
}

}  // namespace

/// A scene that is loaded and played for two frames. Its time should be proportional to its number of items.
struct Growing {
  const char* what;
  std::string (*text_of)(int count);
};

constexpr Growing growing[] = {
    {"a crowd whose target is misspelt",
     [](int count) {
       return fmt::format(
           "hushed = 1\n[object.pilot]\n[crowd.gull]\ncount = {}\nbox = [[0, 0, 0], [9, 9, 9]]\n"
           "[[crowd.gull.behaviour]]\nkind = \"follow\"\ntarget = \"piilot-x\"\n",
           count);
     }},
    {"a crowd that is drawn to itself",
     [](int count) {
       const double side = std::cbrt(count);  // constant density
       return fmt::format(
           "hushed = 1\n[crowd.gull]\ncount = {}\nbox = [[0, 0, 0], [{}, {}, {}]]\ntags = [\"gull\"]\n"
           "[[crowd.gull.behaviour]]\nkind = \"attract\"\nto = {{ tag = \"gull\" }}\nreads = \"last tick\"\n"
           "within = 1\nspeed = 1\nreach = 0.01\n",
           count, side, side, side);
     }},
    {"rules",
     [](int count) {
       std::string text = "hushed = 1\n[object.pilot]\n";
       for (int i = 0; i < count; ++i)
         text += fmt::format("[[rule]]\nname = \"r{}\"\nwhen = [{{ event = \"e{}\" }}]\ndo = [{{ raise = \"x\" }}]\n",
                             i, i);
       return text;
     }},
    {"objects with default watches",
     [](int count) {
       std::string text = "hushed = 1\n";
       for (int i = 0; i < count; ++i) text += fmt::format("[object.b{}]\nposition = [{}, 0, 0]\n", i, i);
       return text;
     }},
    {"behaviours on one object",
     [](int count) {
       std::string text = "hushed = 1\n[object.pilot]\n";
       for (int i = 0; i < count; ++i)
         text += fmt::format("[[object.pilot.behaviour]]\nkind = \"spin\"\nname = \"s{}\"\n", i);
       return text;
     }},
};

void load_and_play(const std::string& text) {
  try {
    hushed::SceneFile file = hushed::read_scene_text(text, "growing.toml");
    const auto watches = hushed::watches_of(file, "growing.toml");
    std::vector<double> numbers;
    for (int frame = 0; frame < 2; ++frame) {
      file.scene.advance(std::chrono::milliseconds{16});
      for (const hushed::Watch& watch : watches) watch.read(file.scene, numbers);
    }
  } catch (const hushed::Error&) {  // expected: the file has errors
  }
}

/// Reading the demo again while it plays: what `prepare` costs another thread, and what `adopt` and the next frame cost
/// the game, beside a usual frame.
void measure_adopting() {
  using Clock = std::chrono::steady_clock;
  const auto since = [](Clock::time_point start) {
    return std::chrono::duration<double, std::milli>(Clock::now() - start).count();
  };
  hushed::Kinds kinds;
  hushed::add_scripts(kinds);
  hushed::Scene harbour = std::move(hushed::read_scene_file(HARBOUR, {.kinds = &kinds}).scene);
  std::vector<double> prepared, adopted, next_frame, usual_frame;
  const auto frame = [&](std::vector<double>& times) {
    const auto start = Clock::now();
    harbour.advance(std::chrono::milliseconds{16});
    times.push_back(since(start));
  };
  for (int i = 0; i < 15; ++i) {
    harbour.advance(std::chrono::milliseconds{100});
    frame(usual_frame);
    auto start = Clock::now();
    hushed::PreparedScene next = hushed::prepare(HARBOUR, {.kinds = &kinds});
    prepared.push_back(since(start));
    start = Clock::now();
    (void)hushed::adopt(harbour, std::move(next));
    adopted.push_back(since(start));
    frame(next_frame);
  }
  const auto median = [](std::vector<double>& times) {
    std::sort(times.begin(), times.end());
    return times[times.size() / 2];
  };
  fmt::print(
      "\nadopting the harbour, {} objects: {:.2f} ms (goal 1); the next frame {:.2f} ms, a usual one {:.2f} ms; "
      "prepared in {:.1f} ms\n",
      harbour.size(), median(adopted), median(next_frame), median(usual_frame), median(prepared));
}

int main() {
  const std::string text = scene_of(50'000);
  std::vector<Cost> parser, whole;
  for (int i = 0; i < 7; ++i) {
    parser.push_back(cost_of([&] { (void)toml::parse(text); }));
    whole.push_back(cost_of([&] { (void)hushed::read_scene_text(text, "boats.toml"); }));
  }
  const Cost alone = median(parser), loaded = median(whole);
  fmt::print("Loading 50 000 objects, {:.1f} MB of TOML; medians of 7.\n\n", static_cast<double>(text.size()) / 1e6);
  fmt::print("{:>16} {:>9} {:>9}\n", "", "seconds", "MB");
  fmt::print("{:>16} {:>9.3f} {:>9.1f}\n", "parser alone", alone.seconds, alone.megabytes);
  fmt::print("{:>16} {:>9.3f} {:>9.1f}\n", "whole scene", loaded.seconds, loaded.megabytes);
  fmt::print("{:>16} {:>9.2f}\n", "ratio", loaded.seconds / alone.seconds);

  fmt::print(
      "\nLoading and two frames, µs an item; the least of 7, in turn. Growth is from 2 000 to 32 000 items.\n\n");
  fmt::print("{:>34} {:>9} {:>9} {:>9}\n", "", "2 000", "32 000", "growth");
  for (const Growing& each : growing) {
    constexpr int counts[] = {2'000, 32'000};
    const std::string texts[] = {each.text_of(counts[0]), each.text_of(counts[1])};
    double per_item[] = {1e9, 1e9};
    for (int run = 0; run < 7; ++run)
      for (int i = 0; i < 2; ++i)
        per_item[i] = std::min(per_item[i], cost_of([&] { load_and_play(texts[i]); }).seconds / counts[i] * 1e6);
    fmt::print("{:>34} {:>9.2f} {:>9.2f} {:>9.2f}\n", each.what, per_item[0], per_item[1], per_item[1] / per_item[0]);
  }
  measure_adopting();
}
