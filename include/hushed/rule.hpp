// SPDX-License-Identifier: MIT
#pragma once

// Rules: when something is so, something is done. `Scene::when` is the short way to one:
//
//     harbour.when(pressed("H"), closer_than(pilot, post, 6.0)).then(toggle(bridge_lift));

#include <cstdint>
#include <optional>
#include <string>
#include <string_view>
#include <utility>
#include <variant>
#include <vector>

#include <hushed/box.hpp>
#include <hushed/detail/export.hpp>
#include <hushed/handle.hpp>
#include <hushed/tagged.hpp>
#include <hushed/time.hpp>
#include <hushed/watch.hpp>

namespace hushed HUSHED_API {

namespace detail {
class SceneNames;
}

/// Whoever or wherever a rule asks about: an object, a point of the world, a point at an offset from an object, or
/// every object with a tag.
class PlaceOrTag {
 public:
  PlaceOrTag() = default;
  PlaceOrTag(Place at) : place{std::move(at)} {}
  template <class Vector>
  PlaceOrTag(const Eigen::MatrixBase<Vector>& point) : place{point} {}
  PlaceOrTag(Object one) : place{one} {}
  PlaceOrTag(const char* name) : place{name} {}
  PlaceOrTag(Tagged any) : tagged{std::move(any)} {}

  Place place = {};    ///< its point is in the world
  Tagged tagged = {};  ///< its tag is empty where it is one object or a place

  bool is_tagged() const { return !tagged.tag.empty(); }

  friend std::optional<Diagnostic> read(const Value& from, const Unit& unit, PlaceOrTag& to);
  friend Form form_of(const PlaceOrTag*, const Unit& unit);
};

/// A behaviour, by its handle or by its path: "bridge.lift".
class BehaviourTarget {
 public:
  BehaviourTarget() = default;
  BehaviourTarget(AnyBehaviour one) : handle{one} {}
  BehaviourTarget(std::string by_path) : path{std::move(by_path)} {}
  BehaviourTarget(const char* by_path) : path{by_path} {}

  AnyBehaviour handle = {};  ///< of generation 0 until its path has been looked up
  std::string path = {};
  TextPlace where = {};  ///< in the file that it was read from
};

/// A ball in the world.
struct Sphere {
  Place at = {};
  double radius = 1.0;  ///< m
};

// --- conditions ------------------------------------------------------------------------------------------------------

struct KeyCondition {
  enum class What { pressed, held, released } what;
  std::string key;
};
struct DistanceCondition {
  PlaceOrTag who, to;
  double within;         ///< m
  bool farther = false;  ///< it is further than that
};
struct AreaCondition {
  PlaceOrTag who;
  std::variant<Box, Sphere> where;
};
struct WatchCondition {
  std::string watch;  ///< one number of a scene: "cog.rotation.yaw"
  std::optional<double> above = {}, below = {};
  TextPlace where = {};
  std::optional<Watch> resolved = {};  ///< once it has been looked up
};
struct TimeCondition {
  Time time;  ///< of the scene
};
struct EventCondition {
  std::string event;
  Target of = {};  ///< whose event; anybody's unless given
};
struct RunningCondition {
  BehaviourTarget behaviour;
};

/// Something that is so, or is not, at a tick.
struct Condition {
  std::variant<KeyCondition, DistanceCondition, AreaCondition, WatchCondition, TimeCondition, EventCondition,
               RunningCondition>
      is;

  /// It is over at the next tick, so that each time is a time of its own.
  bool is_momentary() const;

  friend std::optional<Diagnostic> read(const Value& from, const Unit& unit, Condition& to);
  friend Form form_of(const Condition*, const Unit& unit);
  friend std::optional<Diagnostic> resolve(Condition& to, const detail::SceneNames& names);
};

Condition pressed(std::string key);   ///< it has gone down since the last tick
Condition held(std::string key);      ///< it is down
Condition released(std::string key);  ///< it has gone up since the last tick
Condition closer_than(PlaceOrTag who, PlaceOrTag to, double within);
Condition farther_than(PlaceOrTag who, PlaceOrTag to, double within);
Condition inside(PlaceOrTag who, Box box);
Condition inside(PlaceOrTag who, Sphere sphere);
Condition above(std::string watch, double limit);
Condition below(std::string watch, double limit);
Condition between(std::string watch, double low, double high);
Condition after(Time time);  ///< from the first tick at or past it
Condition happened(std::string event, Target of = {});
Condition running(BehaviourTarget behaviour);

// --- actions ---------------------------------------------------------------------------------------------------------

/// Something that is done, as the calls of the same names on a scene do it.
struct Action {
  enum class Verb { start, stop, toggle, restart, set, retarget, place, kick, hide, show, end, raise };

  Verb verb;
  BehaviourTarget behaviour = {};  ///< start, stop, toggle, restart, retarget, kick; whose field is set
  std::string field = {};          ///< set
  Target object = {};              ///< place, hide, show, end
  std::string word = {};           ///< the pose of a place, the event of a raise
  Value value = {};                ///< set
  ObjectOrTag to = {};             ///< retarget: to the nearest of those with a tag
  Vec3 by = Vec3::Zero();          ///< kick
  TextPlace where = {};            ///< in the file that it was read from

  friend std::optional<Diagnostic> read(const Value& from, const Unit& unit, Action& to);
  friend Form form_of(const Action*, const Unit& unit);
  friend std::optional<Diagnostic> resolve(Action& to, const detail::SceneNames& names);
};

Action start(BehaviourTarget behaviour);
Action stop(BehaviourTarget behaviour);
Action toggle(BehaviourTarget behaviour);
Action restart(BehaviourTarget behaviour);
Action set(std::string_view path, Value to);
Action retarget(BehaviourTarget behaviour, ObjectOrTag to);
Action place(Target object, std::string pose);
Action kick(BehaviourTarget behaviour, const Vec3& by);
Action hide(Target object);
Action show(Target object);
Action end(Target object);
Action raise(std::string event);

// --- rules -----------------------------------------------------------------------------------------------------------

/// How often a rule fires: each time its conditions become true, the first time only, or at every tick at which they
/// are.
enum class Fires { each, once, always };

constexpr auto choices(Fires) {
  return Choices<Fires, 3>{{{Fires::each, "each"}, {Fires::once, "once"}, {Fires::always, "while"}}};
}

/// What has become of a rule so far in a play.
struct RuleReport {
  std::int64_t ticks = 0;                  ///< at which it was judged
  std::int64_t held = 0;                   ///< at which its conditions held
  std::int64_t fired = 0;                  ///< how often it has fired
  std::optional<Time> holding_since = {};  ///< if they hold at the last tick
};

/// Judged at the end of every tick, on its poses, in the order of the rules' names; what it does takes effect at the
/// next tick, before its poses are computed.
struct Rule {
  std::string name = {};                                    ///< unique; given one by the scene where left empty
  std::vector<Condition> when = {}, any = {}, unless = {};  ///< all of these, one of these, none of these
  std::vector<Action> then = {};
  Fires fires = Fires::each;
  Time held_for = {};  ///< how long they must have been so
};

}  // namespace hushed
