// SPDX-License-Identifier: MIT
#pragma once

#include <chrono>
#include <cmath>
#include <cstdint>
#include <exception>
#include <functional>
#include <memory>
#include <optional>
#include <span>
#include <string>
#include <string_view>
#include <vector>

#include <hushed/common.hpp>
#include <hushed/detail/export.hpp>
#include <hushed/detail/kind_of.hpp>
#include <hushed/error.hpp>
#include <hushed/event.hpp>
#include <hushed/handle.hpp>
#include <hushed/input.hpp>
#include <hushed/matrix_layout.hpp>
#include <hushed/pose.hpp>
#include <hushed/pose_parts.hpp>
#include <hushed/rule.hpp>
#include <hushed/shape.hpp>
#include <hushed/time.hpp>
#include <hushed/urge_share.hpp>

namespace hushed::detail {  // not visible in a shared library
class SceneImpl;
struct SnapshotData;
}  // namespace hushed::detail

namespace hushed HUSHED_API {

struct FieldInfo;

namespace detail {
struct SceneAccess;
class MutedCallbacks;
}  // namespace detail

/// The parts of its parent's pose that a child inherits.
struct Inherit {
  bool position = true;
  bool rotation = true;
  bool scale = true;
  bool operator==(const Inherit&) const = default;
};

/// The description of a new object, for `Scene::add`.
struct NewObject {
  std::string name = {};               ///< letters, digits, `-`, `_`; unique. Left empty: "object-7"
  std::optional<Object> parent = {};   ///< the object in whose space the rest pose is; the world if none
  Pose rest = {};                      ///< the pose without behaviours
  Inherit inherit = {};                ///< the parts of the parent's pose that it inherits
  std::vector<std::string> tags = {};  ///< words by which rules and agents find it
  std::optional<Shape> shape = {};     ///< how to draw it
  std::vector<PoseParts> poses = {};   ///< poses with names, for behaviours and `place`
  std::uint64_t number = 0;            ///< of your own; the library only stores it
};

/// Which pose stays when an object gets another parent.
enum class KeepPose {
  world,  ///< the pose in the world: the rest pose changes
  local   ///< the pose in the parent's space: the object jumps in the world
};

/// What hot reload does with what the program has changed in a scene that was read from a file.
enum class ProgramChanges {
  keep,  ///< objects, presets, behaviours and rules that it added, and values, poses, parents and tags that it changed
  drop   ///< the content is that of the new file
};

/// The state of a whole scene at one moment. `Scene::snapshot` makes it, `Scene::restore` returns to it.
class Snapshot {
 public:
  Time time() const;  ///< the scene's time when it was made; 0 for a default-constructed one
  /// The snapshot without its past, for a saved game or another process: see `Scene::snapshot_from`. Of a behaviour of
  /// your own it contains the state and those changed values that its table of fields has. Throws `BadValue` for an
  /// empty snapshot, for changed values of a kind without such a table, and for a `State` that owns memory and has no
  /// member `void archive(Archive&)`.
  std::vector<std::byte> to_bytes() const;

 private:
  friend class Scene;
  friend detail::SceneAccess;
  std::shared_ptr<const detail::SnapshotData> data_;
};

/// A value that one object has in place of its preset's: `{"sway.frequency", Value{0.4}}`.
struct OwnValue {
  std::string path;
  Value value;
};

template <class B>
class Tuning;
class NewRule;

/// Objects, their behaviours, and the time. Poses depend on these alone: at equal times they are equal bit for bit,
/// whatever frames led there.
///
///     Scene harbour;
///     const Object lamp = harbour.add({.name = "lamp", .rest = at(0, 12, 0)});
///     harbour.give(lamp, Spin{.speed = degrees(40)});
///     harbour.advance(250ms);
///     const Pose pose = harbour.world(lamp);
///
/// A scene can be moved but not copied; handles stay valid. Every call of a moved-from scene throws `Error`, but
/// `advance`, which does nothing. A scene may be used by one thread at a time. A behaviour that you write may not call
/// the scene while the scene calls it: the call throws `Error`, and the event "failed" says so.
///
/// Functions that take a handle throw `StaleHandle` where its object or behaviour has ended or is of another scene.
class Scene {
 public:
  /// Behaviours with memory are advanced `tick_rate` times per second: 1 to 10 000, not necessarily a whole number.
  /// Throws `BadValue` outside that range.
  explicit Scene(double tick_rate = 120.0);
  /// A scene whose objects and behaviours get the handles of those with the same names in `like`, as `hot_reload` of
  /// `like` needs it.
  Scene(double tick_rate, const Scene& like);
  ~Scene();
  Scene(Scene&&) noexcept;
  Scene& operator=(Scene&&) noexcept;

  // --- building -------------------------------------------------------------------------------------------

  /// Adds an object. Throws `BadValue` (a bad or taken name, a pose that is not finite or beyond 1e9),
  /// `StaleHandle` (the parent).
  Object add(const NewObject& object);

  /// Puts a behaviour on top of the object's stack; it starts now. Returns its handle. Throws `BadValue` (a value out
  /// of range, a taken name), `StaleHandle`, or `DependencyCycle` where the object would depend on itself.
  template <class B>
  Behaviour<B> give(Object object, const B& behaviour, const Common& common = {}) {
    return Behaviour<B>{give(object, detail::AnyValues{behaviour}, common)};
  }
  /// Puts a behaviour whose type is known at run time only on top of the object's stack. Throws
  /// `BadValue`, `StaleHandle` or `DependencyCycle`.
  AnyBehaviour give(Object object, const detail::AnyValues& behaviour, const Common& common);

  /// Adds a behaviour to a preset, and creates the preset with its first. Objects that use the preset later get it too.
  /// Throws `BadValue`.
  template <class B>
  void add_to_preset(std::string_view preset, const B& behaviour, const Common& common = {}) {
    add_to_preset(preset, detail::AnyValues{behaviour}, common);
  }
  /// Adds a behaviour whose type is known at run time only to a preset. Throws `BadValue`.
  void add_to_preset(std::string_view preset, const detail::AnyValues& behaviour, const Common& common);
  /// Gives an object all behaviours of a preset; `own` replaces some of the values. `set` of
  /// "preset.bobbing.sway.frequency" changes all objects that have no value of their own there. A value that is tuned
  /// on one object is its own from then on. Throws `BadValue`, and changes nothing.
  void use(Object object, std::string_view preset, std::span<const OwnValue> own = {});
  std::vector<std::string> presets() const;  ///< names of all presets, in the order of their creation

  /// Takes a behaviour off its object's stack. The pose goes over smoothly where other behaviours remain, and jumps
  /// otherwise: `stop` a behaviour with a fade first. Throws `StaleHandle`.
  void remove(AnyBehaviour behaviour);
  /// Replaces the rest pose: a jump. Throws `BadValue` (a pose that is not finite or beyond 1e9) or `StaleHandle`.
  void set_rest(Object object, const Pose& rest);
  /// Gives an object another parent, or none. Throws `DependencyCycle` where the parent depends on the object, or
  /// `StaleHandle`.
  void set_parent(Object object, std::optional<Object> parent, KeepPose keep = KeepPose::world);
  void set_tags(Object object, std::vector<std::string> tags);  ///< throws `StaleHandle`
  void set_number(Object object, std::uint64_t number);         ///< stores a number of your own; throws `StaleHandle`

  /// Removes an object and its descendants. Behaviours that depend on them hold their pose and raise "lost".
  void end(Object object);
  /// Hides an object and its descendants: they move on invisibly. Behaviours that depend on them hold their pose.
  void hide(Object object);
  /// Makes a hidden object visible again. It stays hidden where an ancestor is.
  void show(Object object);

  // --- rules and input ------------------------------------------------------------------------------------

  /// Begins a rule. `then` gives its actions and adds it to the scene:
  ///
  ///     harbour.when(pressed("H"), closer_than(pilot, post, 6.0)).then(toggle(bridge_lift));
  template <class... Conditions>
  NewRule when(Condition first, Conditions... others);
  /// Adds a rule. Throws `BadValue` where it names something that is not in the scene.
  void add_rule(const Rule& rule);
  /// The names of the rules, in the order in which they are evaluated.
  std::vector<std::string> rules() const;
  const Rule& rule(std::string_view name) const;   ///< throws `BadValue` where there is none of that name
  RuleReport report(std::string_view rule) const;  ///< throws `BadValue` where there is none of that name

  /// Calls `callback` for each event of that name, in order, at the end of `advance`. Its calls of the scene take
  /// effect between two frames: use a rule for what must not depend on the frame rate. It may call everything but
  /// `advance`, which does nothing there. If it throws or calls `advance`, the event "failed" says so.
  void on(std::string_view event, std::function<void(const Event&)> callback);

  void press(std::string_view key);    ///< a key goes down; takes effect at the next tick
  void release(std::string_view key);  ///< a key goes up; takes effect at the next tick
  /// Moves an axis to a value from -1 to 1; takes effect at the next tick. Throws `BadValue` outside that range.
  void axis(std::string_view name, double value);
  /// Announces a change of a key or an axis at a time to come, as from a recorded file. Throws `BadValue` for a time
  /// that has passed.
  void input(const InputChange& change);
  /// The time of the latest change of input, past or announced; nothing where there is none.
  std::optional<Time> last_input() const;

  // --- time -----------------------------------------------------------------------------------------------

  /// Advances the scene by a step of any length, at most 1e9 s; a step of 0 or less does nothing. `time()` is rounded
  /// to the unit of `Time` and the remainder is carried over to the next call, so frame times in `float` or nanoseconds
  /// do not drift. Allocates no memory from the second frame after building on.
  template <class Rep, class Period>
  void advance(std::chrono::duration<Rep, Period> step) noexcept {
    const double length = std::chrono::duration<double>(step).count();
    if (!(length > 0.0)) return advance_by(Time{0}, 0.0);
    if (length >= 1e9) return advance_by(seconds(1e9), 0.0);
    if constexpr (std::is_same_v<std::chrono::duration<Rep, Period>, Time>) {
      advance_by(step, 0.0);
    } else {
      // The seconds are exact in any unit, and so the rest is less than one.
      const auto whole = std::chrono::duration_cast<std::chrono::seconds>(step);
      const double rest = std::chrono::duration<double, Time::period>(step - whole).count();
      const double units = std::floor(rest);
      advance_by(whole + Time{static_cast<std::int64_t>(units)}, rest - units);
    }
  }

  Time time() const;         ///< since the scene began
  double tick_rate() const;  ///< ticks per second

  /// The number of threads that `advance` uses, with the one that calls it; 1 unless set. The number changes no pose,
  /// event or other result. Behaviours that you write run on the calling thread unless they say `thread_safe`. Throws
  /// `BadValue` outside 1 to 64, and above 1 where the library was built without threads.
  void set_threads(int count);
  int threads() const;

  /// Goes to a time, forward or back. The program's commands until then (start, stop, hide, ...) are repeated at their
  /// times; later ones are forgotten. Tuned values stay as they are now. Throws `BadValue` for a time before 0, or
  /// before objects or behaviours were last added.
  void seek(Time time);

  Snapshot snapshot() const;  ///< the whole state at this moment
  /// Reads a snapshot that `Snapshot::to_bytes` has written, of this scene or of one with the same objects, behaviours
  /// and rules: built by the same calls, or read from the same file, in this process or another, by either compiler.
  /// `restore` then gives the same bits and events as there. The play before it is not part of it: `seek` goes back to
  /// its time at most. Throws `BadValue` where the bytes are damaged, of another version or of another scene; this
  /// scene is not changed.
  Snapshot snapshot_from(std::span<const std::byte> bytes) const;
  /// Returns to the state of a snapshot. Objects and behaviours that were added since are gone, and those that have
  /// ended or were removed are back, with their handles. Throws `BadValue` where the snapshot is of another scene, or
  /// of this one before a hot reload, or where rules were added since.
  void restore(const Snapshot& snapshot);

  /// Replaces the content of this scene by that of `next` and keeps the time and the state of everything that both have
  /// in common. `next` must have been constructed with `Scene{tick_rate, like}`; throws `BadValue` otherwise. Tuned
  /// values stay where `next` has the value that was given before tuning. Where both scenes were read from files, what
  /// the program has added since stays too, unless `next` has something of its name: objects without a name as well,
  /// with their handles; rest poses, parents and tags that it changed stay where `next` has those before the change.
  /// `ProgramChanges::drop` keeps none of this. Returns sentences about what was lost.
  ///
  /// Kinds that were made at run time, such as scripts, may have a new version in `next`. It is tried on copies of the
  /// present state first; throws `VersionFails` where it fails, and the scene plays on unchanged.
  ///
  /// In a callback of `on`, the replacement happens after the last callback of the frame, and nothing is returned;
  /// calls of this scene until then change the old content, whose state is kept.
  std::vector<std::string> hot_reload(Scene&& next, ProgramChanges changes = ProgramChanges::keep);

  // --- the origin of the world ------------------------------------------------------------------------------

  /// Moves the origin of the world by `by` (m), for a game that keeps it near its camera: from now on all poses in the
  /// world have positions that are less by it, and nothing else changes. Poses in the world are: `world`,
  /// `world_poses`, `write_matrices`; and of an object without a parent `rest`, `local`, and what `add`, `set_rest`,
  /// `feed` and `teleport` are given; also what is fed in the world. All numbers inside behaviours and rules, named
  /// poses, files, watches and recordings stay in the scene's own coordinates: give those a point of the present world
  /// plus `origin()`. Snapshots and `seek` do not change the origin; hot reload keeps it. Throws `BadValue` where the
  /// origin would be beyond 1e9 m.
  void shift_origin(const Vec3& by);
  /// The origin of the world in the scene's own coordinates (m): the sum of all shifts.
  const Vec3& origin() const;

  // --- reading --------------------------------------------------------------------------------------------

  Pose world(Object object) const;  ///< in the world
  Pose local(Object object) const;  ///< in the parent's space: the output of the stack
  Pose rest(Object object) const;   ///< in the parent's space, without behaviours

  /// All world poses, in the order of `objects()`, as they are now: call it again after each change or `advance`. The
  /// span is valid until the next call. Copies the poses where they have changed since; a program that needs matrices
  /// calls `write_matrices`, and one that needs few poses calls `world`.
  std::span<const Pose> world_poses() const;
  /// All objects, in the order of evaluation. Valid until an object or behaviour is added or an object ends.
  std::span<const Object> objects() const;
  /// The place of an object in `objects()`, `world_poses()` and the matrices of `write_matrices`.
  std::size_t index_of(Object object) const;
  /// Writes a 4 by 4 matrix for each of `objects()`, 16 numbers each: in the scene's own conventions and column by
  /// column, unless `layout` says otherwise. Throws `BadValue` where `to` is too small.
  void write_matrices(std::span<float> to, const MatrixLayout& layout = {}) const;
  void write_matrices(std::span<double> to, const MatrixLayout& layout = {}) const;

  /// The events of the last `advance` and of calls since the one before, in the order of their times, then of the names
  /// of their objects. Valid until the next `advance`.
  std::span<const Event> events() const;
  std::string describe(const Event& event) const;  ///< the event in a sentence

  bool alive(Object object) const;                          ///< false where the handle is stale
  bool hidden(Object object) const;                         ///< true where it or an ancestor is hidden
  std::optional<Object> find(std::string_view name) const;  ///< the object of that name, if there is one
  std::string name(Object object) const;
  std::optional<Object> parent(Object object) const;
  const std::optional<Shape>& shape(Object object) const;
  const std::vector<std::string>& tags(Object object) const;
  std::vector<std::string> poses(Object object) const;  ///< the names of its named poses
  std::uint64_t number(Object object) const;            ///< the number that you gave it; 0 otherwise
  std::size_t size() const;                             ///< the number of objects

  /// The object's stack, the lowest behaviour first.
  std::vector<AnyBehaviour> behaviours(Object object) const;
  /// The objects that a behaviour reads.
  std::vector<Object> dependencies(AnyBehaviour behaviour) const;
  /// What each urge of an agent wants at this moment, and last the resulting velocity. Empty for other kinds, and while
  /// the agent is stopped.
  std::vector<UrgeShare> urges(AnyBehaviour behaviour) const;
  std::string path(AnyBehaviour behaviour) const;       ///< "lamp.spin"
  std::string_view kind(AnyBehaviour behaviour) const;  ///< "spin"; for your own types, their `kind` or "own"
  /// The preset that it comes from, such as "preset.bobbing.sway"; empty for none.
  std::string preset_path(AnyBehaviour behaviour) const;
  /// True where the value at this path is the object's own rather than its preset's.
  bool is_own(std::string_view path) const;

  // --- tuning ---------------------------------------------------------------------------------------------

  /// Changes values of a behaviour in place: `scene.tune(turning)->speed = degrees(60);` The change takes effect at the
  /// end of the statement, without a jump and without a change of phase. Throws `BadValue` there, and changes nothing,
  /// where a value is out of range.
  template <class B>
  Tuning<B> tune(Behaviour<B> behaviour);
  /// Sets the rate at which time passes for an object and its descendants: 1 is the scene's, 0 halts them. Tunes the
  /// object's behaviour `Pace`, or gives it one, which changes the scene's content. `rate`: 0 to 100. Throws `BadValue`
  /// or `StaleHandle`.
  void set_pace(Object object, double rate);
  /// Changes the values that every behaviour has (weight, fade, delay, enabled, reads) in place, like `tune`.
  Tuning<Common> tune_common(AnyBehaviour behaviour);

  /// The values of a behaviour. Valid until they change or a behaviour is added.
  template <class B>
  const B& values(Behaviour<B> behaviour) const {
    return *values_of(behaviour).template as<B>();
  }
  /// The values of a behaviour where it is a B; otherwise nullptr.
  template <class B>
  const B* values_if(AnyBehaviour behaviour) const {
    return values_of(behaviour).template as<B>();
  }
  const Common& common(AnyBehaviour behaviour) const;  ///< the values that every behaviour has
  /// The fields of its kind; none for a type of yours without a table.
  std::span<const FieldInfo> fields(AnyBehaviour behaviour) const;

  /// Sets one value by its path, such as "lamp.spin.speed", without a jump. Throws `BadValue` with a hint.
  void set(std::string_view path, const Value& value);
  /// The value at a path; nothing where it is left out. Throws `BadValue` where there is no such value.
  std::optional<Value> get(std::string_view path) const;
  /// Resets a value to its default, or leaves it out where it has none. Throws `BadValue` where there is no such value.
  void reset(std::string_view path);

  void start(AnyBehaviour behaviour);    ///< starts it, or continues where it was stopped
  void stop(AnyBehaviour behaviour);     ///< stops its own time; with a fade, its weight falls to 0
  void restart(AnyBehaviour behaviour);  ///< starts it from the beginning
  /// Reverses a glide from where it is; stops or starts any other behaviour.
  void toggle(AnyBehaviour behaviour);
  /// Adds to the velocity of a running spring: m/s, deg/s about the axes of its space, or 1/s, depending on its
  /// channel. Throws `BadValue` where the behaviour has no velocity.
  void kick(AnyBehaviour behaviour, const Vec3& by);
  /// Replaces the target of a behaviour, without a jump. Throws `BadValue` where it has none, `StaleHandle`,
  /// `DependencyCycle`.
  void retarget(AnyBehaviour behaviour, Object to);
  /// Replaces the rest pose by one of the object's named poses: a jump. Throws `BadValue` where there is none of that
  /// name.
  void place(Object object, std::string_view pose);

  // --- poses from outside -----------------------------------------------------------------------------------

  /// Gives the pose that an object with the behaviour `Fed` reaches at the end of the next `advance`, in which it moves
  /// there from where it is. The last pose before an `advance` counts; from it on the object stays. Replaces what was
  /// fed ahead for later times. Throws `BadValue` (a pose that is not finite or beyond 1e9, a rotation whose length is
  /// not 1, an object that is not fed) and keeps the last pose, or `StaleHandle`.
  void feed(Object object, const Pose& pose);
  /// Gives the pose that a fed object reaches at a time to come, later than all that it was fed before. It sets out
  /// there at the last of those times, or now where that has passed. What is fed ahead is known at every moment in
  /// between: the motion is independent of the frame rate, and `seek` does not forget it. Throws `BadValue` for
  /// what the other `feed` refuses and for a time that is too early, and keeps the last pose; or `StaleHandle`.
  void feed(Object object, const Pose& pose, Time at);
  /// Moves a fed object to a pose at once: a jump, like `place`. Throws as `feed`.
  void teleport(Object object, const Pose& pose);

  /// Raises an event. Rules hear of it at the next tick, callbacks at the end of the next `advance`.
  void raise(std::string_view event);
  bool running(AnyBehaviour behaviour) const;  ///< started and not stopped since
  /// The behaviour called "lamp.spin", if there is one.
  std::optional<AnyBehaviour> find_behaviour(std::string_view path) const;
  /// The behaviour called "lamp.spin", if there is one and it is a B:
  /// `scene.tune(*scene.find_behaviour<Spin>("lamp.spin"))->speed = ...`.
  template <class B>
  std::optional<Behaviour<B>> find_behaviour(std::string_view path) const {
    const auto found = find_behaviour(path);
    if (!found || !values_if<B>(*found)) return std::nullopt;
    return Behaviour<B>{*found};
  }

 private:
  template <class B>
  friend class Tuning;
  friend detail::SceneAccess;
  friend detail::MutedCallbacks;

  void advance_by(Time step, double rest) noexcept;
  void feed_at(Object object, const Pose& given, std::optional<Time> at);
  /// The implementation. Throws `Error` for a moved-from scene, and while a user's behaviour is being called.
  detail::SceneImpl& impl() const;
  std::vector<std::string> replace_by(std::unique_ptr<detail::SceneImpl> next, ProgramChanges changes);
  /// Records a call that a callback made, where callbacks are recorded.
  template <class Call>
  void made(Call&& call);
  detail::AnyValues values_of(AnyBehaviour behaviour) const;
  void set_values(AnyBehaviour behaviour, const detail::AnyValues& values);
  void set_common(AnyBehaviour behaviour, const Common& common);

  std::unique_ptr<detail::SceneImpl> impl_;
};

/// The values of a behaviour while they are being changed; they take effect when it goes out of scope. (It is a B, so
/// that a dot does as well where the field is a class, such as an angle; C++ forbids it for a plain number.)
template <class B>
class Tuning : public B {
 public:
  Tuning(const Tuning&) = delete;
  Tuning& operator=(const Tuning&) = delete;

  B* operator->() { return this; }

  /// Throws `BadValue` where a value is out of its range, unless another error is on its way already.
  ~Tuning() noexcept(false) {
    if (std::uncaught_exceptions() > errors_before_) return;
    if constexpr (std::is_same_v<B, Common>) {
      scene_.set_common(behaviour_, *this);
    } else {
      scene_.set_values(behaviour_, detail::AnyValues{static_cast<const B&>(*this)});
    }
  }

 private:
  friend class Scene;
  Tuning(Scene& scene, AnyBehaviour behaviour, const B& values) : B{values}, scene_{scene}, behaviour_{behaviour} {}

  Scene& scene_;
  AnyBehaviour behaviour_;
  int errors_before_ = std::uncaught_exceptions();
};

/// A rule that is being written. `then` adds it to the scene.
class NewRule {
 public:
  NewRule(const NewRule&);
  ~NewRule();
  NewRule& operator=(const NewRule&) = delete;

  /// None of these conditions may hold.
  template <class... Conditions>
  NewRule& unless(Conditions... conditions) {
    (add(rule_.unless, std::move(conditions)), ...);
    return *this;
  }
  /// One of these conditions must hold too.
  template <class... Conditions>
  NewRule& any(Conditions... conditions) {
    (add(rule_.any, std::move(conditions)), ...);
    return *this;
  }
  NewRule& called(std::string_view name);  ///< sets its name, which must be unique
  /// It fires the first time only.
  NewRule& once() { return firing(Fires::once); }
  /// It fires at every tick at which its conditions hold.
  NewRule& at_every_tick() { return firing(Fires::always); }
  /// The conditions must have held for that time.
  template <class Rep, class Period>
  NewRule& lasting(std::chrono::duration<Rep, Period> time) {
    rule_.held_for = seconds(std::chrono::duration<double>(time).count());
    return *this;
  }

  /// Adds the rule to the scene with these actions. Throws `BadValue` where it names something that is not in the
  /// scene.
  template <class... Actions>
  void then(Action first, Actions... others) {
    add(std::move(first));
    (add(std::move(others)), ...);
    finish();
  }

 private:
  friend class Scene;
  explicit NewRule(Scene& scene);
  static void add(std::vector<Condition>& to, Condition condition);
  void add(Action action);
  void finish();
  NewRule& firing(Fires fires) {
    rule_.fires = fires;
    return *this;
  }

  Scene& scene_;
  Rule rule_;
};

template <class... Conditions>
NewRule Scene::when(Condition first, Conditions... others) {
  NewRule made{*this};
  made.add(made.rule_.when, std::move(first));
  (made.add(made.rule_.when, std::move(others)), ...);
  return made;
}

template <class B>
Tuning<B> Scene::tune(Behaviour<B> behaviour) {
  return Tuning<B>{*this, behaviour, values(behaviour)};
}

}  // namespace hushed
