// SPDX-License-Identifier: MIT
#pragma once

// Random scenes from a seed: families, stacks, followers, delays, fades, rules, and random calls and input while they
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
// Must come after gtest, whose macros it uses.
#include <rapidcheck/gtest.h>
#include <hushed/hushed.hpp>
#include <hushed/motion.hpp>

#include "support/own_behaviours.hpp"

namespace hushed::tests {

class RandomHarbour {
 public:
  /// Gives an object a script that reads another. Empty in test programs without scripts, whose scenes have
  /// behaviours of C++ instead.
  using GiveScript = std::function<void(Scene& harbour, Object object, Object beside, const Common& common)>;
  static GiveScript& give_script() {
    static GiveScript give;
    return give;
  }

  /// `family`: objects depend on earlier ones of their family of that size, or rarely on the first object; with 0, on
  /// any earlier ones.
  explicit RandomHarbour(std::uint64_t seed, int size = 24, bool with_rules = true, int family = 0)
      : seed_{seed}, size_{size}, with_rules_{with_rules}, family_{family > 0 ? family : size} {}

  /// Calls happen only at these times, which are frames at every common rate.
  static Time moment(int number) { return number * Time{units_per_second / 6}; }

  /// Builds the scene. `order` permutes the order of declaration; `like`: see `Scene::Scene`.
  Scene build(std::uint64_t order = 0, const Scene* like = nullptr) const;

  /// Starts, stops, changes and hides objects and behaviours at random. Deterministic for each moment.
  void call(
      Scene& harbour, int moment, const std::function<void()>& check = [] {}) const;

  /// Changes values at random, as in a file that is edited. `file` was built and has not been played.
  void edit(Scene& file, std::mt19937_64& random) const;

  /// Calls any function of the scene at random: adds, ends and places objects, takes snapshots and restores older or
  /// newer ones, seeks, reloads or moves the scene, adds rules and callbacks. Returns true where a value was tuned or
  /// something was built.
  struct Upset {
    bool tuned = false, built = false;
    std::optional<std::size_t> restored = {};  ///< the index of the snapshot
  };
  Upset upset(Scene& harbour, std::mt19937_64& random, std::vector<Snapshot>& snapshots) const;

  /// Adds objects, behaviours and rules, and changes objects, at random.
  void add_to(Scene& harbour, std::mt19937_64& random) const;

  /// The poses in the order of the names of objects.
  std::vector<Pose> poses(const Scene& harbour) const;

  /// All objects, in an order that does not depend on the order of evaluation.
  static std::vector<Object> in_order_of_handles(const Scene& harbour);
  static std::vector<Pose> poses_in_order_of_handles(const Scene& harbour);

  static std::string name(int i) { return std::string{"boat"}.append(std::to_string(i)); }

 private:
  static int pick(std::mt19937_64& random, int below);
  /// A random object that object `i`, which is not the first, may depend on.
  int pick_earlier(std::mt19937_64& random, int i) const;
  static double real(std::mt19937_64& random, double low, double high);
  static Pose pose(std::mt19937_64& random);
  /// A smooth easing: expo and elastic have a small jump near their ends, `steps` jumps, and circ has an infinite
  /// slope.
  static Easing any_without_jumps(std::mt19937_64& random);
  static std::shared_ptr<const MotionFile> any_motion(std::mt19937_64& random);
  /// Changes one value of a behaviour, if it has that value. `what` selects it: 5 to 8, or 10; others change nothing.
  void change_value(Scene& harbour, std::mt19937_64& random, int number_of_object, const std::string& path,
                    std::uint64_t what, double number) const;
  static void change_speed(Scene& harbour, const std::string& path, double speed);
  /// Changes values of behaviours with state.
  static void retune(Scene& harbour, const std::string& path, double number);
  static double any_pace(std::mt19937_64& random);
  static bool has(const Scene& harbour, const std::string& path);

  void give_stack_alone(Scene& harbour, int i) const;
  void give_stack(Scene& harbour, const std::vector<Object>& objects, int i) const;

  /// Feeds most fed objects a pose for a time to come.
  void feed_ahead(Scene& harbour, std::mt19937_64& random) const;
  static bool has_kind(const Scene& harbour, Object object, std::string_view kind);

  static std::optional<Object> any_object(const Scene& harbour, std::mt19937_64& random);
  static std::optional<AnyBehaviour> any_behaviour(const Scene& harbour, std::mt19937_64& random);
  static void add_any_object(Scene& harbour, std::mt19937_64& random);
  static void add_any_rule(Scene& harbour, std::mt19937_64& random);

  /// Adds rules that fire repeatedly.
  void add_rules(Scene& harbour, std::uint64_t order) const;

  std::uint64_t seed_;
  int size_;
  bool with_rules_;
  int family_;
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
