// SPDX-License-Identifier: MIT
// A tick of a flock at constant density: wander, separation, alignment and cohesion in a box. Compared with two
// hand-written ways in which each agent visits all others: a loop for each of the three rules, as is usual, and one
// loop for all three. Prints nanoseconds per agent and tick (the least of several runs), their ratios, and the growth
// of the time per agent with the size of the flock.

#include <cmath>
#include <map>
#include <memory>
#include <random>
#include <string>
#include <vector>

#include <benchmark/benchmark.h>
#include <fmt/format.h>
#include <Eigen/Core>

#include <hushed/hushed.hpp>

#include "side_by_side.hpp"

namespace {

using namespace hushed;

constexpr double density = 0.02;                // agents per cubic metre: about ten neighbours each
constexpr double near = 4.0, far = 5.0;         // m
constexpr double fastest = 5.0, change = 10.0;  // m/s, m/s^2
constexpr double tick = 1.0 / 120;

double half_width(int count) { return 0.5 * std::cbrt(count / density); }

/// An agent on the heap, which visits all others.
class Gull {
 public:
  Gull(const Eigen::Vector3d& at, double half_width, unsigned seed)
      : position_{at}, half_width_{half_width}, random_{seed} {}

  using Flock = std::vector<std::unique_ptr<Gull>>;

  void update(double dt, const Flock& flock, bool in_one_loop) {
    Eigen::Vector3d away = Eigen::Vector3d::Zero(), way = away, midst = away;
    int neighbours = 0;
    if (in_one_loop) {
      for (const auto& other : flock) {
        if (other.get() == this) continue;
        const Eigen::Vector3d to = other->position_ - position_;
        const double squared = to.squaredNorm();
        if (squared > far * far) continue;
        if (squared < near * near) away += push(to);
        way += other->velocity_;
        midst += to;
        ++neighbours;
      }
    } else {
      away = separation(flock);
      way = alignment(flock);
      midst = cohesion(flock, neighbours);
    }
    std::uniform_real_distribution<double> part{-1.0, 1.0};
    straying_ += 0.2 * Eigen::Vector3d{part(random_), part(random_), part(random_)};
    straying_.normalize();
    Eigen::Vector3d wanted = 0.5 * fastest * (2.0 * velocity_ / fastest + straying_).normalized();
    double weights = 0.5;
    if (neighbours > 0) {
      wanted += 2.0 * fastest * away + way / neighbours + 0.5 * fastest * midst / (neighbours * far);
      weights += 1.0 + 2.0 * std::min(away.norm(), 1.0) + 0.5 * (midst / (neighbours * far)).norm();
    }
    for (int i = 0; i < 3; ++i)
      if (std::abs(position_[i] + velocity_[i] * 0.5) > half_width_) wanted[i] = -std::copysign(fastest, position_[i]);
    Eigen::Vector3d more = wanted / weights - velocity_;
    if (more.norm() > change * dt) more *= change * dt / more.norm();
    velocity_ += more;
    if (velocity_.norm() > fastest) velocity_ *= fastest / velocity_.norm();
    position_ += velocity_ * dt;
  }

 private:
  static Eigen::Vector3d push(const Eigen::Vector3d& to) {
    const double distance = to.norm();
    return distance > 0.0 ? Eigen::Vector3d{to / distance * (distance / near - 1.0)} : Eigen::Vector3d{to};
  }
  Eigen::Vector3d separation(const Flock& flock) const {
    Eigen::Vector3d away = Eigen::Vector3d::Zero();
    for (const auto& other : flock)
      if (other.get() != this && (other->position_ - position_).squaredNorm() < near * near)
        away += push(other->position_ - position_);
    return away;
  }
  Eigen::Vector3d alignment(const Flock& flock) const {
    Eigen::Vector3d way = Eigen::Vector3d::Zero();
    for (const auto& other : flock)
      if (other.get() != this && (other->position_ - position_).squaredNorm() <= far * far) way += other->velocity_;
    return way;
  }
  Eigen::Vector3d cohesion(const Flock& flock, int& neighbours) const {
    Eigen::Vector3d midst = Eigen::Vector3d::Zero();
    for (const auto& other : flock) {
      const Eigen::Vector3d to = other->position_ - position_;
      if (other.get() == this || to.squaredNorm() > far * far) continue;
      midst += to;
      ++neighbours;
    }
    return midst;
  }

  Eigen::Vector3d position_, velocity_ = Eigen::Vector3d::Zero(), straying_ = Eigen::Vector3d::UnitZ();
  double half_width_;
  std::minstd_rand random_;
};

Eigen::Vector3d place(std::mt19937_64& random, int count) {
  std::uniform_real_distribution<double> part{-half_width(count), half_width(count)};
  const double x = part(random), y = part(random), z = part(random);
  return {x, y, z};
}

void tick_by_hand(benchmark::State& state, int count, bool in_one_loop) {
  std::mt19937_64 random{1};
  std::vector<std::unique_ptr<Gull>> flock;
  for (int i = 0; i < count; ++i)
    flock.push_back(std::make_unique<Gull>(place(random, count), half_width(count), static_cast<unsigned>(i + 1)));
  for (auto _ : state) {
    for (const auto& gull : flock) gull->update(tick, flock, in_one_loop);
    benchmark::ClobberMemory();
  }
}

/// A flock that has been moving for a while.
class HushedFlock {
 public:
  explicit HushedFlock(int count) : scene_{std::make_unique<Scene>()} {
    std::mt19937_64 random{1};
    for (int i = 0; i < count; ++i) {
      NewObject gull{.name = "gull-" + std::to_string(i), .tags = {"gull"}};
      gull.rest.position = place(random, count);
      flock_.push_back(scene_->add(gull));
    }
    const double wide = half_width(count);
    const Steer steer{
        .urges = {urge::Wander{.weight = 0.5}, urge::Separation{.tag = "gull", .within = near, .weight = 2},
                  urge::Alignment{.tag = "gull", .within = far},
                  urge::Cohesion{.tag = "gull", .within = far, .weight = 0.5},
                  urge::Contain{.box = {{-wide, -wide, -wide}, {wide, wide, wide}}}},
        .max_speed = fastest,
        .max_acceleration = change,
        .face = SteerFacing::none};
    for (const Object gull : flock_) scene_->give(gull, steer);
    scene_->advance(seconds(0.25));
    start_ = scene_->snapshot();
  }

  void tick(benchmark::State& state) {
    scene_->restore(start_);  // so that every run measures the same ticks
    for (auto _ : state) {
      scene_->advance(seconds(::tick));
      benchmark::ClobberMemory();
    }
    state.counters["neighbours"] = neighbours();
  }

 private:
  double neighbours() {
    double sum = 0.0;
    constexpr int asked = 500;
    for (int i = 0; i < asked; ++i) {
      const Vec3 here = scene_->world(flock_[static_cast<std::size_t>(i)]).position;
      for (const Pose& pose : scene_->world_poses()) sum += (pose.position - here).norm() <= far ? 1 : 0;
    }
    return sum / asked - 1.0;
  }

  std::unique_ptr<Scene> scene_;
  std::vector<Object> flock_;
  Snapshot start_;
};

}  // namespace

int main(int count, char** words) {
  const std::vector<int> sizes{1'000, 10'000, 100'000};
  constexpr int most_by_hand = 10'000;  // with ten times as many, a tick takes half a minute
  const auto name = [](const char* who, int size) { return fmt::format("{}/{}", who, size); };
  std::map<int, HushedFlock> flocks;
  for (const int size : sizes) {
    flocks.try_emplace(size, size);
    for (const bool in_one_loop : {false, true})
      if (size <= most_by_hand)
        benchmark::RegisterBenchmark(
            name(in_one_loop ? "one loop" : "by hand", size).c_str(),
            [size, in_one_loop](benchmark::State& state) { tick_by_hand(state, size, in_one_loop); })
            ->Repetitions(5)
            ->MinTime(0.2)
            ->UseRealTime();
    benchmark::RegisterBenchmark(name("hushed", size).c_str(),
                                 [&flocks, size](benchmark::State& state) { flocks.at(size).tick(state); })
        ->Repetitions(25)
        ->MinTime(0.1)
        ->UseRealTime();
  }
  if (!side_by_side::take_options(count, words)) return 2;
  side_by_side::Times report;
  fmt::print(
      "Nanoseconds per agent and tick, the least of several times, the ratios to hushed, and growth beside {} "
      "agents.\n\n",
      sizes[0]);
  fmt::print("{:>8} {:>10} {:>10} {:>7} {:>10} {:>7} {:>10} {:>7}\n", "agents", "neighbours", "by hand", "ratio",
             "one loop", "ratio", "hushed", "growth");
  benchmark::RunSpecifiedBenchmarks(&report);
  const double first = report.least_nanoseconds(name("hushed", sizes[0]), sizes[0]);
  for (const int size : sizes) {
    const double ours = report.least_nanoseconds(name("hushed", size), size);
    if (ours == 0.0) continue;
    fmt::print("{:>8} {:>10.1f}", size, report.counted(name("hushed", size), "neighbours"));
    for (const char* rival : {"by hand", "one loop"}) {
      const double theirs = report.least_nanoseconds(name(rival, size), size);
      fmt::print(" {:>10} {:>7}", theirs > 0.0 ? fmt::format("{:.1f}", theirs) : "",
                 theirs > 0.0 ? fmt::format("{:.1f}", theirs / ours) : "");
    }
    fmt::print(" {:>10.1f} {:>7.2f}\n", ours, ours / first);
  }
}
