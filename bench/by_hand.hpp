// SPDX-License-Identifier: MIT
#pragma once

// The hand-written way: one object on the heap each, a virtual update with the time since the last frame, Eigen, and
// the sine and cosine of the standard library.

#include <algorithm>
#include <cmath>
#include <memory>
#include <random>
#include <utility>
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

struct Swaying final : Thing {
  double height = 0.0, amplitude = 0.4, frequency = 0.5, time = 0.0;

  void update(double dt) override {
    time += dt;
    position.y() = height + amplitude * std::sin(6.283185307179586 * frequency * time);
    compose();
  }
};

struct Orbiting final : Thing {
  Eigen::Vector3d centre{1.0, 2.0, 3.0};
  double radius = 4.0, speed = 0.7, angle = 0.0;

  void update(double dt) override {
    angle += speed * dt;
    position = centre + Eigen::Vector3d{radius * std::cos(angle), 0.0, -radius * std::sin(angle)};
    compose();
  }
};

struct Gliding final : Thing {
  Eigen::Vector3d from{0.0, 0.0, 0.0}, to{0.0, 3.0, 1.0};
  Eigen::Quaterniond closed = Eigen::Quaterniond::Identity(),
                     open{Eigen::AngleAxisd{1.4, Eigen::Vector3d{0.0, 0.0, 1.0}}};
  double share = 0.0, duration = 3.0, way = 1.0;

  void update(double dt) override {
    share += way * dt / duration;
    if (share > 1.0 || share < 0.0) way = -way;
    share = std::clamp(share, 0.0, 1.0);
    const double eased = share * share * (3.0 - 2.0 * share);
    position = from + (to - from) * eased;
    rotation = closed.slerp(eased, open);
    compose();
  }
};

struct Roaming final : Thing {
  Eigen::Vector3d from{0.0, 0.0, 0.0}, to{1.0, 0.0, 1.0};
  double share = 0.0, duration = 4.0;
  std::minstd_rand random;

  void update(double dt) override {
    share += dt / duration;
    if (share >= 1.0) {
      share = 0.0;
      from = to;
      std::uniform_real_distribution<double> part{-8.0, 8.0};
      to = {part(random), 0.0, part(random)};
    }
    position = from + (to - from) * (share * share * (3.0 - 2.0 * share));
    compose();
  }
};

/// Keys in a loop, from the one that was found last on.
struct Replaying final : Thing {
  struct Key {
    double time;
    Eigen::Vector3d position;
    Eigen::Quaterniond rotation;
  };
  std::shared_ptr<const std::vector<Key>> keys;
  std::size_t next = 1;
  double time = 0.0, speed = 1.0;

  void update(double dt) override {
    time += dt * speed;
    if (time >= keys->back().time) time -= keys->back().time, next = 1;
    while ((*keys)[next].time <= time) ++next;
    const Key &a = (*keys)[next - 1], &b = (*keys)[next];
    const double share = (time - a.time) / (b.time - a.time);
    position = a.position + (b.position - a.position) * share;
    rotation = a.rotation.slerp(share, b.rotation);
    compose();
  }
};

/// Waypoints in a loop. The rest of a step is carried over to the next leg; arrivals are added to a list.
struct Riding final : Thing {
  static inline std::vector<std::pair<const Riding*, std::size_t>> reached;

  std::vector<Eigen::Vector3d> points;
  std::size_t next = 1;
  double speed = 3.0;

  void update(double dt) override {
    double left = speed * dt;
    while (true) {
      const Eigen::Vector3d way = points[next] - position;
      const double length = way.norm();
      if (length > left) {
        position += way / length * left;
        break;
      }
      position = points[next];
      reached.emplace_back(this, next);
      left -= length;
      next = (next + 1) % points.size();
    }
    compose();
  }
};

/// A Catmull-Rom curve. Its parameter advances by the step over the slope, so that the speed is nearly constant.
struct Curving final : Thing {
  std::vector<Eigen::Vector3d> points;
  std::size_t segment = 0;
  double u = 0.0, speed = 3.0;

  void update(double dt) override {
    const std::size_t count = points.size();
    const auto point = [&](std::size_t i) -> const Eigen::Vector3d& { return points[(segment + i) % count]; };
    const auto slope = [&] {
      const Eigen::Vector3d &a = point(0), &b = point(1), &c = point(2), &d = point(3);
      return (0.5 * (c - a + u * (2.0 * (2.0 * a - 5.0 * b + 4.0 * c - d) + 3.0 * u * (3.0 * (b - c) + d - a)))).norm();
    };
    u += speed * dt / slope();
    while (u >= 1.0) {
      u -= 1.0;
      segment = (segment + 1) % count;
    }
    const Eigen::Vector3d &a = point(0), &b = point(1), &c = point(2), &d = point(3);
    position = 0.5 * (2.0 * b + u * (c - a + u * (2.0 * a - 5.0 * b + 4.0 * c - d + u * (3.0 * (b - c) + d - a))));
    compose();
  }
};

/// Motions with state are stepped twice a frame, as often as the library ticks: once would be a different motion.
constexpr int steps_a_frame = 2;

/// A spring by the semi-implicit Euler method.
struct Springing final : Thing {
  Eigen::Vector3d goal{1.0, 2.0, 3.0}, velocity = Eigen::Vector3d::Zero();
  double frequency = 1.0, damping = 0.2;

  void update(double dt) override {
    const double h = dt / steps_a_frame, omega = 6.283185307179586 * frequency;
    for (int i = 0; i < steps_a_frame; ++i) {
      velocity += (omega * omega * (goal - position) - 2.0 * damping * omega * velocity) * h;
      position += velocity * h;
    }
    compose();
  }
};

/// Follows another object, with a factor that does not depend on the frame rate.
struct Following final : Thing {
  const Thing* leader = nullptr;
  Eigen::Vector3d offset{0.0, 1.0, 0.0};
  double half_life = 0.5;

  void update(double dt) override {
    const double remaining = std::exp2(-dt / steps_a_frame / half_life);
    for (int i = 0; i < steps_a_frame; ++i) {
      const Eigen::Vector3d goal = leader->world_position + offset;
      position = goal + (position - goal) * remaining;
    }
    compose();
  }
};

/// Turns toward another object by yaw, at a limited rate.
struct Facing final : Thing {
  const Thing* leader = nullptr;
  double yaw = 0.0, most = 0.5;

  void update(double dt) override {
    for (int i = 0; i < steps_a_frame; ++i) {
      const Eigen::Vector3d way = leader->world_position - position;
      double left = std::atan2(way.x(), way.z()) - yaw;
      if (left > 3.141592653589793) left -= 6.283185307179586;
      if (left < -3.141592653589793) left += 6.283185307179586;
      yaw += std::clamp(left, -most * dt / steps_a_frame, most * dt / steps_a_frame);
    }
    rotation = Eigen::AngleAxisd{yaw, Eigen::Vector3d{0.0, 1.0, 0.0}};
    compose();
  }
};

/// An oscillation, smoothed.
struct ExponentialSmoothing final : Thing {
  double time = 0.0, frequency = 0.5, half_life = 0.3;

  void update(double dt) override {
    const double h = dt / steps_a_frame, remaining = std::exp2(-h / half_life);
    for (int i = 0; i < steps_a_frame; ++i) {
      time += h;
      const Eigen::Vector3d goal{0.0, 0.4 * std::sin(6.283185307179586 * frequency * time), 0.0};
      position = goal + (position - goal) * remaining;
    }
    compose();
  }
};

/// Blocks of other data with holes between them, so that `count` new objects are placed all over the heap.
inline std::vector<std::unique_ptr<char[]>> fragments(int count) {
  std::mt19937_64 random{1};
  std::vector<std::unique_ptr<char[]>> blocks;
  for (int i = 0; i < 2 * count; ++i) blocks.push_back(std::make_unique<char[]>(64 + random() % 512));
  std::shuffle(blocks.begin(), blocks.end(), random);
  blocks.resize(blocks.size() / 2);
  return blocks;
}

/// Families of a parent and a child in random order; a parent stays before its child.
inline std::vector<std::unique_ptr<Thing>> in_random_order(std::vector<std::unique_ptr<Thing>> things) {
  std::vector<std::size_t> families(things.size() / 2);
  for (std::size_t i = 0; i < families.size(); ++i) families[i] = i;
  std::shuffle(families.begin(), families.end(), std::mt19937_64{2});
  std::vector<std::unique_ptr<Thing>> shuffled;
  for (const std::size_t family : families)
    for (const std::size_t i : {2 * family, 2 * family + 1}) shuffled.push_back(std::move(things[i]));
  return shuffled;
}

/// `count` objects; every second one is a child of the one before. `aged`: on a fragmented heap, where objects are
/// allocated between others.
inline std::vector<std::unique_ptr<Thing>> make(int count, bool aged) {
  const auto others = aged ? fragments(count) : std::vector<std::unique_ptr<char[]>>{};
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
  return aged ? in_random_order(std::move(things)) : std::move(things);
}

}  // namespace by_hand
