// Loading a scene file of 50 000 objects, against what the TOML parser alone takes for the same text. Each is run in
// a process of its own, in turn, so that neither finds the other's memory.

#include <sys/resource.h>
#include <sys/wait.h>
#include <unistd.h>

#include <algorithm>
#include <chrono>
#include <string>
#include <vector>

#include <fmt/format.h>
#include <toml++/toml.h>

#include <hushed/load.hpp>

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

/// Runs `work` in a child process, and says how long it took and how much its memory grew.
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
}
