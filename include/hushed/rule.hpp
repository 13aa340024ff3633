// SPDX-License-Identifier: MIT
#pragma once

// Rules: when conditions hold, actions are executed. `Scene::when` is the short way to write one:
//
//     harbour.when(pressed("H"), closer_than(pilot, post, 6.0)).then(toggle(bridge_lift));

#include <cstdint>
#include <memory>
#include <optional>
#include <string>
#include <string_view>
#include <utility>
#include <vector>

#include <hushed/box.hpp>
#include <hushed/detail/export.hpp>
#include <hushed/handle.hpp>
#include <hushed/tagged.hpp>
#include <hushed/time.hpp>
#include <hushed/value.hpp>
#include <hushed/watch.hpp>

namespace hushed HUSHED_API {

namespace detail {
struct AnyCondition;
class SceneNames;
}

/// The subject of a condition: an object, a point of the world, a point at an offset from an object, or every object
/// with a tag.
class PlaceOrTag {
 public:
  PlaceOrTag();
  PlaceOrTag(Place at);
  template <class Vector>
  PlaceOrTag(const Eigen::MatrixBase<Vector>& point) : PlaceOrTag{Place{point}} {}
  PlaceOrTag(Object one);
  PlaceOrTag(const char* name);
  PlaceOrTag(Tagged any);

  Place place = {};    ///< an object, or a point of the world
  Tagged tagged = {};  ///< its tag is empty where `place` is meant

  bool is_tagged() const { return !tagged.tag.empty(); }

  friend HUSHED_API std::optional<Diagnostic> read(const Value& from, const Unit& unit, PlaceOrTag& to);
  friend HUSHED_API Form form_of(const PlaceOrTag*, const Unit& unit);
};

/// A behaviour, by its handle or by its path: "bridge.lift".
class BehaviourTarget {
 public:
  BehaviourTarget() = default;
  BehaviourTarget(AnyBehaviour one) : handle{one} {}
  BehaviourTarget(std::string by_path) : path{std::move(by_path)} {}
  BehaviourTarget(const char* by_path) : path{by_path} {}

  AnyBehaviour handle = {};  ///< of generation 0 until the path is resolved
  std::string path = {};
  TextPlace where = {};  ///< its place in the file; 0 where there is none
};

/// A sphere in the world.
struct Sphere {
  Place at = {};
  double radius = 1.0;  ///< m
};

// --- conditions ------------------------------------------------------------------------------------------------------

struct KeyCondition {
  enum class What { pressed, held, released };
  What what = What::pressed;
  std::string key = {};
};
struct DistanceCondition {
  PlaceOrTag who, to;
  double within;         ///< m
  bool farther = false;  ///< the distance must be greater, rather than at most `within`
};
struct AreaCondition {
  PlaceOrTag who;
  Box box = {};
  std::optional<Sphere> sphere = {};  ///< instead of the box, where it is given
};
struct WatchCondition {
  std::string watch;  ///< a watch with one number: "cog.rotation.yaw"
  std::optional<double> above = {}, below = {};
  TextPlace where = {};
  std::optional<Watch> resolved = {};  ///< once its name is resolved
};
struct TimeCondition {
  Time time;  ///< of the scene
};
struct EventCondition {
  std::string event;
  Target of = {};  ///< the subject of the event; any subject unless given
};
struct RunningCondition {
  BehaviourTarget behaviour;
};

/// A condition that holds or does not hold at a tick. Copies share its values until one of them changes.
class Condition {
 public:
  Condition() = default;  ///< `KeyCondition{}`
  Condition(KeyCondition one);
  Condition(DistanceCondition one);
  Condition(AreaCondition one);
  Condition(WatchCondition one);
  Condition(TimeCondition one);
  Condition(EventCondition one);
  Condition(RunningCondition one);

  /// The values where the condition is a One, such as `as<KeyCondition>()`; otherwise nullptr.
  template <class One>
  const One* as() const;

  /// True for conditions that hold for one tick only: a key that was pressed or released, an event.
  bool is_momentary() const;

  friend HUSHED_API std::optional<Diagnostic> read(const Value& from, const Unit& unit, Condition& to);
  friend HUSHED_API Form form_of(const Condition*, const Unit& unit);
  friend HUSHED_API std::optional<Diagnostic> resolve(Condition& to, const detail::SceneNames& names);

 private:
  friend struct detail::AnyCondition;
  std::shared_ptr<const detail::AnyCondition> values_;  ///< nullptr: `KeyCondition{}`
};

Condition pressed(std::string key);   ///< the key has gone down since the last tick
Condition held(std::string key);      ///< the key is down at the tick
Condition released(std::string key);  ///< the key has gone up since the last tick
/// Two subjects are at most `within` metres apart. With tags: any two different objects.
Condition closer_than(PlaceOrTag who, PlaceOrTag to, double within);
/// Two subjects are visible and more than `within` metres apart. With tags: all of them.
Condition farther_than(PlaceOrTag who, PlaceOrTag to, double within);
Condition inside(PlaceOrTag who, Box box);  ///< in a box along the axes of the world
Condition inside(PlaceOrTag who, Sphere sphere);
/// The number of a watch is above, below or between limits, these excluded.
Condition above(std::string watch, double limit);
Condition below(std::string watch, double limit);
Condition between(std::string watch, double low, double high);
Condition after(Time time);  ///< from the first tick at or past it
/// An event has been raised since the last tick.
Condition happened(std::string event, Target of = {});
/// A behaviour is started and not stopped.
Condition running(BehaviourTarget behaviour);

// --- actions ---------------------------------------------------------------------------------------------------------

/// What a rule does: the call of `Scene` with the same name.
struct Action {
  enum class Verb { start, stop, toggle, restart, set, retarget, place, kick, hide, show, end, raise };

  Verb verb;
  BehaviourTarget behaviour = {};  ///< of start, stop, toggle, restart, retarget, kick and set
  std::string field = {};          ///< set
  Target object = {};              ///< place, hide, show, end
  std::string word = {};           ///< the name of a pose (place) or of an event (raise)
  Value value = {};                ///< set
  ObjectOrTag to = {};             ///< retarget: an object, or the nearest with a tag
  Vec3 by = {0.0, 0.0, 0.0};       ///< kick
  TextPlace where = {};            ///< its place in the file; 0 where there is none

  friend HUSHED_API std::optional<Diagnostic> read(const Value& from, const Unit& unit, Action& to);
  friend HUSHED_API Form form_of(const Action*, const Unit& unit);
  friend HUSHED_API std::optional<Diagnostic> resolve(Action& to, const detail::SceneNames& names);
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

/// When a rule fires: each time its conditions become true, the first time only, or at every tick at which they hold.
enum class Fires { each, once, always };

constexpr auto choices(Fires) {
  return Choices<Fires, 3>{{{Fires::each, "each"}, {Fires::once, "once"}, {Fires::always, "while"}}};
}

/// Statistics of a rule since the scene began.
struct RuleReport {
  std::int64_t ticks = 0;                  ///< at which it was evaluated
  std::int64_t held = 0;                   ///< at which its conditions held
  std::int64_t fired = 0;                  ///< the number of times it has fired
  std::optional<Time> holding_since = {};  ///< since when its conditions hold; nothing where they do not
  /// Which conditions held at the last tick: those of `when`, then of `any` and `unless`.
  std::vector<bool> conditions = {};
};

/// Rules are evaluated at the end of every tick, on its poses, in the order of their names. Their actions take effect
/// at the next tick, before its poses are computed.
struct Rule {
  std::string name = {};                                    ///< unique; the scene chooses one where it is empty
  std::vector<Condition> when = {}, any = {}, unless = {};  ///< all of these, one of these, none of these
  std::vector<Action> then = {};
  Fires fires = Fires::each;
  Time held_for = {};   ///< how long the conditions must have held
  bool enabled = true;  ///< false: it is not evaluated
};

}  // namespace hushed
