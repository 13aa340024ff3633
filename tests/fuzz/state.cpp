// SPDX-License-Identifier: MIT
// Bytes of a scene's state. Half of the inputs have a correct checksum, so that what lies behind it is read.

#include <cstring>
#include <span>
#include <vector>

#include <hushed/hushed.hpp>

#include "fuzz.hpp"
#include "scene/state_bytes.hpp"

namespace {

hushed::Scene harbour() {
  using namespace hushed;
  Scene scene;
  const Object boat = scene.add({.name = "boat"}), gull = scene.add({.name = "gull", .tags = {"bird"}});
  scene.give(boat, Spring{.target = Vec3{0, 1, 0}});
  scene.give(boat, Pace{.rate = 0.5});
  scene.give(gull, Follow{.target = boat, .half_life = seconds(0.3), .trail = seconds(0.1)});
  scene.give(gull, Fed{});
  scene.give(scene.add({.name = "shoal"}), Steer{.urges = {urge::Pursue{gull}, urge::Wander{}}});
  scene.when(above("boat.speed", 1.0)).then(raise("bell"));
  return scene;
}

}  // namespace

extern "C" int LLVMFuzzerTestOneInput(const std::uint8_t* data, std::size_t size) {
  using namespace hushed;
  if (size > 4096 || size == 0) return 0;
  Scene scene = harbour();
  const auto rest = std::as_bytes(std::span{data, size}).subspan(1);
  std::vector<std::byte> bytes(rest.begin(), rest.end());
  if (data[0] % 2 == 0) {
    const std::vector<std::byte> good = scene.snapshot().to_bytes();
    std::uint64_t hash = 0;
    std::memcpy(&hash, good.data() + 8, sizeof hash);
    bytes = detail::sealed(hash, bytes);
  }
  try {
    scene.restore(scene.snapshot_from(bytes));
    (void)scene.snapshot().to_bytes();
  } catch (const Error&) {
  }
  return 0;
}
