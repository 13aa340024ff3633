#pragma once

// Rules: when something is so, something is done. `Scene::when` is the short way to one:
//
//     harbour.when(pressed("H"), near(pilot, post, 6.0)).then(toggle(bridge_lift));

#include <cstdint>
#include <optional>
#include <string>
#include <string_view>
#include <utility>
#include <variant>
#include <vector>

#include <hushed/field.hpp>
#include <hushed/handle.hpp>
#include <hushed/tagged.hpp>
#include <hushed/time.hpp>
#include <hushed/watch.hpp>

namespace hushed {

namespace inside {
class SceneNames;
}

/// Whoever or wherever a rule asks about: an object, a point of the world, a point at an offset from an object, or
/// every object with a tag.
class Someone {
 public:
  Someone() = default;
  Someone(Place at) : place{std::move(at)} {}
  template <class Vector>
  Someone(const Eigen::MatrixBase<Vector>& point) : place{point} {}
  Someone(Object one) : place{one} {}
  Someone(const char* name) : place{name} {}
  Someone(Tagged any) : tagged{std::move(any)} {}

  Place place = {};    ///< its point is in the world
  Tagged tagged = {};  ///< its tag is empty where it is one object or a place

  bool is_tagged() const { return !tagged.tag.empty(); }

  friend std::optional<Complaint> read(const Value& from, const Unit& unit, Someone& to);
  friend Form form_of(const Someone*, const Unit& unit);
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

struct KeyIs {
  enum class What { pressed, held, released } what;
  std::string key;
};
struct Nearness {
  Someone who, to;
  double within;     ///< m
  bool far = false;  ///< it is further than that
};
struct Within {
  Someone who;
  std::variant<Box, Sphere> where;
};
struct Measured {
  std::string watch;  ///< one number of a scene: "cog.rotation.yaw"
  std::optional<double> above = {}, below = {};
  TextPlace where = {};
  std::optional<Watch> seen = {};  ///< once it has been looked up
};
struct From {
  Time time;  ///< of the scene
};
struct Happens {
  std::string event;
  Target of = {};  ///< whose event; anybody's unless given
};
struct Running {
  BehaviourTarget behaviour;
};

/// Something that is so, or is not, at a tick.
struct Condition {
  std::variant<KeyIs, Nearness, Within, Measured, From, Happens, Running> is;

  /// It is over at the next tick, so that each time is a time of its own.
  bool is_momentary() const;

  friend std::optional<Complaint> read(const Value& from, const Unit& unit, Condition& to);
  friend Form form_of(const Condition*, const Unit& unit);
  friend std::optional<Complaint> resolve(Condition& to, const inside::SceneNames& names);
};

Condition pressed(std::string key);   ///< it has gone down since the last tick
Condition held(std::string key);      ///< it is down
Condition released(std::string key);  ///< it has gone up since the last tick
Condition near(Someone who, Someone to, double within);
Condition far(Someone who, Someone to, double within);
Condition inside_of(Someone who, Box box);
Condition inside_of(Someone who, Sphere sphere);
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
  Whom to = {};                    ///< retarget: to the nearest of those with a tag
  Vec3 by = Vec3::Zero();          ///< kick
  TextPlace where = {};            ///< in the file that it was read from

  friend std::optional<Complaint> read(const Value& from, const Unit& unit, Action& to);
  friend Form form_of(const Action*, const Unit& unit);
  friend std::optional<Complaint> resolve(Action& to, const inside::SceneNames& names);
};

Action start(BehaviourTarget behaviour);
Action stop(BehaviourTarget behaviour);
Action toggle(BehaviourTarget behaviour);
Action restart(BehaviourTarget behaviour);
Action set(std::string_view path, Value to);
Action retarget(BehaviourTarget behaviour, Whom to);
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
