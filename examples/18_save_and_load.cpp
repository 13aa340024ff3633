// A saved game: the state of a scene as bytes, read by another scene that was built by the same calls. Both go on
// alike.

#include <cstdio>
#include <filesystem>
#include <fstream>
#include <iterator>
#include <string>
#include <vector>

#include <hushed/hushed.hpp>

using namespace hushed;
using namespace std::chrono_literals;

/// What your game builds when a level begins.
Scene build_harbour() {
  Scene harbour;
  const Object ferry = harbour.add({.name = "ferry"});
  const Object buoy = harbour.add({.name = "buoy", .rest = at(8, 0, 0)});
  harbour.give(ferry, Route{.points = {{0, 0, 0}, {9, 0, 0}, {9, 0, 9}}, .speed = 2.0, .ends = RouteEnds::loop});
  harbour.give(buoy, Spring{.frequency = 0.5, .damping = 0.05, .velocity = {0, 3, 0}});
  return harbour;
}

void save(const Snapshot& snapshot, const std::string& file) {
  const std::vector<std::byte> bytes = snapshot.to_bytes();
  std::ofstream out{file, std::ios::binary};
  for (const std::byte each : bytes) out.put(static_cast<char>(each));
}

std::vector<std::byte> load(const std::string& file) {
  std::ifstream in{file, std::ios::binary};
  std::vector<std::byte> bytes;
  for (std::istreambuf_iterator<char> at{in}, end; at != end; ++at) bytes.push_back(static_cast<std::byte>(*at));
  return bytes;
}

void print(const char* which, const Scene& harbour) {
  const Vec3 ferry = harbour.world(*harbour.find("ferry")).position,
             buoy = harbour.world(*harbour.find("buoy")).position;
  std::printf("%s %4.1f s: ferry at %.3f %.3f, buoy at height %.6f\n", which, in_seconds(harbour.time()), ferry.x(),
              ferry.z(), buoy.y());
}

int main() {
  const std::string file = (std::filesystem::temp_directory_path() / "harbour.save").string();
  Scene played = build_harbour();
  played.set("ferry.route.speed", Value{3.0});  // values that were changed are saved too
  played.advance(4s);
  save(played.snapshot(), file);
  print("saved ", played);

  Scene loaded = build_harbour();  // perhaps on another day
  loaded.restore(loaded.snapshot_from(load(file)));
  print("loaded", loaded);

  for (Scene* const each : {&played, &loaded}) each->advance(2500ms);
  print("played", played);
  print("loaded", loaded);
}

// Prints:
// saved   4.0 s: ferry at 9.000 3.000, buoy at height -0.008017
// loaded  4.0 s: ferry at 9.000 3.000, buoy at height -0.008017
// played  6.5 s: ferry at 7.939 7.939, buoy at height 0.344311
// loaded  6.5 s: ferry at 7.939 7.939, buoy at height 0.344311
