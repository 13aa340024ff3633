// SPDX-License-Identifier: MIT
#pragma once

// Scenes made at random from a seed: families, stacks, followers, delays, fades, rules, and calls and input while they
// play.

#include <algorithm>
#include <cstdint>
#include <cstring>
#include <functional>
#include <optional>
#include <random>
#include <string>
#include <vector>

#include <gtest/gtest.h>
// After it, for it needs its macros.
#include <rapidcheck/gtest.h>
#include <hushed/hushed.hpp>

#include "support/own_behaviours.hpp"

namespace hushed::tests {

class RandomHarbour {
 public:
  explicit RandomHarbour(std::uint64_t seed, int size = 24, bool with_rules = true)
      : seed_{seed}, size_{size}, with_rules_{with_rules} {}

  /// Calls happen at these moments alone, which are frames at every common rate.
  static Time moment(int number) { return number * Time{units_per_second / 6}; }

  /// The scene, its objects declared in their own order or in one that `order` makes.
  Scene build(std::uint64_t order = 0) const;

  /// Starts, stops, changes and hides at random what is there. The same for the same moment.
  void call(
      Scene& harbour, int moment, const std::function<void()>& check = [] {}) const;

  /// Anything at all that a program may call, at random, whatever is there: objects come, end and are placed, snapshots
  /// are taken and restored, older and newer, time is sought, the scene becomes another or moves, rules and callbacks
  /// are added. Returns whether a value was tuned, or something built.
  struct Upset {
    bool tuned = false, built = false;
  };
  Upset upset(Scene& harbour, std::mt19937_64& random, std::vector<Snapshot>& snapshots) const;

  /// The poses in the order of the names, however the objects were declared.
  std::vector<Pose> poses(const Scene& harbour) const;

  static std::string name(int i) { return std::string{"boat"}.append(std::to_string(i)); }

 private:
  static int pick(std::mt19937_64& random, int below);
  static double real(std::mt19937_64& random, double low, double high);
  static Pose pose(std::mt19937_64& random);
  /// Expo and elastic have a small step beside their ends, steps are steps, and a circle begins or ends upright.
  static Easing any_without_jumps(std::mt19937_64& random);
  static void change_speed(Scene& harbour, const std::string& path, double speed);
  /// Other values of what has memory.
  static void retune(Scene& harbour, const std::string& path, double number);
  static bool has(const Scene& harbour, const std::string& path);

  void give_stack_alone(Scene& harbour, int i) const;
  void give_stack(Scene& harbour, const std::vector<Object>& objects, int i) const;

  static std::optional<Object> any_object(const Scene& harbour, std::mt19937_64& random);
  static std::optional<AnyBehaviour> any_behaviour(const Scene& harbour, std::mt19937_64& random);
  static void add_any_object(Scene& harbour, std::mt19937_64& random);
  static void add_any_rule(Scene& harbour, std::mt19937_64& random);

  /// Some that fire again and again, on whatever is there.
  void add_rules(Scene& harbour, std::uint64_t order) const;

  std::uint64_t seed_;
  int size_;
  bool with_rules_;
};

inline bool same_bits(const Pose& a, const Pose& b) {
  static_assert(sizeof(Pose) == 10 * sizeof(double));
  return std::memcmp(&a, &b, sizeof(Pose)) == 0;
}

inline bool same_bits(const std::vector<Pose>& a, const std::vector<Pose>& b) {
  return std::equal(a.begin(), a.end(), b.begin(), b.end(),
                    [](const Pose& x, const Pose& y) { return same_bits(x, y); });
}

}  // namespace hushed::tests
