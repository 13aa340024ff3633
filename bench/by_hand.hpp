#pragma once

// The rival: motion as it is usually written. One object on the heap each, a virtual update with the time since
// the last frame, Eigen, and the sine and cosine of the standard library.

#include <algorithm>
#include <memory>
#include <random>
#include <vector>

#include <Eigen/Geometry>

namespace by_hand {

struct Thing {
  Eigen::Vector3d position = Eigen::Vector3d::Zero(), scale = Eigen::Vector3d::Ones();
  Eigen::Quaterniond rotation = Eigen::Quaterniond::Identity();
  Eigen::Vector3d world_position, world_scale;
  Eigen::Quaterniond world_rotation;
  const Thing* parent = nullptr;

  virtual ~Thing() = default;
  virtual void update(double dt) = 0;

 protected:
  void compose() {
    if (parent) {
      world_position = parent->world_position + parent->world_rotation * parent->world_scale.cwiseProduct(position);
      world_rotation = parent->world_rotation * rotation;
      world_scale = parent->world_scale.cwiseProduct(scale);
    } else {
      world_position = position;
      world_rotation = rotation;
      world_scale = scale;
    }
  }
};

struct Spinning final : Thing {
  Eigen::Vector3d axis{0.0, 1.0, 0.0};
  double speed = 0.7;  // radians per second

  void update(double dt) override {
    rotation = (rotation * Eigen::AngleAxisd{speed * dt, axis}).normalized();
    compose();
  }
};

struct Travelling final : Thing {
  Eigen::Vector3d velocity{1.0, 0.0, 0.0};
  double low = -6.0, high = 6.0;

  void update(double dt) override {
    position += velocity * dt;
    if ((position.x() > high && velocity.x() > 0.0) || (position.x() < low && velocity.x() < 0.0))
      velocity.x() = -velocity.x();
    compose();
  }
};

/// `count` things, every second one the child of the one before. On an aged heap they lie wherever there is
/// room among what lives longer.
inline std::vector<std::unique_ptr<Thing>> make(int count, bool aged) {
  std::mt19937_64 random{1};
  std::vector<std::unique_ptr<char[]>> others;
  if (aged) {
    for (int i = 0; i < 2 * count; ++i) others.push_back(std::make_unique<char[]>(64 + random() % 512));
    std::shuffle(others.begin(), others.end(), random);
    others.resize(others.size() / 2);
  }
  std::vector<std::unique_ptr<Thing>> things;
  for (int i = 0; i < count; ++i) {
    if (i / 2 % 2) {
      auto spinning = std::make_unique<Spinning>();
      spinning->speed = 0.3 + 0.001 * (i % 500);
      things.push_back(std::move(spinning));
    } else {
      auto travelling = std::make_unique<Travelling>();
      travelling->velocity.x() = 0.5 + 0.001 * (i % 500);
      things.push_back(std::move(travelling));
    }
    if (i % 2) things.back()->parent = things[things.size() - 2].get();
  }
  if (aged) {  // families in any order, a parent still before its child
    std::vector<int> families(static_cast<std::size_t>(count) / 2);
    for (std::size_t i = 0; i < families.size(); ++i) families[i] = static_cast<int>(i);
    std::shuffle(families.begin(), families.end(), random);
    std::vector<std::unique_ptr<Thing>> shuffled;
    for (const int family : families)
      for (const int i : {2 * family, 2 * family + 1})
        shuffled.push_back(std::move(things[static_cast<std::size_t>(i)]));
    return shuffled;
  }
  return things;
}

}  // namespace by_hand
